"""What lies beside a segment: strokes that run along with it, and cells of paper."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.segments import Segments, Sizes
from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Real = NDArray[np.float32]
Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

_REACH = 13.0  # how far parallels are looked for, line widths
_PARALLEL = 0.94  # cosine from which strokes are parallel
_MOST_PAIRS = 400_000


@dataclass(frozen=True)
class Around:
    """What lies beside each segment; row 0 of each table is unused.

    Attributes
    ----------
    parallels : ndarray of float64, shape (count + 1, 4)
        How many on both sides, how far the nearest is (line widths), how uneven their distances
        are and how unlike their widths.
    cells : ndarray of int32, shape (count + 1, 2)
        Number of the cell of paper on either side; 0 if none was met.
    ground : ndarray of float64, shape (count + 1,)
        How much of both sides lies against the ground: 0..2.
    pairs : ndarray of int32, shape (n, 2)
        Segments and their parallels.
    """

    parallels: Floats
    cells: Int
    ground: Floats
    pairs: Int


def look_around(segments: Segments, sizes: Sizes, depth: Real, cells: Int, ground: Mask,
                live: Mask, line_width: float) -> Around:
    """Look to both sides of up to twelve points of each segment.

    Parameters
    ----------
    cells : ndarray of int32, shape (height, width)
        Numbers of the connected pieces of paper, 0 on ink.
    ground : ndarray of bool, shape (cells,)
        Which of them are ground.
    live : ndarray of bool, shape (count + 1,)
        Segments that count.
    """
    found = _look(segments.points, segments.start, segments.numbers, sizes.direction, cells, depth,
                  sizes.width, live, line_width, _REACH, _PARALLEL, ground, _MOST_PAIRS)
    return Around(*found)


@kernel
def _look(points: Int, start: NDArray[np.int64], numbers: Int, direction: Real, cells: Int,
          depth: Real, width: Floats, live: Mask, line_width: float, reach: float,
          parallel: float, ground: Mask, most: int) -> tuple[Floats, Int, Floats, Int]:
    rows, columns = numbers.shape
    count = len(start) - 2
    beside = np.zeros((count + 1, 4), np.float64)
    side = np.zeros((count + 1, 2), np.int32)
    touch = np.zeros(count + 1, np.float64)
    pairs = np.zeros((most, 2), np.int32)
    found = 0
    gaps = np.zeros(8)
    for s in range(1, count + 1):
        if not live[s]:
            continue
        a, n = start[s], start[s + 1] - start[s]
        looks = min(max(1, round(n / max(3.0, 1.5 * line_width))), 12)
        total, near, nears = 0.0, 0.0, 0
        uneven, unevens, unlike, unlikes = 0.0, 0, 0.0, 0
        for t in range(looks):
            y, x = points[a + int((t + 0.5) * n / looks)]
            dx, dy = -direction[y, x, 1], direction[y, x, 0]
            if dx == 0 and dy == 0:
                continue
            closest = 1e9
            for sign in range(-1, 2, 2):
                last, got, before = s, 0, 0.0
                for step in range(1, int(reach * line_width)):
                    u, v = round(x + sign * dx * step), round(y + sign * dy * step)
                    if u < 1 or v < 1 or u >= columns - 1 or v >= rows - 1:
                        break
                    other, at_u, at_v = numbers[v, u], u, v
                    if other == 0:  # a slanted stroke may be stepped over
                        if numbers[v, u + 1]:
                            other, at_u = numbers[v, u + 1], u + 1
                        elif numbers[v + 1, u]:
                            other, at_v = numbers[v + 1, u], v + 1
                    if other in (0, last, s):
                        continue
                    last = other
                    if not live[other]:
                        continue
                    cosine = abs(direction[at_v, at_u, 0] * direction[y, x, 0]
                                 + direction[at_v, at_u, 1] * direction[y, x, 1])
                    ratio = width[other] / width[s]
                    if cosine > parallel and ratio > 0.55 and ratio < 1.8:
                        gaps[got] = step - before
                        before = step
                        got += 1
                        unlike += abs(ratio - 1)
                        unlikes += 1
                        if found < most:
                            pairs[found, 0], pairs[found, 1] = s, other
                            found += 1
                        if got == 5:
                            break
                    elif ratio > 1.3:
                        break
                total += got
                if got:
                    closest = min(closest, gaps[0])
                for j in range(1, got):
                    uneven += abs(gaps[j] - gaps[j - 1]) / (gaps[j] + gaps[j - 1])
                    unevens += 1
            if closest < 1e9:
                near += closest
                nears += 1
            for k in range(2):
                for more in range(3):
                    off = (2 * k - 1) * (depth[y, x] + 1.5 + more)
                    u, v = round(x + dx * off), round(y + dy * off)
                    if 0 <= u < columns and 0 <= v < rows and cells[v, u]:
                        if side[s, k] == 0:
                            side[s, k] = cells[v, u]
                        touch[s] += ground[cells[v, u]] / looks
                        break
        beside[s, 0] = total / looks
        beside[s, 1] = near / nears / line_width if nears else reach
        beside[s, 2] = uneven / unevens if unevens else 1.0
        beside[s, 3] = unlike / unlikes if unlikes else 1.0
    return beside, side, touch, pairs[:found]
