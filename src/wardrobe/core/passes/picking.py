"""Shade and light colours as they are picked by hand: HSB brightness and a turn of the hue."""

import numpy as np

from wardrobe.core.colour.hsb import hsb_to_srgb, srgb_to_hsb
from wardrobe.core.colour.srgb import to_bytes
from wardrobe.core.passes.layers import Rgb

RED, YELLOW = 0.0, 60.0  # HSB hues, degrees


def turned(hue: float, towards: float, by: float) -> float:
    """A hue turned towards another by the shorter way, at most onto it; degrees 0..360."""
    way = (towards - hue + 180) % 360 - 180
    return float((hue + np.sign(way) * min(abs(way), by)) % 360)


def picked_shade(base: Rgb, darker: float, towards: float, by: float, richer: float = 1.0) -> Rgb:
    """A shade: less brightness, and the hue turned a little.

    Parameters
    ----------
    base : (int, int, int)
        0..255.
    darker : float, 0..1
        Share of the HSB brightness that is taken away; 0.2-0.3 is common practice, no published
        source.
    towards : float
        HSB hue that it turns to, degrees; red is common practice, no published source.
    by : float
        Degrees of the turn.
    richer : float
        Factor of the saturation: a deep shade is more saturated.
    """
    hue, saturation, brightness = srgb_to_hsb([v / 255 for v in base])
    return _rgb(turned(hue, towards, by), min(1.0, saturation * richer), brightness * (1 - darker))


def picked_light(base: Rgb, brighter: float, by: float) -> Rgb:
    """A light: more brightness, and the hue turned to yellow by the shorter way.

    What brightness cannot take (it ends at 1) is taken from the saturation.

    Parameters
    ----------
    brighter : float, 0..1
        0.2-0.3 is common practice, no published source.
    """
    hue, saturation, brightness = srgb_to_hsb([v / 255 for v in base])
    wanted = brightness * (1 + brighter)
    return _rgb(turned(hue, YELLOW, by), max(0.0, saturation - max(0.0, wanted - 1)),
                min(1.0, wanted))


def _rgb(hue: float, saturation: float, brightness: float) -> Rgb:
    return to_bytes(hsb_to_srgb((hue, saturation, brightness)))
