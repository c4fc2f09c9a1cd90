"""Draw the shade and light shapes of a figure under a light."""

from concurrent.futures import ThreadPoolExecutor
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


@dataclass(frozen=True)
class Shapes:
    """Smooth fields whose 0.5 level is the edge of a shape, on the form's grid.

    Attributes
    ----------
    shade, light : ndarray of float32, shape (height, width), range 0..1
    """

    shade: Real
    light: Real


def draw_shapes(form: Form, key: KeyLight, materials: list[Material]) -> Shapes:
    """Shade and light shapes, simplified as an illustrator would draw them.

    Parameters
    ----------
    form : Form
    key : KeyLight
    materials : list of Material
        By form; entry 0, the ground, is not used.

    Returns
    -------
    Shapes

    References
    ----------
    J. H. Lambert, "Photometria", 1760: light received goes with the cosine N.L.
    J. F. Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977.
    """
    vector, half = key.vector(), key.halfway()
    offset = np.array([m.shade_offset for m in materials], np.float32)
    terminator = np.float32(ball_quantile(round(float(vector[2]), 4), SHADE_SHARE)) + offset
    glossy = np.array([m.glossy for m in materials])
    tops = np.array([
        ball_quantile(round(float((half if m.glossy else vector)[2]), 4), 1 - m.light_share)
        for m in materials
    ], np.float32)
    inset = max(1.0, 0.9 * form.grid.line_width)
    shade, light = _raw(form.labels, form.normals, vector, half, terminator, tops, glossy,
                        form.edge, inset)
    light &= 1 - shade
    lw = form.grid.line_width
    # The kernels release the GIL: the second shape is drawn on another core meanwhile.
    with ThreadPoolExecutor(1) as other:
        lit = other.submit(simplify, light, form.labels, lw, islands=8.0)
        return Shapes(simplify(shade, form.labels, lw), lit.result())


@kernel
def _raw(labels: NDArray[np.int32], normals: Real, vector: Real, half: Real, terminator: Real,
         tops: Real, glossy: NDArray[np.bool_], edge: Real, inset: float) -> tuple[Byte, Byte]:
    height, width = labels.shape
    shade = np.zeros((height, width), np.uint8)
    light = np.zeros((height, width), np.uint8)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form == 0:
                continue
            n = normals[y, x]
            received = n[0] * vector[0] + n[1] * vector[1] + n[2] * vector[2]
            if received < terminator[form]:
                shade[y, x] = 1
            if edge[y, x] > inset:
                mirrored = n[0] * half[0] + n[1] * half[1] + n[2] * half[2]
                if (mirrored if glossy[form] else received) > tops[form]:
                    light[y, x] = 1
    return shade, light


@kernel
def _rasterise(labels: NDArray[np.uint16], form_of_area: NDArray[np.uint16],
               field: Real, coarse: NDArray[np.int32], x0: float, y0: float, step: float,
               slope: float, out: Byte) -> None:
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
            total, weight = 0.0, 0.0
            for v in range(2):
                for u in range(2):
                    r, c = iy + v, ix + u
                    if 0 <= r < rows and 0 <= c < columns and coarse[r, c] == form:
                        w = (fy if v else 1 - fy) * (fx if u else 1 - fx)
                        total += w * field[r, c]
                        weight += w
            if weight < 1e-3:  # a sliver between grid pixels: look a little further
                total, weight = 0.0, 0.0
                for v in range(-2, 4):
                    for u in range(-2, 4):
                        r, c = iy + v, ix + u
                        if 0 <= r < rows and 0 <= c < columns and coarse[r, c] == form:
                            d = (v - fy) ** 2 + (u - fx) ** 2
                            w = 1 / (1 + d * d)
                            total += w * field[r, c]
                            weight += w
                if weight == 0:
                    continue
            level = (total / weight - 0.5) * slope + 0.5
            out[y, x] = np.uint8(min(1.0, max(0.0, level)) * 255 + 0.5)


def rasterise(field: Real, form: Form, labels: NDArray[np.uint16], x: float = 0, y: float = 0,
              scale: float = 1) -> Byte:
    """Turn a field into a mask with an edge one pixel wide, at any size.

    Parameters
    ----------
    field : ndarray of float32, shape of the form's grid, range 0..1
    form : Form
    labels : ndarray of uint16, shape (height, width)
        Areas at the size wanted.
    x, y : float
        Picture pixel at the top left of ``labels``.
    scale : float
        Pixels of ``labels`` per picture pixel.

    Returns
    -------
    ndarray of uint8, shape (height, width)
    """
    grid = form.grid
    step = grid.scale / scale
    # A straight edge blurred by sigma has the slope 1 / (sigma sqrt(2 pi)) at its middle.
    slope = blur_sigma(grid.line_width) * np.sqrt(2 * np.pi) / step
    out = np.zeros(labels.shape, np.uint8)
    _rasterise(labels, form.form_of_area, field, form.labels, (x - grid.x) * grid.scale,
               (y - grid.y) * grid.scale, step, slope, out)
    return out
