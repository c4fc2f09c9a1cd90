"""What of a drawing looks like the thing drawn, to a network that has seen many drawings."""

from functools import cache
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.seen import Network, seen

Byte = NDArray[np.uint8]
Floats = NDArray[np.float32]

_SURELY_GROUND = -8.0  # beyond the square
_MODEL = Path(__file__).with_name("guess.onnx")


def guess(coverage: Byte, ink: Byte) -> Floats:
    """How much each place looks like the figure.

    Fitted by ``benchmarks.fit_guess``.

    Parameters
    ----------
    coverage, ink : ndarray of uint8, shape (height, width)
        Coverage 0..255, and what of it counts as ink, 0 or 1; not empty.

    Returns
    -------
    ndarray of float32, same shape
        Log odds that a place is figure: 0 even, above 0 rather figure. Worked out at 128 px, as
        the mean of what is said of the drawing and of its mirror image.
    """
    planes, window = seen(coverage, ink)
    size = window.side, window.side
    odds = _network().ask(planes)[0]
    large = np.asarray(cv2.resize(odds, size, interpolation=cv2.INTER_LINEAR), np.float32)
    return window.lay(large, ink.shape, _SURELY_GROUND)


@cache
def _network() -> Network:
    return Network(_MODEL)
