"""A drawing, described for being matched with another one of the same character."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import touching
from wardrobe.core.areas.segment import Areas

Floats = NDArray[np.float32]
Doubles = NDArray[np.float64]
Int = NDArray[np.int32]
Mask = NDArray[np.bool_]
Matrix = NDArray[np.float64]

FRAME = 176  # px of the square in which drawings are laid on each other
FIT = 0.42  # root of the figure's area, in shares of the square
PATCH = 16  # px of an area's own little pictures
TURNS = np.deg2rad([-60, -40, -20, 0, 20, 40, 60])
UPRIGHT = 3  # of the turns
_GRID = 640  # px of the longer edge at which shapes are measured
_SPAN_OWN, _SPAN_AROUND = 2.6, 0.32  # of roots of the area; of the square
_SOFT = 2.2  # px of the square over which a line is felt


@dataclass(frozen=True)
class Side:
    """A drawing as it is matched. Rows of arrays run over areas; row 0 is the outside.

    Attributes
    ----------
    area : ndarray of int64, shape (n,)
        Number of each row's area in the cut; 0 for the outside.
    ground : ndarray of bool, shape (n,)
        Rows that the cut takes for ground, the outside among them.
    share : ndarray of float64, shape (n,)
        Size against the figure's.
    centre : ndarray of float64, shape (n, 2)
        x, y in the square.
    shape : ndarray of float64, shape (n, k)
        Figures of the shape that turning leaves alone.
    touch : ndarray of float64, shape (n, n)
        Length of the common border against the row's whole border.
    rows : ndarray of int32, shape (FRAME, FRAME)
        The square, by row.
    seen : ndarray of bool, shape (FRAME, FRAME)
        Where the square lies within the picture.
    felt : ndarray of float32, shape (FRAME, FRAME, 3)
        Signed distance to the outline, and nearness of borders and of ink, -1..1.
    scale : float
        px of the square a px of the picture.
    to_square : ndarray of float64, shape (2, 3)
        From picture px to the square.
    own, around : ndarray of float32, shape (n, turns, pixels)
        Little pictures of the area, and of what lies around it, each of length 1.
    """

    area: NDArray[np.int64]
    ground: Mask
    share: Doubles
    centre: Doubles
    shape: Doubles
    touch: Doubles
    rows: Int
    seen: Mask
    felt: Floats
    scale: float
    to_square: Matrix
    own: Floats
    around: Floats

    def __len__(self) -> int:
        return len(self.area)


def describe(areas: Areas, ground: Mask, ink: NDArray[np.uint8], *, mirrored: bool = False) -> Side:
    """Describe a drawing.

    Parameters
    ----------
    areas : Areas
    ground : ndarray of bool, shape (areas + 1,)
        Areas taken for ground.
    ink : ndarray of uint8, shape (height, width)
        Coverage.
    mirrored : bool
        As it is seen in a mirror.
    """
    step = max(1, round(max(areas.labels.shape) / _GRID))
    labels, inked = areas.labels[::step, ::step], ink[::step, ::step] >= 128
    if mirrored:
        labels, inked = labels[:, ::-1], inked[:, ::-1]
    row_of_area = _rows(labels, areas, ground)
    area = np.concatenate([[0], np.flatnonzero(row_of_area > 0)])
    rows = np.ascontiguousarray(row_of_area[labels])
    seen_as_ground = np.concatenate([[True], ground[area[1:]]])
    shaped = _shapes(rows, ~seen_as_ground[rows], len(area))
    figure = ~seen_as_ground
    total = max(1.0, float(shaped.size[figure].sum()))
    unit = float(np.sqrt(total))
    scale = FIT * FRAME / unit
    middle = (shaped.size[figure, None] * shaped.centre[figure]).sum(axis=0) / total
    matrix = np.array([[scale, 0, FRAME / 2 - scale * middle[0]],
                       [0, scale, FRAME / 2 - scale * middle[1]]])
    square = cv2.warpAffine(rows.astype(np.float32), matrix, (FRAME, FRAME),
                            flags=cv2.INTER_NEAREST).astype(np.int32)
    felt = _felt(rows, seen_as_ground, inked, matrix)
    seen = cv2.warpAffine(np.ones(rows.shape, np.uint8), matrix, (FRAME, FRAME),
                          flags=cv2.INTER_NEAREST) > 0
    centre = shaped.centre * scale + matrix[:, 2]
    numbers = np.column_stack([np.log(shaped.size / total + 1e-5), shaped.numbers,
                               shaped.depth / unit * 4])
    own, around = _pictures(rows, shaped, felt, centre)
    whole = matrix.copy()
    whole[:, :2] /= step
    if mirrored:
        whole[:, 2] += whole[:, 0] * areas.labels.shape[1]
        whole[:, 0] *= -1
    return Side(area, seen_as_ground, shaped.size / total, centre, numbers,
                shaped.contact / np.maximum(1, shaped.contact.sum(axis=1))[:, None], square, seen,
                felt, scale / step, whole, own, around)


def _rows(labels: NDArray[np.uint16], areas: Areas, ground: Mask) -> NDArray[np.int64]:
    """A row for each area; 0 for what the figure stands in front of."""
    border = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    runs = np.bincount(border, minlength=areas.count + 1)
    outside = ground & (runs > 0.04 * border.size)
    if runs.any() and ground[runs.argmax()]:
        outside[runs.argmax()] = True
    kept = ~outside
    kept[0] = False
    kept &= np.bincount(labels.ravel(), minlength=areas.count + 1) > 0
    rows = np.zeros(areas.count + 1, np.int64)
    rows[kept] = 1 + np.arange(int(kept.sum()))
    return rows


@dataclass(frozen=True)
class _Shaped:
    """Sizes, centres (px) and shapes by row."""

    size: Doubles
    centre: Doubles
    spread: Doubles
    numbers: Doubles
    depth: Doubles
    contact: Doubles


def _shapes(rows: NDArray[np.int64], figure: Mask, count: int) -> _Shaped:
    flat = rows.ravel()
    ys, xs = (a.ravel().astype(np.float64) for a in np.indices(rows.shape))

    def mean(values: Doubles) -> Doubles:
        found: Doubles = np.bincount(flat, values, count) / np.maximum(size, 1)
        return found

    size = np.bincount(flat, minlength=count).astype(np.float64)
    centre = np.column_stack([mean(xs), mean(ys)])
    dx, dy = xs - centre[flat, 0], ys - centre[flat, 1]
    xx, yy, xy = mean(dx * dx) + 0.08, mean(dy * dy) + 0.08, mean(dx * dy)
    square = dx * dx + dy * dy
    n = np.maximum(size, 1)
    lean = np.hypot(mean(dx * square), mean(dy * square)) / n**1.5
    three = np.hypot(mean(dx**3 - 3 * dx * dy**2), mean(3 * dx**2 * dy - dy**3)) / n**1.5
    root = np.hypot(xx - yy, 2 * xy)
    pairs, lengths = touching(rows, count - 1)
    contact = np.zeros((count, count))
    contact[pairs[:, 0], pairs[:, 1]] = contact[pairs[:, 1], pairs[:, 0]] = lengths
    around = np.maximum(1, contact.sum(axis=1))
    deep = cv2.distanceTransform(np.pad(figure.astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    inner = cv2.distanceTransform((~_borders(rows)).astype(np.uint8), cv2.DIST_L2, 3)
    widest = np.zeros(count)
    np.maximum.at(widest, flat, inner.ravel())
    numbers = np.column_stack([
        0.5 * np.log((xx + yy + root) / (xx + yy - root)), np.log((xx + yy) / n), 20 * lean,
        20 * three, contact[:, 0] / around, np.log(around / np.sqrt(n)), 2 * widest / np.sqrt(n),
        np.log1p((contact > 2).sum(axis=1))])
    return _Shaped(size, centre, np.sqrt(n), numbers, mean(deep.ravel().astype(np.float64)),
                   contact)


def _borders(rows: NDArray[np.int64]) -> Mask:
    edge = np.zeros(rows.shape, bool)
    edge[:, 1:] |= rows[:, 1:] != rows[:, :-1]
    edge[1:] |= rows[1:] != rows[:-1]
    return edge


def _felt(rows: NDArray[np.int64], ground: Mask, inked: Mask, matrix: Matrix) -> Floats:
    """What is felt of the outline, of borders whatever their weight, and of the ink."""
    size = (FRAME, FRAME)
    figure = cv2.warpAffine((~ground[rows]).astype(np.uint8) * 255, matrix, size,
                            flags=cv2.INTER_AREA) > 127
    inside, outside = (cv2.distanceTransform(m.astype(np.uint8), cv2.DIST_L2, 3)
                       for m in (figure, ~figure))
    soft = [cv2.warpAffine(
        np.exp(-cv2.distanceTransform((~m).astype(np.uint8), cv2.DIST_L2, 3)
               * matrix[0, 0] / _SOFT), matrix, size, flags=cv2.INTER_LINEAR)
        for m in (_borders(rows), inked)]
    felt: Floats = np.stack([np.clip((inside - outside) / 14, -1, 1), *soft],
                            axis=-1).astype(np.float32)
    return felt


def _pictures(rows: NDArray[np.int64], shaped: _Shaped, felt: Floats,
              centre: Doubles) -> tuple[Floats, Floats]:
    """Each area, and its surroundings, turned this way and that."""
    count, (height, width) = len(shaped.size), rows.shape
    axis = (np.arange(PATCH) + 0.5) / PATCH - 0.5
    gx, gy = (g.ravel() for g in np.meshgrid(axis, axis))
    own = np.zeros((count, len(TURNS), PATCH**2), np.float32)
    around = np.zeros((count, len(TURNS), 2 * PATCH**2), np.float32)
    outline, lines = (cv2.GaussianBlur(felt[..., k], (0, 0), s) for k, s in ((0, 1.0), (1, 1.5)))
    for k, turn in enumerate(TURNS):
        rx, ry = np.cos(turn) * gx - np.sin(turn) * gy, np.sin(turn) * gx + np.cos(turn) * gy
        span = _SPAN_OWN * shaped.spread[:, None]
        px = np.rint(shaped.centre[:, :1] + span * rx).astype(int)
        py = np.rint(shaped.centre[:, 1:] + span * ry).astype(int)
        there = (px >= 0) & (py >= 0) & (px < width) & (py < height)
        found = rows[np.clip(py, 0, height - 1), np.clip(px, 0, width - 1)]
        own[:, k] = there & (found == np.arange(count)[:, None])
        reach = _SPAN_AROUND * FRAME
        fx = np.clip(np.rint(centre[:, :1] + reach * rx), 0, FRAME - 1).astype(int)
        fy = np.clip(np.rint(centre[:, 1:] + reach * ry), 0, FRAME - 1).astype(int)
        around[:, k] = np.concatenate([outline[fy, fx], 1.5 * lines[fy, fx] - 0.5], axis=1)
    own -= 0.15
    own /= np.linalg.norm(own, axis=-1, keepdims=True) + 1e-6
    around /= np.linalg.norm(around, axis=-1, keepdims=True) + 1e-6
    return own, around
