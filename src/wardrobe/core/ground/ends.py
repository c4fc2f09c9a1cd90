"""The ends of lines at which an outline may go on: neither corners nor solids."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.rays import ray
from wardrobe.core.kernel import kernel
from wardrobe.core.lines.ends import find_ends

Byte = NDArray[np.uint8]
Floats = NDArray[np.float64]

_WIDEST = 2.2  # line widths; wider ones are solids
_BACK = 9.0  # line widths behind a tip within which two lines part at a corner
_ARM = 1.5  # line widths between which those lines still are beside each other


@dataclass(frozen=True)
class LineEnds:
    """Where lines end.

    Attributes
    ----------
    tips : ndarray of float64, shape (n, 2)
        x, y, pixel numbers.
    ways : ndarray of float64, shape (n, 2)
        Unit vectors along which the lines would go on.
    """

    tips: Floats
    ways: Floats

    def __len__(self) -> int:
        return len(self.tips)

    def take(self, rows: NDArray[np.int64]) -> "LineEnds":
        """Some of the ends."""
        return LineEnds(self.tips[rows], self.ways[rows])


def line_ends(ink: Byte, line_width: float) -> LineEnds:
    """Ends of lines, without the corners that look like ends.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 free, 1 ink.
    line_width : float
        Px.
    """
    found = find_ends(ink, line_width)
    _, free = cv2.connectedComponents(1 - ink, connectivity=4)
    tips, ways = found.tip.astype(np.float64), found.direction.astype(np.float64)
    keep = [k for k in range(1, found.count + 1)
            if found.width[k] < _WIDEST * line_width + 2
            and not _corner(ink, free, tips[k, 0], tips[k, 1], ways[k, 0], ways[k, 1],
                            _BACK * line_width, _ARM * line_width + 2)]
    return LineEnds(tips[keep], ways[keep])


@kernel
def _corner(ink: Byte, free: NDArray[np.int32], x: float, y: float, dx: float, dy: float,
            back: float, arm: float) -> bool:
    """Whether behind a tip, between two arms, lies another free region than before it."""
    height, width = ink.shape
    before = 0
    for ahead in range(1, 8):
        u, v = int(np.floor(x + dx * ahead + 0.5)), int(np.floor(y + dy * ahead + 0.5))
        if u < 0 or v < 0 or u >= width or v >= height:
            break
        if free[v, u]:
            before = free[v, u]
            break
    if before == 0:
        return False
    for turn in (0.0, 0.12, -0.12):
        ex = dx * np.cos(turn) - dy * np.sin(turn)
        ey = dx * np.sin(turn) + dy * np.cos(turn)
        k = 1.0
        while k < back:
            u, v = int(np.floor(x - ex * k + 0.5)), int(np.floor(y - ey * k + 0.5))
            if u < 0 or v < 0 or u >= width or v >= height:
                break
            if free[v, u] and k > 2:
                if free[v, u] != before:  # or beside a line that bends
                    px, py = x - ex * (k + 1.0), y - ey * (k + 1.0)
                    if (ray(ink, px, py, -ey, ex, 0.0, arm) >= 0
                            and ray(ink, px, py, ey, -ex, 0.0, arm) >= 0):
                        return True
                break
            k += 0.5
    return False
