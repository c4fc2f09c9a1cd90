"""Colour: spaces, differences and the colours that passes give."""

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.hsb import hsb_to_srgb, srgb_to_hsb
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.oklab import oklch_to_srgb, srgb_to_oklab, srgb_to_oklch
from wardrobe.core.colour.srgb import decode, encode, from_hex, to_bytes, to_hex

__all__ = [
    "decode", "delta_e_2000", "encode", "from_hex", "hsb_to_srgb", "oklch_to_srgb",
    "srgb_to_hsb", "srgb_to_lab", "srgb_to_oklab", "srgb_to_oklch", "to_bytes", "to_hex",
]
