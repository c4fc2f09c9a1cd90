"""Turn the fields of shapes into masks at any size, and let masks agree with each other."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.labelmap import planes, words
from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel
from wardrobe.core.light.shapes import Shapes
from wardrobe.core.light.simplify import blur_sigma
from wardrobe.core.passes.table import PASSES

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]


@kernel
def _settled_cells(fields: Real, coarse: NDArray[np.int32],
                   slopes: Real) -> tuple[NDArray[np.int32], NDArray[np.uint64]]:
    """Between four grid pixels of one form, where every mask is 0 or 255 throughout: the form,
    and the masks as one or two words; form 0 elsewhere."""
    count, rows, columns = fields.shape
    forms = np.zeros((rows + 1, columns + 1), np.int32)
    packed = np.zeros((rows + 1, columns + 1, 2), np.uint64)
    for r in range(rows - 1):
        for c in range(columns - 1):
            form = coarse[r, c]
            if form == 0 or coarse[r, c + 1] != form or coarse[r + 1, c] != form \
                    or coarse[r + 1, c + 1] != form:
                continue
            word, settled = np.zeros(2, np.uint64), True
            for k in range(count):
                corners = (fields[k, r, c], fields[k, r, c + 1], fields[k, r + 1, c],
                           fields[k, r + 1, c + 1])
                low, high = min(corners), max(corners)
                # The ramp between 0 and 1 is 1 / slope wide.
                reach = np.float32(0.5) / slopes[k] if slopes[k] > 0 else np.float32(0.5)
                if low >= 0.5 + reach:
                    word[k // 8] |= np.uint64(255) << np.uint64(8 * (k % 8))
                elif high > 0.5 - reach:
                    settled = False
                    break
            if settled:
                forms[r + 1, c + 1] = form
                packed[r + 1, c + 1] = word
    return forms, packed


@kernel
def _rasterise(labels: NDArray[np.uint16], form_of_area: NDArray[np.uint16], fields: Real,
               coarse: NDArray[np.int32], x0: float, y0: float, step: float, slopes: Real,
               settled: NDArray[np.int32], settled_words: NDArray[np.uint64], levels: Byte,
               packed: NDArray[np.unsignedinteger[Any]]) -> None:
    height, width = labels.shape
    count, rows, columns = fields.shape
    sums = np.zeros(count)
    for y in range(height):
        gy = (y + 0.5) * step + y0 - 0.5
        iy = int(np.floor(gy))
        fy = gy - iy
        for x in range(width):
            form = form_of_area[labels[y, x]]
            if form == 0:
                continue
            gx = (x + 0.5) * step + x0 - 0.5
            ix = int(np.floor(gx))
            fx = gx - ix
            if -1 <= iy < rows and -1 <= ix < columns and settled[iy + 1, ix + 1] == form:
                for half in range(packed.shape[2]):
                    packed[y, x, half] = settled_words[iy + 1, ix + 1, half]
                continue
            weight = 0.0
            sums[:] = 0
            for v in range(2):
                for u in range(2):
                    r, c = iy + v, ix + u
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
                        r, c = iy + v, ix + u
                        if 0 <= r < rows and 0 <= c < columns and coarse[r, c] == form:
                            d = (v - fy) ** 2 + (u - fx) ** 2
                            w = 1 / (1 + d * d)
                            for k in range(count):
                                sums[k] += w * fields[k, r, c]
                            weight += w
                if weight == 0:
                    continue
            for k in range(count):
                level = sums[k] / weight
                if slopes[k] > 0:
                    level = (level - 0.5) * slopes[k] + 0.5
                levels[y, x, k] = np.uint8(min(1.0, max(0.0, level)) * 255 + 0.5)


def rasterise(shapes: Shapes, form: Form, labels: NDArray[np.uint16], x: float = 0,
              y: float = 0, scale: float = 1) -> Byte:
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

    Returns
    -------
    ndarray of uint8, shape (height, width, planes)
        One mask a shape, in their order; see :class:`~wardrobe.core.composite.labelmap.Masks`.
    """
    grid = form.grid
    step = grid.scale / scale
    # A straight edge blurred by sigma has the slope 1 / (sigma sqrt(2 pi)) at its middle.
    slope = blur_sigma(grid.line_width) * np.sqrt(2 * np.pi) / step
    soft = {key for key, entry in PASSES.items() if entry.soft}
    slopes = np.array([0 if k in soft else slope for k in shapes.keys], np.float32)
    levels = np.zeros((*labels.shape, planes(len(shapes.keys))), np.uint8)
    _rasterise(labels, form.form_of_area, shapes.fields, form.labels, (x - grid.x) * grid.scale,
               (y - grid.y) * grid.scale, step, slopes,
               *_settled_cells(shapes.fields, form.labels, slopes), levels, words(levels))
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
    _settle(levels, words(levels), at)


(_GRADIENT, _SOFT, _HALF, _LOW, _SHADE, _DEEP, _BOUNCE, _LIGHT, _GLINT,
 _RIM) = range(len(PASSES))


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
