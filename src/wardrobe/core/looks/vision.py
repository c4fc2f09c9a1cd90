"""How colours come across to people who see them otherwise."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from wardrobe.core.colour.srgb import decode, encode

Float = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Vision:
    """A colour-vision deficiency.

    Attributes
    ----------
    key, label : str
    share : str
        How common it is.
    matrix : ndarray of float64, shape (3, 3)
        On linear sRGB.
    """

    key: str
    label: str
    share: str
    matrix: Float


# G. M. Machado, M. M. Oliveira, L. A. F. Fernandes, "A physiologically-based model for simulation
# of color vision deficiency", IEEE TVCG 15 (6), 2009, table of matrices, severity 1.0. Shares:
# J. Birch, "Worldwide prevalence of red-green color deficiency", JOSA A 29 (3), 2012 (for men of
# European descent), from memory.
VISIONS: dict[str, Vision] = {
    v.key: v
    for v in (
        Vision("deutan", "without green cones", "1 in 16 men, mostly weaker", np.array([
            [0.367322, 0.860646, -0.227968],
            [0.280085, 0.672501, 0.047413],
            [-0.011820, 0.042940, 0.968881]])),
        Vision("protan", "without red cones", "1 in 50 men, mostly weaker", np.array([
            [0.152286, 1.052583, -0.204868],
            [0.114503, 0.786281, 0.099216],
            [-0.003882, -0.048116, 1.051998]])),
        Vision("tritan", "without blue cones", "1 in 10,000", np.array([
            [1.255528, -0.076749, -0.178779],
            [-0.078411, 0.930809, 0.147602],
            [0.004733, 0.691367, 0.303900]])),
    )
}


def seen_with(srgb: ArrayLike, key: str) -> Float:
    """Encoded sRGB, shape (..., 3), 0..1, as a person with a deficiency sees it.

    Parameters
    ----------
    srgb : array_like
    key : str
        A key of VISIONS.
    """
    linear = decode(srgb) @ VISIONS[key].matrix.T
    return encode(np.clip(linear, 0, 1))
