"""What speaks for an area of one drawing being an area of another."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.carry.side import FIT, FRAME, UPRIGHT, Side

Doubles = NDArray[np.float64]
Floats = NDArray[np.float32]

_UNIT = FIT * FRAME  # px of the square: root of the figure's area


def overlap(one: Side, other: Side, field: Floats) -> Doubles:
    """px of the square that come, by a field, from each row of the first: shape (n, m) with a
    row for each row of the second."""
    x, y = (np.clip(np.rint(field[..., k]), 0, FRAME - 1).astype(int) for k in (0, 1))
    n, m = len(other), len(one)
    counts = np.bincount((other.rows.astype(np.int64) * m + one.rows[y, x]).ravel(),
                         minlength=n * m)
    return counts.reshape(n, m).astype(np.float64)


def placed(other: Side, field: Floats) -> Doubles:
    """Where the centre of each row of the second comes from."""
    n, rows = len(other), other.rows.ravel()
    count = np.bincount(rows, minlength=n)
    mean = np.column_stack([np.bincount(rows, field[..., k].ravel(), n) for k in (0, 1)]) \
        / np.maximum(count, 1)[:, None]
    x, y = np.clip(np.rint(other.centre), 0, FRAME - 1).astype(int).T
    found: Doubles = np.where(count[:, None] > 0, mean, field[y, x])
    return found


def by_place(one: Side, other: Side, field: Floats) -> list[Doubles]:
    """Overlap and distance of all pairs under a field."""
    both = overlap(one, other, field)
    mine = np.maximum(both.sum(axis=1, keepdims=True), 1)
    its = np.maximum(np.bincount(one.rows.ravel(), minlength=len(one)), 1)[None]
    away = np.linalg.norm(placed(other, field)[:, None] - one.centre[None], axis=-1) / _UNIT
    small = np.sqrt(np.maximum(one.share[None], other.share[:, None])) + 0.05
    share = both / mine
    return [share, both / its, both / (its + mine - both + 1e-6), away, away / small,
            share - np.partition(share, -2, axis=1)[:, -1:],
            away - away.min(axis=1, keepdims=True), away - away.min(axis=0, keepdims=True)]


def by_shape(one: Side, other: Side) -> list[Doubles]:
    """Differences of shape, and likeness of the little pictures at the best turn."""
    apart = other.shape[:, None] - one.shape[None]
    own = np.einsum("btp,ap->bta", other.own, one.own[:, UPRIGHT])
    around = np.einsum("btp,ap->bta", other.around, one.around[:, UPRIGHT])
    best = (own + around).max(axis=1)
    everywhere = np.ones((len(other), len(one)))
    return [*np.moveaxis(apart, -1, 0), np.abs(apart).sum(axis=-1), own[:, UPRIGHT],
            own.max(axis=1), around[:, UPRIGHT], around.max(axis=1), best,
            best - best.max(axis=1, keepdims=True), best - best.max(axis=0, keepdims=True),
            everywhere * other.shape[:, :1], everywhere * one.shape[None, :, 0],
            everywhere * one.shape[None, :, 5], everywhere * one.ground[None],
            everywhere * other.ground[:, None]]


def rows_of(measured: list[Doubles]) -> Doubles:
    """Figures of all pairs but those of the outside, shape (pairs, figures)."""
    return np.stack(measured, axis=-1)[1:, 1:].reshape(-1, len(measured))


def by_neighbours(one: Side, other: Side, chance: Doubles) -> list[Doubles]:
    """What the likely matches of the other areas say of a pair.

    Parameters
    ----------
    chance : ndarray of float64, shape (rows of the second - 1, rows of the first - 1)
        What is missing to 1 is the chance that an area has no match.
    """
    q = np.pad(chance, ((1, 0), (1, 0)))
    q[0, 0] = 1
    touch = np.minimum(1, 8 * one.touch)
    np.fill_diagonal(touch, 0.7)
    support = other.touch @ q @ touch.T
    back = np.minimum(1, np.minimum(1, 8 * other.touch) @ q) @ one.touch.T
    expected = _expected(one, other, q)
    away = np.linalg.norm(expected[:, None] - one.centre[None], axis=-1) / _UNIT
    used = (q * other.share[:, None]).sum(axis=0, keepdims=True) - q * other.share[:, None]
    room = one.share[None] + 1e-4
    return [q, q - q.max(axis=1, keepdims=True), q - q.max(axis=0, keepdims=True), support, back,
            support - support[:, 1:].max(axis=1, keepdims=True),
            back - back[:, 1:].max(axis=1, keepdims=True), away,
            away - away[:, 1:].min(axis=1, keepdims=True),
            np.minimum(4, (used + other.share[:, None]) / room), np.minimum(4, used / room),
            np.broadcast_to(q.sum(axis=1, keepdims=True), q.shape)]


def _expected(one: Side, other: Side, q: Doubles) -> Doubles:
    """Where each area should come from, by a similarity through the matches around it."""
    to, total = q[:, 1:] @ one.centre[1:], q[:, 1:].sum(axis=1)
    to = np.where(total[:, None] > 1e-3, to / np.maximum(total, 1e-3)[:, None], other.centre)
    apart = np.linalg.norm(other.centre[:, None] - other.centre[None], axis=-1) / _UNIT
    near = np.exp(-(apart / 0.35)**2) * (total * np.sqrt(other.share)
                                         * np.clip(q[:, 1:].max(axis=1), 0, 1)**2)[None]
    np.fill_diagonal(near, 0)
    near[:, 0] = 0
    sums = near.sum(axis=1) + 1e-6
    here, there = (near @ c / sums[:, None] for c in (other.centre, to))
    z, w = (_complex(c)[None] - _complex(m)[:, None] for c, m in ((other.centre, here),
                                                                  (to, there)))
    stiff = sums * (0.12 * _UNIT)**2
    turn = ((near * np.conj(z) * w).sum(axis=1) + stiff) \
        / ((near * np.abs(z)**2).sum(axis=1) + stiff)
    found = _complex(there) + turn * (_complex(other.centre) - _complex(here))
    return np.column_stack([found.real, found.imag])


def _complex(points: Doubles) -> NDArray[np.complex128]:
    found: NDArray[np.complex128] = points[:, 0] + 1j * points[:, 1]
    return found
