"""Draw the shade and light shapes of a figure under a light."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.materials import Material
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.simplify import blur_sigma, simplify

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

SHADE_SHARE = 0.38  # of a ball, common practice
_LIGHT_ISLANDS = 8.0  # squared line widths under which a light shape is dropped


@dataclass(frozen=True)
class Shapes:
    """Smooth fields whose 0.5 level is the edge of a shape, on the form's grid.

    Attributes
    ----------
    shade, light : ndarray of float32, shape (height, width), range 0..1
    """

    shade: Real
    light: Real


def draw_shapes(form: Form, key: KeyLight, part_of_form: NDArray[np.uint16],
                materials: list[Material]) -> Shapes:
    """Shade and light shapes, simplified as an illustrator would draw them.

    Parameters
    ----------
    form : Form
    key : KeyLight
    part_of_form : ndarray of uint16, shape (forms + 1,)
    materials : list of Material
        By part; entry 0, the ground, is not used.

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
    terminator = np.float32(ball_quantile(round(float(vector[2]), 4), SHADE_SHARE)) + offset
    glossy = np.array([m.glossy for m in owners])
    tops = np.array([
        ball_quantile(round(float((half if m.glossy else vector)[2]), 4), 1 - m.light_share)
        for m in owners
    ], np.float32)
    inset = max(1.0, 0.9 * form.grid.line_width)
    shade, shine = _measure(form.labels, form.normals, vector, half, glossy, terminator,
                            form.edge, inset)
    light, pixels = _light(form.labels, shine, tops)
    least = max(12.0, _LIGHT_ISLANDS * form.grid.line_width**2)
    if _reach_every_part(tops, pixels, form.labels, shine, part_of_form, least):
        light, _ = _light(form.labels, shine, tops)
    lw = form.grid.line_width
    return Shapes(simplify(shade, form.labels, lw),
                  simplify(light, form.labels, lw, _LIGHT_ISLANDS, close=False))


_NONE = -2.0  # below every cosine: here no light can lie


@kernel
def _measure(labels: NDArray[np.int32], normals: Real, vector: Real, half: Real,
             glossy: NDArray[np.bool_], terminator: Real, edge: Real,
             inset: float) -> tuple[Byte, Real]:
    """The shade; and, in the lit inside of each form, the cosine that its light follows."""
    height, width = labels.shape
    shade = np.zeros((height, width), np.uint8)
    shine = np.full((height, width), np.float32(-2))
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form == 0:
                continue
            n = normals[y, x]
            received = n[0] * vector[0] + n[1] * vector[1] + n[2] * vector[2]
            if received < terminator[form]:
                shade[y, x] = 1
            elif edge[y, x] > inset:
                mirrored = n[0] * half[0] + n[1] * half[1] + n[2] * half[2]
                shine[y, x] = mirrored if glossy[form] else received
    return shade, shine


@kernel
def _light(labels: NDArray[np.int32], shine: Real, tops: Real) -> tuple[Byte, NDArray[np.int64]]:
    """The light, and its pixels by form."""
    height, width = labels.shape
    light = np.zeros((height, width), np.uint8)
    pixels = np.zeros(tops.size, np.int64)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form and shine[y, x] > tops[form]:
                light[y, x] = 1
                pixels[form] += 1
    return light, pixels


def _reach_every_part(tops: Real, pixels: NDArray[np.int64], labels: NDArray[np.int32],
                      shine: Real, part_of_form: NDArray[np.uint16], least: float) -> bool:
    """Lower thresholds, in place, so that a part of any size gets some light; True if it did."""
    changed = False
    sizes = np.bincount(labels.ravel(), minlength=len(tops))
    for part in np.unique(part_of_form[part_of_form > 0]):
        forms = np.flatnonzero(part_of_form == part)
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
def _rasterise(labels: NDArray[np.uint16], form_of_area: NDArray[np.uint16], shade_field: Real,
               light_field: Real, coarse: NDArray[np.int32], x0: float, y0: float, step: float,
               slope: float, shade: Byte, light: Byte) -> None:
    height, width = labels.shape
    rows, columns = coarse.shape
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
            dark, bright, weight = 0.0, 0.0, 0.0
            for v in range(2):
                for u in range(2):
                    r, c = iy + v, ix + u
                    if 0 <= r < rows and 0 <= c < columns and coarse[r, c] == form:
                        w = (fy if v else 1 - fy) * (fx if u else 1 - fx)
                        dark += w * shade_field[r, c]
                        bright += w * light_field[r, c]
                        weight += w
            if weight < 1e-3:  # a sliver between grid pixels: look a little further
                dark, bright, weight = 0.0, 0.0, 0.0
                for v in range(-2, 4):
                    for u in range(-2, 4):
                        r, c = iy + v, ix + u
                        if 0 <= r < rows and 0 <= c < columns and coarse[r, c] == form:
                            d = (v - fy) ** 2 + (u - fx) ** 2
                            w = 1 / (1 + d * d)
                            dark += w * shade_field[r, c]
                            bright += w * light_field[r, c]
                            weight += w
                if weight == 0:
                    continue
            level = (dark / weight - 0.5) * slope + 0.5
            shade[y, x] = np.uint8(min(1.0, max(0.0, level)) * 255 + 0.5)
            level = (bright / weight - 0.5) * slope + 0.5
            light[y, x] = np.uint8(min(1.0, max(0.0, level)) * 255 + 0.5)


def rasterise(shapes: Shapes, form: Form, labels: NDArray[np.uint16], x: float = 0,
              y: float = 0, scale: float = 1) -> tuple[Byte, Byte]:
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
    shade, light : ndarray of uint8, shape (height, width)
    """
    grid = form.grid
    step = grid.scale / scale
    # A straight edge blurred by sigma has the slope 1 / (sigma sqrt(2 pi)) at its middle.
    slope = blur_sigma(grid.line_width) * np.sqrt(2 * np.pi) / step
    shade, light = np.zeros(labels.shape, np.uint8), np.zeros(labels.shape, np.uint8)
    _rasterise(labels, form.form_of_area, shapes.shade, shapes.light, form.labels,
               (x - grid.x) * grid.scale, (y - grid.y) * grid.scale, step, slope, shade, light)
    return shade, light
