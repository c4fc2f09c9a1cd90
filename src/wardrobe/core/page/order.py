"""The order in which the panels of a page are read."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
Reading = Literal["left to right", "right to left"]

_TOGETHER = 0.35  # share of the smaller extent by which two panels may overlap and still lie apart


def in_order(outlines: Sequence[Points], over: Sequence[tuple[int, ...]],
             reading: Reading = "left to right") -> list[int]:
    """Numbers of the panels as they are read (common practice, no published source): rows from
    the top, within a row from the side on which reading begins, within a column from the top;
    a panel that is set into another comes after it, unless it lies in the corner where that one
    begins to be read.

    Parameters
    ----------
    outlines : sequence of ndarray, shape (n, 2)
        x, y, y running down.
    over : sequence of tuple of int
        For each panel those that it is set into.
    reading : str
    """
    sign = 1.0 if reading == "left to right" else -1.0
    boxes = np.array([[*(o.min(axis=0)), *(o.max(axis=0))] for o in outlines]).reshape(-1, 4)
    free = [k for k in range(len(outlines)) if not over[k]]
    found = _split(free, boxes, sign)
    for k in range(len(outlines)):
        if not over[k]:
            continue
        host = max(over[k], key=lambda h: found.index(h) if h in found else -1)
        at = found.index(host) if host in found else len(found) - 1
        inset, whole = boxes[k], boxes[host]
        begins = (inset[1] + inset[3]) / 2 < whole[1] + 0.5 * (whole[3] - whole[1]) and \
            sign * ((inset[0] + inset[2]) / 2 - (whole[0] + whole[2]) / 2) < 0
        found.insert(at if begins else at + 1, k)
    return found


def _split(panels: list[int], boxes: Points, sign: float) -> list[int]:
    """Rows, then columns, then whatever cannot be parted by its upper corner."""
    if len(panels) < 2:
        return panels
    for axis in (1, 0):
        groups = _parted(panels, boxes, axis)
        if len(groups) > 1:
            if axis == 0 and sign < 0:
                groups = groups[::-1]
            return [k for group in groups for k in _split(group, boxes, sign)]
    return sorted(panels, key=lambda k: (boxes[k, 1] + boxes[k, 3],
                                         sign * (boxes[k, 0] + boxes[k, 2])))


def _parted(panels: list[int], boxes: Points, axis: int) -> list[list[int]]:
    """Groups that lie one after the other along an axis."""
    order = sorted(panels, key=lambda k: boxes[k, axis] + boxes[k, axis + 2])
    groups = [[order[0]]]
    for k in order[1:]:
        reach = max(boxes[j, axis + 2] for j in groups[-1])
        extents = [boxes[j, axis + 2] - boxes[j, axis] for j in (*groups[-1], k)]
        if reach - boxes[k, axis] <= _TOGETHER * min(extents):
            groups.append([k])
        else:
            groups[-1].append(k)
    return groups
