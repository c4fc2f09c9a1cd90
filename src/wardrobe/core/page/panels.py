"""The panels of a page: between gutters, along frames, and set into each other."""

from collections.abc import Sequence
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.page.frames import Panel, filled_out, fitted
from wardrobe.core.page.gutters import cut, outer_frame
from wardrobe.core.page.insets import insets, within
from wardrobe.core.page.order import Reading, in_order
from wardrobe.core.page.sheet import Points, Sheet, area, filled

Byte = NDArray[np.uint8]

_EDGE, _FINE_EDGE = 1300, 1800  # px of the longer edge to cut a page at, and to fit panels at
_LEAST_PANEL = 0.012  # of the page
_SHORTEST = 0.055  # of the page's longer edge that a panel must reach both ways


def find_panels(coverage: Byte, balloons: Sequence[Points] = (),
                reading: Reading = "left to right") -> list[Panel]:
    """The panels of a page in the order in which they are read.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
        Ink.
    balloons : sequence of ndarray, shape (n, 2)
        Outlines of what letters stand in, px: no panels, though they may have frames.
    reading : str
        Which way rows are read.

    Returns
    -------
    list of Panel
        One that is the whole page where nothing divides it; none on an empty page.

    Notes
    -----
    The page is cut along the widest straight strips without ink, level or upright within 14
    degrees, again and again (G. Nagy and S. Seth, "Hierarchical representation of optically
    scanned documents", Proc. 7th ICPR, 1984, for the level and upright ones), where one side of
    the strip is a frame or both sides are as straight as one; and along lines that go from side
    to side. Closed frames within a panel, apart from its own lines, are panels set into it.
    """
    page = Sheet.of(coverage, _EDGE)
    if not page.ink.any():
        return []
    height, width = page.ink.shape
    whole = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float64)
    leaves = list(cut(page, whole, 0))
    if len(leaves) == 1 and outer_frame(page):  # panels that share their lines
        leaves = list(cut(page, whole, 0, lines=True))
    leaves = [leaf for leaf in leaves if _holds(page, leaf)]
    fine = Sheet.of(coverage, _FINE_EDGE)
    times = fine.scale / page.scale
    page = fine
    panels = filled_out(page, [fitted(page, leaf * times) for leaf in leaves])
    spoken = [cv2.convexHull((b * page.scale).astype(np.float32)).reshape(-1, 2)
              for b in balloons]
    panels += [inset for k, panel in enumerate(panels) for inset in insets(page, panel, k)
               if not any(within(inset.outline, b) for b in spoken)]
    scaled = [replace(p, outline=p.outline / page.scale) for p in panels]
    order = in_order([p.outline for p in scaled], [p.over for p in scaled], reading)
    place = {old: new for new, old in enumerate(order)}
    return [replace(scaled[k], over=tuple(place[o] for o in scaled[k].over)) for k in order]


def _holds(page: Sheet, leaf: Points) -> bool:
    """Whether there is a panel's worth of ink."""
    inked = (filled(page.ink.shape, leaf) > 0) & page.ink
    ys, xs = np.nonzero(inked)
    longest = max(page.ink.shape)
    return len(xs) > 0 and area(leaf) > _LEAST_PANEL * page.ink.size \
        and bool(np.ptp(leaf, axis=0).min() > _SHORTEST * longest) \
        and bool(max(np.ptp(xs), np.ptp(ys)) > 0.4 * _SHORTEST * longest)
