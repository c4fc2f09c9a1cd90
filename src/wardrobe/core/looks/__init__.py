"""Colour versions: proposals, how far apart they are, how they come across."""
