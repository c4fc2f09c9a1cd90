"""Operators that look around: soft planes from other planes. Each says how far it reaches.

A tile is worked out with a margin as wide as all of them reach together, so that it is the same
as that place of the whole.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.distance import distance_to

Byte = NDArray[np.uint8]
Box = tuple[slice, slice]  # rows and columns of the picture

_NARROW = 6.0  # px: a Gaussian from here on is as good on pixels of twice the size
_TAILS = 4.0  # standard deviations that are looked at


@dataclass(frozen=True)
class Blur:
    """A Gaussian blur.

    Attributes
    ----------
    sigma : float
        Standard deviation, px.
    """

    sigma: float

    @property
    def grain(self) -> int:
        """Size of the pixels at which it is worked out: a wide blur needs no small ones."""
        return 2 ** max(0, int(math.log2(self.sigma / _NARROW))) if self.sigma >= _NARROW else 1

    @property
    def reach(self) -> int:
        """Pixels beyond which nothing counts, and whole grains."""
        return math.ceil(_TAILS * self.sigma) + 2 * self.grain

    def apply(self, plane: Byte, corner: tuple[int, int]) -> Byte:
        """Blur a plane whose first pixel is at ``corner`` (y, x) of the picture."""
        d = self.grain
        if self.sigma <= 0:
            return plane
        # Grains lie where they lie in the picture, whatever the tile.
        top, left = corner[0] % d, corner[1] % d
        height, width = plane.shape
        framed = cv2.copyMakeBorder(plane, top, -(top + height) % d, left, -(left + width) % d,
                                    cv2.BORDER_REPLICATE).astype(np.float32)
        size = framed.shape[1] // d, framed.shape[0] // d
        # Averaging over grains and interpolating between them blurs, too: by this much.
        sigma = math.sqrt(self.sigma**2 - (d * d - 1) / 12 - (d * d - 1) / 6) / d
        ends = 2 * math.ceil(_TAILS * sigma) + 1
        small = cv2.GaussianBlur(
            cv2.resize(framed, size, interpolation=cv2.INTER_AREA) if d > 1 else framed,
            (ends, ends), sigma, borderType=cv2.BORDER_REPLICATE)
        large = cv2.resize(small, framed.shape[::-1], interpolation=cv2.INTER_LINEAR) \
            if d > 1 else small
        return np.rint(np.clip(large[top:top + height, left:left + width], 0, 255)).astype(
            np.uint8)


@dataclass(frozen=True)
class Spread:
    """Grown by so many px all round, with an edge one pixel wide."""

    by: float

    @property
    def reach(self) -> int:
        """Pixels beyond which nothing counts."""
        return math.ceil(self.by) + 1

    def apply(self, plane: Byte, corner: tuple[int, int]) -> Byte:
        """Grow a plane; what is more than half covered counts."""
        del corner
        away = distance_to(plane > 127)  # to centres: the edge lies half a pixel beyond
        grown = np.rint(255 * np.clip(self.by + 1 - away, 0, 1)).astype(np.uint8)
        return np.maximum(plane, grown)


@dataclass(frozen=True)
class Offset:
    """Moved by whole pixels; what comes in from beyond the picture is as at its edge."""

    dx: int
    dy: int

    @property
    def reach(self) -> int:
        """Pixels beyond which nothing counts."""
        return max(abs(self.dx), abs(self.dy))

    def apply(self, plane: Byte, corner: tuple[int, int]) -> Byte:
        """Move a plane right by dx and down by dy."""
        del corner
        room = self.reach
        framed = cv2.copyMakeBorder(plane, room, room, room, room, cv2.BORDER_REPLICATE)
        height, width = plane.shape
        return framed[room - self.dy:room - self.dy + height,
                      room - self.dx:room - self.dx + width].copy()


Operator = Blur | Spread | Offset


def applied(operators: Sequence[Operator], plane_of: Callable[[Box], Byte], box: Box,
            shape: tuple[int, int]) -> Byte:
    """A rectangle of a plane after operators, in their order.

    Parameters
    ----------
    operators : sequence of Operator
    plane_of : callable
        Gives a rectangle of the plane before them.
    box : (slice, slice)
    shape : (int, int)
        Of the whole picture.
    """
    reach = sum(o.reach for o in operators)
    wide = tuple(slice(max(0, s.start - reach), min(most, s.stop + reach))
                 for s, most in zip(box, shape, strict=True))
    corner = wide[0].start, wide[1].start
    plane = plane_of((wide[0], wide[1]))
    for operator in operators:
        plane = operator.apply(plane, corner)
    rows, columns = (slice(s.start - begin, s.stop - begin)
                     for s, begin in zip(box, corner, strict=True))
    return plane[rows, columns]
