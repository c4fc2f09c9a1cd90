"""Series: pieces in an order, and what they have in common."""
