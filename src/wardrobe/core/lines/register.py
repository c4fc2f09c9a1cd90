"""Laying one drawing on another: where the same lines are in both.

Features (SIFT: Lowe, "Distinctive image features from scale-invariant keypoints", 2004) give a
first guess, enhanced correlation (Evangelidis and Psarakis, "Parametric image alignment using
enhanced correlation coefficient maximization", 2008) brings the lines together, and what was drawn
anew is kept from pulling by a robust fit to the nearest lines.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

Byte = NDArray[np.uint8]
Matrix = NDArray[np.float64]

_EDGE = 640  # px at which drawings are compared
_FINE_EDGE = 2000  # px at which they are brought together in the end
_SPREADS = (14.0, 5.0)  # px over which lines attract each other, step by step
_RATIO = 0.8  # of a match to the next best one, Lowe 2004
_INLIER = 4.0  # px
_POINTS = 4000
_LOOSE = 1.5  # px from where a distance counts less and less
_NEAR = 2.5  # px within which a line is the same line
_WHOLE = 0.6  # px by which a shift by whole pixels may be off at the corners
_LEAST_AGREEMENT = 0.2
_SHRINK = (0.2, 5.0)  # of sizes that are thinkable


@dataclass(frozen=True)
class Registration:
    """How a drawing lies on another.

    Attributes
    ----------
    matrix : ndarray of float64, shape (2, 3)
        From places in the drawing to places in the one that it is laid on; pixel centres lie at
        halves. A similarity: shift, turn and scale.
    agreement : float, up to 1
        Share of the lines of both that lie on lines of the other, beyond what lines that have
        nothing to do with each other share by chance, which is 0.
    """

    matrix: Matrix
    agreement: float

    @property
    def scale(self) -> float:
        """Size in the other drawing against size in its own."""
        return float(np.hypot(self.matrix[0, 0], self.matrix[1, 0]))

    @property
    def clockwise(self) -> float:
        """Degrees by which it is turned; y runs down."""
        return float(np.degrees(np.arctan2(self.matrix[1, 0], self.matrix[0, 0])))


def register(drawing: Byte, onto: Byte) -> Registration:
    """Lay a drawing on another one of the same thing.

    Parameters
    ----------
    drawing, onto : ndarray of uint8, shape (height, width)
        Coverage of the ink; the sizes may differ.

    Returns
    -------
    Registration
        The best one found, however bad it is: see ``agreement``.
    """
    small, fixed = _Lines.of(drawing), _Lines.of(onto)
    if not len(small.points) or not len(fixed.points):
        return Registration(np.eye(2, 3), 0.0)
    first = max(_guesses(small, fixed), key=lambda m: _agreement(m, small, fixed, 3 * _NEAR))
    found = _settled(_correlated(first, small, fixed), small, fixed)
    best = max((first, found), key=lambda m: _agreement(m, small, fixed))
    agreement, whole = _agreement(best, small, fixed), _resized(best, small, fixed)
    if agreement > _LEAST_AGREEMENT and max(*drawing.shape, *onto.shape) > _EDGE:
        large = _Lines.of(drawing, _FINE_EDGE), _Lines.of(onto, _FINE_EDGE)
        there = np.diag([large[1].scale] * 2 + [1]) @ _square(whole) \
            @ np.diag([1 / large[0].scale] * 2 + [1])
        whole = _resized(_settled(there[:2], *large), *large)
    return Registration(_simplest(whole, drawing.shape), agreement)


def _resized(matrix: Matrix, drawing: "_Lines", onto: "_Lines") -> Matrix:
    """A map between small drawings as one between whole ones."""
    whole: Matrix = np.diag([1 / onto.scale] * 2 + [1]) @ _square(matrix) \
        @ np.diag([drawing.scale] * 2 + [1])
    return whole[:2]


def _simplest(matrix: Matrix, shape: tuple[int, ...]) -> Matrix:
    """A shift by whole pixels, if the map is hardly anything else: no pixel is worked out anew."""
    height, width = shape
    corners = np.array([[0, 0], [width, 0], [0, height], [width, height]], np.float64)
    shift = np.round((_moved(matrix, corners) - corners).mean(axis=0))
    off = np.abs(_moved(matrix, corners) - corners - shift).max()
    return np.column_stack([np.eye(2), shift]) if off < _WHOLE else matrix


@dataclass(frozen=True, eq=False)
class _Lines:
    """A drawing at the size at which it is compared."""

    scale: float
    ink: Byte
    distance: NDArray[np.float32]
    points: NDArray[np.float64]

    @classmethod
    def of(cls, coverage: Byte, edge: int = _EDGE) -> "_Lines":
        scale = min(1.0, edge / max(coverage.shape))
        height, width = (max(1, round(n * scale)) for n in coverage.shape)
        ink = coverage if scale == 1 else cv2.resize(coverage, (width, height),
                                                     interpolation=cv2.INTER_AREA)
        # Thin lines grow pale as they are made small.
        dark = (ink >= min(128, max(24, int(ink.max()) // 2))).astype(np.uint8)
        inside = cv2.distanceTransform(np.pad(dark, 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
        ridge = (dark > 0) & (inside >= cv2.dilate(inside, np.ones((3, 3), np.uint8)))
        distance = cv2.distanceTransform(1 - ridge.astype(np.uint8), cv2.DIST_L2, 5)
        ys, xs = np.nonzero(ridge)
        points = np.stack([xs, ys], 1).astype(np.float64) + 0.5
        if len(points) > _POINTS:
            points = points[np.linspace(0, len(points) - 1, _POINTS).astype(int)]
        return cls(scale, ink, distance, points)

    def near(self, points: NDArray[np.float64]) -> NDArray[np.float32]:
        """Distance of places to the nearest line, px."""
        xy = (points - 0.5).astype(np.float32)
        return cv2.remap(self.distance, xy[None, :, 0], xy[None, :, 1], cv2.INTER_LINEAR,
                         borderMode=cv2.BORDER_REPLICATE)[0]


def _guesses(drawing: _Lines, onto: _Lines) -> list[Matrix]:
    """Where it may lie: framed alike, the same lines filling the same box, or by features."""
    found = [_fit_frame(drawing, onto), _fit_box(drawing, onto)]
    sift = cv2.SIFT.create(nfeatures=1500, contrastThreshold=0.02)
    (at, a), (to, b) = (sift.detectAndCompute(255 - cv2.GaussianBlur(x.ink, (0, 0), 1.5), None)
                        for x in (drawing, onto))
    if a is None or b is None or len(at) < 4 or len(to) < 4:
        return found
    pairs = [p for p, *q in cv2.BFMatcher().knnMatch(a, b, k=2)
             if q and p.distance < _RATIO * q[0].distance]
    if len(pairs) < 4:
        return found
    cv2.setRNGSeed(1)
    matrix, _ = cv2.estimateAffinePartial2D(
        np.array([at[p.queryIdx].pt for p in pairs]) + 0.5,
        np.array([to[p.trainIdx].pt for p in pairs]) + 0.5,
        method=cv2.RANSAC, ransacReprojThreshold=_INLIER, maxIters=5000)
    return found if matrix is None or not _thinkable(matrix, drawing, onto) else [*found, matrix]


def _fit_frame(drawing: _Lines, onto: _Lines) -> Matrix:
    scale = min(b / a for a, b in zip(drawing.ink.shape, onto.ink.shape, strict=True))
    height, width = onto.ink.shape
    return _about((drawing.ink.shape[1] / 2, drawing.ink.shape[0] / 2), (width / 2, height / 2),
                  scale)


def _fit_box(drawing: _Lines, onto: _Lines) -> Matrix:
    (a0, a1), (b0, b1) = ((x.points.min(0), x.points.max(0)) for x in (drawing, onto))
    sizes = np.hypot(*(a1 - a0)), np.hypot(*(b1 - b0))
    scale = sizes[1] / sizes[0] if sizes[0] else 1.0
    return _about(tuple((a0 + a1) / 2), tuple((b0 + b1) / 2), float(scale))


def _about(at: tuple[float, float], to: tuple[float, float], scale: float) -> Matrix:
    return np.array([[scale, 0, to[0] - scale * at[0]], [0, scale, to[1] - scale * at[1]]])


def _thinkable(matrix: Matrix, drawing: _Lines, onto: _Lines) -> bool:
    whole = np.hypot(matrix[0, 0], matrix[1, 0]) * drawing.scale / onto.scale
    return bool(_SHRINK[0] <= whole <= _SHRINK[1])


def _correlated(first: Matrix, drawing: _Lines, onto: _Lines) -> Matrix:
    """Brought together by enhanced correlation, coarse to fine; an affine map on the way."""
    found = first
    for spread in _SPREADS:
        fields = [np.exp(-x.distance / spread) for x in (onto, drawing)]
        start = _corner(_inverse(found))
        try:
            _, warp = cv2.findTransformECC(
                fields[0], fields[1], start.astype(np.float32), cv2.MOTION_AFFINE,
                (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 40, 1e-5), None, 1)
        except cv2.error:  # it did not converge
            continue
        nearer = _similar(_inverse(_centre(warp.astype(np.float64))), onto)
        if _agreement(nearer, drawing, onto, spread) >= _agreement(found, drawing, onto, spread):
            found = nearer
    return found


def _corner(matrix: Matrix) -> Matrix:
    """The same map for coordinates in which pixel centres lie at whole numbers."""
    moved = matrix.copy()
    moved[:, 2] += matrix[:, :2] @ [0.5, 0.5] - 0.5
    return moved


def _centre(matrix: Matrix) -> Matrix:
    moved = matrix.copy()
    moved[:, 2] += 0.5 - matrix[:, :2] @ [0.5, 0.5]
    return moved


def _similar(matrix: Matrix, onto: _Lines) -> Matrix:
    """The similarity nearest to an affine map, about the middle of the picture."""
    a = (matrix[0, 0] + matrix[1, 1]) / 2
    b = (matrix[1, 0] - matrix[0, 1]) / 2
    turn = np.array([[a, -b], [b, a]])
    height, width = onto.ink.shape
    to = np.array([width / 2, height / 2])
    at = np.linalg.solve(matrix[:, :2], to - matrix[:, 2])
    return np.column_stack([turn, to - turn @ at])


def _settled(first: Matrix, drawing: _Lines, onto: _Lines) -> Matrix:
    """Each line to the nearest one, those that have none left out more and more."""
    mid = drawing.points.mean(axis=0)
    size = float(np.hypot(*drawing.ink.shape))

    def matrix(p: NDArray[np.float64]) -> Matrix:
        a, b = first[0, 0] + p[0] / size, first[1, 0] + p[1] / size
        turn = np.array([[a, -b], [b, a]])
        to = first[:, :2] @ mid + first[:, 2] + p[2:]
        return np.column_stack([turn, to - turn @ mid])

    def apart(p: NDArray[np.float64]) -> NDArray[np.float64]:
        there = matrix(p)
        back = _inverse(there)
        return np.concatenate([onto.near(_moved(there, drawing.points)),
                               drawing.near(_moved(back, onto.points))]).astype(np.float64)

    try:
        fit = least_squares(apart, np.zeros(4), loss="cauchy", f_scale=_LOOSE, diff_step=0.05,
                            x_scale=1.0, max_nfev=25)
    except (np.linalg.LinAlgError, ValueError):
        return first
    return matrix(fit.x)


def _agreement(matrix: Matrix, drawing: _Lines, onto: _Lines, near: float = _NEAR) -> float:
    """Share of both drawings' lines that lie on the other's, beyond chance."""
    try:
        back = _inverse(matrix)
    except np.linalg.LinAlgError:
        return -1.0
    shares = [_beyond_chance(onto, _moved(matrix, drawing.points), near),
              _beyond_chance(drawing, _moved(back, onto.points), near)]
    return float(np.mean(shares))


def _beyond_chance(lines: _Lines, points: NDArray[np.float64], near: float) -> float:
    height, width = lines.ink.shape
    inside = ((points >= 0) & (points < [width, height])).all(axis=1)
    hit = float(np.mean((lines.near(points) <= near) & inside))
    x0, y0 = np.floor(lines.points.min(axis=0)).astype(int)
    x1, y1 = np.ceil(lines.points.max(axis=0)).astype(int) + 1
    chance = float(np.mean(lines.distance[y0:y1, x0:x1] <= near))
    return (hit - chance) / max(1e-6, 1 - chance)


def _moved(matrix: Matrix, points: NDArray[np.float64]) -> NDArray[np.float64]:
    return points @ matrix[:, :2].T + matrix[:, 2]


def _square(matrix: Matrix) -> Matrix:
    return np.vstack([matrix, [0, 0, 1]])


def _inverse(matrix: Matrix) -> Matrix:
    back: Matrix = np.linalg.inv(_square(matrix)).astype(np.float64)[:2]
    return back
