"""Cut gaps of known place and width into line art, with ends of several shapes."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage.morphology import skeletonize

Byte = NDArray[np.uint8]
Path = NDArray[np.float64]

SHAPES = ("round", "square", "slanted", "tapered")
NARROWEST, WIDEST = 2.0, 24.0
_TAPER = 2.0  # length of a tapered end, line widths


@dataclass(frozen=True)
class Cut:
    """A gap that was made: its middle, and the free width between its ends, px."""

    x: float
    y: float
    width: float


def cut(ink: Byte, shape: str, lw: float, rng: np.random.Generator,
        count: int = 3) -> tuple[Byte, list[Cut]]:
    """Cut lines that part two large regions, at random places away from junctions."""
    skeleton = skeletonize(ink >= 128)
    depth = cv2.distanceTransform((ink >= 128).astype(np.uint8), cv2.DIST_L2, 5)
    regions = cv2.connectedComponents((ink < 128).astype(np.uint8), connectivity=4)[1]
    sizes = np.bincount(regions.ravel())
    ys, xs = np.nonzero(skeleton & (depth > 0.3 * lw) & (depth < 0.75 * lw))
    out, made = ink.copy(), []
    for k in rng.permutation(len(ys))[:400]:
        if len(made) == count:
            break
        y, x = int(ys[k]), int(xs[k])
        if any(np.hypot(x - m.x, y - m.y) < 6 * lw + 2 * WIDEST for m in made):
            continue
        width = rng.uniform(NARROWEST, WIDEST)
        reach = width / 2 + {"round": 1, "square": 0.5, "slanted": 1,
                             "tapered": _TAPER + 0.5}[shape] * lw
        walked = _walk(skeleton, (y, x), reach + 0.3 * lw)
        if walked is None:
            continue
        path = ndimage.gaussian_filter1d(walked[0], max(1.0, 0.3 * lw), axis=0, mode="nearest")
        tangent = np.gradient(path, axis=0)
        tangent /= np.hypot(tangent[:, 0], tangent[:, 1])[:, None]
        middle, normal = path[walked[1]], tangent[walked[1]][::-1] * [1, -1]
        beside = np.clip(np.rint(middle + np.outer([-1, 1], normal) * (depth[y, x] + 3)), 0,
                         np.array(ink.shape) - 1).astype(int)
        one, two = regions[beside[:, 0], beside[:, 1]]
        if 0 in (one, two) or one == two or min(sizes[one], sizes[two]) < 6 * lw**2 + 60:
            continue
        _erase(out, path, tangent, walked[1], width, float(depth[y, x]), shape, reach + lw, lw,
               rng)
        made.append(Cut(float(middle[1]), float(middle[0]), width))
    return out, made


def _walk(skeleton: NDArray[np.bool_], start: tuple[int, int],
          length: float) -> tuple[Path, int] | None:
    """The line through a point as (y, x), both ways; None where it branches or ends."""
    height, width = skeleton.shape
    steps = [(dy, dx) for dy in (-1, 0, 1) for dx in (-1, 0, 1) if dy or dx]

    def beside(p: tuple[int, int]) -> list[tuple[int, int]]:
        around = ((p[0] + dy, p[1] + dx) for dy, dx in steps)
        return [q for q in around
                if 0 <= q[0] < height and 0 <= q[1] < width and skeleton[q]]

    ways = []
    first = beside(start)
    if len(first) != 2:
        return None
    for step in first:
        way, before, here = [step], start, step
        walked = float(np.hypot(step[0] - start[0], step[1] - start[1]))
        while walked < length:
            on = [q for q in beside(here)
                  if q != before and max(abs(q[0] - before[0]), abs(q[1] - before[1])) > 1]
            if len(on) != 1:
                return None
            before, here = here, on[0]
            walked += float(np.hypot(here[0] - before[0], here[1] - before[1]))
            way.append(here)
        ways.append(way)
    return np.array([*ways[0][::-1], start, *ways[1]], float), len(ways[0])


def _erase(out: Byte, path: Path, tangent: Path, at: int, width: float, radius: float,
           shape: str, reach: float, lw: float, rng: np.random.Generator) -> None:
    along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
    along -= along[at]
    (y, x), r = path[at].astype(int), int(reach + 4)
    y0, y1 = max(0, y - r), min(out.shape[0], y + r + 1)
    x0, x1 = max(0, x - r), min(out.shape[1], x + r + 1)
    pixels = np.stack([a.ravel() for a in np.mgrid[y0:y1, x0:x1]], axis=1).astype(float)
    square = ((pixels[:, None] - path[None]) ** 2).sum(axis=-1)
    j = square.argmin(axis=1)
    off = np.sum((pixels - path[j]) * tangent[j][:, ::-1] * [1, -1], axis=1)
    s = along[j] + np.sum((pixels - path[j]) * tangent[j], axis=1)
    share = np.clip(np.abs(off) / radius, 0, 1)
    edge = np.full(len(pixels), width / 2)
    if shape == "slanted":
        slope = np.tan(np.deg2rad(rng.uniform(15, 45)) * rng.choice([-1, 1]))
        s = (s - slope * off) * np.cos(np.arctan(slope))
    elif shape == "round":
        edge += radius * (1 - np.sqrt(np.maximum(1 - share**2, 0)))
    elif shape == "tapered":
        edge += _TAPER * lw * share
    keep = np.clip(np.abs(s) - edge + 0.5, 0, 1)
    keep[np.sqrt(square.min(axis=1)) > 1.6 * radius + 2] = 1
    patch = out[y0:y1, x0:x1]
    patch[:] = np.rint(patch * keep.reshape(patch.shape)).astype(np.uint8)
