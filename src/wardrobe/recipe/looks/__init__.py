"""Colour versions of a piece: what they are, how they compare, proposals, the rail."""
