"""Wardrobe: the colour stage of an illustration."""

__version__ = "0.1.0"
