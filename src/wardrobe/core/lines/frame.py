"""The frame: quarter turns, levelling, and what is cropped."""

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Matrix = NDArray[np.float64]
Crop = tuple[int, int, int, int]


def turned_size(width: int, height: int, turn: int) -> tuple[int, int]:
    """Width and height after quarter turns."""
    return (height, width) if turn % 2 else (width, height)


def frame_matrix(width: int, height: int, turn: int, tilt: float, crop: Crop | None) -> Matrix:
    """Affine map from the drawing's pixels to the framed picture's.

    Parameters
    ----------
    width, height : int
        Of the drawing as it came in.
    turn : int
        Quarter turns clockwise.
    tilt : float
        Degrees counter-clockwise, about the middle of the turned picture.
    crop : (x, y, width, height), optional
        What is kept of the turned and levelled picture.

    Returns
    -------
    ndarray of float64, shape (3, 3)
        For coordinates (x, y, 1); pixel centres lie at halves.
    """
    quarter: list[Matrix] = [
        np.eye(3), np.array([[0, -1, height], [1, 0, 0], [0, 0, 1.0]]),
        np.array([[-1, 0, width], [0, -1, height], [0, 0, 1.0]]),
        np.array([[0, 1, 0], [-1, 0, width], [0, 0, 1.0]])]
    w, h = turned_size(width, height, turn)
    level = np.vstack([cv2.getRotationMatrix2D((w / 2, h / 2), tilt, 1.0), [0, 0, 1]])
    move = np.eye(3)
    if crop:
        move[:2, 2] = -crop[0], -crop[1]
    result: Matrix = move @ level @ quarter[turn % 4]
    return result


def apply_frame(rgba: Byte, turn: int, tilt: float, crop: Crop | None) -> Byte:
    """Turn, level and crop a picture.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
    turn, tilt, crop
        As for :func:`frame_matrix`.

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        What levelling uncovers at the corners goes on as the picture's edge does.
    """
    picture = np.rot90(rgba, -turn)
    if tilt:
        height, width = picture.shape[:2]
        # OpenCV's pixel centres lie at whole numbers.
        matrix = cv2.getRotationMatrix2D((width / 2 - 0.5, height / 2 - 0.5), tilt, 1.0)
        picture = cv2.warpAffine(np.ascontiguousarray(picture), matrix, (width, height),
                                 flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    if crop:
        x, y, w, h = crop
        picture = picture[y:y + h, x:x + w]
    return np.ascontiguousarray(picture)
