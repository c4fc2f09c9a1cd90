"""The guess of volume: its equation against SciPy's direct solution, its balls against brute
force, and its bodies against analytic ones."""

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import ndimage, sparse
from scipy.sparse.linalg import spsolve

from wardrobe.core.form.balls import ball_tilt
from wardrobe.core.form.normals import border_pull, relax

Int = NDArray[np.int32]
SEEDS = range(4)


def discs(seed: int, size: int = 44) -> Int:
    """Two or three overlapping discs on the ground, the later ones in front."""
    dice = np.random.default_rng(seed)
    y, x = np.mgrid[:size, :size]
    labels = np.zeros((size, size), np.int32)
    for label in range(1, 3 + seed % 2):
        cx, cy = dice.integers(12, size - 12, 2)
        labels[np.hypot(x - cx, y - cy) < dice.integers(8, 12)] = label
    return np.unique(labels, return_inverse=True)[1].reshape(labels.shape).astype(np.int32)


def pulls(labels: Int, folds: NDArray[np.bool_], front: float = 0.0):
    count = labels.max() + 1
    fronts = np.full((count, count), front, np.float32)
    fronts -= fronts.T  # one in front is the other behind
    fronts[np.triu_indices(count, 1)] = front
    fronts[np.tril_indices(count, -1)] = -front
    return border_pull(labels, folds, fronts, np.full(count, 0.7, np.float32), 0.9,
                       np.zeros((count, 4), np.float32), np.zeros(count, np.float32))


def solved(labels: Int, folds: NDArray[np.bool_], pull: NDArray[np.float32],
           weight: NDArray[np.float32]) -> NDArray[np.float64]:
    """The same equation as one sparse system: each pixel is the weighted mean of its pull and of
    those neighbours of its label that are not beyond a fold."""
    height, width = labels.shape
    index = np.arange(height * width).reshape(height, width)
    rows, columns, values = [], [], []
    right = pull.astype(np.float64).ravel().copy()
    for y in range(height):
        for x in range(width):
            total = float(weight[y, x])
            for v, u in ((y + 1, x), (y - 1, x), (y, x + 1), (y, x - 1)):
                inside = 0 <= v < height and 0 <= u < width
                if not inside or labels[y, x] == 0 or labels[v, u] != labels[y, x]:
                    continue
                if folds[v, u] and not folds[y, x]:
                    continue
                total += 1
                rows.append(index[y, x])
                columns.append(index[v, u])
                values.append(-1.0)
            rows.append(index[y, x])
            columns.append(index[y, x])
            values.append(total if total > 0 and labels[y, x] else 1.0)
            if labels[y, x] == 0:
                right[index[y, x]] = 0
    system = sparse.csr_matrix((values, (rows, columns)), shape=(height * width,) * 2)
    return spsolve(system, right).reshape(height, width)


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("folded", [False, True])
def test_sweeps_come_to_the_direct_solution(seed: int, folded: bool) -> None:
    labels = discs(seed)
    folds = np.zeros(labels.shape, bool)
    if folded:
        inner = ndimage.binary_erosion(labels == 1, iterations=3)
        column = int(np.median(np.nonzero(labels == 1)[1]))
        folds[:, column] = inner[:, column]
    bx, by, weight, _ = pulls(labels, folds, 0.4)
    nx, ny = np.zeros(labels.shape, np.float32), np.zeros(labels.shape, np.float32)
    relax(labels, folds, bx, by, weight, nx, ny, 600, 1.85)
    relax(labels, folds, bx, by, weight, nx, ny, 60, 1.0)
    for found, pull in ((nx, bx), (ny, by)):
        # Sweeps in single precision against a direct solution in double.
        assert np.abs(found - solved(labels, folds, pull, weight)).max() < 2e-3
        assert (found[labels == 0] == 0).all()


@pytest.mark.parametrize("seed", SEEDS)
def test_outlines_pull_outwards_and_what_is_covered_does_not_pull(seed: int) -> None:
    labels = discs(seed)
    none = np.zeros(labels.shape, bool)
    bx, by, weight, wall = pulls(labels, none, 2.0)
    for label in range(1, labels.max() + 1):
        form = labels == label
        rim = form & (ndimage.maximum_filter(labels == 0, size=3) > 0) & (weight > 1.5)
        away = ndimage.distance_transform_edt(form)
        gy, gx = np.gradient(ndimage.gaussian_filter(away, 1.5))
        outwards = -(bx * gx + by * gy)
        assert (outwards[rim] > 0).mean() > 0.95
    # Of two that meet, the one in front turns away there, the other goes on behind.
    one, other = (labels == 1), (labels == 2)
    meet = one & (ndimage.maximum_filter(other, size=3) > 0) \
        & ~(ndimage.maximum_filter(labels == 0, size=5) > 0)
    back = other & (ndimage.maximum_filter(one, size=3) > 0) \
        & ~(ndimage.maximum_filter(labels == 0, size=5) > 0)
    if meet.sum() > 4 and back.sum() > 4:
        # A third one may touch some of these pixels.
        assert np.median(weight[meet]) > 100 * max(np.median(weight[back]), 1e-9)
        assert wall[meet].mean() > 0.6 > 0.3 > wall[back].mean()


def highest(inside: NDArray[np.bool_]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """x and y of the normal of the highest of all balls that fit, tried one by one."""
    room = ndimage.distance_transform_edt(inside) - 0.5
    ys, xs = np.nonzero(inside)
    radii = room[ys, xs]
    tilt = np.zeros((2, *inside.shape))
    for y, x in zip(ys, xs, strict=True):
        rise = radii * (radii + 1) - (xs - x) ** 2 - (ys - y) ** 2
        best = int(rise.argmax())
        size = max(radii[best], 1e-9)
        tilt[:, y, x] = (x - xs[best]) / size, (y - ys[best]) / size
    return tilt[0], tilt[1]


@pytest.mark.parametrize("kind", ["disc", "capsule", "two"])
def test_balls_are_the_highest_of_all_that_fit(kind: str) -> None:
    y, x = np.mgrid[:40, :56]
    inside = {"disc": np.hypot(x - 28, y - 20) < 15.3,
              "capsule": np.hypot(np.maximum(0, abs(x - 28) - 12), y - 20) < 9.4,
              "two": (np.hypot(x - 18, y - 20) < 11.2) | (np.hypot(x - 38, y - 20) < 7.6)}[kind]
    labels = inside.astype(np.int32)
    wall = inside & ~ndimage.binary_erosion(inside)
    tilt_x, tilt_y, radius = ball_tilt(labels, wall)
    want_x, want_y = highest(inside)
    deep = ndimage.distance_transform_edt(inside) > 2
    off = np.hypot(tilt_x - want_x, tilt_y - want_y)[deep]
    assert np.median(off) < 0.08 and np.quantile(off, 0.95) < 0.3
    assert (radius[~inside] == 0).all() and (radius[deep] > 0).mean() > 0.95


def test_a_disc_is_half_a_ball_and_a_band_half_a_tube() -> None:
    """Analytic: the normal of a ball is its place over the radius; that of a tube has no part
    along it."""
    y, x = np.mgrid[:101, :101]
    dx, dy = x - 50.0, y - 50.0
    inside = np.hypot(dx, dy) < 40
    wall = inside & ~ndimage.binary_erosion(inside)
    tilt_x, tilt_y, radius = ball_tilt(inside.astype(np.int32), wall)
    core = np.hypot(dx, dy) < 34
    assert np.abs(tilt_x - dx / 40)[core].max() < 0.06
    assert np.abs(tilt_y - dy / 40)[core].max() < 0.06
    assert np.abs(radius[core] - 40).max() < 1.5
    band = abs(dy) < 20
    wall = band & ~ndimage.binary_erosion(band, np.array(
        [[0, 1, 0], [0, 1, 0], [0, 1, 0]]), border_value=1)
    tilt_x, tilt_y, _ = ball_tilt(band.astype(np.int32), wall)
    middle = (abs(dx) < 25) & (abs(dy) < 16)
    assert np.abs(tilt_x[middle]).max() < 0.08
    assert np.abs(tilt_y - dy / 20)[middle].max() < 0.1
