"""The small grid on which forms are solved: the figure's box at a few hundred pixels."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Int = NDArray[np.int32]
Real = NDArray[np.float32]


@dataclass(frozen=True)
class Grid:
    """A crop of the picture around the figure, scaled down.

    Attributes
    ----------
    x, y : int
        Picture pixel of the grid's top left corner.
    scale : float
        Grid pixels per picture pixel, at most 1.
    shape : (int, int)
        Height and width of the grid.
    line_width : float
        In grid pixels.
    """

    x: int
    y: int
    scale: float
    shape: tuple[int, int]
    line_width: float

    def coarser(self) -> "Grid":
        """The grid of every second pixel, in rows and columns."""
        height, width = self.shape
        return Grid(self.x, self.y, self.scale / 2, ((height + 1) // 2, (width + 1) // 2),
                    self.line_width / 2)

    def nearest(self, image: NDArray[np.uint16]) -> NDArray[np.uint16]:
        """Sample a full-size picture at the centres of the grid's pixels."""
        height, width = self.shape
        ys = self.y + (np.arange(height) + 0.5) / self.scale
        xs = self.x + (np.arange(width) + 0.5) / self.scale
        return image[np.minimum(ys.astype(int), image.shape[0] - 1)][
            :, np.minimum(xs.astype(int), image.shape[1] - 1)]

    def darkest(self, coverage: NDArray[np.uint8]) -> Real:
        """Largest coverage under each grid pixel, so that thin lines survive; 0..1."""
        height, width = self.shape
        size = max(1, round(1 / self.scale))
        crop = coverage[self.y:self.y + int(height / self.scale) + 1,
                        self.x:self.x + int(width / self.scale) + 1]
        grown = cv2.dilate(crop, np.ones((size, size), np.uint8))
        small = cv2.resize(grown, (width, height), interpolation=cv2.INTER_NEAREST)
        return small.astype(np.float32) / np.float32(255)


def fit_grid(figure: NDArray[np.bool_], line_width: float, long_edge: int) -> Grid:
    """Lay a grid over the figure with a margin of two line widths.

    Parameters
    ----------
    figure : ndarray of bool, shape (height, width)
        Pixels of the silhouette.
    line_width : float
        Picture pixels.
    long_edge : int
        Pixels of the grid's longer edge; smaller pictures keep their size.
    """
    rows, columns = np.flatnonzero(figure.any(axis=1)), np.flatnonzero(figure.any(axis=0))
    if len(rows) == 0:
        rows, columns = np.arange(figure.shape[0]), np.arange(figure.shape[1])
    margin = int(2 * line_width) + 2
    y0, y1 = max(0, rows[0] - margin), min(figure.shape[0], rows[-1] + 1 + margin)
    x0, x1 = max(0, columns[0] - margin), min(figure.shape[1], columns[-1] + 1 + margin)
    scale = min(1.0, long_edge / max(y1 - y0, x1 - x0))
    shape = max(2, int((y1 - y0) * scale)), max(2, int((x1 - x0) * scale))
    return Grid(int(x0), int(y0), scale, shape, line_width * scale)
