"""Layered files that come back: taken over by a piece, or begun a piece from."""
