"""The colours that are seen inside passes: the picture of masks that are full there."""

from collections.abc import Collection, Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.layers.layer import Masks, planes
from wardrobe.core.layers.paint import colours_of
from wardrobe.core.passes.as_layers import layers_of
from wardrobe.core.passes.layers import Coat, Rgb
from wardrobe.core.passes.table import PASSES


def shapes_of(coats: Collection[Coat]) -> tuple[str, ...]:
    """Passes whose shapes coats fill, in their order."""
    wanted = set().union(*(coat.shapes() for coat in coats))
    return tuple(key for key in PASSES if key in wanted)


def seen_inside(coats: Sequence[Coat], bases: Sequence[Rgb],
                places: Sequence[tuple[int, str]]) -> NDArray[np.float64]:
    """The colours inside passes of parts.

    Parameters
    ----------
    coats : sequence of Coat
    bases : sequence of (int, int, int)
    places : sequence of (int, str)
        Row of the coats, and a pass; or any other word for the part where it has none.

    Returns
    -------
    ndarray of float64, shape (places, 3), range 0..1
    """
    if not places:
        return np.zeros((0, 3))
    keys = shapes_of(coats)
    levels = np.zeros((1, len(places), planes(len(keys))), np.uint8)
    for k, (_, name) in enumerate(places):
        full = {name, *PASSES[name].within} if name in PASSES else set()
        levels[0, k, :len(keys)] = [255 * (key in full) for key in keys]
    parts = np.array([[row for row, _ in places]], np.uint16)
    return colours_of(Masks(parts, levels, np.zeros(parts.shape, np.uint8), keys),
                      layers_of(coats, bases))


def seen(coat: Coat, base: Rgb, key: str) -> NDArray[np.float64]:
    """The colour of one coat inside a pass, shape (3,), range 0..1."""
    return seen_inside([coat], [base], [(0, key)])[0]


def in_bytes(colour: NDArray[np.float64]) -> Rgb:
    """A colour in whole bytes, rounded as pictures are."""
    r, g, b = (int(v) for v in 255 * colour + 0.5)
    return r, g, b
