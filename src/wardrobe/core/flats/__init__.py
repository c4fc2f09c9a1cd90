"""Flat coloured pictures: lines and flats told apart."""

from wardrobe.core.flats.separate import Separated, over_white, separate

__all__ = ["Separated", "over_white", "separate"]
