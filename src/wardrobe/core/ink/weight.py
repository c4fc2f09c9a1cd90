"""Weight of line by light: heavier in shade and where one part lies over another."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]

_BAND = 256  # rows whose knots are held together


def weighed(knots: Sequence[tuple[float, Byte]], facing: Byte, amount: float, over: float,
            lies_over: NDArray[np.bool_]) -> Byte:
    """The lines, each as heavy as its light asks.

    Parameters
    ----------
    knots : sequence of (float, ndarray of uint8, shape (height, width))
        Coverage of the lines by how much wider they are, two or more, evenly from the thinnest;
        so close that an edge between two of them is still one.
    facing : ndarray of uint8, same shape
        How far lines face the light, 0..255: those that face it fully are thinner by ``amount``,
        those that face away heavier.
    amount, over : float
        In the unit of the knots; ``over`` is added where a part lies over another.
    lies_over : ndarray of bool, same shape

    Returns
    -------
    ndarray of uint8, same shape
    """
    widths = np.array([by for by, _ in knots])
    out = np.empty(facing.shape, np.uint8)
    for top in range(0, len(facing), _BAND):
        rows = slice(top, top + _BAND)
        _weigh(widths, np.stack([ink[rows] for _, ink in knots]), facing[rows], amount, over,
               lies_over[rows], out[rows])
    return out


@kernel
def _weigh(widths: NDArray[np.float64], inks: Byte, facing: Byte, amount: float, over: float,
           lies_over: NDArray[np.bool_], out: Byte) -> None:
    last, step = len(widths) - 1, widths[1] - widths[0]
    height, width = facing.shape
    for y in range(height):
        for x in range(width):
            if inks[last, y, x] == 0:
                out[y, x] = 0
                continue
            by = amount * (1 - 2 * facing[y, x] / 255) + (over if lies_over[y, x] else 0.0)
            at = min(max((by - widths[0]) / step, 0.0), float(last))
            k = min(int(at), last - 1)
            thin, thick = np.float64(inks[k, y, x]), np.float64(inks[k + 1, y, x])
            out[y, x] = np.uint8(thin + (at - k) * (thick - thin) + 0.5)
