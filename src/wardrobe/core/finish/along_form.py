"""How far a form turns towards something: what colours can run along."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.light.rig import KeyLight

Real = NDArray[np.float32]


@dataclass(frozen=True)
class Way:
    """What a form turns towards.

    Attributes
    ----------
    key, label : str
    vector : callable
        Unit vector x right, y down, z towards the viewer, under a key light.
    """

    key: str
    label: str
    vector: Callable[[KeyLight], Real]


WAYS: dict[str, Way] = {
    w.key: w
    for w in (
        Way("light", "Towards the light", lambda key: key.vector()),
        Way("viewer", "Towards the viewer", lambda key: np.array([0, 0, 1], np.float32)),
        Way("sky", "Upwards", lambda key: np.array([0, -1, 0], np.float32)),
    )
}


def turned_to(normals: Real, way: Way, key: KeyLight) -> Real:
    """How far each place turns to it.

    Parameters
    ----------
    normals : ndarray of float32, shape (height, width, 3)
        Unit normals.
    way : Way
    key : KeyLight

    Returns
    -------
    ndarray of float32, shape (height, width), 0..1
        0 where it faces away, 1 where it faces it. Nothing that is seen faces away from the
        viewer, so that towards the viewer 0 is the edge of a form.
    """
    cosine = normals @ way.vector(key).astype(np.float32)
    share = cosine if way.key == "viewer" else (1 + cosine) / 2
    return np.clip(share, 0, 1).astype(np.float32)
