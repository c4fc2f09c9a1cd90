"""The patterns of a piece as pictures."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import from_hex
from wardrobe.core.form import Form
from wardrobe.core.pattern.motifs import MOTIFS
from wardrobe.core.pattern.picture import place_picture
from wardrobe.core.pattern.place import Placement, pattern_coordinates, unrolled
from wardrobe.recipe.document.pattern import Pattern

Byte = NDArray[np.uint8]

_HARDLY_TURNED, _PLACES = 60.0, 4  # degree below which a pixel is looked at in so many places


@dataclass(frozen=True)
class Ground:
    """What a pattern lies on.

    Attributes
    ----------
    middle : (float, float)
        Picture pixel of the part's middle, from which the pattern is placed.
    form : Form or None
        What it is bent round.
    member : ndarray of bool, shape (forms + 1,)
        Forms of the part.
    """

    middle: tuple[float, float]
    form: Form | None
    member: NDArray[np.bool_]


def draw_pattern(pattern: Pattern, ground: Ground, picture: Byte | None,
                 corner: tuple[float, float], scale: float, shape: tuple[int, int]) -> Byte:
    """A part's pattern over a rectangle; the part is cut out of it afterwards.

    Parameters
    ----------
    pattern : Pattern
    ground : Ground
    picture : ndarray of uint8, shape (h, w, 4) or None
    corner : (float, float)
        Picture pixel at the rectangle's top left.
    scale : float
        Result pixels per picture pixel.
    shape : (int, int)
        Height and width of the result.

    Returns
    -------
    ndarray of uint8, shape ``shape + (4,)``
        Straight alpha.
    """
    height, width = shape
    xs, ys = ((start + (np.arange(count, dtype=np.float32) + 0.5) / scale).astype(np.float32)
              for start, count in ((corner[0], width), (corner[1], height)))
    x, y = np.meshgrid(xs, ys)
    if ground.form is not None:
        x, y = unrolled(ground.form, ground.member, x, y)
    placement = Placement(ground.middle[0] + pattern.dx, ground.middle[1] + pattern.dy,
                          pattern.period, pattern.angle, pattern.degree)
    u, v = pattern_coordinates(placement, x, y)
    pixels = pattern.period * scale
    if picture is not None:
        out = place_picture(picture, u, v, pixels, pattern.repeat)
        out[..., 3] = np.rint(out[..., 3] * pattern.strength)
        return out
    # What is turned away changes faster along its short axis: looked at more closely there.
    short = pixels * np.sin(np.deg2rad(pattern.degree))
    motif = MOTIFS[pattern.motif]
    if pattern.degree > _HARDLY_TURNED:
        cover = motif(u, v, pattern.share, pixels)
    else:
        cover = np.mean([motif(u, v + np.float32(at / short), pattern.share, pixels)
                         for at in (np.arange(_PLACES) + 0.5) / _PLACES - 0.5], axis=0)
    out = np.empty((height, width, 4), np.uint8)
    out[..., :3] = from_hex(pattern.colour)
    out[..., 3] = np.rint(255 * pattern.strength * cover)
    return out
