"""The frame: quarter turns, levelling, what is cropped; and how one drawing lies on another."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import median_filter

Byte = NDArray[np.uint8]
Matrix = NDArray[np.float64]
Crop = tuple[int, int, int, int]

_AREA = 0.8  # of the size from which a picture is made smaller by area


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
        What is kept of the turned and levelled picture; it may reach beyond that.

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
        What levelling uncovers at the corners goes on as the picture's edge does, and where
        what is kept reaches beyond the picture, its paper goes on.
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
        height, width = picture.shape[:2]
        left, top = max(0, -x), max(0, -y)
        right, bottom = max(0, x + w - width), max(0, y + h - height)
        picture = picture[max(0, y):y + h, max(0, x):x + w]
        if left or top or right or bottom:
            picture = with_room(np.ascontiguousarray(picture), left, top, right, bottom)
    return np.ascontiguousarray(picture)


def with_room(rgba: Byte, left: int, top: int, right: int, bottom: int) -> Byte:
    """A picture with room around it, px: its paper goes on as it is near each edge, without the
    lines that run off there.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
    left, top, right, bottom : int

    Returns
    -------
    ndarray of uint8, shape (top + height + bottom, left + width + right, 4)
    """
    height = len(rgba)
    wide = np.concatenate([
        np.broadcast_to(_paper_along(rgba[:, 0])[:, None], (height, left, 4)), rgba,
        np.broadcast_to(_paper_along(rgba[:, -1])[:, None], (height, right, 4))], axis=1)
    return np.concatenate([
        np.broadcast_to(_paper_along(wide[0])[None], (top, *wide.shape[1:])), wide,
        np.broadcast_to(_paper_along(wide[-1])[None], (bottom, *wide.shape[1:]))])


def _paper_along(edge: Byte) -> Byte:
    """The paper along an edge, shape (n, 4): what most of its neighbourhood has."""
    reach = min(len(edge) | 1, 2 * max(20, len(edge) // 16) + 1)
    found: Byte = np.stack([median_filter(edge[:, k], reach, mode="nearest") for k in range(4)],
                           axis=1)
    return found


def lay(rgba: Byte, matrix: Matrix, size: tuple[int, int]) -> Byte:
    """Lay a picture on a sheet of another size.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
    matrix : ndarray of float64, shape (2, 3)
        From its places to those of the sheet; pixel centres lie at halves.
    size : (width, height)
        Of the sheet, px.

    Returns
    -------
    ndarray of uint8, shape (size[1], size[0], 4)
        Around the picture its paper goes on: the median of its border.
    """
    rows = np.asarray(matrix, np.float64)
    border = np.concatenate([rgba[0], rgba[-1], rgba[:, 0], rgba[:, -1]])
    paper = np.median(border, axis=0)
    if (rows[:, :2] == np.eye(2)).all() and (rows[:, 2] % 1 == 0).all():
        dx, dy = rows[:, 2].astype(int).tolist()
        return _shifted(rgba, dx, dy, size, paper.astype(np.uint8))
    # Colours count as much as they cover.
    soft = rgba.astype(np.float32)
    soft[..., :3] *= soft[..., 3:] / 255
    shrunk = float(np.sqrt(abs(np.linalg.det(rows[:, :2]))))
    if shrunk < _AREA:
        height, width = (max(1, round(n * shrunk)) for n in rgba.shape[:2])
        soft = cv2.resize(soft, (width, height), interpolation=cv2.INTER_AREA)
        rows = rows @ np.diag([rgba.shape[1] / width, rgba.shape[0] / height, 1.0])
    # OpenCV's pixel centres lie at whole numbers.
    corner = rows.copy()
    corner[:, 2] += rows[:, :2] @ [0.5, 0.5] - 0.5
    paper[:3] *= paper[3] / 255
    soft = cv2.warpAffine(soft, corner, size, flags=cv2.INTER_CUBIC,
                          borderMode=cv2.BORDER_CONSTANT, borderValue=paper.tolist())
    soft[..., :3] *= 255 / np.maximum(soft[..., 3:], 0.5)
    result: Byte = np.clip(soft + 0.5, 0, 255).astype(np.uint8)
    return result


def _shifted(rgba: Byte, dx: int, dy: int, size: tuple[int, int], paper: Byte) -> Byte:
    """A picture moved by whole pixels, each of them as it was."""
    width, height = size
    sheet = np.empty((height, width, 4), np.uint8)
    sheet[:] = paper
    x0, y0 = max(dx, 0), max(dy, 0)
    x1, y1 = min(dx + rgba.shape[1], width), min(dy + rgba.shape[0], height)
    if x0 < x1 and y0 < y1:
        sheet[y0:y1, x0:x1] = rgba[y0 - dy:y1 - dy, x0 - dx:x1 - dx]
    return sheet
