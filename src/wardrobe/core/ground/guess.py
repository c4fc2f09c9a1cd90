"""What of a drawing looks like the thing drawn, to a network that has seen many drawings."""

from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.seen import Network

Byte = NDArray[np.uint8]
Floats = NDArray[np.float32]

MODEL = Path(__file__).with_name("guess.onnx")


def guess(coverage: Byte, ink: Byte) -> Floats:
    """Log odds that each place is figure, as :meth:`Network.told` says them; shape (height,
    width). Fitted by ``benchmarks.fit_guess``."""
    odds: Floats = _network().told(coverage, ink)[0]
    return odds


@cache
def _network() -> Network:
    return Network(MODEL)
