"""What a picture is: layers, bottom to top, each a source, a shape, a mode, a strength, a scope.

The canvas is opaque, so compositing (W3C Compositing and Blending Level 1) is
``b + share * (B(b, s) - b)`` throughout, with the share being strength times shape.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

INK = "ink"  # names the lines among planes
RAMP = 2048  # entries of a gradient's table

Byte = NDArray[np.uint8]
Real = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Flat:
    """One colour a part.

    Attributes
    ----------
    colours : ndarray of float64, shape (rows, 3), range 0..255
    """

    colours: Real


@dataclass(frozen=True)
class Gradient:
    """Colour by t, which is linear in the picture or the distance from a point.

    Attributes
    ----------
    rows : tuple of one or two (float, float, float)
        t is ``row @ (x, y, 1)`` for one row (along an axis), and the length of the two products
        for two (round a point); x and y are picture pixels.
    stops : tuple of (float, (int, int, int, int))
        t, and straight RGBA 0..255 there; between stops it is linear, beyond them constant. It
        is read at RAMP places from 0 to 1, and rounded to whole bytes, as it is in a layer that
        is delivered.
    """

    rows: tuple[tuple[float, float, float], ...]
    stops: tuple[tuple[float, tuple[int, int, int, int]], ...]


@dataclass(frozen=True)
class Image:
    """A picture, straight alpha, repeated in both directions from (x, y).

    Attributes
    ----------
    name : str
        By which it is given when layers are painted.
    x, y : int
        Pixels of the view.
    """

    name: str
    x: int = 0
    y: int = 0


@dataclass(frozen=True)
class Group:
    """What the grouped layers before it come to.

    Attributes
    ----------
    whole : bool
        It is rounded to whole bytes first, as it is in a layer that is delivered.
    """

    whole: bool = False


Source = Flat | Gradient | Image | Group


@dataclass(frozen=True, eq=False)
class Layer:
    """A layer.

    Attributes
    ----------
    source : Flat, Gradient, Image or Group
    strength : ndarray of float64, shape (rows,), range 0..1
        By part; 0 outside its scope.
    mode : str
        W3C blend mode.
    shape : tuple of (str, bool)
        Planes, and whether it fills what is outside of them; the product of all. INK is the
        lines.
    soft : tuple of str
        Further planes of the product, at most two, whose levels change from pixel to pixel.
    grouped : bool
        Lies in the group that the next layer with a Group lays down; the first layer of a group
        is opaque.
    """

    source: Source
    strength: Real
    mode: str = "normal"
    shape: tuple[tuple[str, bool], ...] = ()
    soft: tuple[str, ...] = ()
    grouped: bool = False


@dataclass(frozen=True)
class Masks:
    """What layers are laid by, all of shape (height, width).

    Attributes
    ----------
    parts : ndarray of uint16
        Row of each pixel; 0 is the background.
    levels : ndarray of uint8, shape (height, width, planes)
        Coverage 0..255 of each plane; further ones are 0.
    ink : ndarray of uint8
        Coverage of the lines.
    keys : tuple of str
        Names of the planes.
    soft : mapping of str to ndarray of uint8
        Planes that change from pixel to pixel.
    """

    parts: NDArray[np.uint16]
    levels: Byte
    ink: Byte
    keys: tuple[str, ...]
    soft: Mapping[str, Byte] = field(default_factory=dict)

    def level(self, key: str) -> Byte:
        """Coverage of a plane."""
        return self.levels[..., self.keys.index(key)]


def planes(count: int) -> int:
    """Planes that masks with so many shapes have, so that a pixel is a whole number of words."""
    return 4 if count <= 4 else -(-count // 8) * 8


def words(levels: Byte) -> NDArray[np.unsignedinteger]:
    """The levels of a pixel as numbers of up to eight, shape (height, width, n)."""
    packed: NDArray[np.unsignedinteger] = levels.view(
        np.uint32 if levels.shape[2] == 4 else np.uint64)
    return packed
