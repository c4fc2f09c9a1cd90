"""Base colours to start from, by what they are for: chosen in OKLCH across a wide range.

Chosen for Wardrobe; no published source. Light skins sit in the brightest 20 % of values
(common practice, no published source); a test holds them to it, to the sRGB gamut and to a least
difference from each other.
"""

from dataclasses import dataclass

import numpy as np

from wardrobe.core.colour.oklab import oklch_to_srgb
from wardrobe.core.colour.srgb import to_hex

Entry = tuple[str, float, float, float]  # name, lightness 0..1, chroma, hue in degrees


@dataclass(frozen=True)
class Starter:
    """A base colour to start from.

    Attributes
    ----------
    family : str
        What it is for.
    name : str
    colour : str
        ``#rrggbb``.
    material : str
        Key of the material that goes with it.
    """

    family: str
    name: str
    colour: str
    material: str


_FAMILIES: dict[str, tuple[str, tuple[Entry, ...]]] = {
    "skin": ("skin", (
        ("shell", 0.925, 0.028, 50), ("rose milk", 0.895, 0.044, 35), ("wheat", 0.880, 0.058, 70),
        ("peach", 0.850, 0.068, 52), ("honey", 0.790, 0.082, 66), ("olive", 0.730, 0.074, 82),
        ("amber", 0.680, 0.092, 60), ("chestnut", 0.590, 0.085, 52),
        ("walnut", 0.500, 0.072, 48), ("umber", 0.420, 0.056, 42),
        ("ebony", 0.340, 0.040, 38), ("night plum", 0.285, 0.032, 10))),
    "hair": ("hair", (
        ("raven", 0.250, 0.018, 285), ("soot brown", 0.320, 0.030, 50),
        ("chestnut hair", 0.420, 0.062, 48), ("copper", 0.560, 0.125, 48),
        ("strawberry", 0.700, 0.105, 52), ("straw", 0.820, 0.088, 88), ("ash", 0.680, 0.022, 90),
        ("silver", 0.800, 0.008, 260), ("snow", 0.940, 0.006, 90), ("ink blue", 0.360, 0.075, 265),
        ("moss", 0.520, 0.070, 130), ("mulberry", 0.450, 0.100, 350))),
    "lips": ("skin", (
        ("petal", 0.760, 0.075, 20), ("coral", 0.680, 0.120, 32), ("rosewood", 0.560, 0.095, 22),
        ("berry", 0.480, 0.110, 8), ("brick", 0.450, 0.085, 35), ("plum", 0.370, 0.070, 350))),
    "cloth": ("matte cloth", (
        ("chalk", 0.930, 0.012, 95), ("oat", 0.840, 0.038, 85), ("mustard", 0.750, 0.125, 85),
        ("rust", 0.560, 0.120, 42), ("madder", 0.480, 0.130, 25), ("dusty rose", 0.690, 0.065, 8),
        ("heather", 0.580, 0.060, 320), ("indigo", 0.390, 0.085, 275),
        ("slate", 0.520, 0.040, 250), ("sky", 0.770, 0.065, 235), ("teal", 0.540, 0.080, 195),
        ("sage", 0.700, 0.050, 145), ("forest", 0.420, 0.070, 150),
        ("charcoal", 0.350, 0.010, 260))),
    "leather": ("leather", (
        ("saddle", 0.560, 0.090, 58), ("cognac", 0.480, 0.100, 48), ("oxblood", 0.360, 0.090, 25),
        ("bark", 0.330, 0.040, 55), ("buff", 0.740, 0.060, 78), ("black hide", 0.250, 0.010, 60))),
    "metal": ("metal", (
        ("steel", 0.680, 0.018, 245), ("pewter", 0.540, 0.012, 230), ("brass", 0.730, 0.095, 88),
        ("bronze", 0.540, 0.080, 70), ("rose gold", 0.740, 0.062, 45),
        ("iron", 0.400, 0.012, 260))),
    "glass": ("glass", (
        ("clear", 0.900, 0.020, 210), ("sea glass", 0.820, 0.050, 175),
        ("smoke", 0.520, 0.015, 265))),
}

STARTERS: tuple[Starter, ...] = tuple(
    Starter(family, name, to_hex(np.rint(255 * oklch_to_srgb([light, chroma, hue])).astype(int)),
            material)
    for family, (material, entries) in _FAMILIES.items()
    for name, light, chroma, hue in entries)
