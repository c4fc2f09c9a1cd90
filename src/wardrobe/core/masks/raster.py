"""Turn the fields of shapes into masks at any size."""

from collections.abc import Collection
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel, leaf
from wardrobe.core.layers.layer import planes, words
from wardrobe.core.light.shapes import Shapes
from wardrobe.core.light.simplify import blur_sigma
from wardrobe.core.parallel import bands, each

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

_AS_FIELD = 0.06  # softness from which an edge is as soft as its field


@kernel
def _saturated(fields: Real, coarse: NDArray[np.int32], slopes: Real,
               words: int) -> tuple[NDArray[np.int32], NDArray[np.uint64]]:
    """At grid pixels where every mask is 0 or 255, with a margin: the form, and the masks in
    words of eight; form 0 elsewhere. A frame of form 0 is around them."""
    count, rows, columns = fields.shape
    forms = np.zeros((rows + 2, columns + 2), np.int32)
    packed = np.zeros((rows + 2, columns + 2, words), np.uint64)
    for r in range(rows):
        for c in range(columns):
            form = coarse[r, c]
            if form == 0:
                continue
            settled, here = True, packed[r + 1, c + 1]
            for k in range(count):
                slope = slopes[k, form]
                # The ramp between 0 and 1 is 1 / slope wide.
                reach = np.float32(0.5) / slope if slope > 0 else np.float32(0.5)
                if fields[k, r, c] >= 0.5 + reach:
                    here[k >> 3] |= np.uint64(255) << np.uint64(8 * (k & 7))
                elif fields[k, r, c] > 0.5 - reach:
                    settled = False
                    break
            if settled:
                forms[r + 1, c + 1] = form
    return forms, packed


@kernel
def _rasterise(labels: NDArray[np.uint16], form_of_area: NDArray[np.uint16], fields: Real,
               coarse: NDArray[np.int32], x0: float, y0: float, step: float, slopes: Real,
               settled: NDArray[np.int32], settled_words: NDArray[np.uint64], levels: Byte,
               packed: NDArray[np.unsignedinteger[Any]]) -> None:
    height, width = labels.shape
    rows, columns = coarse.shape
    framed = np.zeros((rows + 2, columns + 2), np.int32)
    framed[1:-1, 1:-1] = coarse
    left, share = np.empty(width, np.int64), np.empty(width)
    for x in range(width):
        at = (x + 0.5) * step + x0 - 0.5
        left[x] = min(columns, max(-1, int(np.floor(at))))
        share[x] = min(1.0, max(0.0, at - left[x]))
    later, sums = np.empty(width, np.int64), np.zeros(fields.shape[0])
    for y in range(height):
        at = (y + 0.5) * step + y0 - 0.5
        top = min(rows, max(-1, int(np.floor(at))))
        count = _copy_settled(labels[y], form_of_area, left, framed, settled, settled_words,
                              top + 1, min(rows + 1, top + 2), packed[y], later)
        for k in range(count):
            x = later[k]
            _interpolate(form_of_area[labels[y, x]], fields, coarse, top, left[x],
                         min(1.0, max(0.0, at - top)), share[x], slopes, sums, levels[y, x])


@leaf
def _copy_settled(labels: NDArray[np.uint16], form_of_area: NDArray[np.uint16],
                  left: NDArray[np.int64], framed: NDArray[np.int32],
                  settled: NDArray[np.int32], settled_words: NDArray[np.uint64], above: int,
                  below: int, out: NDArray[np.unsignedinteger[Any]],
                  later: NDArray[np.int64]) -> int:
    """A row of pixels: where all grid pixels of the same form around one agree, it has their
    masks; those that have to be interpolated are listed in ``later``."""
    count, last, words = 0, framed.shape[1] - 1, out.shape[1]
    cell, cell_form, agreed = -9, 0, False
    of_row, of_column = 0, 0  # the grid pixel whose masks the cell has
    for x in range(labels.size):
        form = form_of_area[labels[x]]
        if form == 0:
            continue
        c = left[x] + 1
        if c != cell or form != cell_form:
            cell, cell_form, agreed, found = c, form, True, 0
            d = min(last, c + 1)
            for k in range(4):
                at = c if k < 2 else d
                row = above if k % 2 == 0 else below
                if framed[row, at] != form:
                    continue
                if settled[row, at] != form:
                    agreed = False
                    break
                if found:
                    for w in range(words):
                        if settled_words[row, at, w] != settled_words[of_row, of_column, w]:
                            agreed = False
                    if not agreed:
                        break
                of_row, of_column, found = row, at, found + 1
            agreed = agreed and found > 0
        if agreed:
            for w in range(words):
                out[x, w] = settled_words[of_row, of_column, w]
        else:
            later[count] = x
            count += 1
    return count


@leaf
def _interpolate(form: int, fields: Real, coarse: NDArray[np.int32], top: int, left: int,
                 fy: float, fx: float, slopes: Real, sums: NDArray[np.float64],
               out: Byte) -> None:
    count, rows, columns = fields.shape
    weight = 0.0
    sums[:] = 0
    for v in range(2):
        for u in range(2):
            r, c = top + v, left + u
            if 0 <= r < rows and 0 <= c < columns and coarse[r, c] == form:
                w = (fy if v else 1 - fy) * (fx if u else 1 - fx)
                for k in range(count):
                    sums[k] += w * fields[k, r, c]
                weight += w
    if weight < 1e-3:  # a sliver between grid pixels: look a little further
        weight = 0.0
        sums[:] = 0
        for v in range(-2, 4):
            for u in range(-2, 4):
                r, c = top + v, left + u
                if 0 <= r < rows and 0 <= c < columns and coarse[r, c] == form:
                    d = (v - fy) ** 2 + (u - fx) ** 2
                    w = 1 / (1 + d * d)
                    for k in range(count):
                        sums[k] += w * fields[k, r, c]
                    weight += w
        if weight == 0:
            return
    for k in range(count):
        level = sums[k] / weight
        if slopes[k, form] > 0:
            level = (level - 0.5) * slopes[k, form] + 0.5
        out[k] = np.uint8(min(1.0, max(0.0, level)) * 255 + 0.5)


def rasterise(shapes: Shapes, form: Form, labels: NDArray[np.uint16], x: float = 0,
              y: float = 0, scale: float = 1, spare: int = 0,
              soft: Collection[str] = ()) -> Byte:
    """Turn fields into masks with an edge one pixel wide, at any size.

    Parameters
    ----------
    shapes : Shapes
    form : Form
    labels : ndarray of uint16, shape (height, width)
        Areas at the size wanted.
    x, y : float
        Picture pixel at the top left of ``labels``.
    scale : float
        Pixels of ``labels`` per picture pixel.
    spare : int
        Masks that are left empty after those of the shapes.
    soft : collection of str
        Shapes that are gradients, and have no edge.

    Returns
    -------
    ndarray of uint8, shape (height, width, planes)
        One mask a shape, in their order; see :class:`~wardrobe.core.layers.layer.Masks`.
    """
    grid = form.grid
    step = grid.scale / scale
    # A straight edge blurred by sigma has the slope 1 / (sigma sqrt(2 pi)) at its middle.
    slope = blur_sigma(grid.line_width) * np.sqrt(2 * np.pi) / step
    hard = np.maximum(0, 1 - shapes.soft / _AS_FIELD)
    slopes = (1 + (slope - 1) * hard).astype(np.float32)
    slopes[[k in soft for k in shapes.keys]] = 0
    levels = np.zeros((*labels.shape, planes(len(shapes.keys) + spare)), np.uint8)
    packed = words(levels)
    settled = _saturated(shapes.fields, form.labels, slopes, packed.shape[2])

    def draw(rows: slice) -> None:
        _rasterise(labels[rows], form.form_of_area, shapes.fields, form.labels,
                   (x - grid.x) * grid.scale, (y - grid.y) * grid.scale + rows.start * step, step,
                   slopes, *settled, levels[rows], packed[rows])

    each(draw, bands(len(labels)))
    return levels
