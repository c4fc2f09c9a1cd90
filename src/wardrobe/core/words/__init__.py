"""What names of parts tell."""
