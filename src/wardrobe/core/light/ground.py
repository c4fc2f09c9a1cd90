"""The shadow that the figure throws on the ground it stands on."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.light.rig import KeyLight

Byte = NDArray[np.uint8]

_LONGEST = 3.0  # times as long as the figure is high
_THINNEST = 0.06  # share of the figure's height that a shadow takes up and down the picture
_SHARP, _SOFT = 2.0, 14.0  # grid pixels: blur of the edge


def ground_shadow(form: Form, key: KeyLight, pitch: float, drop: float, soft: float, x: float,
                  y: float, scale: float, shape: tuple[int, int]) -> Byte:
    """Throw the silhouette, as if cut from card and stood upright, on a level ground.

    Parameters
    ----------
    form : Form
    key : KeyLight
        A light at or below the horizon throws no shadow on the ground.
    pitch : float, 0..1
        How far the ground is seen from above: the height in the picture of what reaches as far
        back as it is wide.
    drop : float
        Picture pixels by which the ground lies below the figure's lowest point.
    soft : float, 0..1
    x, y, scale : float
        The view: picture pixel of its top left corner, and its pixels per picture pixel.
    shape : (int, int)
        Height and width of the view.

    Returns
    -------
    ndarray of uint8, shape (height, width)
    """
    to_x, to_y, to_z = (float(v) for v in key.vector())
    up = -to_y
    if up <= 0.02:
        return np.zeros(shape, np.uint8)
    grid = form.grid
    figure = form.labels > 0
    if not figure.any():
        return np.zeros(shape, np.uint8)
    foot = grid.y + (int(np.flatnonzero(figure.any(axis=1))[-1]) + 1) / grid.scale + drop
    # What stands one high throws its shadow so far to the side, and so far up in the picture.
    aside = float(np.clip(-to_x / up, -_LONGEST, _LONGEST))
    back = float(np.clip(to_z / up, -_LONGEST, _LONGEST)) * pitch
    back = float(np.copysign(max(abs(back), _THINNEST), back))
    # From a pixel of the view to the place on the figure whose shadow lies there.
    steep = 1 / back
    # One pixel more all round: the edge of a shadow runs on beside a tile.
    to_picture = np.array([[1 / scale, 0, x - 0.5 / scale], [0, 1 / scale, y - 0.5 / scale],
                           [0, 0, 1]])
    to_figure = np.array([[1, aside * steep, -aside * steep * foot],
                          [0, steep, foot - steep * foot], [0, 0, 1]])
    to_grid = np.array([[grid.scale, 0, -grid.x * grid.scale - 0.5],
                        [0, grid.scale, -grid.y * grid.scale - 0.5], [0, 0, 1]])
    matrix = (to_grid @ to_figure @ to_picture)[:2]
    sigma = _SHARP + (_SOFT - _SHARP) * soft
    margin = int(3 * sigma) + 2
    blurred = cv2.GaussianBlur(np.pad(figure, margin).astype(np.float32), (0, 0), sigma)
    matrix[:, 2] += margin
    field = cv2.warpAffine(blurred, matrix, (shape[1] + 2, shape[0] + 2),
                           flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP)
    if soft == 0:
        # The edge is one pixel wide, whichever way it runs.
        rise = np.hypot(cv2.Sobel(field, cv2.CV_32F, 1, 0), cv2.Sobel(field, cv2.CV_32F, 0, 1)) / 8
        field = 0.5 + (field - 0.5) / np.maximum(rise, np.float32(1e-3))
    return (np.clip(field[1:-1, 1:-1], 0, 1) * 255 + 0.5).astype(np.uint8)
