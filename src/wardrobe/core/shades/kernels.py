"""Compiled twins of the colour formulas, for searches that try many thousand colours.

The readable twins are :mod:`wardrobe.core.colour.lab` and
:mod:`wardrobe.core.colour.difference`; a test holds them together.
"""

import math

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Real = NDArray[np.float64]


@kernel
def _linear(v: float) -> float:
    return v / 12.92 if v <= 0.040448236277108 else ((v + 0.055) / 1.055) ** 2.4


@kernel
def _f(t: float) -> float:
    return t ** (1 / 3) if t > 216 / 24389 else (24389 / 27 * t + 16) / 116


@kernel
def lab_of(r: float, g: float, b: float) -> tuple[float, float, float]:
    """Encoded sRGB, 0..1, to CIELAB under D65."""
    r, g, b = _linear(r), _linear(g), _linear(b)
    x = _f((0.4123907992659595 * r + 0.3575843393838780 * g + 0.1804807884018343 * b)
           / 0.9504559270516717)
    y = _f(0.2126390058715104 * r + 0.7151686787677559 * g + 0.0721923153607337 * b)
    z = _f((0.0193308187155918 * r + 0.1191947797946259 * g + 0.9505321522496608 * b)
           / 1.0890577507598784)
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


@kernel
def difference(l1: float, a1: float, b1: float, l2: float, a2: float, b2: float) -> float:
    """CIEDE2000 of two CIELAB colours."""
    c7 = ((math.hypot(a1, b1) + math.hypot(a2, b2)) / 2) ** 7
    g = 1 + 0.5 * (1 - math.sqrt(c7 / (c7 + 6103515625.0)))
    a1, a2 = a1 * g, a2 * g
    c1, c2 = math.hypot(a1, b1), math.hypot(a2, b2)
    h1 = math.degrees(math.atan2(b1, a1)) % 360
    h2 = math.degrees(math.atan2(b2, a2)) % 360
    grey = c1 * c2 == 0
    turn = (h2 - h1 + 180) % 360 - 180
    dh = 0.0 if grey else 2 * math.sqrt(c1 * c2) * math.sin(math.radians(turn) / 2)
    h_mean = h1 + h2
    if not grey:
        if abs(h1 - h2) > 180:
            h_mean += 360 if h_mean < 360 else -360
        h_mean /= 2
    lm, cm = (l1 + l2) / 2, (c1 + c2) / 2
    t = (1 - 0.17 * math.cos(math.radians(h_mean - 30))
         + 0.24 * math.cos(math.radians(2 * h_mean))
         + 0.32 * math.cos(math.radians(3 * h_mean + 6))
         - 0.20 * math.cos(math.radians(4 * h_mean - 63)))
    c7 = cm**7
    rotation = -2 * math.sqrt(c7 / (c7 + 6103515625.0)) * math.sin(
        math.radians(60 * math.exp(-(((h_mean - 275) / 25) ** 2))))
    tl = (l2 - l1) / (1 + 0.015 * (lm - 50) ** 2 / math.sqrt(20 + (lm - 50) ** 2))
    tc = (c2 - c1) / (1 + 0.045 * cm)
    th = dh / (1 + 0.015 * cm * t)
    return math.sqrt(max(0.0, tl * tl + tc * tc + th * th + rotation * tc * th))


@kernel
def oklab_of(r: float, g: float, b: float) -> tuple[float, float, float]:
    """Encoded sRGB, 0..1, to Oklab."""
    r, g, b = _linear(r), _linear(g), _linear(b)
    l_ = (0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b) ** (1 / 3)
    m_ = (0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b) ** (1 / 3)
    s_ = (0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b) ** (1 / 3)
    return (0.2104542553 * l_ + 0.7936177850 * m_ - 0.0040720468 * s_,
            1.9779984951 * l_ - 2.4285922050 * m_ + 0.4505937099 * s_,
            0.0259040371 * l_ + 0.7827717662 * m_ - 0.8086757660 * s_)
