"""Work out other colours for a figure that read as its own do."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.oklab import srgb_to_oklab
from wardrobe.core.looks.compare import look_distances
from wardrobe.core.looks.schemes import SCHEMES
from wardrobe.core.looks.tone import toned

Float = NDArray[np.float64]
Int = NDArray[np.int64]

VALUE_SLACK = 0.6  # L* by which rounding may move a value
KEPT_SHARE, ENOUGH = 0.8, 25.0  # of a contrast (CIEDE2000) that stays; more than enough need not
_TOGETHER = 6.0  # CIEDE2000 below which parts have one colour, and change together
_GREY = 0.025  # OKLCH chroma below which a part is grey, and stays nearly so
_CHROMAS = (0.9, 0.65, 1.15)
_NEW = 18.0  # CIEDE2000 that a large part should move
_SWEEPS = 4


@dataclass(frozen=True, eq=False)
class Palette:
    """A figure's colours, and what must go on reading.

    Attributes
    ----------
    bases : ndarray of float64, shape (parts, 3), range 0..1
    areas : ndarray of float64, shape (parts,)
    pairs : ndarray of int64, shape (n, 2)
        Parts that touch.
    locked : ndarray of bool, shape (parts,)
    """

    bases: Float
    areas: Float
    pairs: Int
    locked: NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class Variation:
    """Other colours.

    Attributes
    ----------
    bases : ndarray of float64, shape (parts, 3), range 0..1
        Whole bytes.
    value_shift : float
        Largest change of L*.
    contrasts, kept : int
        Neighbours, and how many of them have as much contrast as before, or enough.
    weakest : float
        Smallest share of a contrast that is left, of what is enough.
    """

    bases: Float
    value_shift: float
    contrasts: int
    kept: int
    weakest: float


def vary(palette: Palette, scheme: str, count: int, seed: int = 0,
         lead: float | None = None) -> list[Variation]:
    """Proposals by a scheme of hues.

    Parameters
    ----------
    palette : Palette
    scheme : str
        A key of SCHEMES.
    count : int
    seed : int
        Other numbers give others.
    lead : float, optional
        Leading hue, degrees, that all should be near; without it they are spread.

    Returns
    -------
    list of Variation
        Every value is kept to VALUE_SLACK, every contrast of neighbours to KEPT_SHARE (as far as
        it is not more than ENOUGH); locked parts are as they were. The most different first.
    """
    rng = np.random.default_rng(seed)
    hues, chromas = _hues(palette.bases)
    more = 2 * count if count > 1 else 1
    leads = np.arange(more) * 360 / more + rng.uniform(0, 360 / more) if lead is None \
        else lead + rng.uniform(-22, 22, more)
    entry = SCHEMES[scheme]
    found = []
    for leading in leads:
        if entry.moves is not None:
            turned = entry.moves(hues, float(leading))
            options = np.stack([turned + d for d in (0, 12, -12)], axis=1)
        else:
            options = np.tile(leading + np.array(entry.angles), (len(hues), 1))
        found.append(_solved(palette, options, chromas, rng))
    return _most_different(palette, found, count)


def vary_by_palette(palette: Palette, colours: Float, count: int,
                    seed: int = 0) -> list[Variation]:
    """Proposals whose hues and chromas come from given colours.

    Parameters
    ----------
    palette : Palette
    colours : ndarray of float64, shape (n, 3), range 0..1
        From a picture, a card, or any list.
    count, seed
        As for :func:`vary`.
    """
    rng = np.random.default_rng(seed)
    hues, chromas = _hues(colours)
    found = []
    for _ in range(2 * count if count > 1 else 1):
        order = rng.permutation(len(hues))
        options = np.tile(hues[order], (len(palette.bases), 1))
        own = np.tile(chromas[order], (len(palette.bases), 1))
        found.append(_solved(palette, options, own, rng))
    return _most_different(palette, found, count)


def limited(colours: Float, areas: Float, count: int) -> Float:
    """The few colours that stand best for many.

    Parameters
    ----------
    colours : ndarray of float64, shape (n, 3), range 0..1
    areas : ndarray of float64, shape (n,)
    count : int

    Returns
    -------
    ndarray of float64, shape (at most count, 3)

    References
    ----------
    S. Lloyd, "Least squares quantization in PCM", 1982, on Oklab a and b, weighted by area; the
    first centres are the colours farthest apart.
    """
    lab = srgb_to_oklab(colours)[:, 1:]
    chosen = [int(np.argmax(areas * np.hypot(*lab.T)))]
    while len(chosen) < min(count, len(colours)):
        away = np.min(np.hypot(*(lab[:, None] - lab[chosen]).transpose(2, 0, 1)), axis=1)
        chosen.append(int(np.argmax(away * np.sqrt(areas))))
    centres = lab[chosen]
    for _ in range(12):
        owner = np.argmin(np.hypot(*(lab[:, None] - centres).transpose(2, 0, 1)), axis=1)
        centres = np.array([np.average(lab[owner == k], axis=0, weights=areas[owner == k] + 1e-9)
                            if (owner == k).any() else centres[k] for k in range(len(centres))])
    nearest = [int(np.argmin(np.hypot(*(lab - c).T))) for c in centres]
    return colours[list(dict.fromkeys(nearest))]


def measured(palette: Palette, bases: Float) -> Variation:
    """What some colours keep of a palette."""
    before, after = srgb_to_lab(palette.bases), srgb_to_lab(bases)
    shift = float(np.abs(after[:, 0] - before[:, 0]).max(initial=0))
    a, b = palette.pairs.T if len(palette.pairs) else (np.zeros(0, int), np.zeros(0, int))
    enough = np.minimum(delta_e_2000(before[a], before[b]), ENOUGH)
    share = delta_e_2000(after[a], after[b]) / np.maximum(enough, 1e-9)
    share = np.where(enough < 1, 1.0, share)
    return Variation(bases, shift, len(share), int((share >= 1 - 1e-9).sum()),
                     float(share.min(initial=1.0)))


def _hues(colours: Float) -> tuple[Float, Float]:
    """OKLCH hues and chromas."""
    lab = srgb_to_oklab(colours)
    return np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) % 360, np.hypot(lab[:, 1], lab[:, 2])


def _clusters(palette: Palette) -> Int:
    """Number of the group that each part changes with."""
    lab = srgb_to_lab(palette.bases)
    steps = delta_e_2000(lab[:, None], lab[None, :])
    groups = np.arange(len(lab))
    for k in range(len(lab)):
        alike = [j for j in range(k) if steps[k, j] < _TOGETHER
                 and palette.locked[j] == palette.locked[k]]
        if alike:
            groups[k] = groups[alike[0]]
    return groups


def _solved(palette: Palette, hues: Float, chromas: Float, rng: np.random.Generator) -> Variation:
    """Choose among hues (parts, options) so that neighbours stay apart."""
    count = len(palette.bases)
    lab = srgb_to_lab(palette.bases)
    _, own = _hues(palette.bases)
    wanted = np.broadcast_to(chromas if chromas.ndim == 2 else chromas[:, None], hues.shape)
    grey = own < _GREY
    wanted = np.where(grey[:, None], np.minimum(wanted, own[:, None]), wanted)
    options = np.concatenate([hues] * len(_CHROMAS), axis=1)
    strengths = np.concatenate([wanted * k for k in _CHROMAS], axis=1)
    colours = toned(lab[:, :1], strengths, options)
    colours[palette.locked] = palette.bases[palette.locked, None]
    labs = srgb_to_lab(colours)
    share = palette.areas / max(1e-9, float(palette.areas.sum()))
    step = delta_e_2000(labs, lab[:, None])
    rank = np.tile(np.arange(hues.shape[1]), len(_CHROMAS))
    groups = _clusters(palette)
    cost = share[:, None] * np.maximum(0, _NEW - step) / _NEW
    cost = cost + 0.5 * share[:, None] * rank / max(1, hues.shape[1] - 1)  # accents on small parts
    cost = cost + 0.02 * np.abs(strengths - wanted[:, :1])
    total = np.zeros_like(cost)
    np.add.at(total, groups, cost)
    total += rng.uniform(0, 0.06, total.shape)
    chosen = total.argmin(axis=1)[groups]
    bounds = _bounds(palette, lab)
    for _ in range(_SWEEPS):
        before = chosen.copy()
        for group in np.unique(groups):
            if palette.locked[group]:
                continue
            chosen[groups == group] = _best(group, groups, palette.pairs, bounds, labs, chosen,
                                            total[group])
        if (before == chosen).all():
            break
    bases = colours[np.arange(count), chosen]
    return measured(palette, _made_safe(palette, bases, bounds))


def _bounds(palette: Palette, lab: Float) -> Float:
    """Contrast that every two neighbours must have."""
    if not len(palette.pairs):
        return np.zeros(0)
    a, b = palette.pairs.T
    found: Float = KEPT_SHARE * np.minimum(delta_e_2000(lab[a], lab[b]), ENOUGH)
    return found


def _best(group: int, groups: Int, pairs: Int, bounds: Float, labs: Float, chosen: Int,
          cost: Float) -> int:
    """The option of a group that is best while all others stay."""
    cost = cost.copy()
    for (a, b), bound in zip(pairs.tolist(), bounds.tolist(), strict=True):
        if groups[a] != group and groups[b] != group:
            continue
        one = labs[a] if groups[a] == group else labs[a, chosen[a]][None]
        other = labs[b] if groups[b] == group else labs[b, chosen[b]][None]
        cost += 4 * np.maximum(0, 1.1 * bound - delta_e_2000(one, other)) / max(bound, 1.0)
    return int(np.argmin(cost))


def _made_safe(palette: Palette, bases: Float, bounds: Float) -> Float:
    """Give parts back their own colour until every contrast is kept: in the end all have it."""
    if not len(palette.pairs):
        return bases
    bases = bases.copy()
    a, b = palette.pairs.T
    own = (bases == palette.bases).all(axis=1)
    while True:
        lab = srgb_to_lab(bases)
        broken = np.flatnonzero(delta_e_2000(lab[a], lab[b]) < bounds - 1e-6)
        movable = [k for k in broken if not (own[a[k]] and own[b[k]])]
        if not movable:
            return bases
        k = movable[0]
        ends = [p for p in (int(a[k]), int(b[k])) if not own[p]]
        back = min(ends, key=lambda p: palette.areas[p])
        bases[back], own[back] = palette.bases[back], True


def _most_different(palette: Palette, found: Sequence[Variation], count: int) -> list[Variation]:
    """The ones farthest from the palette and from each other."""
    looks = np.array([palette.bases, *(v.bases for v in found)])
    away = look_distances(looks, palette.areas)
    chosen: list[int] = []
    while len(chosen) < min(count, len(found)):
        near = away[1:][:, [0, *(k + 1 for k in chosen)]].min(axis=1)
        near[chosen] = -1
        chosen.append(int(np.argmax(near)))
    return [found[k] for k in chosen]
