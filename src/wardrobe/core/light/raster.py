"""Turn the fields of shapes into masks at any size, and let masks agree with each other."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel, leaf
from wardrobe.core.layers.layer import planes, words
from wardrobe.core.light.shapes import Shapes
from wardrobe.core.light.simplify import blur_sigma
from wardrobe.core.parallel import bands, each
from wardrobe.core.passes.table import PASSES

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

_AS_FIELD = 0.06  # softness from which an edge is as soft as its field


@kernel
def _saturated(fields: Real, coarse: NDArray[np.int32],
               slopes: Real) -> tuple[NDArray[np.int32], NDArray[np.uint64]]:
    """At grid pixels where every mask is 0 or 255, with a margin: the form, and the masks as two
    words; form 0 elsewhere. A frame of form 0 is around them."""
    count, rows, columns = fields.shape
    forms = np.zeros((rows + 2, columns + 2), np.int32)
    packed = np.zeros((2, rows + 2, columns + 2), np.uint64)
    for r in range(rows):
        for c in range(columns):
            form = coarse[r, c]
            if form == 0:
                continue
            first, second, settled = np.uint64(0), np.uint64(0), True
            for k in range(count):
                slope = slopes[k, form]
                # The ramp between 0 and 1 is 1 / slope wide.
                reach = np.float32(0.5) / slope if slope > 0 else np.float32(0.5)
                if fields[k, r, c] >= 0.5 + reach:
                    if k < 8:
                        first |= np.uint64(255) << np.uint64(8 * k)
                    else:
                        second |= np.uint64(255) << np.uint64(8 * (k - 8))
                elif fields[k, r, c] > 0.5 - reach:
                    settled = False
                    break
            if settled:
                forms[r + 1, c + 1] = form
                packed[0, r + 1, c + 1], packed[1, r + 1, c + 1] = first, second
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
    wide = 1 if packed.shape[2] > 1 else 0
    for y in range(height):
        at = (y + 0.5) * step + y0 - 0.5
        top = min(rows, max(-1, int(np.floor(at))))
        a, b = top + 1, min(rows + 1, top + 2)
        count = _copy_settled(labels[y], form_of_area, left, framed[a], framed[b], settled[a],
                              settled[b], settled_words[0, a], settled_words[0, b],
                              settled_words[1, a], settled_words[1, b], packed[y, :, 0],
                              packed[y, :, wide], wide > 0, later)
        for k in range(count):
            x = later[k]
            _interpolate(form_of_area[labels[y, x]], fields, coarse, top, left[x],
                         min(1.0, max(0.0, at - top)), share[x], slopes, sums, levels[y, x])


@leaf
def _copy_settled(labels: NDArray[np.uint16], form_of_area: NDArray[np.uint16],
                  left: NDArray[np.int64], above: NDArray[np.int32], below: NDArray[np.int32],
                  set_above: NDArray[np.int32], set_below: NDArray[np.int32],
                  first_above: NDArray[np.uint64], first_below: NDArray[np.uint64],
                  second_above: NDArray[np.uint64], second_below: NDArray[np.uint64],
                  out: NDArray[np.unsignedinteger[Any]],
                  out_second: NDArray[np.unsignedinteger[Any]], wide: bool,
                  later: NDArray[np.int64]) -> int:
    """A row of pixels: where all grid pixels of the same form around one agree, it has their
    masks; those that have to be interpolated are listed in ``later``."""
    count, last = 0, above.size - 1
    cell, cell_form, agreed = -9, 0, False
    first, second = np.uint64(0), np.uint64(0)
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
                upper = k % 2 == 0
                if (above[at] if upper else below[at]) != form:
                    continue
                if (set_above[at] if upper else set_below[at]) != form:
                    agreed = False
                    break
                one = first_above[at] if upper else first_below[at]
                two = second_above[at] if upper else second_below[at]
                if found and (one != first or two != second):
                    agreed = False
                    break
                first, second, found = one, two, found + 1
            agreed = agreed and found > 0
        if agreed:
            out[x] = first
            if wide:
                out_second[x] = second
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
              y: float = 0, scale: float = 1, spare: int = 0) -> Byte:
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

    Returns
    -------
    ndarray of uint8, shape (height, width, planes)
        One mask a shape, in their order; see :class:`~wardrobe.core.layers.layer.Masks`.
    """
    grid = form.grid
    step = grid.scale / scale
    # A straight edge blurred by sigma has the slope 1 / (sigma sqrt(2 pi)) at its middle.
    slope = blur_sigma(grid.line_width) * np.sqrt(2 * np.pi) / step
    soft = {key for key, entry in PASSES.items() if entry.soft}
    slopes = np.array([[0 if k in soft else 1 + (slope - 1) * max(0.0, 1 - s / _AS_FIELD)
                        for s in shapes.soft] for k in shapes.keys],
                      np.float32).reshape(len(shapes.keys), len(shapes.soft))
    levels = np.zeros((*labels.shape, planes(len(shapes.keys) + spare)), np.uint8)
    settled = _saturated(shapes.fields, form.labels, slopes)
    packed = words(levels)

    def draw(rows: slice) -> None:
        _rasterise(labels[rows], form.form_of_area, shapes.fields, form.labels,
                   (x - grid.x) * grid.scale, (y - grid.y) * grid.scale + rows.start * step, step,
                   slopes, *settled, levels[rows], packed[rows])

    each(draw, bands(len(labels)))
    return levels


def settle(levels: Byte, keys: Sequence[str]) -> None:
    """Let masks agree with each other, in place: a deep shade lies in the shade, a glint in the
    light, light only where there is no shade, half tones nowhere in the light, bounced light in the
    shade but not in the deep one, and nothing but itself in the rim.

    So every pixel inside a pass has the same masks full, and shows the same colour.

    Parameters
    ----------
    levels : ndarray of uint8, shape (height, width, planes)
    keys : sequence of str
        Passes, in the order of the masks.
    """
    at = np.array([keys.index(k) if k in keys else -1 for k in PASSES], np.int64)
    packed = words(levels)
    each(lambda rows: _settle(levels[rows], packed[rows], at), bands(len(levels)))


(_GRADIENT, _SOFT, _HALF, _LOW, _SHADE, _DEEP, _BOUNCE, _LIGHT, _GLINT,
 _RIM, _GROUND) = range(len(PASSES))


@kernel
def _settle(levels: Byte, packed: NDArray[np.unsignedinteger[Any]], at: NDArray[np.int64]) -> None:
    height, width, count = packed.shape
    shade, deep, light, glint = at[_SHADE], at[_DEEP], at[_LIGHT], at[_GLINT]
    bounce, rim = at[_BOUNCE], at[_RIM]
    for y in range(height):
        for x in range(width):
            if packed[y, x, 0] == 0 and (count == 1 or packed[y, x, 1] == 0):
                continue
            here = levels[y, x]
            if rim >= 0 and here[rim]:
                for k in range(here.size):
                    if k != rim:
                        here[k] = (here[k] * (255 - here[rim]) + 127) // 255
            dark = here[shade] if shade >= 0 else here[deep] if deep >= 0 else 0
            if deep >= 0 and here[deep] > dark:
                here[deep] = dark
            if bounce >= 0:
                here[bounce] = min(here[bounce], dark)
                if deep >= 0:
                    here[deep] = (here[deep] * (255 - here[bounce]) + 127) // 255
            bright = 0
            if light >= 0:
                here[light] = (here[light] * (255 - dark) + 127) // 255
                bright = here[light]
            if glint >= 0:
                here[glint] = min(here[glint], bright if light >= 0 else 255 - dark)
                bright = max(bright, here[glint])
            for k in range(_LOW, _GRADIENT - 1, -1):  # from the shade outwards
                if at[k] >= 0:
                    level = here[at[k]]
                    level = max(dark, (level * (255 - bright) + 127) // 255)
                    here[at[k]] = level
                    dark = level
