"""HSB (hue, saturation, brightness), also called HSV."""

import colorsys
from collections.abc import Sequence


def srgb_to_hsb(rgb: Sequence[float]) -> tuple[float, float, float]:
    """One colour, 0..1 each, to hue in degrees, saturation and brightness 0..1.

    References
    ----------
    A. R. Smith, "Color gamut transform pairs", SIGGRAPH 1978.
    """
    h, s, v = colorsys.rgb_to_hsv(*rgb)
    return h * 360, s, v


def hsb_to_srgb(hsb: Sequence[float]) -> tuple[float, float, float]:
    """The inverse of :func:`srgb_to_hsb`."""
    h, s, v = hsb
    return colorsys.hsv_to_rgb((h % 360) / 360, s, v)
