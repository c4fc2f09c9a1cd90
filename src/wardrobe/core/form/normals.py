"""Kernels: outward directions at borders, and harmonic interpolation between them."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Real = NDArray[np.float32]


@kernel
def border_pull(labels: Int, folds: NDArray[np.bool_], front: Real, fold_strength: Real,
                edge_length: float, ends: Real,
                closed: Real) -> tuple[Real, Real, Real, NDArray[np.bool_]]:
    """Tilt wanted at each border pixel.

    A border to the ground pulls outwards with full length; a border to another form pulls with
    ``edge_length``, weighted by how surely this form is in front; a fold pulls towards itself.

    Parameters
    ----------
    ends : ndarray of float32, shape (labels + 1, 4)
        Direction (x, y) in which a form ends openly, how much of the pull is lost there, and
        whether that holds for both ends (1) or only along the direction (0).
    closed : ndarray of float32, shape (labels + 1,), range 0..1
        Least weight of a border to another form.

    Returns
    -------
    bx, by, weight : ndarray of float32, shape (height, width)
        Weighted tilt (x right, y down) and its weight.
    wall : ndarray of bool, shape (height, width)
        Border pixels at which the form turns away rather than goes on behind another.
    """
    height, width = labels.shape
    wall = np.zeros((height, width), np.bool_)
    bx = np.zeros((height, width), np.float32)
    by = np.zeros((height, width), np.float32)
    weight = np.zeros((height, width), np.float32)
    radius, spread = 4, 2 * 1.8 * 1.8
    for y in range(height):
        for x in range(width):
            a = labels[y, x]
            if a == 0 or folds[y, x]:
                continue
            other, at_fold = -1, False
            for k in range(4):
                v = y + (1 if k == 0 else -1 if k == 1 else 0)
                u = x + (1 if k == 2 else -1 if k == 3 else 0)
                if v < 0 or u < 0 or v >= height or u >= width:
                    continue
                if labels[v, u] != a:
                    if other < 0 or labels[v, u] == 0:
                        other = labels[v, u]
                elif folds[v, u]:
                    at_fold = True
            if other < 0 and not at_fold:
                continue
            gx, gy = 0.0, 0.0
            for dy in range(-radius, radius + 1):
                for dx in range(-radius, radius + 1):
                    v, u = y + dy, x + dx
                    d2 = dy * dy + dx * dx
                    if d2 == 0 or d2 > radius * radius or v < 0 or u < 0 \
                            or v >= height or u >= width:
                        continue
                    away = labels[v, u] != a if other >= 0 else folds[v, u]
                    if away:
                        g = np.exp(-d2 / spread)
                        gx += g * dx
                        gy += g * dy
            size = np.sqrt(gx * gx + gy * gy)
            if size < 1e-6:
                continue
            if other == 0:
                w, length = 1.0, 1.0
            elif other > 0:
                w, length = max(closed[a], 1 / (1 + np.exp(-6 * front[a, other]))), edge_length
            else:
                w, length = 0.8, fold_strength[a]
            if other >= 0:
                along, begin = (gx * ends[a, 0] + gy * ends[a, 1]) / size, 0.5
                if ends[a, 3] > 0:
                    along, begin = abs(along), 0.3
                w *= 1 - ends[a, 2] * min(1.0, max(0.0, (along - begin) / 0.3))
                wall[y, x] = w > 0.5
            bx[y, x] = w * length * gx / size
            by[y, x] = w * length * gy / size
            weight[y, x] = w
    # The border lies half a pixel away: twice the pull.
    return 2 * bx, 2 * by, 2 * weight, wall


@kernel
def relax(labels: Int, folds: NDArray[np.bool_], bx: Real, by: Real, weight: Real, nx: Real,
          ny: Real, sweeps: int, omega: float) -> None:
    """Red-black successive over-relaxation of Laplace's equation inside each label, in place.

    Fold pixels take the mean of their neighbours but give nothing back: both sides of a fold
    are solved apart.
    """
    height, width = labels.shape
    for sweep in range(2 * sweeps):
        for y in range(height):
            for x in range((y + sweep) % 2, width, 2):
                a = labels[y, x]
                if a == 0:
                    continue
                total = weight[y, x]
                sx, sy = bx[y, x], by[y, x]
                for k in range(4):
                    v = y + (1 if k == 0 else -1 if k == 1 else 0)
                    u = x + (1 if k == 2 else -1 if k == 3 else 0)
                    if 0 <= v < height and 0 <= u < width and labels[v, u] == a:
                        if folds[v, u] and not folds[y, x]:
                            continue
                        total += 1
                        sx += nx[v, u]
                        sy += ny[v, u]
                if total > 0:
                    nx[y, x] += omega * (sx / total - nx[y, x])
                    ny[y, x] += omega * (sy / total - ny[y, x])
