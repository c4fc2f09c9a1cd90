"""Layers as the compiled loops read them."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.modes import MODES
from wardrobe.core.layers.gradient import ramp_of, rows_in_view
from wardrobe.core.layers.layer import INK, RAMP, Byte, Flat, Gradient, Group, Image, Layer
from wardrobe.core.layers.origin import CORNER, Origin

FLAT, LINEAR, RADIAL, PICTURE, GROUP = range(5)
# Columns of the steps.
(SOURCE, MODE, REGISTER, OWNER, SOFT, SOFT_2, COVER, COVERS_END, AT, INKED, WHOLE) = range(11)
UNDER_INK, BESIDE_INK = 1, 2
LARGEST = -1


class Program(NamedTuple):
    """The layers, one entry each, bottom to top.

    Attributes
    ----------
    steps : ndarray of int64, shape (layers, 11)
        Kind of source, mode, register (1 in a group), the layer that lays its group down, soft
        planes or -1, first and last of its covers, where its ramp or texels begin (LARGEST: in
        the largest image), whether it
        keeps to the ink, and whether it is rounded to bytes.
    covers : ndarray of int64, shape (n, 2)
        Plane, and whether the layer lies outside.
    colours : ndarray of float64, shape (layers, rows, 3), range 0..1
    strengths : ndarray of float64, shape (layers, rows)
    order : ndarray of int64, shape (rows, layers + 1)
        Layers that lie on a part, then -1.
    geometry : ndarray of float64, shape (layers, 6)
        Rows of a gradient, for pixels of the view counted from the picture's corner.
    corner : ndarray of float64, shape (2,)
        The first pixel of the view, counted so.
    places : ndarray of int64, shape (layers, 4)
        x, y, width and height of an image.
    ramps : ndarray of float32, shape (gradients + 1, RAMP, 4), range 0..1
    largest, texels : ndarray of uint8, shape (n, 4)
        Pixels of the largest image, which is not copied, and of the others.
    """

    steps: NDArray[np.int64]
    covers: NDArray[np.int64]
    colours: NDArray[np.float64]
    strengths: NDArray[np.float64]
    order: NDArray[np.int64]
    geometry: NDArray[np.float64]
    corner: NDArray[np.float64]
    places: NDArray[np.int64]
    ramps: NDArray[np.float32]
    largest: NDArray[np.uint8]
    texels: NDArray[np.uint8]


def compile_layers(layers: Sequence[Layer], keys: Sequence[str], soft: Sequence[str],
                   images: Mapping[str, Byte], origin: Origin = CORNER) -> Program:
    """Layers as arrays.

    Parameters
    ----------
    layers : sequence of Layer
        Bottom to top; the first covers everything.
    keys, soft : sequence of str
        Names of the planes, and of those that change from pixel to pixel.
    images : mapping of str to ndarray of uint8, shape (height, width, 4)
    origin : Origin
        Where the view lies.

    Raises
    ------
    ValueError
        If a plane is not there, or a layer has more than two soft ones.
    """
    n, rows = len(layers), len(layers[0].strength)
    steps = np.zeros((n, 11), np.int64)
    covers: list[tuple[int, bool]] = []
    colours, strengths = np.zeros((n, rows, 3)), np.zeros((n, rows))
    geometry, places = np.zeros((n, 6)), np.zeros((n, 4), np.int64)
    ramps, texels = [np.zeros((RAMP, 4))], [np.zeros((0, 4), np.uint8)]
    used = {layer.source.name for layer in layers if isinstance(layer.source, Image)}
    first = max(sorted(used), key=lambda name: images[name].size, default="")
    largest = images[first].reshape(-1, 4) if first else texels[0]
    begins: dict[str, int] = {first: LARGEST}
    owner = n
    for k in range(n - 1, -1, -1):
        layer, source = layers[k], layers[k].source
        owner = k if isinstance(source, Group) or not layer.grouped else owner
        strengths[k] = layer.strength
        what = at = whole = 0
        if isinstance(source, Flat):
            what, colours[k] = FLAT, source.colours / 255
        elif isinstance(source, Gradient):
            what, at = (LINEAR, RADIAL)[len(source.rows) - 1], len(ramps)
            ramps.append(ramp_of(source) / 255)
            geometry[k, :3 * len(source.rows)] = np.ravel(
                rows_in_view(source, origin.scale))
        elif isinstance(source, Image):
            pixels = images[source.name]
            if source.name not in begins:
                begins[source.name] = sum(map(len, texels))
                texels.append(pixels.reshape(-1, 4))
            what, at = PICTURE, begins[source.name]
            places[k] = source.x, source.y, pixels.shape[1], pixels.shape[0]
        else:
            what, whole = GROUP, int(source.whole)
        if len(layer.soft) > 2:
            raise ValueError("a layer has at most two soft planes")
        soft_at = [list(soft).index(s) for s in layer.soft] + [-1, -1]
        inked = [BESIDE_INK if out else UNDER_INK for key, out in layer.shape if key == INK] + [0]
        hard = [(list(keys).index(key), out) for key, out in layer.shape if key != INK]
        steps[k] = (what, MODES[layer.mode].code, layer.grouped, owner, *soft_at[:2], len(covers),
                    len(covers) + len(hard), at, inked[0], whole)
        covers += hard
    order = np.full((rows, n + 1), -1, np.int64)
    for row in range(rows):
        mine = np.flatnonzero(strengths[:, row])
        order[row, :len(mine)] = mine
    return Program(steps, np.array(covers, np.int64).reshape(-1, 2), colours, strengths, order,
                   geometry, np.array(origin[:2], float), places, np.array(ramps, np.float32),
                   largest, np.concatenate(texels))
