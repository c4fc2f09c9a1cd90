"""Draw the shapes of the passes of a figure under a light."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.labelmap import planes, words
from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.materials import Material
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.simplify import ISLAND_LINE_WIDTHS_SQUARED, blur_sigma, simplify
from wardrobe.core.passes.table import LIT, PASSES

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

SHADE_SHARE = 0.38  # of a ball, common practice
# Shares of a ball that are darker than where a tone begins; those but the shade's are common
# practice, no published source.
DARK_SHARES = {"deep shade": 0.13, "shade": SHADE_SHARE, "low light": 0.47, "half light": 0.58,
               "soft shade": 0.66, "gradient": 0.98}
# Squared line widths under which a piece of a shape is dropped.
_ISLANDS = {"light": 8.0, "glint": 2.5, "deep shade": 2 * ISLAND_LINE_WIDTHS_SQUARED}
_NONE = -2.0  # below every cosine: here no light can lie


@dataclass(frozen=True)
class Shapes:
    """Fields on the form's grid, one a pass.

    Attributes
    ----------
    keys : tuple of str
        Passes, in the order of the fields.
    fields : ndarray of float32, shape (passes, height, width), range 0..1
        The 0.5 level of a field is the edge of its shape; a soft shape is the field itself.
    """

    keys: tuple[str, ...]
    fields: Real


def draw_shapes(form: Form, key: KeyLight, part_of_form: NDArray[np.uint16],
                materials: list[Material],
                wanted: Sequence[str] = ("shade", "light")) -> Shapes:
    """The shapes of passes, simplified as an illustrator would draw them.

    Parameters
    ----------
    form : Form
    key : KeyLight
    part_of_form : ndarray of uint16, shape (forms + 1,)
    materials : list of Material
        By part; entry 0, the ground, is not used.
    wanted : sequence of str
        Keys of passes.

    Returns
    -------
    Shapes

    References
    ----------
    J. H. Lambert, "Photometria", 1760: light received goes with the cosine N.L.
    J. F. Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977.
    """
    vector, half = key.vector(), key.halfway()
    owners = [materials[part] for part in part_of_form]
    offset = np.array([m.shade_offset for m in owners], np.float32)
    glossy = np.array([m.glossy for m in owners])
    starts = {name: np.float32(ball_quantile(round(float(vector[2]), 4), share)) + offset
              for name, share in DARK_SHARES.items()}
    inset = max(1.0, 0.9 * form.grid.line_width)
    received, shine = _measure(form.labels, form.normals, vector, half, glossy, starts["shade"],
                               form.edge, inset)
    lw = form.grid.line_width

    def draw(name: str) -> Real:
        islands = _ISLANDS.get(name, ISLAND_LINE_WIDTHS_SQUARED)
        if name in LIT:
            tops = np.array([_top(m, name, half, vector) for m in owners], np.float32)
            raw = _lit(form, shine, tops, part_of_form, max(12.0, islands * lw**2))
            return simplify(raw, form.labels, lw, islands, close=False)
        if PASSES[name].soft:
            return _ramp(form.labels, received, starts[name], starts["shade"])
        return simplify(_below(form.labels, received, starts[name]), form.labels, lw, islands)

    fields = [draw(name) for name in wanted]
    return Shapes(tuple(wanted), np.stack(fields) if fields
                  else np.zeros((0, *form.labels.shape), np.float32))


@kernel
def _measure(labels: NDArray[np.int32], normals: Real, vector: Real, half: Real,
             glossy: NDArray[np.bool_], terminator: Real, edge: Real,
             inset: float) -> tuple[Real, Real]:
    """The cosine of the light received; and, in the lit inside of each form, the cosine that its
    light shape follows."""
    height, width = labels.shape
    received = np.zeros((height, width), np.float32)
    shine = np.full((height, width), np.float32(-2))
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form == 0:
                continue
            n = normals[y, x]
            cosine = n[0] * vector[0] + n[1] * vector[1] + n[2] * vector[2]
            received[y, x] = cosine
            if cosine >= terminator[form] and edge[y, x] > inset:
                mirrored = n[0] * half[0] + n[1] * half[1] + n[2] * half[2]
                shine[y, x] = mirrored if glossy[form] else cosine
    return received, shine


@kernel
def _below(labels: NDArray[np.int32], received: Real, start: Real) -> Byte:
    height, width = labels.shape
    out = np.zeros((height, width), np.uint8)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form and received[y, x] < start[form]:
                out[y, x] = 1
    return out


@kernel
def _ramp(labels: NDArray[np.int32], received: Real, start: Real, end: Real) -> Real:
    """From 0 where the light is at ``start`` to 1 where it has fallen to ``end``, eased."""
    height, width = labels.shape
    out = np.zeros((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form:
                t = (start[form] - received[y, x]) / (start[form] - end[form])
                t = min(1.0, max(0.0, t))
                out[y, x] = t * t * (3 - 2 * t)
    return out


def _top(material: Material, name: str, half: Real, vector: Real) -> float:
    """The cosine above which a material's light or glint lies; above 1 if it has none."""
    share = material.light_share if name == "light" else material.glint_share
    if share == 0:
        return 2.0
    sine = float((half if material.glossy else vector)[2])
    return ball_quantile(round(sine, 4), 1 - share)


def _lit(form: Form, shine: Real, tops: Real, part_of_form: NDArray[np.uint16],
         least: float) -> Byte:
    raw, pixels = _above(form.labels, shine, tops)
    if _reach_every_part(tops, pixels, form.labels, shine, part_of_form, least):
        raw, _ = _above(form.labels, shine, tops)
    return raw


@kernel
def _above(labels: NDArray[np.int32], shine: Real,
           tops: Real) -> tuple[Byte, NDArray[np.int64]]:
    """Where the shine is above a threshold, and its pixels by form."""
    height, width = labels.shape
    shape = np.zeros((height, width), np.uint8)
    pixels = np.zeros(tops.size, np.int64)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form and shine[y, x] > tops[form]:
                shape[y, x] = 1
                pixels[form] += 1
    return shape, pixels


def _reach_every_part(tops: Real, pixels: NDArray[np.int64], labels: NDArray[np.int32],
                      shine: Real, part_of_form: NDArray[np.uint16], least: float) -> bool:
    """Lower thresholds, in place, so that a part of any size gets some light; True if it did."""
    changed = False
    sizes = np.bincount(labels.ravel(), minlength=len(tops))
    for part in np.unique(part_of_form[part_of_form > 0]):
        forms = np.flatnonzero((part_of_form == part) & (tops < 1.5))
        if len(forms) == 0:
            continue
        form = forms[np.argmax(sizes[forms])]
        if pixels[forms].max() >= least or sizes[form] < 12 * least:
            continue
        inner = shine[labels == form]
        inner = inner[inner > _NONE]
        if len(inner) > 2 * least:
            tops[form] = np.quantile(inner, 1 - 2 * least / len(inner))
            changed = True
    return changed


@kernel
def _settled_cells(fields: Real, coarse: NDArray[np.int32],
                   slopes: Real) -> tuple[NDArray[np.int32], NDArray[np.uint64]]:
    """Between four grid pixels of one form, where every mask is 0 or 255 throughout: the form,
    and the masks as one word; form 0 elsewhere."""
    count, rows, columns = fields.shape
    forms = np.zeros((rows + 1, columns + 1), np.int32)
    packed = np.zeros((rows + 1, columns + 1), np.uint64)
    for r in range(rows - 1):
        for c in range(columns - 1):
            form = coarse[r, c]
            if form == 0 or coarse[r, c + 1] != form or coarse[r + 1, c] != form \
                    or coarse[r + 1, c + 1] != form:
                continue
            word, settled = np.uint64(0), True
            for k in range(count):
                corners = (fields[k, r, c], fields[k, r, c + 1], fields[k, r + 1, c],
                           fields[k, r + 1, c + 1])
                low, high = min(corners), max(corners)
                # The ramp between 0 and 1 is 1 / slope wide.
                reach = np.float32(0.5) / slopes[k] if slopes[k] > 0 else np.float32(0.5)
                if low >= 0.5 + reach:
                    word |= np.uint64(255) << np.uint64(8 * k)
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
                packed[y, x] = settled_words[iy + 1, ix + 1]
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
    slopes = np.array([0 if PASSES[k].soft else slope for k in shapes.keys], np.float32)
    levels = np.zeros((*labels.shape, planes(len(shapes.keys))), np.uint8)
    _rasterise(labels, form.form_of_area, shapes.fields, form.labels, (x - grid.x) * grid.scale,
               (y - grid.y) * grid.scale, step, slopes,
               *_settled_cells(shapes.fields, form.labels, slopes), levels, words(levels))
    return levels


def settle(levels: Byte, keys: Sequence[str]) -> None:
    """Let masks agree with each other, in place: a deep shade lies in the shade, a glint in the
    light, light only where there is no shade, and half tones nowhere in the light.

    So every pixel inside a pass has the same masks full, and shows the same colour.

    Parameters
    ----------
    levels : ndarray of uint8, shape (height, width, planes)
    keys : sequence of str
        Passes, in the order of the masks.
    """
    at = np.array([keys.index(k) if k in keys else -1 for k in PASSES], np.int64)
    _settle(levels, words(levels), at)


_GRADIENT, _SOFT, _HALF, _LOW, _SHADE, _DEEP, _LIGHT, _GLINT = range(len(PASSES))


@kernel
def _settle(levels: Byte, packed: NDArray[np.unsignedinteger[Any]], at: NDArray[np.int64]) -> None:
    height, width = packed.shape
    shade, deep, light, glint = at[_SHADE], at[_DEEP], at[_LIGHT], at[_GLINT]
    for y in range(height):
        for x in range(width):
            if packed[y, x] == 0:
                continue
            here = levels[y, x]
            dark = here[shade] if shade >= 0 else here[deep] if deep >= 0 else 0
            if deep >= 0 and here[deep] > dark:
                here[deep] = dark
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
