"""Operators that look around: soft planes from other planes. Each says how far it reaches.

A tile is worked out with a margin as wide as all of them reach together, so that it is the same
as that place of the whole.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.distance import distance_to
from wardrobe.core.kernel import kernel
from wardrobe.core.setting import Setting

Byte = NDArray[np.uint8]
Box = tuple[slice, slice]  # rows and columns

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
                                    cv2.BORDER_REPLICATE).astype(np.uint16) * np.uint16(257)
        size = framed.shape[1] // d, framed.shape[0] // d
        # Averaging over grains and interpolating between them blurs, too: by this much.
        sigma = math.sqrt(self.sigma**2 - (d * d - 1) / 12 - (d * d - 1) / 6) / d
        ends = 2 * math.ceil(_TAILS * sigma) + 1
        # OpenCV blurs whole numbers in fixed point: the same to the last bit in every tile.
        small = cv2.GaussianBlur(
            cv2.resize(framed, size, interpolation=cv2.INTER_AREA) if d > 1 else framed,
            (ends, ends), sigma, borderType=cv2.BORDER_REPLICATE)
        large = cv2.resize(small, framed.shape[::-1], interpolation=cv2.INTER_LINEAR) \
            if d > 1 else small
        within = large[top:top + height, left:left + width]
        return ((within.astype(np.uint32) + 128) // 257).astype(np.uint8)


@kernel
def _grow(away: NDArray[np.float32], reach: np.float32, out: Byte) -> None:
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            if away[y, x] < reach:
                level = np.rint(np.float32(255) * min(reach - away[y, x], np.float32(1)))
                out[y, x] = max(out[y, x], np.uint8(level))


@kernel
def _hollow(plane: Byte, inside: NDArray[np.float32], by: np.float32, out: Byte) -> None:
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            edge = max(inside[y, x] - np.float32(0.5), np.float32(0))
            if edge < by:
                out[y, x] = np.uint8(np.rint(plane[y, x] * (np.float32(1) - edge / by)))


@dataclass(frozen=True)
class _ByWidth:
    """What looks no farther than its width, px."""

    by: float

    @property
    def reach(self) -> int:
        """Pixels beyond which nothing counts."""
        return math.ceil(self.by) + 1


@dataclass(frozen=True)
class Spread(_ByWidth):
    """Grown by so many px all round, with an edge one pixel wide."""

    def apply(self, plane: Byte, corner: tuple[int, int]) -> Byte:
        """Grow a plane; what is more than half covered counts."""
        del corner
        out = plane.copy()
        away = distance_to(plane > 127)  # to centres: the edge lies half a pixel beyond
        _grow(away, np.float32(self.by + 1), out)
        return out


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


@dataclass(frozen=True)
class Fringe(_ByWidth):
    """Only what lies within so many px of the edge, inside it, fading inwards."""

    def apply(self, plane: Byte, corner: tuple[int, int]) -> Byte:
        """Hollow a plane out; what is less than half covered is outside."""
        del corner
        out = np.zeros_like(plane)
        _hollow(plane, distance_to(plane <= 127), np.float32(max(self.by, 1e-6)), out)
        return out


@dataclass(frozen=True)
class Band(_ByWidth):
    """Along the edge, on both sides of it, fading away from it over so many px."""

    def apply(self, plane: Byte, corner: tuple[int, int]) -> Byte:
        """What lies along the edge of a plane; what is more than half covered is inside."""
        del corner
        within = plane > 127
        away = np.where(within, distance_to(~within), distance_to(within)) - 0.5
        share = 1 - np.clip(away / max(self.by, 1e-6), 0, 1)
        return np.rint(255 * share * share * (3 - 2 * share)).astype(np.uint8)


@dataclass(frozen=True)
class Invert:
    """Everything but what it was."""

    reach = 0

    def apply(self, plane: Byte, corner: tuple[int, int]) -> Byte:
        """Turn a plane inside out."""
        del corner
        return np.uint8(255) - plane


Operator = Blur | Spread | Offset | Fringe | Band | Invert


@dataclass(frozen=True)
class OperatorKind:
    """What can be done to a plane.

    Attributes
    ----------
    key, label : str
    settings : tuple of Setting
        Lengths in picture pixels.
    make : callable
        Called with the amounts by name and the view's pixels per picture pixel.
    """

    key: str
    label: str
    settings: tuple[Setting, ...]
    make: Callable[[Mapping[str, float], float], Operator]


OPERATORS: dict[str, OperatorKind] = {
    k.key: k
    for k in (
        OperatorKind("blur", "Softened", (Setting("by", "By", 0, 400, 12, "px"),),
                     lambda a, scale: Blur(a["by"] * scale)),
        OperatorKind("spread", "Grown", (Setting("by", "By", 0, 200, 6, "px"),),
                     lambda a, scale: Spread(a["by"] * scale)),
        OperatorKind("fringe", "Only its edge", (Setting("by", "Wide", 0.5, 200, 8, "px"),),
                     lambda a, scale: Fringe(a["by"] * scale)),
        OperatorKind("band", "Along its edge", (Setting("by", "Wide", 0.5, 200, 8, "px"),),
                     lambda a, scale: Band(a["by"] * scale)),
        OperatorKind("offset", "Moved", (Setting("dx", "Right", -400, 400, 0, "px"),
                                         Setting("dy", "Down", -400, 400, 0, "px")),
                     lambda a, scale: Offset(round(a["dx"] * scale), round(a["dy"] * scale))),
        OperatorKind("invert", "Inside out", (), lambda a, scale: Invert()),
    )
}


def reach_of(operators: Sequence[Operator]) -> int:
    """Pixels beyond which nothing counts for any of them together."""
    return sum(o.reach for o in operators)


def applied(operators: Sequence[Operator], plane: Byte, corner: tuple[int, int],
            box: Box) -> Byte:
    """A rectangle of a plane after operators, in their order.

    Parameters
    ----------
    operators : sequence of Operator
    plane : ndarray of uint8
        Before them; larger than the rectangle by what they reach, as far as the picture goes.
    corner : (int, int)
        y and x of its first pixel in the picture.
    box : (slice, slice)
        In the plane.
    """
    for operator in operators:
        plane = operator.apply(plane, corner) if isinstance(operator, Invert) else \
            _where_it_matters(operator, plane, corner)
    return np.ascontiguousarray(plane[box])


def _where_it_matters(operator: Operator, plane: Byte, corner: tuple[int, int]) -> Byte:
    """Apply an operator that leaves what is empty far around as it is."""
    rows, columns = (np.flatnonzero(plane.any(axis=axis)) for axis in (1, 0))
    if not len(rows):
        return plane
    box = tuple(slice(max(0, int(found[0]) - operator.reach),
                      min(most, int(found[-1]) + 1 + operator.reach))
                for found, most in zip((rows, columns), plane.shape, strict=True))
    if [(s.start, s.stop) for s in box] == [(0, most) for most in plane.shape]:
        return operator.apply(plane, corner)
    out = np.zeros_like(plane)
    out[box] = operator.apply(np.ascontiguousarray(plane[box]),
                              (corner[0] + box[0].start, corner[1] + box[1].start))
    return out
