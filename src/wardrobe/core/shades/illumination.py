"""Colours of lights: by temperature, by name, and what shade goes with them."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import encode, oklch_to_srgb, srgb_to_oklch, to_bytes
from wardrobe.core.errors import ColourError
from wardrobe.core.passes.layers import Rgb

Real = NDArray[np.float64]

LEAST_KELVIN, MOST_KELVIN = 1700.0, 25_000.0
_DAYLIGHT_FROM = 5000.0  # kelvin; below, lights glow, above, they are skies

# IEC 61966-2-1, XYZ to linear sRGB.
_FROM_XYZ = np.array([[3.2409699419045226, -1.5373831775700939, -0.4986107602930034],
                      [-0.9692436362808796, 1.8759675015077202, 0.0415550574071756],
                      [0.0556300796969937, -0.2039769588889766, 1.0569715142428786]])


def planckian_xy(kelvin: float) -> tuple[float, float]:
    """CIE 1931 chromaticity of a black body.

    Parameters
    ----------
    kelvin : float, 1667..25000

    References
    ----------
    B. Kang et al., "Design of advanced color temperature control system for HDTV applications",
    Journal of the Korean Physical Society 41, 2002.
    """
    if not 1667 <= kelvin <= 25_000:
        raise ColourError(f"A colour temperature of 1667 to 25000 K is expected, got {kelvin:g}.")
    t = 1000 / kelvin
    if kelvin <= 4000:
        x = -0.2661239 * t**3 - 0.2343589 * t**2 + 0.8776956 * t + 0.179910
    else:
        x = -3.0258469 * t**3 + 2.1070379 * t**2 + 0.2226347 * t + 0.24039
    if kelvin <= 2222:
        y = -1.1063814 * x**3 - 1.34811020 * x**2 + 2.18555832 * x - 0.20219683
    elif kelvin <= 4000:
        y = -0.9549476 * x**3 - 1.37418593 * x**2 + 2.09137015 * x - 0.16748867
    else:
        y = 3.0817580 * x**3 - 5.8733867 * x**2 + 3.75112997 * x - 0.37001483
    return x, y


def daylight_xy(kelvin: float) -> tuple[float, float]:
    """CIE 1931 chromaticity of a phase of daylight.

    Parameters
    ----------
    kelvin : float, 4000..25000

    References
    ----------
    CIE 15:2004, section 3.1: the CIE D illuminants.
    """
    if not 4000 <= kelvin <= 25_000:
        raise ColourError(f"Daylight has 4000 to 25000 K, got {kelvin:g}.")
    t = 1000 / kelvin
    if kelvin <= 7000:
        x = -4.6070 * t**3 + 2.9678 * t**2 + 0.09911 * t + 0.244063
    else:
        x = -2.0064 * t**3 + 1.9018 * t**2 + 0.24748 * t + 0.237040
    return x, -3.000 * x**2 + 2.870 * x - 0.275


def light_colour(kelvin: float) -> Rgb:
    """The brightest sRGB colour of a light: black body below 5000 K, daylight above.

    White is the picture's own white, D65 (6504 K).
    """
    if not LEAST_KELVIN <= kelvin <= MOST_KELVIN:
        raise ColourError(f"A colour temperature of {LEAST_KELVIN:.0f} to {MOST_KELVIN:.0f} K is "
                          f"expected, got {kelvin:g}.")
    x, y = planckian_xy(kelvin) if kelvin < _DAYLIGHT_FROM else daylight_xy(kelvin)
    linear = np.maximum(0, _FROM_XYZ @ np.array([x / y, 1.0, (1 - x - y) / y]))
    return to_bytes(encode(linear / linear.max()))


@dataclass(frozen=True)
class NamedLight:
    """A light by name.

    Attributes
    ----------
    name : str
    key : (int, int, int)
        Colour of the light itself.
    ambient : (int, int, int)
        Colour of what reaches the shade.
    kelvin : float or None
        Temperature of the key, if it has one.
    note : str
    """

    name: str
    key: Rgb
    ambient: Rgb
    kelvin: float | None
    note: str


def by_kelvin(kelvin: float) -> NamedLight:
    """A light of some temperature; its shade is lit from the other end of the scale."""
    return NamedLight(f"{kelvin:.0f} K", light_colour(kelvin), ambient_for(kelvin), kelvin, "")


def ambient_for(kelvin: float) -> Rgb:
    """What fills the shade: the sky for warm lights, what they warm for cool ones.

    The reciprocal temperature (mired, in which equal steps look equal) is mirrored at daylight.
    """
    mirrored = 1e6 / max(1e6 / MOST_KELVIN, 2 * 1e6 / 6504 - 1e6 / kelvin)
    return light_colour(float(np.clip(mirrored, LEAST_KELVIN, MOST_KELVIN)))


# Temperatures of sources are textbook values (from memory); the moon and neon are as they are
# painted, common practice, no published source.
LIGHTS: dict[str, NamedLight] = {
    light.name: light
    for light in (
        NamedLight("candle", light_colour(1900), light_colour(15_000), 1900,
                   "one flame, night around"),
        NamedLight("golden hour", light_colour(3300), light_colour(12_000), 3300,
                   "low sun, blue sky above"),
        NamedLight("noon", light_colour(5500), light_colour(10_000), 5500,
                   "high sun, clear sky"),
        NamedLight("overcast", light_colour(6800), light_colour(7500), 6800,
                   "the whole sky is the lamp"),
        NamedLight("moon", light_colour(14_000), light_colour(25_000), None,
                   "as it is painted; the moon itself is warmer than noon"),
        NamedLight("neon pair", (255, 92, 196), (64, 196, 255), None,
                   "two signs facing each other"),
    )
}


@dataclass(frozen=True)
class ShadeHue:
    """A hue that a shade could have, and why.

    Attributes
    ----------
    why : str
    hue : float
        OKLCH, degrees.
    colour : (int, int, int)
        The hue at a middle lightness, to show it.
    """

    why: str
    hue: float
    colour: Rgb


def shade_hues(key: Rgb, ambient: Rgb, background: Rgb) -> list[ShadeHue]:
    """Hues to choose a shade from: opposite the light, beside that, ambient, background."""
    light = _hue(key)
    options = [("ambient light", _hue(ambient)), ("background", _hue(background))]
    if light is not None:
        options += [("opposite the light", (light + 180) % 360),
                    ("a little warmer than opposite", (light + 210) % 360),
                    ("a little cooler than opposite", (light + 150) % 360)]
    return [ShadeHue(why, round(hue, 1), to_bytes(oklch_to_srgb([0.66, 0.08, hue])))
            for why, hue in options if hue is not None]


def _hue(colour: Rgb) -> float | None:
    _, chroma, hue = srgb_to_oklch(np.array(colour) / 255)
    return float(hue) if chroma > 0.008 else None

