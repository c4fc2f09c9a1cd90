"""Guess the volume of every area of a figure."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form.balls import ball_tilt
from wardrobe.core.form.borders import depth_ranks, in_front, joined_forms, measure_borders
from wardrobe.core.form.faces import edge_strokes, fold_flat
from wardrobe.core.form.folds import border_distance, fold_strokes
from wardrobe.core.form.grid import Grid, fit_grid
from wardrobe.core.form.hems import open_ends
from wardrobe.core.form.normals import border_pull, relax
from wardrobe.core.form.traits import VOLUMES, Traits

Int = NDArray[np.int32]
Real = NDArray[np.float32]

LONG_EDGE = 512
_LEVELS = ((16, 60), (8, 50), (4, 40), (2, 30), (1, 20))  # coarsening, sweeps
_OMEGA = 1.85
_WHOLE_FIGURE = 0.4
_EDGE_LENGTH = 0.9
# How strongly the inside is drawn to the balls that fit it, per squared radius.
_BALLS = 15.0
_ROUND, _FLAT, _FOLDED = (list(VOLUMES).index(name) for name in ("round", "flat", "folded"))


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
    volume : ndarray of uint8, shape (forms + 1,)
        Index in VOLUMES.
    """

    grid: Grid
    labels: Int
    form_of_area: NDArray[np.uint16]
    area_pixels: NDArray[np.int64]
    normals: Real
    edge: Real
    outside: Real
    depth: Real
    volume: NDArray[np.uint8]

    def coarser(self) -> "Form":
        """The same form at half the resolution, for pictures that last a moment."""
        return replace(
            self, grid=self.grid.coarser(), labels=np.ascontiguousarray(self.labels[::2, ::2]),
            normals=np.ascontiguousarray(self.normals[::2, ::2]),
            edge=(self.edge[::2, ::2] / 2).astype(np.float32),
            outside=(self.outside[::2, ::2] / 2).astype(np.float32))

    def with_relief(self, relief: Real) -> "Form":
        """The same form, deeper or flatter.

        Parameters
        ----------
        relief : ndarray of float32, shape (forms + 1,)
            Factor on the depth of each form; 1 changes nothing, 0 is flat.
        """
        if (relief == 1).all():
            return self
        normals = self.normals.copy()
        normals[..., :2] *= relief[self.labels][..., None]
        normals /= np.maximum(1e-6, np.linalg.norm(normals, axis=-1, keepdims=True))
        return replace(self, normals=normals)

    def owners(self, part_of_area: NDArray[np.uint16]) -> NDArray[np.uint16]:
        """The part that holds most of each form, shape (forms + 1,); 0 for the ground."""
        forms, parts = int(self.labels.max()) + 1, int(part_of_area.max()) + 1
        votes = np.bincount(self.form_of_area.astype(np.int64) * parts + part_of_area,
                            weights=self.area_pixels, minlength=forms * parts)
        owners = votes.reshape(forms, parts).argmax(axis=1).astype(np.uint16)
        owners[0] = 0
        return owners


def solve_form(area_labels: NDArray[np.uint16], coverage: NDArray[np.uint8], line_width: float,
               traits: Traits, long_edge: int = LONG_EDGE) -> Form:
    """Interpolate normals inside each area from its outline.

    Parameters
    ----------
    area_labels : ndarray of uint16, shape (height, width)
    coverage : ndarray of uint8, same shape
        Ink.
    line_width : float
        Picture pixels.
    traits : Traits
    long_edge : int
        Size of the grid.

    Returns
    -------
    Form

    References
    ----------
    S. F. Johnston, "Lumo: illumination for cel animation", NPAR 2002: normals at outlines are
    known and spread inwards by Laplace's equation. Here they are drawn to the body of inscribed
    balls (:func:`ball_tilt`) on their way, which is exact for bodies of revolution.
    """
    grid = fit_grid(traits.figure[area_labels], line_width, long_edge)
    on_grid = grid.nearest(area_labels)
    ink = grid.darkest(coverage)
    present, flat = np.unique(np.where(traits.figure[on_grid], on_grid, 0), return_inverse=True)
    if present[0] != 0:
        present = np.concatenate([[0], present])
        flat = flat + 1
    labels = flat.reshape(grid.shape).astype(np.int32)
    count = len(present) - 1

    sums = measure_borders(labels, ink, count, grid.line_width)
    form_of_label = joined_forms(sums, _families(traits, present))
    labels = form_of_label[labels]
    forms = int(form_of_label.max())
    sums = _pooled(sums, form_of_label, forms)

    pixels = np.bincount(labels.ravel(), minlength=forms + 1).astype(np.float32)
    form_of_area = np.zeros(len(traits.figure), np.uint16)
    form_of_area[present] = form_of_label
    area_pixels = np.bincount(on_grid.ravel(), minlength=len(traits.figure))
    # A form lies where the areas that it joins are said to lie on the average.
    said = np.where(np.isnan(traits.told) | ~traits.figure, 0, area_pixels)
    total = np.bincount(form_of_area, said, forms + 1)
    sum_told = np.bincount(form_of_area, said * np.nan_to_num(traits.told), forms + 1)
    told: Real = np.where(total > 0, sum_told / np.maximum(total, 1), np.nan).astype(np.float32)
    told[0] = np.nan
    front = in_front(sums, pixels, told)

    volume = np.zeros(forms + 1, np.uint8)
    np.maximum.at(volume, form_of_area, traits.volume)
    fold_of_form = np.zeros(forms + 1, np.float32)
    np.maximum.at(fold_of_form, form_of_area, traits.fold)
    folds = fold_strokes(labels, ink, grid.line_width)
    ends = open_ends(labels, volume, front)
    closed = np.zeros(forms + 1, np.float32)
    np.maximum.at(closed, form_of_area, traits.closed)
    closed[volume == _ROUND] = 1
    nx, ny = _interpolate(labels, folds, front, 0.7 * fold_of_form, ends, closed)
    nx[volume[labels] == _FLAT], ny[volume[labels] == _FLAT] = 0, 0
    if (volume == _FOLDED).any():
        on_edge = edge_strokes(traits.edges, traits.group[on_grid], grid)
        fold_flat(labels, on_grid, on_edge, volume == _FOLDED, nx, ny)
    whole = (labels > 0).astype(np.int32)
    wx, wy = _interpolate(whole, np.zeros_like(folds), np.zeros((2, 2), np.float32),
                          np.zeros(2, np.float32), np.zeros((2, 4), np.float32),
                          np.zeros(2, np.float32), balls=False)
    # A form turns with the figure the less, the more of the figure it is itself; a plane stays
    # a plane.
    turn = (_WHOLE_FIGURE * (1 - pixels / max(1.0, pixels[1:].sum()))).astype(np.float32)
    turn[volume == _FOLDED] = 0
    rest = turn[labels] * np.maximum(0, 1 - nx**2 - ny**2)
    nx, ny = nx + rest * wx, ny + rest * wy
    size = np.maximum(np.float32(1), np.hypot(nx, ny))
    nx, ny = nx / size, ny / size
    nz = np.sqrt(np.maximum(0, 1 - nx**2 - ny**2))
    normals = np.stack([nx, ny, nz], axis=-1).astype(np.float32)
    # Where the picture's edge cuts the figure it goes on: only ground that is seen is outside.
    outside = cv2.distanceTransform((labels > 0).astype(np.uint8), cv2.DIST_L2, 5) \
        if (labels == 0).any() else np.full(labels.shape, 1e4, np.float32)
    return Form(grid, labels, form_of_area, area_pixels, normals, border_distance(labels),
                outside, depth_ranks(sums, front), volume)


def _families(traits: Traits, present: NDArray[np.uint16]) -> Int:
    """Family and member of each label; the faces of a folded form are a family too."""
    kin, group = traits.kin[present].copy(), traits.group[present]
    folded = group > 0
    kin[folded, 0] = int(kin[:, 0].max(initial=0)) + group[folded]
    kin[folded, 1] = np.flatnonzero(folded)
    return kin


def _pooled(sums: Real, group: Int, groups: int) -> Real:
    """Add up border sums by group; borders inside a group vanish."""
    pooled = np.zeros((4, groups + 1, groups + 1), np.float32)
    for layer in range(4):
        a, b = np.nonzero(sums[layer])
        np.add.at(pooled[layer], (group[a], group[b]), sums[layer, a, b])
        np.fill_diagonal(pooled[layer], 0)
    return pooled


def _interpolate(labels: Int, folds: NDArray[np.bool_], front: Real, fold_strength: Real,
                 ends: Real, closed: Real, balls: bool = True) -> tuple[Real, Real]:
    """Solve for the tilt coarse to fine; each level starts from the one before."""
    height, width = labels.shape
    nx = ny = np.zeros((1, 1), np.float32)
    pulls = border_pull(labels, folds, front, fold_strength, _EDGE_LENGTH, ends, closed)
    body = ball_tilt(labels, pulls[3]) if balls else None
    for step, sweeps in _LEVELS:
        if step > 1 and min(height, width) < 12 * step:
            continue
        every = slice(step // 2, None, step)
        small = np.ascontiguousarray(labels[every, every])
        fold = np.ascontiguousarray(folds[every, every]) if step < 4 \
            else np.zeros(small.shape, bool)
        bx, by, weight, _ = pulls if step == 1 else \
            border_pull(small, fold, front, fold_strength, _EDGE_LENGTH, ends, closed)
        if body is not None:
            tx, ty, radius = (field[every, every] for field in body)
            strength = _BALLS * step**2 / np.maximum(radius, 1)**2
            pull: Real = np.where(radius > 0, strength, 0).astype(np.float32)
            bx, by, weight = (a + b for a, b in
                              ((bx, pull * tx), (by, pull * ty), (weight, pull)))
        size = (small.shape[1], small.shape[0])
        nx = cv2.resize(nx, size, interpolation=cv2.INTER_LINEAR)
        ny = cv2.resize(ny, size, interpolation=cv2.INTER_LINEAR)
        relax(small, fold, bx, by, weight, nx, ny, sweeps, _OMEGA)
        relax(small, fold, bx, by, weight, nx, ny, 2, 1.0)
    return nx, ny
