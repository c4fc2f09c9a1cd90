"""A picture as an ordered list of layers."""
