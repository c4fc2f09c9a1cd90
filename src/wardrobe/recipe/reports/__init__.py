"""What screens and shells ask of a piece."""
