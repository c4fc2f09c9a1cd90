"""Pairs of drawings of one figure in two poses, with what every area of them is.

Figures come from the coloured drawings of `hands` and from the demo; the second drawing is the
first turned, scaled, bent, with limbs moved, mirrored, cut off by the frame, hidden in part by
another figure, drawn with gaps and in another line weight.
"""

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import reduce

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.emoji import pieces
from benchmarks.corpora.hands import hands
from wardrobe.core.areas.segment import Areas
from wardrobe.core.carry.carried import Drawing
from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.demo.install import install_demo
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import apply
from wardrobe.recipe.reports.figure import certain_figure
from wardrobe.recipe.stages import Deriver

SIZE = 900  # px of the square that a figure is drawn in
FILL = 0.62  # of it that the figure takes
SMALL, LARGE = 0.05, 0.20  # motion, in shares of the figure's diagonal
KINDS = ("plain", "mirrored", "cut off", "hidden", "open")
_LEAST = 40  # px below which a piece of an area is none

Labels = NDArray[np.int32]
Byte = NDArray[np.uint8]


@dataclass(frozen=True)
class Figure:
    """A figure: labels of its areas, 0 outside, and the part of each label, 0 for holes."""

    name: str
    labels: Labels
    part: NDArray[np.int64]


@dataclass(frozen=True)
class Pair:
    """Two drawings of a figure as they were cut, and what their areas truly are.

    ``one_id`` and ``other_id`` are labels of the figure by area (0 none); ``truth`` is the part
    of every pixel of the second, -1 where it does not count.
    """

    figure: str
    kind: str
    motion: float
    one: Drawing
    other: Drawing
    one_id: NDArray[np.int64]
    other_id: NDArray[np.int64]
    part: NDArray[np.int64]
    truth: NDArray[np.int16]

    @property
    def parts(self) -> NDArray[np.int64]:
        """Part of each area of the first."""
        return self.part[self.one_id]


def figures(half: int, limit: int) -> Iterator[Figure]:
    """Figures of one half: of few areas as they are, and cut up into many."""
    for source, share in (("emoji", 0.6), ("adventurer", 0.25), ("open-peeps", 0.15)):
        found = 0
        for drawing in hands(source, half, max(40, limit)):
            values = np.where(drawing.colours > 0, drawing.colours, 0).astype(np.int64)
            values[(values == 0) & drawing.figure] = -1
            away = cv2.distanceTransform((drawing.ink < 128).astype(np.uint8), cv2.DIST_L2, 5)
            values[away <= 2.5] = -1
            labels = pieces(values, -1)
            colour = np.zeros(int(labels.max()) + 1, np.int64)
            sure = values >= 0
            colour[labels[sure]] = values[sure]
            figure = _framed(f"{source} {drawing.name}", labels, colour)
            if figure is None:
                continue
            dice = dice_of(figure.name)
            yield _divided(figure, dice) if dice.random() < 0.4 else figure
            found += 1
            if found >= share * limit:
                break


def demo_figures() -> Iterator[Figure]:
    """The demo's figures, by their parts."""
    pictures: dict[str, Byte] = {}
    deriver = Deriver(pictures.__getitem__)
    found: list[tuple[str, Recipe]] = []

    def read(data: bytes) -> Recipe:
        rgba = decode_image(data, ImageLimits(), 1400)
        name = hashlib.sha256(rgba.tobytes()).hexdigest()
        pictures[name] = rgba
        return Recipe(source=Source(asset=name, width=rgba.shape[1], height=rgba.shape[0]))

    install_demo(read, lambda piece, recipe, edits: found.append(
        (piece.title, reduce(apply, edits, recipe))), deriver)
    for title, recipe in found:
        areas, assigned = deriver.areas(recipe), deriver.assignment(recipe)
        number = np.where(assigned.ground, 0, np.arange(areas.count + 1))
        figure = _framed(f"demo {title}", number[areas.labels].astype(np.int32),
                         assigned.part_of_area.astype(np.int64))
        if figure:
            yield figure


def dice_of(name: str) -> np.random.Generator:
    return np.random.default_rng(int(hashlib.sha256(name.encode()).hexdigest()[:12], 16))


def _framed(name: str, labels: Labels, part: NDArray[np.int64]) -> Figure | None:
    """A figure in the middle of its square; None if it is no figure."""
    edge = np.unique(np.concatenate([labels[0], labels[:, 0], labels[:, -1]]))
    outside = np.zeros(len(part), bool)
    outside[edge] = True
    outside &= part == 0
    number = np.zeros(len(part), np.int64)
    kept = np.flatnonzero(~outside[1:]) + 1
    number[kept] = 1 + np.arange(len(kept))
    labels, part = number[labels].astype(np.int32), np.concatenate([[0], part[kept]])
    if not 4 <= (part > 0).sum() <= 120 or (part > 0).sum() < 2:
        return None
    ys, xs = np.nonzero(labels)
    box = labels[ys.min():ys.max() + 1, xs.min():xs.max() + 1]
    scale = FILL * SIZE / max(box.shape)
    small = cv2.resize(box.astype(np.uint16), None, fx=scale, fy=scale,
                       interpolation=cv2.INTER_NEAREST).astype(np.int32)
    out = np.zeros((SIZE, SIZE), np.int32)
    top, left = (SIZE - small.shape[0]) // 2, (SIZE - small.shape[1]) // 2
    out[top:top + small.shape[0], left:left + small.shape[1]] = small
    _, part = np.unique(part, return_inverse=True)
    return Figure(name, out, part.astype(np.int64))


def _divided(figure: Figure, dice: np.random.Generator) -> Figure:
    """The figure with its areas cut up, as hair into strands and cloth along its folds; pieces
    are of the same part, or, as stripes and trimmings are, of another."""
    labels, part = figure.labels.copy(), figure.part.tolist()
    goal = int(dice.integers(30, 100))
    for _ in range(200):
        if len(part) >= goal:
            break
        sizes = np.bincount(labels.ravel(), minlength=len(part)).astype(np.float64)
        sizes[0] = 0
        sizes[np.array(part) == 0] = 0
        label = int(dice.choice(len(part), p=sizes / sizes.sum()))
        ys, xs = np.nonzero(labels == label)
        k = int(dice.integers(len(xs)))
        turn = dice.uniform(0, np.pi)
        u = (xs - xs[k]) * np.cos(turn) + (ys - ys[k]) * np.sin(turn)
        v = -(xs - xs[k]) * np.sin(turn) + (ys - ys[k]) * np.cos(turn)
        bow = dice.normal(0, 0.004)
        cut = np.zeros(labels.shape, np.uint8)
        cut[ys, xs] = 1 + (v > bow * u * u)
        new_part = part[label] if dice.random() < 0.75 else \
            int(dice.integers(1, max(part) + 2)) if max(part) < 30 else part[label]
        count, runs, stats, _ = cv2.connectedComponentsWithStats((cut == 2).astype(np.uint8),
                                                                 connectivity=4)
        if not 500 < (cut == 2).sum() < len(xs) - 500:
            continue
        for run in range(1, count):
            if stats[run, cv2.CC_STAT_AREA] > 400:
                labels[runs == run] = len(part)
                part.append(new_part)
    # Whatever is in several pieces now is several areas.
    out = pieces(labels.astype(np.int64), -1)
    of = np.zeros(int(out.max()) + 1, np.int64)
    of[out.ravel()] = np.array(part)[labels.ravel()]
    zero = np.unique(out[labels == 0])
    outside = zero[np.argmax(np.bincount(out.ravel())[zero])]
    number = np.zeros(len(of), np.int64)
    kept = [k for k in range(1, len(of)) if k != outside]
    number[kept] = 1 + np.arange(len(kept))
    _, found = np.unique(np.concatenate([[0], of[kept]]), return_inverse=True)
    return Figure(figure.name + " divided", number[out].astype(np.int32), found.astype(np.int64))


def pair_of(figure: Figure, kind: str, motion: float, dice: np.random.Generator,
            front: Figure | None = None) -> Pair | None:
    """Two drawings of a figure; None where either holds no closed area."""
    labels = _posed(figure.labels, motion, dice)
    counted = np.ones(labels.shape, bool)
    if kind == "hidden" and front is not None:
        labels = _behind(labels, front, dice)
    if kind == "mirrored":
        labels = np.ascontiguousarray(labels[:, ::-1])
    if kind == "cut off":
        labels = _cut_off(labels, dice)
        counted = np.ones(labels.shape, bool)
    widths = dice.uniform(3, 8, 2) if dice.random() < 0.7 else np.repeat(dice.uniform(3, 8), 2)
    inks = [drawn(x, w) for x, w in zip((figure.labels, labels), widths, strict=True)]
    if kind == "open":
        inks[1] = _opened(inks[1], widths[1], dice)
    try:
        one, other = (arrived(ink) for ink in inks)
    except WardrobeError:
        return None
    known = np.minimum(labels, len(figure.part))  # what stands in front has numbers beyond
    ids = [_majority(d.areas, x, len(figure.part)) for d, x in ((one, figure.labels),
                                                               (other, known))]
    part = np.append(figure.part, 0)
    truth = part[known].astype(np.int16)
    truth[~counted | (inks[1] >= 128) | (labels == 0)] = -1
    return Pair(figure.name, kind, motion, one, other, *ids, part, truth)


def _posed(labels: Labels, motion: float, dice: np.random.Generator) -> Labels:
    """The figure moved: so far, root mean square over it, in shares of its diagonal."""
    ys, xs = np.nonzero(labels)
    low, high = np.array([xs.min(), ys.min()]), np.array([xs.max(), ys.max()])
    middle, diagonal = (low + high) / 2, float(np.hypot(*(high - low)))
    y, x = np.indices(labels.shape, np.float32)
    dx, dy = x - np.float32(middle[0]), y - np.float32(middle[1])
    strength = motion / SMALL
    bends = min(strength, 1.7)
    turn = np.radians(np.clip(dice.normal(0, 2.5) * strength, -28, 28))
    scale = 1 + np.clip(dice.normal(0, 0.02) * strength, -0.15, 0.15)
    c, s = np.cos(turn) / scale - 1, np.sin(turn) / scale
    u, v = c * dx + s * dy, -s * dx + c * dy
    for sigma, height in ((0.3, 0.03), (0.16, 0.012)):
        for plane in (u, v):
            noise = dice.normal(size=(24, 24)).astype(np.float32)
            smooth = cv2.GaussianBlur(noise, (0, 0), sigma * 24)
            field = cv2.resize(smooth / smooth.std(), labels.shape[::-1],
                               interpolation=cv2.INTER_CUBIC)
            np.add(plane, np.float32(height * bends * diagonal * dice.uniform(0.3, 1)) * field,
                   out=plane)
    for _ in range(int(dice.integers(0, 4))):  # limbs about their joints
        k = int(dice.integers(len(xs)))
        out = dice.uniform(0, 2 * np.pi)
        px, py = x - xs[k], y - ys[k]
        along = px * np.cos(out) + py * np.sin(out)
        across = np.abs(-px * np.sin(out) + py * np.cos(out))
        bent = np.clip(along / (0.06 * diagonal), 0, 1) * np.clip(
            (0.25 * diagonal - across) / (0.08 * diagonal), 0, 1)
        angle = np.radians(dice.normal(0, 9) * min(strength, 2.5)) * bent
        u += (np.cos(angle) - 1) * px + np.sin(angle) * py
        v += -np.sin(angle) * px + (np.cos(angle) - 1) * py
    there = labels > 0
    now = np.sqrt(float((u[there]**2 + v[there]**2).mean()))
    k = np.float32(motion * diagonal / max(now, 1e-6))
    k = min(k, np.float32(1.15))
    shift = dice.uniform(0, 2 * np.pi)
    rest = np.sqrt(max(0.0, (motion * diagonal)**2 - (k * now)**2))
    rest = min(rest, 0.16 * SIZE)
    dx, dy = rest * np.cos(shift), rest * np.sin(shift)
    posed = cv2.remap(labels.astype(np.float32), (x + k * u + dx).astype(np.float32),
                      (y + k * v + dy).astype(np.float32), cv2.INTER_NEAREST,
                      borderValue=0)
    return posed.astype(np.int32)


def _behind(labels: Labels, front: Figure, dice: np.random.Generator) -> Labels:
    """Another figure before a part of this one; its labels are higher than all of this one's."""
    ys, xs = np.nonzero(labels)
    out = labels.copy()
    size = dice.uniform(0.4, 0.7)
    small = cv2.resize(front.labels.astype(np.uint16), None, fx=size, fy=size,
                       interpolation=cv2.INTER_NEAREST).astype(np.int32)
    k = int(dice.integers(len(xs)))
    top, left = ys[k] - small.shape[0] // 2, xs[k] - small.shape[1] // 2
    shift = np.array([[1, 0, left], [0, 1, top]], np.float64)
    over = cv2.warpAffine(small.astype(np.float32), shift, labels.shape[::-1],
                          flags=cv2.INTER_NEAREST).astype(np.int32)
    hidden = (over > 0) & (labels > 0)
    if hidden.sum() > 0.45 * len(xs):
        over = over * (np.indices(over.shape)[1] > np.median(xs[hidden[ys, xs]]))
    out[over > 0] = 10_000 + over[over > 0]
    return out


def _cut_off(labels: Labels, dice: np.random.Generator) -> Labels:
    """The lower part of a figure, or one side of it, beyond the frame."""
    ys, xs = np.nonzero(labels)
    out = labels
    share = dice.uniform(0.2, 0.5)
    side = dice.choice(3, p=(0.6, 0.2, 0.2))
    if side == 0:
        out = out[:int(np.quantile(ys, 1 - share))]
    elif side == 1:
        out = out[:, int(np.quantile(xs, share)):]
    else:
        out = out[:, :int(np.quantile(xs, 1 - share))]
    return np.ascontiguousarray(out)


def drawn(labels: Labels, width: float) -> Byte:
    """Lines of a width, px, where labels meet."""
    big = cv2.resize(labels.astype(np.float32), None, fx=2, fy=2,
                     interpolation=cv2.INTER_NEAREST).astype(np.int32)
    edge = np.zeros(big.shape, bool)
    edge[:, 1:] |= big[:, 1:] != big[:, :-1]
    edge[1:] |= big[1:] != big[:-1]
    away = cv2.distanceTransform((~edge).astype(np.uint8), cv2.DIST_L2, 5)
    ink = np.clip(width - away + 0.5, 0, 1).astype(np.float32)
    small = cv2.resize(ink, labels.shape[::-1], interpolation=cv2.INTER_AREA)
    return (small * 255 + 0.5).astype(np.uint8)


def _opened(ink: Byte, width: float, dice: np.random.Generator) -> Byte:
    """The same lines with breaks in them."""
    ink = ink.copy()
    ys, xs = np.nonzero(ink >= 128)
    for _ in range(int(dice.integers(4, 12))):
        k = int(dice.integers(len(xs)))
        size = dice.uniform(0.8, 2.0) * width
        cv2.rectangle(ink, (int(xs[k] - size), int(ys[k] - size)),
                      (int(xs[k] + size), int(ys[k] + size)), 0, -1)
    return ink


def arrived(ink: Byte) -> Drawing:
    """A drawing as the application cuts it when it comes in."""
    grey = 255 - ink
    rgba = np.dstack([grey, grey, grey, np.full_like(grey, 255)])
    deriver = Deriver(lambda _: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=ink.shape[1], height=ink.shape[0]))
    edit = certain_figure(deriver, recipe)
    if edit:
        recipe = apply(recipe, edit)
    return Drawing(deriver.areas(recipe), deriver.assignment(recipe).ground, ink)


def _majority(areas: Areas, labels: Labels, count: int) -> NDArray[np.int64]:
    """Label that most of each area is, free of ink."""
    where = areas.core
    table = np.zeros((areas.count + 1, count + 1), np.int64)
    np.add.at(table, (areas.labels[where], labels[where]), 1)
    return table.argmax(axis=1)


def pairs(figures_of: list[Figure], seed: int, motions: tuple[float, ...] = (SMALL, LARGE),
          kinds: tuple[str, ...] = KINDS) -> Iterator[Pair]:
    """Each figure in every kind and motion."""
    for figure in figures_of:
        for kind in kinds:
            for motion in motions:
                dice = dice_of(f"{figure.name} {kind} {motion} {seed}")
                front = figures_of[int(dice.integers(len(figures_of)))]
                pair = pair_of(figure, kind, motion, dice, front)
                if pair is not None:
                    yield pair
