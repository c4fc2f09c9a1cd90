"""The masks of passes: shapes at any size, corrected by hand, agreeing with each other."""
