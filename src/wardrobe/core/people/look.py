"""What of a drawing looks like skin, hair and the white of eyes, to a network."""

from functools import cache
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.seen import Network, seen

Byte = NDArray[np.uint8]
Floats = NDArray[np.float32]

KINDS = ("skin", "hair", "eyes")
MODEL = Path(__file__).with_name("people.onnx")
_SURELY_NOT = -8.0  # beyond the square


def look(coverage: Byte, ink: Byte) -> Floats:
    """How much each place looks like a person's skin, hair, and the white of an eye.

    Fitted by ``benchmarks.fit_people``.

    Parameters
    ----------
    coverage, ink : ndarray of uint8, shape (height, width)
        Coverage 0..255, and what of it counts as ink, 0 or 1; not empty.

    Returns
    -------
    ndarray of float32, shape (3, height, width)
        Log odds of each of ``KINDS``: 0 even. Worked out at 128 px of the drawing's square.
    """
    planes, window = seen(coverage, ink)
    size = window.side, window.side
    return np.stack([window.lay(np.asarray(cv2.resize(odds, size, interpolation=cv2.INTER_LINEAR),
                                           np.float32), ink.shape, _SURELY_NOT)
                     for odds in _network().ask(planes)])


@cache
def _network() -> Network:
    return Network(MODEL)
