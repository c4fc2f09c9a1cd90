"""A drawing as the networks see it, whatever its size and wherever it stands on its paper."""

import threading
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.edge import flood
from wardrobe.core.ground.rays import enclosure, sixteen_ways

Byte = NDArray[np.uint8]
Floats = NDArray[np.float32]

SIDE = 128  # px of the square in which a network sees a drawing
_ROOM = 1.16  # of the drawing's longer side that the square holds
_SURELY_NOT = -8.0  # log odds beyond the square
_WAYS = sixteen_ways()


@dataclass(frozen=True)
class Window:
    """A square about the drawing; it may reach beyond the picture.

    Attributes
    ----------
    left, top, side : int
        Px of the picture.
    """

    left: int
    top: int
    side: int

    def cut(self, image: NDArray[np.generic], beyond: int) -> Byte:
        """The square's part of an image, with a value where there is no picture."""
        out = np.full((self.side, self.side), beyond, np.uint8)
        here, there = self._shared(image.shape)
        out[here] = image[there]
        return out

    def lay(self, image: Floats, shape: tuple[int, int], beyond: float) -> Floats:
        """An image of the square, laid into the picture, with a value beyond the square."""
        out = np.full(shape, beyond, np.float32)
        here, there = self._shared(shape)
        out[there] = image[here]
        return out

    def _shared(self, shape: tuple[int, ...]) -> tuple[tuple[slice, ...], tuple[slice, ...]]:
        """What square and picture share, in the square and in the picture."""
        spans = [(at, max(0, at), max(0, min(size, at + self.side)))
                 for at, size in zip((self.top, self.left), shape, strict=True)]
        return (tuple(slice(first - at, end - at) for at, first, end in spans),
                tuple(slice(first, end) for _, first, end in spans))


def window_of(ink: Byte) -> Window:
    """The square in which a drawing is seen.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 free, 1 ink; not empty.
    """
    ys, xs = np.nonzero(ink)
    y0, y1, x0, x1 = ys.min(), ys.max() + 1, xs.min(), xs.max() + 1
    side = float(max(y1 - y0, x1 - x0)) * _ROOM
    return Window(int(np.floor((x0 + x1 - side) / 2)), int(np.floor((y0 + y1 - side) / 2)),
                  int(np.ceil(side)))


def seen(coverage: Byte, ink: Byte) -> tuple[Byte, Window]:
    """What the network is shown.

    Parameters
    ----------
    coverage, ink : ndarray of uint8, shape (height, width)
        Coverage 0..255, and what of it counts as ink, 0 or 1.

    Returns
    -------
    planes : ndarray of uint8, shape (5, 128, 128)
        Coverage; ink that does not vanish; what a flood from the border does not reach; share of
        directions with ink; where there is no picture.
    window : Window
    """
    window = window_of(ink)
    thick = max(1, int(np.ceil(window.side / SIDE)))
    kept = cv2.dilate(window.cut(ink, 0), np.ones((thick, thick), np.uint8))
    kept = cv2.resize(kept, (SIDE, SIDE), interpolation=cv2.INTER_NEAREST)
    held = (~flood(ink) & (ink == 0)).astype(np.uint8) * np.uint8(255)
    held, cover, beyond = (
        cv2.resize(window.cut(image, outside), (SIDE, SIDE), interpolation=cv2.INTER_AREA)
        for image, outside in ((held, 0), (coverage, 0), (np.zeros_like(ink), 255)))
    around = np.rint(enclosure(kept, _WAYS) * 255).astype(np.uint8)
    return np.stack([cover, kept * np.uint8(255), held, around, beyond]), window


class Network:
    """A network that is shown such planes and says of each place what it is.

    Parameters
    ----------
    path : Path
        An ONNX file.

    References
    ----------
    O. Ronneberger, P. Fischer, T. Brox, "U-Net: Convolutional networks for biomedical image
    segmentation", MICCAI 2015. ``benchmarks.networks`` builds and fits them.
    """

    def __init__(self, path: Path) -> None:
        self._net = cv2.dnn.readNetFromONNX(np.frombuffer(path.read_bytes(), np.uint8))
        self._one_at_a_time = threading.Lock()

    def told(self, coverage: Byte, ink: Byte) -> Floats:
        """What it says of a drawing.

        Parameters
        ----------
        coverage, ink : ndarray of uint8, shape (height, width)
            Coverage 0..255, and what of it counts as ink, 0 or 1; not empty.

        Returns
        -------
        ndarray of float32, shape (kinds, height, width)
            Log odds that a place is of a kind: 0 even. Worked out at 128 px of the drawing's
            square; beyond that it is of none.
        """
        planes, window = seen(coverage, ink)
        size = window.side, window.side
        return np.stack([window.lay(np.asarray(cv2.resize(odds, size,
                                                          interpolation=cv2.INTER_LINEAR),
                                               np.float32), ink.shape, _SURELY_NOT)
                         for odds in self.ask(planes)])

    def ask(self, planes: Byte) -> Floats:
        """What it says of what it is shown and of its mirror image, in the mean.

        Parameters
        ----------
        planes : ndarray of uint8, shape (5, 128, 128)

        Returns
        -------
        ndarray of float32, shape (kinds, 128, 128)
            Log odds that a place is of a kind.
        """
        both = np.stack([planes, planes[..., ::-1]]).astype(np.float32) / 255
        with self._one_at_a_time:  # it holds what it was given
            self._net.setInput(both)
            one, two = self._net.forward().reshape(2, -1, SIDE, SIDE)
        return np.asarray((one + two[..., ::-1]) / 2, np.float32)
