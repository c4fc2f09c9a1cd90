"""What of a drawing looks like skin, hair and the white of eyes, to a network."""

from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.seen import Network

Byte = NDArray[np.uint8]
Floats = NDArray[np.float32]

KINDS = ("skin", "hair", "eyes")
MODEL = Path(__file__).with_name("people.onnx")


def look(coverage: Byte, ink: Byte) -> Floats:
    """Log odds that each place is of each of ``KINDS``, as :meth:`Network.told` says them; shape
    (3, height, width). Fitted by ``benchmarks.fit_people``."""
    return _network().told(coverage, ink)


@cache
def _network() -> Network:
    return Network(MODEL)
