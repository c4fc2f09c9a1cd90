"""Light that parts give off: what it does on the form of others, and on the ground.

Irradiance of small sources, after Lambert's cosine law and the inverse square of the distance.
Nothing throws a shadow in it.

References
----------
J. H. Lambert, "Photometria", 1760.
"""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel, leaf
from wardrobe.core.layers.origin import Origin
from wardrobe.core.parallel import bands, each

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]
Sources = NDArray[np.float64]

MOST_SOURCES = 25
_GRAINS = 32.0  # of the ground to the height of a light above it
_NEAREST = 1e-3  # of the reach: no place is nearer to a source


def sources_of(mask: NDArray[np.bool_], height: float, origin: Origin) -> Sources:
    """A few small sources that shine as an area does.

    Parameters
    ----------
    mask : ndarray of bool, shape (height, width)
        Where it shines, in a view.
    height : float
        Picture pixels by which it lies before the ground.
    origin : Origin
        Where the view lies.

    Returns
    -------
    ndarray of float64, shape (n, 4)
        x, y and z in picture pixels (z towards the viewer), and share of the light; the middles
        of what lies in each cell of a grid, at most :data:`MOST_SOURCES`.
    """
    rows, columns = np.nonzero(mask)
    if not len(rows):
        return np.zeros((0, 4))
    side = int(MOST_SOURCES**0.5)
    cell = max(1.0, (max(np.ptp(rows), np.ptp(columns)) + 1) / side)
    of = ((rows - rows.min()) / cell).astype(int) * side + ((columns - columns.min()) / cell
                                                           ).astype(int)
    count = np.bincount(of, minlength=side * side)
    there = count > 0
    x, y = (np.bincount(of, along + 0.5, side * side)[there] / count[there]
            for along in (columns, rows))
    return np.stack([(x + origin.x) / origin.scale, (y + origin.y) / origin.scale,
                     np.full(len(x), height), count[there] / len(rows)], axis=1)


def small_sources(seeds: NDArray[np.float64], pixels: NDArray[np.int64],
                  height: float) -> Sources:
    """Sources that stand for areas too small to be met in a view: one in the middle of each.

    Parameters
    ----------
    seeds : ndarray of float64, shape (n, 2)
        x and y, picture pixels.
    pixels : ndarray of int64, shape (n,)
        Their sizes.
    height : float
        As in :func:`sources_of`.

    Returns
    -------
    ndarray of float64, shape (n, 4)
    """
    share = pixels / max(1, int(pixels.sum()))
    return np.column_stack([seeds, np.full(len(seeds), height), share]).astype(np.float64)


def light_on_form(form: Form, sources: Sources, reach: float) -> Real:
    """What each place of a form receives.

    Parameters
    ----------
    form : Form
        Its surface rises from the ground at its edge by its inner radius times the z of its
        normal, as that of a ball does.
    sources : ndarray of float64, shape (n, 4)
        As :func:`sources_of` gives them.
    reach : float
        Picture pixels at which a surface that faces all of the light receives 0.5.

    Returns
    -------
    ndarray of float32, shape (height, width), 0..1
        On the grid of the form; 1 is the most, 0 on the ground.
    """
    room = np.zeros(int(form.labels.max()) + 1, np.float32)
    np.maximum.at(room, form.labels, form.edge)
    out = np.zeros(form.labels.shape, np.float32)
    grid = form.grid
    each(lambda rows: _on_form(form.labels[rows], form.normals[rows], room, sources, reach,
                               grid.scale, float(grid.x), grid.y + rows.start / grid.scale,
                               out[rows]), bands(len(out)))
    return out


def light_on_ground(sources: Sources, reach: float, origin: Origin,
                    shape: tuple[int, int]) -> Byte:
    """What the ground receives, which faces the viewer and lies at z = 0.

    Parameters
    ----------
    sources, reach
        As in :func:`light_on_form`.
    origin : Origin
        Where the view lies.
    shape : (int, int)

    Returns
    -------
    ndarray of uint8, shape ``shape``
        255 is 1.
    """
    nearest = min((float(z) for z in sources[:, 2]), default=np.inf) * origin.scale
    # It changes slowly, as far as the lights stand off: few places are worked out.
    d = 2 ** int(np.clip(np.log2(max(1.0, min(nearest, 1e6) / _GRAINS)), 0, 4))
    corner = math.floor(origin.x), math.floor(origin.y)
    left, top = (c % d + d for c in corner)  # a grain more all round, to interpolate from
    height, width = -(-(top + shape[0]) // d) + 1, -(-(left + shape[1]) // d) + 1
    small = np.empty((height, width), np.float32)
    x0, y0 = origin.x - left, origin.y - top
    each(lambda rows: _on_ground(sources, reach, x0, y0 + d * rows.start, d, origin.scale,
                                 small[rows]), bands(height))
    large = small if d == 1 else cv2.resize(small, (width * d, height * d),
                                            interpolation=cv2.INTER_LINEAR)
    within = large[top:top + shape[0], left:left + shape[1]]
    return np.floor(np.minimum(within, 1) * np.float32(255) + np.float32(0.5)).astype(np.uint8)


@leaf
def _received(sources: Sources, reach: float, x: float, y: float, z: float, nx: float, ny: float,
              nz: float) -> float:
    total = 0.0
    for k in range(len(sources)):
        dx, dy, dz = sources[k, 0] - x, sources[k, 1] - y, sources[k, 2] - z
        cosine = nx * dx + ny * dy + nz * dz
        if cosine > 0:
            square = max(dx * dx + dy * dy + dz * dz, (_NEAREST * reach) ** 2)
            total += sources[k, 3] * cosine / (square * np.sqrt(square))
    return 0.5 * reach * reach * total


@kernel
def _on_form(labels: NDArray[np.int32], normals: Real, room: Real, sources: Sources, reach: float,
             scale: float, x0: float, y0: float, out: Real) -> None:
    for j in range(labels.shape[0]):
        for i in range(labels.shape[1]):
            form = labels[j, i]
            if form == 0:
                continue
            n = normals[j, i]
            out[j, i] = min(1.0, _received(
                sources, reach, x0 + (i + 0.5) / scale, y0 + (j + 0.5) / scale,
                room[form] * n[2] / scale, n[0], n[1], n[2]))


@kernel
def _on_ground(sources: Sources, reach: float, x0: float, y0: float, d: int, scale: float,
               out: Real) -> None:
    """At the middles of grains of d by d pixels."""
    for j in range(out.shape[0]):
        y = (y0 + (j + 0.5) * d) / scale
        for i in range(out.shape[1]):
            out[j, i] = _received(sources, reach, (x0 + (i + 0.5) * d) / scale, y, 0.0, 0.0, 0.0,
                                  1.0)
