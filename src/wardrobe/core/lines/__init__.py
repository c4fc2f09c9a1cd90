"""Lines: ink coverage from any drawing, and its measures."""
