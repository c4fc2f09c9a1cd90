"""Drawings by many hands with known figure and colours, fetched when they are measured.

The ink of each drawing is the input; what its colours say is the truth.
"""
