"""The part of each area of a drawing, by those of another drawing of the same character."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

from wardrobe.core.areas.segment import Areas
from wardrobe.core.carry.align import Alignment, align
from wardrobe.core.carry.flow import bend, moved
from wardrobe.core.carry.pairs import (
    by_neighbours,
    by_place,
    by_shape,
    overlap,
    placed,
    rows_of,
)
from wardrobe.core.carry.side import FIT, FRAME, Side, describe
from wardrobe.core.trees import Trees, load_trees

Doubles = NDArray[np.float64]
Floats = NDArray[np.float32]
Int = NDArray[np.int64]
Mask = NDArray[np.bool_]
Byte = NDArray[np.uint8]

SURE = 0.95  # chance from which a match is not asked about
ROUNDS = 3  # of matching areas, each with what the one before found
_MODEL = Path(__file__).with_name("carry.npz")
_CODES = 6  # channels that carry what is matched to what into the next bending
_PLAIN = np.array([1.2, 0.8, 0.4], np.float32)
_CODED = np.array([1.0, 0.5, 0.3] + [0.7] * _CODES, np.float32)
_LOST = 0.06  # of the figure, from which it is not sure that the outside is that
_TRIED = 6  # parts of an area that are weighed against each other
_MIRRORED = 0.03  # agreement by which the mirrored pose must be better


class Drawing(NamedTuple):
    """A cut drawing: ``ground`` tells of each of its areas whether it is taken for ground."""

    areas: Areas
    ground: Mask
    ink: Byte


@dataclass(frozen=True)
class Carried:
    """What the areas of a drawing are.

    Attributes
    ----------
    part : ndarray of int64, shape (areas + 1,)
        0 for ground, and for what none of the parts is.
    chance : ndarray of float64, same shape, 0..1
        That it is right.
    second : ndarray of int64, same shape
        The part that is likeliest after it.
    field : ndarray of float32, shape (FRAME, FRAME, 2)
        Where each place of the second square comes from in the first.
    origin : ndarray of uint16, shape (FRAME, FRAME)
        The part that each place of the second square comes from, 0 for what is no figure.
    one_to_square, other_to_square : ndarray of float64, shape (2, 3)
        From px of the pictures to the squares.
    agreement : float, up to 1
        How well the figures lie on each other as wholes.
    """

    part: Int
    chance: Doubles
    second: Int
    field: Floats
    origin: NDArray[np.uint16]
    one_to_square: Doubles
    other_to_square: Doubles
    agreement: float

    @property
    def nbytes(self) -> int:
        """Bytes that it takes."""
        return int(self.field.nbytes + 3 * self.part.nbytes)

    def travel(self, points: Doubles) -> tuple[Doubles, Doubles]:
        """Where places of the first drawing come to lie in the second.

        Parameters
        ----------
        points : ndarray of float64, shape (n, 2)
            px of the first picture.

        Returns
        -------
        points : ndarray of float64, shape (n, 2)
            px of the second.
        off : ndarray of float64, shape (n,)
            By how much they miss, shares of the figure's size; large for what is hidden.
        """
        at = points @ self.one_to_square[:, :2].T + self.one_to_square[:, 2]
        away, nearest = KDTree(self.field.reshape(-1, 2)).query(at, k=4)
        weights = 1 / (away + 0.25)
        y, x = np.divmod(nearest, FRAME)
        weights /= weights.sum(axis=1, keepdims=True)
        there = np.stack([(weights * x).sum(axis=1), (weights * y).sum(axis=1)], axis=1)
        back = np.linalg.inv(np.vstack([self.other_to_square, [0, 0, 1]]))
        return there @ back[:2, :2].T + back[:2, 2], away[:, 0] / (FIT * FRAME)


@dataclass(frozen=True)
class Matched:
    """Areas matched round by round: figures of the last round's pairs, and its chances."""

    one: Side
    other: Side
    alignment: Alignment
    fields: tuple[Floats, ...]
    chances: tuple[Doubles, ...]
    asked: tuple[Doubles, ...]


@cache
def _trees() -> list[Trees]:
    return load_trees(_MODEL)


def carry(one: Drawing, parts: Int, other: Drawing) -> Carried:
    """Carry the parts of a drawing to the areas of another.

    Parameters
    ----------
    one, other : Drawing
    parts : ndarray of int64, shape (areas of the first + 1,)
        Part of each area of the first, from 1; 0 for ground and for what has none.

    Returns
    -------
    Carried
        Whatever is there: for drawings of different characters the chances are small.

    References
    ----------
    Areas are matched by boosted trees (Friedman, "Greedy function approximation", 2001) over
    figures of shape, place and neighbours, in three rounds between which the drawings are bent
    onto each other by what was matched (Thirion, "Image matching as a diffusion process", 1998).
    """
    trees = _trees()
    there = describe(*other)
    sides = [describe(*one), describe(*one, mirrored=True)]
    aligned = [align(side, there) for side in sides]
    k = int(aligned[1].agreement > aligned[0].agreement + _MIRRORED)
    found = match(sides[k], there, aligned[k], trees[:ROUNDS])
    return judge(found, parts, trees[ROUNDS], other.areas.count)


def match(one: Side, other: Side, alignment: Alignment, trees: Sequence[Trees]) -> Matched:
    """Match areas in as many rounds as there are trees, and ask for one more."""
    first = moved(alignment.matrix)
    bent = bend(one.felt, other.felt, first, _PLAIN)
    plain = [*by_place(one, other, first), *by_place(one, other, bent), *by_shape(one, other)]
    fields, chances = [first, bent], []
    asked = [rows_of(plain)]
    for k, tree in enumerate(trees):
        score = tree.chance(asked[-1]).reshape(len(other) - 1, len(one) - 1)
        chances.append(score / np.maximum(1, score.sum(axis=1, keepdims=True)))
        if k < ROUNDS - 1:
            codes = _codes(one, other, chances[-1])
            fields.append(bend(np.concatenate([one.felt, codes[0]], -1),
                               np.concatenate([other.felt, codes[1]], -1), bent, _CODED))
            asked.append(rows_of([*plain, *by_place(one, other, fields[-1]),
                                  *by_neighbours(one, other, chances[-1])]))
    return Matched(one, other, alignment, tuple(fields), tuple(chances), tuple(asked))


def _codes(one: Side, other: Side, chance: Doubles) -> tuple[Floats, Floats]:
    """Channels in which areas that match look alike."""
    code = np.random.default_rng(len(one)).normal(size=(len(one), _CODES)).astype(np.float32)
    code /= np.linalg.norm(code, axis=1, keepdims=True)
    code[0] = 0
    meant = np.pad(chance, ((1, 0), (1, 0))).astype(np.float32) @ code
    return code[one.rows], meant[other.rows]


def judge(found: Matched, parts: Int, tree: Trees, areas: int) -> Carried:
    """Weigh the likeliest parts of each area against each other."""
    one, other = found.one, found.other
    part_of_row = np.concatenate([[0], parts[one.area[1:]]])
    tried, figures = weighed(found, part_of_row)
    score = tree.chance(figures).reshape(tried.shape)
    order = np.argsort(-score, axis=1, kind="stable")
    n = np.arange(len(tried))
    part, chance = np.zeros(areas + 1, np.int64), np.zeros(areas + 1)
    second = np.zeros(areas + 1, np.int64)
    numbers = other.area[1:]
    part[numbers], second[numbers] = (tried[n, order[:, k]] for k in (0, 1))
    chance[numbers] = score[n, order[:, 0]] / np.maximum(1, score.sum(axis=1))
    x, y = (np.clip(np.rint(found.fields[-1][..., k]), 0, FRAME - 1).astype(int) for k in (0, 1))
    origin = part_of_row[one.rows[y, x]].astype(np.uint16)
    rest = np.setdiff1d(np.arange(1, areas + 1), numbers)  # the outside, and crumbs
    lost = ((origin > 0) & (other.rows == 0) & other.seen).sum() / max(1, (origin > 0).sum())
    chance[rest] = 1.0 if lost < _LOST else 0.5
    return Carried(part, chance, second, found.fields[-1], origin, one.to_square, other.to_square,
                   found.alignment.agreement)


def by_part(rows: Doubles, part_of_row: Int) -> Doubles:
    """Sums over the rows of each part, shape (n, parts + 1)."""
    out = np.zeros((len(rows), int(part_of_row.max(initial=0)) + 1))
    np.add.at(out.T, part_of_row, rows.T)
    return out


def weighed(found: Matched, part_of_row: Int) -> tuple[Int, Doubles]:
    """The parts that each area might be, and what speaks for each.

    Returns
    -------
    tried : ndarray of int64, shape (n, k)
        The likeliest parts of each row but the first.
    figures : ndarray of float64, shape (n * k, figures)
    """
    one, other = found.one, found.other
    by = [by_part(c, part_of_row[1:]) for c in found.chances]
    for chance, table in zip(found.chances, by, strict=True):
        table[:, 0] += np.maximum(0, 1 - chance.sum(axis=1))
    under = [by_part(overlap(one, other, f)[1:], part_of_row) for f in found.fields]
    under = [u / np.maximum(1, u.sum(axis=1, keepdims=True)) for u in under]
    last = by[-1]
    count = last.shape[1]
    k = min(_TRIED, count)
    tried = np.argsort(-(last + 0.2 * under[-1]), axis=1, kind="stable")[:, :k]
    if k < 2:
        tried = np.pad(tried, ((0, 0), (0, 2 - k)))
    n = np.arange(len(last))[:, None]
    ranked = np.sort(last, axis=1)[:, ::-1]
    best = ranked[:, :1]
    next_best = ranked[:, 1:2] if count > 1 else np.zeros_like(best)
    share = other.share[1:, None]
    sizes = np.bincount(part_of_row[1:], one.share[1:], count)
    got = (last * share).sum(axis=0)
    likely = np.pad(last, ((1, 0), (0, 0)))
    likely[0, 0] = 1
    around = (other.touch @ likely)[1:]
    touching = by_part(np.minimum(1, 8 * one.touch), part_of_row)  # rows of one to parts
    meets = np.zeros((count, count))
    np.add.at(meets, part_of_row, touching * one.share[:, None])
    meets /= np.maximum(1e-6, np.bincount(part_of_row, one.share, count))[:, None]
    fitting = around @ np.minimum(1, meets).T
    inside = (other.touch[1:, 1:] @ last)
    area_best = np.zeros_like(last)
    np.maximum.at(area_best.T, part_of_row[1:], found.chances[-1].T)
    away = _places(found, part_of_row)
    columns: list[Doubles] = [table[n, tried] for table in (
        *by, *under, around, fitting, inside, area_best, away)]
    rival = np.where(tried == last.argmax(axis=1)[:, None], next_best, best)
    wide = np.ones(tried.shape)
    columns += [last[n, tried] - rival, (tried == 0).astype(np.float64),
                np.log(share + 1e-4) * wide,
                np.clip(got[tried] / (sizes[tried] + 1e-3), 0.0, 3.0).astype(np.float64),
                sizes[tried].astype(np.float64), best * wide,
                other.shape[1:, 5:6] * wide, other.ground[1:, None].astype(np.float64) * wide,
                found.alignment.agreement * wide, float(count) * wide,
                float((share[:, 0] * best[:, 0]).sum() / max(1e-6, share.sum())) * wide,
                (found.chances[-1].max(axis=1, keepdims=True, initial=0)) * wide]
    return tried, np.stack(columns, axis=-1).reshape(-1, len(columns))


def _places(found: Matched, part_of_row: Int) -> Doubles:
    """Distance of each area, bent, to the nearest area of each part."""
    one, other = found.one, found.other
    at = placed(other, found.fields[-1])[1:]
    apart = np.linalg.norm(at[:, None] - one.centre[None, 1:], axis=-1) / (FIT * FRAME)
    out = np.full((len(at), int(part_of_row.max(initial=0)) + 1), 4.0)
    np.minimum.at(out.T, part_of_row[1:], apart.T)
    return out
