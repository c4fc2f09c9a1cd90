"""Turn painted places into outlines, so that they can be kept as strokes."""

import cv2
import numpy as np
from numpy.typing import NDArray

Outline = NDArray[np.float64]

_TOLERANCE = 0.3  # px that an outline may leave the painted edge
_MOST_POINTS = 4000
_FRINGE = 1  # px along edges that may differ by how they were rounded


def outlines_of(mask: NDArray[np.bool_], least: int,
                corner: tuple[int, int] = (0, 0)) -> list[Outline]:
    """One closed outline for each connected piece of a mask, the largest first.

    Parameters
    ----------
    mask : ndarray of bool, shape (height, width)
    least : int
        Pieces of fewer pixels are left out.
    corner : (int, int)
        Where the mask's upper left corner lies, x and y.

    Returns
    -------
    list of ndarray of float64, shape (n, 2)
        Places (x, y) in pixels, whole numbers at pixels' corners. A hole is joined to the
        outline around it by a cut of no width, so that filling by the even-odd rule leaves it
        free.
    """
    from skimage.measure import find_contours  # takes a second to load, and is seldom needed

    count, numbers, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8),
                                                                connectivity=4)
    sizes = stats[:, cv2.CC_STAT_AREA]
    wanted = sorted((k for k in range(1, count) if sizes[k] >= least), key=lambda k: -sizes[k])
    found = []
    for k in wanted:
        x, y, w, h = (int(v) for v in stats[k, :4])
        piece = np.pad(numbers[y:y + h, x:x + w] == k, 1).astype(np.float32)
        # Rows before columns, pixel centres at whole numbers, and one pixel of padding.
        place = x + corner[0] - 0.5, y + corner[1] - 0.5
        rings = [ring[:, ::-1] + place for ring in find_contours(piece, 0.5)]
        found.append(_simplified(rings))
    return found


def _simplified(rings: list[Outline]) -> Outline:
    """The rings as one outline of few enough points."""
    tolerance = _TOLERANCE
    while True:
        rough = [ring for r in rings if len(ring := _approximated(r, tolerance)) >= 4]
        if not rough:
            return max(rings, key=len)[:_MOST_POINTS]
        joined = _joined(rough)
        if len(joined) <= _MOST_POINTS:
            return joined
        tolerance *= 1.6


def _approximated(ring: Outline, tolerance: float) -> Outline:
    """Fewer points (Douglas, Peucker 1973); the last is the first again."""
    return cv2.approxPolyDP(ring.astype(np.float32)[:, None], tolerance, False)[:, 0].astype(float)


def _joined(rings: list[Outline]) -> Outline:
    """The outermost ring with all others cut into it."""
    rings = sorted(rings, key=lambda ring: -float(np.ptp(ring, axis=0).prod()))
    outline = rings[0]
    for hole in rings[1:]:
        away = np.hypot(outline[:, None, 0] - hole[None, :, 0],
                        outline[:, None, 1] - hole[None, :, 1])
        at, to = np.unravel_index(np.argmin(away), away.shape)
        turned = np.concatenate([hole[to:-1], hole[:to + 1]])
        outline = np.concatenate([outline[:at + 1], turned, outline[at:]])
    return outline


def solid(mask: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """A difference without the fringes that rounding leaves along edges."""
    kernel = cv2.getStructuringElement(cv2.MORPH_CROSS, (2 * _FRINGE + 1, 2 * _FRINGE + 1))
    core = cv2.erode(mask.astype(np.uint8), kernel)
    if not core.any():
        return np.zeros_like(mask)
    # Only pieces that have a core, but those whole.
    _, numbers = cv2.connectedComponents(mask.astype(np.uint8), connectivity=4)
    kept = np.zeros(int(numbers.max()) + 1, bool)
    kept[np.unique(numbers[core > 0])] = True
    kept[0] = False
    found: NDArray[np.bool_] = kept[numbers]
    return found
