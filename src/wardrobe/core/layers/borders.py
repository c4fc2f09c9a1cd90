"""Smooth borders between parts where no line covers them, in pictures smaller than the drawing."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel
from wardrobe.core.layers.origin import Origin
from wardrobe.core.parallel import bands, each

Byte = NDArray[np.uint8]
Labels = NDArray[np.uint16]

_SIDE = 4  # places along each side of a pixel at which the drawing is looked at


def smooth_borders(picture: Byte, rows: Labels, ink: Byte, labels: Labels, row_of_area: Labels,
                   origin: Origin) -> Byte:
    """Give pixels that several parts share their mean, as reducing the whole picture would.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)
        Each pixel in the colour of the part at its middle.
    rows : ndarray of uint16, shape (height, width)
        That part.
    ink : ndarray of uint8, same shape
        Where there are lines, nothing is smoothed: they cover the border.
    labels : ndarray of uint16
        Areas of the whole drawing at full size.
    row_of_area : ndarray of uint16
        The part of each area.
    origin : Origin
        Where the picture lies, at a scale below 1.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
        The colours of other parts are those of neighbours that belong to them.
    """
    out = picture.copy()
    each(lambda b: _smooth(picture, rows, ink, labels, row_of_area, origin.x, origin.y,
                           origin.scale, b.start, b.stop, out), bands(len(rows)))
    return out


@kernel
def _smooth(picture: Byte, rows: Labels, ink: Byte, labels: Labels, row_of_area: Labels,
            x0: float, y0: float, scale: float, top: int, bottom: int, out: Byte) -> None:
    height, width = rows.shape
    for j in range(top, bottom):
        for i in range(width):
            mine, border, inked = rows[j, i], False, False
            for v in range(max(0, j - 1), min(height, j + 2)):
                for u in range(max(0, i - 1), min(width, i + 2)):
                    border |= rows[v, u] != mine
                    inked |= ink[v, u] > 0
            if not border or inked:
                continue
            sums = np.zeros(3)
            for q in range(_SIDE):
                y = min(labels.shape[0] - 1, int((y0 + j + (q + 0.5) / _SIDE) / scale))
                for p in range(_SIDE):
                    x = min(labels.shape[1] - 1, int((x0 + i + (p + 0.5) / _SIDE) / scale))
                    row = row_of_area[labels[y, x]]
                    v, u, nearest = j, i, 9
                    if row != mine:
                        for dv in range(-1, 2):
                            for du in range(-1, 2):
                                b, a = j + dv, i + du
                                if 0 <= b < height and 0 <= a < width and rows[b, a] == row \
                                        and dv * dv + du * du < nearest:
                                    v, u, nearest = b, a, dv * dv + du * du
                    for c in range(3):
                        sums[c] += picture[v, u, c]
            for c in range(3):
                out[j, i, c] = np.uint8(sums[c] / _SIDE**2 + 0.5)
