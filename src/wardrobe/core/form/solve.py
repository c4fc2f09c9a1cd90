"""Guess the volume of every area of a figure."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form.borders import depth_ranks, in_front, joined_forms, measure_borders
from wardrobe.core.form.folds import border_distance, fold_strokes
from wardrobe.core.form.grid import Grid, fit_grid
from wardrobe.core.form.normals import border_pull, relax

Int = NDArray[np.int32]
Real = NDArray[np.float32]

LONG_EDGE = 512
_LEVELS = ((16, 60), (8, 50), (4, 40), (2, 30), (1, 20))  # coarsening, sweeps
_OMEGA = 1.85
_WHOLE_FIGURE = 0.4


@dataclass(frozen=True)
class Form:
    """Surface normals on a small grid.

    Attributes
    ----------
    grid : Grid
    labels : ndarray of int32, shape (height, width)
        Form of each grid pixel; 0 is the ground.
    form_of_area : ndarray of uint16, shape (areas + 1,)
        Form of each area; 0 for ground.
    area_pixels : ndarray of int64, shape (areas + 1,)
        Grid pixels of each area.
    normals : ndarray of float32, shape (height, width, 3)
        Unit normals, x right, y down, z towards the viewer.
    edge : ndarray of float32, shape (height, width)
        Distance to the nearest pixel of another form, in grid pixels.
    outside : ndarray of float32, shape (height, width)
        Distance to the nearest pixel of the ground, in grid pixels.
    depth : ndarray of float32, shape (forms + 1,)
        How far in front each form lies; the ground is behind everything.
    """

    grid: Grid
    labels: Int
    form_of_area: NDArray[np.uint16]
    area_pixels: NDArray[np.int64]
    normals: Real
    edge: Real
    outside: Real
    depth: Real

    def coarser(self) -> "Form":
        """The same form at half the resolution, for pictures that last a moment."""
        return replace(
            self, grid=self.grid.coarser(), labels=np.ascontiguousarray(self.labels[::2, ::2]),
            normals=np.ascontiguousarray(self.normals[::2, ::2]),
            edge=(self.edge[::2, ::2] / 2).astype(np.float32),
            outside=(self.outside[::2, ::2] / 2).astype(np.float32))

    def owners(self, part_of_area: NDArray[np.uint16]) -> NDArray[np.uint16]:
        """The part that holds most of each form, shape (forms + 1,); 0 for the ground."""
        forms, parts = int(self.labels.max()) + 1, int(part_of_area.max()) + 1
        votes = np.bincount(self.form_of_area.astype(np.int64) * parts + part_of_area,
                            weights=self.area_pixels, minlength=forms * parts)
        owners = votes.reshape(forms, parts).argmax(axis=1).astype(np.uint16)
        owners[0] = 0
        return owners


def solve_form(area_labels: NDArray[np.uint16], coverage: NDArray[np.uint8],
               figure: NDArray[np.bool_], line_width: float,
               fold_of_area: Real, kin_of_area: Int | None = None,
               long_edge: int = LONG_EDGE) -> Form:
    """Interpolate normals harmonically inside each area from its outline.

    Parameters
    ----------
    area_labels : ndarray of uint16, shape (height, width)
    coverage : ndarray of uint8, same shape
        Ink.
    figure : ndarray of bool, shape (areas + 1,)
        False for the ground and for areas without a part.
    line_width : float
        Picture pixels.
    fold_of_area : ndarray of float32, shape (areas + 1,), range 0..1
        How deeply a stroke inside the area folds it.
    kin_of_area : ndarray of int32, shape (areas + 1, 2), optional
        Family and member of each area; touching members of a family are one form.
    long_edge : int
        Size of the grid.

    Returns
    -------
    Form

    References
    ----------
    S. F. Johnston, "Lumo: illumination for cel animation", NPAR 2002: normals at outlines are
    known and spread inwards by Laplace's equation.
    """
    grid = fit_grid(figure[area_labels], line_width, long_edge)
    on_grid = grid.nearest(area_labels)
    ink = grid.darkest(coverage)
    present, flat = np.unique(np.where(figure[on_grid], on_grid, 0), return_inverse=True)
    if present[0] != 0:
        present = np.concatenate([[0], present])
        flat = flat + 1
    labels = flat.reshape(grid.shape).astype(np.int32)
    count = len(present) - 1

    sums = measure_borders(labels, ink, count, grid.line_width)
    kin = np.zeros((count + 1, 2), np.int32) if kin_of_area is None else kin_of_area[present]
    form_of_label = joined_forms(sums, kin)
    labels = form_of_label[labels]
    forms = int(form_of_label.max())
    sums = _pooled(sums, form_of_label, forms)

    rows = np.arange(grid.shape[0], dtype=np.float32)[:, None] / grid.shape[0]
    pixels = np.bincount(labels.ravel(), minlength=forms + 1).astype(np.float32)
    height_sum = np.bincount(labels.ravel(), weights=np.broadcast_to(rows, labels.shape).ravel(),
                             minlength=forms + 1)
    front = in_front(sums, pixels, (height_sum / np.maximum(pixels, 1)).astype(np.float32))

    form_of_area = np.zeros(len(figure), np.uint16)
    form_of_area[present] = form_of_label
    area_pixels = np.bincount(on_grid.ravel(), minlength=len(figure))
    fold_of_form = np.zeros(forms + 1, np.float32)
    np.maximum.at(fold_of_form, form_of_area, fold_of_area)
    folds = fold_strokes(labels, ink, grid.line_width)
    nx, ny = _interpolate(labels, folds, front, 0.7 * fold_of_form)
    whole = (labels > 0).astype(np.int32)
    no_fold = np.zeros_like(folds)
    wx, wy = _interpolate(whole, no_fold, np.zeros((2, 2), np.float32),
                          np.zeros(2, np.float32))
    # A form turns with the figure the less, the more of the figure it is itself.
    turn = (_WHOLE_FIGURE * (1 - pixels / max(1.0, pixels[1:].sum()))).astype(np.float32)
    rest = turn[labels] * np.maximum(0, 1 - nx**2 - ny**2)
    nx, ny = nx + rest * wx, ny + rest * wy
    size = np.maximum(1, np.hypot(nx, ny))
    nx, ny = nx / size, ny / size
    nz = np.sqrt(np.maximum(0, 1 - nx**2 - ny**2))
    normals = np.stack([nx, ny, nz], axis=-1).astype(np.float32)
    # Where the picture's edge cuts the figure it goes on: only ground that is seen is outside.
    outside = cv2.distanceTransform((labels > 0).astype(np.uint8), cv2.DIST_L2, 5) \
        if (labels == 0).any() else np.full(labels.shape, 1e4, np.float32)
    return Form(grid, labels, form_of_area, area_pixels, normals, border_distance(labels),
                outside, depth_ranks(sums, front))


def _pooled(sums: Real, group: Int, groups: int) -> Real:
    """Add up border sums by group; borders inside a group vanish."""
    pooled = np.zeros((4, groups + 1, groups + 1), np.float32)
    for layer in range(4):
        a, b = np.nonzero(sums[layer])
        np.add.at(pooled[layer], (group[a], group[b]), sums[layer, a, b])
        np.fill_diagonal(pooled[layer], 0)
    return pooled


def _interpolate(labels: Int, folds: NDArray[np.bool_], front: Real,
                 fold_strength: Real) -> tuple[Real, Real]:
    """Solve for the tilt coarse to fine; each level starts from the one before."""
    height, width = labels.shape
    nx = ny = np.zeros((1, 1), np.float32)
    for step, sweeps in _LEVELS:
        if step > 1 and min(height, width) < 12 * step:
            continue
        small = np.ascontiguousarray(labels[step // 2::step, step // 2::step])
        fold = np.ascontiguousarray(folds[step // 2::step, step // 2::step]) if step < 4 \
            else np.zeros(small.shape, bool)
        bx, by, weight = border_pull(small, fold, front, fold_strength, 0.9)
        size = (small.shape[1], small.shape[0])
        nx = cv2.resize(nx, size, interpolation=cv2.INTER_LINEAR)
        ny = cv2.resize(ny, size, interpolation=cv2.INTER_LINEAR)
        relax(small, fold, bx, by, weight, nx, ny, sweeps, _OMEGA)
        relax(small, fold, bx, by, weight, nx, ny, 2, 1.0)
    return nx, ny
