"""Flats of a coloured picture by what they are of it: ground, bases of parts, their shades."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000, srgb_to_lab, srgb_to_oklch
from wardrobe.core.flats.separate import Separated

Byte = NDArray[np.uint8]
Int = NDArray[np.int64]
Real = NDArray[np.float64]
Tone = Literal["base", "shade", "light"]
TONES: tuple[Tone, ...] = ("base", "shade", "light")

_SAME = 2.5  # CIEDE2000: flats so alike are of one part
_PAPER = 95.0  # L* from which a ground may be bare paper, which figures have, too
_BARE = 0.2  # of a flat's border that has no line: from there on it can be another's shade
_TURN, _GREY = 40.0, 0.03  # degrees of OKLCH hue, and the chroma below which none is seen
_LARGER = 2.0  # times: of flats nearer in size the lighter one is the base
_STEP = (0.015, 0.32)  # of Oklab lightness between a base and its shade
_CHROMA = 0.13  # by which theirs may differ
_LEAST_GROUND = 0.2  # of the picture's border


@dataclass(frozen=True)
class Grouped:
    """What each flat is.

    Attributes
    ----------
    part : ndarray of int64, shape (regions + 1,)
        Number of the part, from 1 by its size; 0 for the ground.
    tone : ndarray of int64, same shape
        Which of TONES it is of that part.
    colours : ndarray of uint8, shape (parts + 1, tones, 3)
        What each part is in each tone; row 0 is the ground's.
    has : ndarray of bool, shape (parts + 1, tones)
        Whether it has that tone at all.
    """

    part: Int
    tone: Int
    colours: Byte
    has: NDArray[np.bool_]


def group_flats(found: Separated, most_parts: int) -> Grouped:
    """Tell which flats are the ground, which are bases, and which are shades of these.

    Flats of one colour are of one part. A flat is another's shade or light if they meet without
    a line and differ as a colour does from its shade: in lightness, hardly in hue.

    Parameters
    ----------
    found : Separated
    most_parts : int
        Beyond so many, flats go to the part that is nearest in colour.
    """
    count = len(found.colours)
    sizes = np.bincount(found.regions[found.ink < 128], minlength=count)
    lab, lch = (f(found.colours / 255) for f in (srgb_to_lab, srgb_to_oklch))
    ground = _ground(found, lab, sizes)
    meetings = _meetings(found)
    host = _hosts(meetings, lch, sizes, ground)
    bases = np.flatnonzero((host == np.arange(count)) & ~ground & (sizes > 0))
    bases = bases[np.argsort(-sizes[bases], kind="stable")]
    of_base = _by_colour(lab[bases], most_parts)
    part, tone = np.zeros(count, np.int64), np.zeros(count, np.int64)
    part[bases] = of_base + 1
    shaded = np.flatnonzero((host != np.arange(count)) & ~ground)
    part[shaded] = part[host[shaded]]
    tone[shaded] = np.where(lch[shaded, 0] < lch[host[shaded], 0], 1, 2)
    part, tone = _whole_in_shade(part, tone, lab, sizes, meetings[:2])
    tone = _against_bases(part, tone, lab, sizes)
    # By size, without gaps.
    weight = np.bincount(part, sizes, minlength=int(part.max()) + 1)
    weight[0] = np.inf
    order = np.argsort(-weight, kind="stable")
    order = order[weight[order] > 0]
    number = np.zeros(len(weight), np.int64)
    number[order] = np.arange(len(order))
    part = number[part]
    colours, has = _tones(part, tone, found.colours, sizes)
    return Grouped(part, tone, colours, has)


def _ground(found: Separated, lab: Real, sizes: Int) -> NDArray[np.bool_]:
    """Flats behind the figure: what most of the picture's edge is, and what is like it."""
    edge = np.concatenate([found.regions[[0, -1]].ravel(), found.regions[:, [0, -1]].ravel()])
    ink = np.concatenate([found.ink[[0, -1]].ravel(), found.ink[:, [0, -1]].ravel()])
    lengths = np.bincount(edge[ink < 128], minlength=len(sizes))
    if not lengths.any():
        return np.zeros(len(sizes), bool)
    most = int(np.argmax(lengths))
    alike = delta_e_2000(lab, lab[most]) < _SAME
    if lengths[alike].sum() < _LEAST_GROUND * len(edge):
        return np.zeros(len(sizes), bool)
    # White that is enclosed may be an eye or a shirt; a colour is seen through.
    ground: NDArray[np.bool_] = alike & ((lengths > 0) if lab[most, 0] > _PAPER else True)
    ground[0] = True
    return ground


def _meetings(found: Separated) -> tuple[Int, Int, Int, Int]:
    """Pairs of flats that meet, how long their border is, and how much of it has no line."""
    pairs, bare = [], []
    count = len(found.colours)
    for one, other, a, b in (
            (found.regions[:, 1:], found.regions[:, :-1], found.ink[:, 1:], found.ink[:, :-1]),
            (found.regions[1:], found.regions[:-1], found.ink[1:], found.ink[:-1])):
        meet = one != other
        low, high = np.minimum(one, other)[meet], np.maximum(one, other)[meet]
        pairs.append(low.astype(np.int64) * count + high)
        bare.append(np.maximum(a, b)[meet] < 128)
    codes, back = np.unique(np.concatenate(pairs), return_inverse=True)
    free = np.bincount(back, np.concatenate(bare), minlength=len(codes)).astype(np.int64)
    return codes // count, codes % count, np.bincount(back, minlength=len(codes)), free


def _hosts(meetings: tuple[Int, Int, Int, Int], lch: Real, sizes: Int,
           ground: NDArray[np.bool_]) -> Int:
    """The flat that each is a shade or light of; itself if it is none."""
    one, other, length, free = meetings
    around = np.bincount(one, length, minlength=len(sizes)) \
        + np.bincount(other, length, minlength=len(sizes))
    first = sizes[one] <= sizes[other]
    small, large = np.where(first, one, other), np.where(first, other, one)
    mine = np.where((sizes[large] > _LARGER * sizes[small]) | (lch[large, 0] >= lch[small, 0]),
                    small, large)
    its = np.where(mine == small, large, small)
    share = free / np.maximum(1, np.minimum(around[small], around[large]))
    fits = (share >= _BARE) & ~ground[mine] & ~ground[its] & _are_tones_of(lch[mine], lch[its])
    host = np.arange(len(sizes))
    by_share = np.flatnonzero(fits)[np.argsort(share[fits], kind="stable")]
    host[mine[by_share]] = its[by_share]  # the longest border comes last, and counts
    return np.array([_root(host, k) for k in range(len(host))])


def _root(host: Int, k: int) -> int:
    """The base that a shade of a shade is of."""
    way = [k]
    while (up := int(host[way[-1]])) not in way:
        way.append(up)
    return way[-1]


def _are_tones_of(ones: Real, bases: Real) -> NDArray[np.bool_]:
    """Whether colours (OKLCH, shape (n, 3)) differ from bases as shades and lights do."""
    step = np.abs(ones[:, 0] - bases[:, 0])
    turn = np.abs((ones[:, 2] - bases[:, 2] + 180) % 360 - 180)
    found: NDArray[np.bool_] = (step >= _STEP[0]) & (step <= _STEP[1]) \
        & (np.abs(ones[:, 1] - bases[:, 1]) <= _CHROMA) \
        & ((turn <= _TURN) | (np.minimum(ones[:, 1], bases[:, 1]) < _GREY))
    return found


def _by_colour(lab: Real, most: int) -> Int:
    """Groups of colours that are alike, the first ones first."""
    group = np.zeros(len(lab), np.int64)
    kept: list[int] = []
    for k, colour in enumerate(lab):
        if len(kept) == most:  # none begins a group any more
            group[k:] = delta_e_2000(lab[k:, None], lab[kept]).argmin(axis=1)
            break
        away = delta_e_2000(lab[kept], colour) if kept else np.array([np.inf])
        nearest = int(np.argmin(away))
        if away[nearest] >= _SAME:
            nearest = len(kept)
            kept.append(k)
        group[k] = nearest
    return group


def _whole_in_shade(part: Int, tone: Int, lab: Real, sizes: Int,
                    meetings: tuple[Int, Int]) -> tuple[Int, Int]:
    """A part whose colour is its neighbour's shade is that shade, where a line bounds it."""
    part, tone = part.copy(), tone.copy()
    one, other = meetings
    weight = np.bincount(part, sizes)
    for mine in np.argsort(weight, kind="stable").tolist():
        members = np.flatnonzero((part == mine) & (sizes > 0))
        if mine == 0 or not len(members) or not (tone[members] == 0).any():
            continue
        base = members[tone[members] == 0]
        largest = base[np.argmax(sizes[base])]
        beside = np.unique(np.concatenate([part[other[part[one] == mine]],
                                           part[one[part[other] == mine]]]))
        others = np.flatnonzero((tone == 1) & (part != mine) & np.isin(part, beside)
                                & (weight[part] > weight[mine]))
        if len(others):
            away = delta_e_2000(lab[others], lab[largest])
            if away.min() < _SAME:
                part[part == mine], tone[members] = part[others[int(np.argmin(away))]], 1
    return part, tone


def _against_bases(part: Int, tone: Int, lab: Real, sizes: Int) -> Int:
    """Shades and lights against the base of the part that they came to."""
    tone = tone.copy()
    for mine in np.unique(part[part > 0]).tolist():
        members = np.flatnonzero((part == mine) & (sizes > 0))
        bases = members[tone[members] == 0]
        if not len(bases):
            continue
        base = lab[bases[np.argmax(sizes[bases])]]
        others = members[tone[members] > 0]
        tone[others] = np.where(delta_e_2000(lab[others], base) < _SAME, 0,
                                np.where(lab[others, 0] < base[0], 1, 2))
    return tone


def _tones(part: Int, tone: Int, colours: Byte, sizes: Int,
           ) -> tuple[Byte, NDArray[np.bool_]]:
    """The colour of each part in each tone: that of its largest flat."""
    parts = int(part.max()) + 1
    out, has = np.zeros((parts, len(TONES), 3), np.uint8), np.zeros((parts, len(TONES)), bool)
    for k in np.argsort(sizes, kind="stable"):  # the largest last
        if sizes[k]:
            out[part[k], tone[k]], has[part[k], tone[k]] = colours[k], True
    return out, has
