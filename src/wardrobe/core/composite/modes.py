"""The blend modes: one table entry each, with its formula and where it is defined.

Formulas: W3C Compositing and Blending Level 1, sections 10.1 (separable) and 10.2
(non-separable); ``plus-lighter`` is Porter and Duff's *plus*, section 9.1.4 and CSS Compositing
Level 2. ``cb`` is the backdrop and ``cs`` the source, both straight colours in 0..1, float64,
shape (..., 3).
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Colour = NDArray[np.float64]
Blend = Callable[[Colour, Colour], Colour]

_EPS = 1e-6  # float32 buffers reach 0 and 1 only nearly; dodge and burn test for them


def _normal(cb: Colour, cs: Colour) -> Colour:
    return np.broadcast_to(cs, np.broadcast_shapes(cb.shape, cs.shape))


def _multiply(cb: Colour, cs: Colour) -> Colour:
    return cb * cs


def _screen(cb: Colour, cs: Colour) -> Colour:
    return cb + cs - cb * cs


def _hard_light(cb: Colour, cs: Colour) -> Colour:
    return np.where(cs <= 0.5, _multiply(cb, 2 * cs), _screen(cb, 2 * cs - 1))


def _overlay(cb: Colour, cs: Colour) -> Colour:
    return _hard_light(cs, cb)


def _colour_dodge(cb: Colour, cs: Colour) -> Colour:
    dodged = np.minimum(1, cb / np.maximum(1 - cs, _EPS))
    return np.where(cb <= _EPS, 0, np.where(cs >= 1 - _EPS, 1, dodged))


def _colour_burn(cb: Colour, cs: Colour) -> Colour:
    burnt = 1 - np.minimum(1, (1 - cb) / np.maximum(cs, _EPS))
    return np.where(cb >= 1 - _EPS, 1, np.where(cs <= _EPS, 0, burnt))


def _soft_light(cb: Colour, cs: Colour) -> Colour:
    d = np.where(cb <= 0.25, ((16 * cb - 12) * cb + 4) * cb, np.sqrt(np.maximum(cb, 0)))
    darker = cb - (1 - 2 * cs) * cb * (1 - cb)
    return np.where(cs <= 0.5, darker, cb + (2 * cs - 1) * (d - cb))


def _difference(cb: Colour, cs: Colour) -> Colour:
    return np.abs(cb - cs)


def _exclusion(cb: Colour, cs: Colour) -> Colour:
    return cb + cs - 2 * cb * cs


def luminosity_of(c: Colour) -> Colour:
    """Lum() of section 10.2."""
    return c @ np.array([0.3, 0.59, 0.11])


def _clip_colour(c: Colour) -> Colour:
    lum = luminosity_of(c)[..., None]
    low, high = c.min(-1, keepdims=True), c.max(-1, keepdims=True)
    c = np.where(low < 0, lum + (c - lum) * lum / np.maximum(lum - low, 1e-12), c)
    return np.where(high > 1, lum + (c - lum) * (1 - lum) / np.maximum(high - lum, 1e-12), c)


def _set_lum(c: Colour, lum: Colour) -> Colour:
    return _clip_colour(c + (lum - luminosity_of(c))[..., None])


def _saturation_of(c: Colour) -> Colour:
    result: Colour = c.max(-1) - c.min(-1)
    return result


def _set_sat(c: Colour, sat: Colour) -> Colour:
    low = c.min(-1, keepdims=True)
    spread = c.max(-1, keepdims=True) - low
    return np.where(spread > 0, (c - low) * sat[..., None] / np.maximum(spread, 1e-12), 0)


def _hue(cb: Colour, cs: Colour) -> Colour:
    return _set_lum(_set_sat(cs, _saturation_of(cb)), luminosity_of(cb))


def _saturation(cb: Colour, cs: Colour) -> Colour:
    return _set_lum(_set_sat(cb, _saturation_of(cs)), luminosity_of(cb))


def _colour(cb: Colour, cs: Colour) -> Colour:
    return _set_lum(cs, luminosity_of(cb))


def _luminosity(cb: Colour, cs: Colour) -> Colour:
    return _set_lum(cb, luminosity_of(cs))


@dataclass(frozen=True)
class Mode:
    """A blend mode.

    Attributes
    ----------
    name : str
        W3C name.
    code : int
        Number by which the compiled kernel knows it.
    blend : callable
        B(cb, cs). For ``plus-lighter`` this is unused: it is an operator, not a blend.
    openraster : str
        Value of ``composite-op`` in OpenRaster.
    separable : bool
    """

    name: str
    code: int
    blend: Blend
    openraster: str
    separable: bool = True


_ENTRIES: list[tuple[str, Blend, str, bool]] = [
    ("normal", _normal, "svg:src-over", True),
    ("multiply", _multiply, "svg:multiply", True),
    ("screen", _screen, "svg:screen", True),
    ("overlay", _overlay, "svg:overlay", True),
    ("darken", np.minimum, "svg:darken", True),
    ("lighten", np.maximum, "svg:lighten", True),
    ("color-dodge", _colour_dodge, "svg:color-dodge", True),
    ("color-burn", _colour_burn, "svg:color-burn", True),
    ("hard-light", _hard_light, "svg:hard-light", True),
    ("soft-light", _soft_light, "svg:soft-light", True),
    ("difference", _difference, "svg:difference", True),
    ("exclusion", _exclusion, "svg:exclusion", True),
    ("hue", _hue, "svg:hue", False),
    ("saturation", _saturation, "svg:saturation", False),
    ("color", _colour, "svg:color", False),
    ("luminosity", _luminosity, "svg:luminosity", False),
    ("plus-lighter", _normal, "svg:plus", True),
]

MODES: dict[str, Mode] = {
    name: Mode(name, code, blend, openraster, separable)
    for code, (name, blend, openraster, separable) in enumerate(_ENTRIES)
}
PLUS_LIGHTER = MODES["plus-lighter"].code
