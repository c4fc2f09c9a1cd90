"""Line art that a program has hatched: what was drawn before is known, and so is what was added."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import Drawing

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]

DENSITIES = (1.1, 1.9, 3.0)  # clear width between strokes, in widths of the outline
_FINE = 8  # steps of a pixel in which strokes are drawn
_MOST = 4  # hatched places in a drawing
_ROOM = 3.0  # least inner radius of what is hatched, in widths of the outline


@dataclass(frozen=True)
class Hatched:
    """A hatched drawing.

    Attributes
    ----------
    kind : str
        A key of KINDS.
    plain : Drawing
        As it was drawn.
    ink : ndarray of uint8, shape (height, width)
        Coverage with the hatching.
    hatching : ndarray of bool, same shape
        Ink that was added.
    inside : ndarray of bool, same shape
        Where it was hatched.
    """

    kind: str
    plain: Drawing
    ink: Byte
    hatching: Mask
    inside: Mask


@dataclass(frozen=True)
class _Hand:
    """How one place is hatched: everything in px."""

    rng: np.random.Generator
    width: float
    spacing: float
    angle: float


def hatch(drawing: Drawing, kind: str, density: float) -> Hatched | None:
    """Hatch up to four of a drawing's colour areas, whole or on one side; None if none has room."""
    digest = hashlib.sha256(f"{drawing.source} {drawing.name} {kind} {density}".encode()).digest()
    rng = np.random.default_rng(int.from_bytes(digest[:4], "big"))
    outline = outline_width(drawing.ink)
    places = _places(drawing, outline)
    if not places:
        return None
    rng.shuffle(places)
    added = np.zeros(drawing.ink.shape, np.uint8)
    inside = np.zeros(drawing.ink.shape, bool)
    width = outline * rng.uniform(0.3, 0.7)
    angle = rng.uniform(0, np.pi)
    for area in places[:_MOST]:
        where = area & _side(area, rng) if rng.random() < 0.6 else area
        if kind in INSET or rng.random() < 0.3:  # strokes that stop before the outline
            kept = cv2.distanceTransform(where.astype(np.uint8), cv2.DIST_L2, 5)
            where &= kept > rng.uniform(0.6, 1.2) * outline
        else:
            where = cv2.dilate(where.astype(np.uint8), _disc(0.35 * outline)) > 0
            where &= area | (drawing.ink >= 128)
        hand = _Hand(rng, width, width + density * outline, angle + rng.normal(0, 0.08))
        strokes = KINDS[kind](where, hand)
        added = np.maximum(added, np.where(where, strokes, 0).astype(np.uint8))
        inside |= where & (drawing.ink < 128)
    hatching = (added >= 128) & (drawing.ink < 128)
    if not hatching.any():
        return None
    return Hatched(kind, drawing, np.maximum(drawing.ink, added), hatching, inside)


def outline_width(ink: Byte) -> float:
    """Median width of plain line art, px."""
    depth = cv2.distanceTransform((ink >= 128).astype(np.uint8), cv2.DIST_L2, 5)
    ridge = (depth > 0) & (depth >= cv2.dilate(depth, np.ones((3, 3), np.uint8)))
    return max(1.0, 2 * float(np.median(depth[ridge])) - 0.5)


def _places(drawing: Drawing, outline: float) -> list[Mask]:
    """Connected areas of one colour with room for strokes."""
    found = []
    for colour in range(1, int(drawing.colours.max()) + 1):
        mask = ((drawing.colours == colour) & (drawing.ink < 128)).astype(np.uint8)
        _, labels, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
        for k in np.flatnonzero(boxes[1:, cv2.CC_STAT_AREA] > 40 * outline**2) + 1:
            area = labels == k
            if cv2.distanceTransform(area.astype(np.uint8), cv2.DIST_L2, 5).max() \
                    > _ROOM * outline:
                found.append(area)
    return found


def _side(area: Mask, rng: np.random.Generator) -> Mask:
    """What lies away from the light, beyond a curved edge."""
    ys, xs = np.nonzero(area)
    middle, size = np.array([xs.mean(), ys.mean()]), np.sqrt(area.sum())
    turn = rng.uniform(0, 2 * np.pi)
    light = middle + size * np.array([np.cos(turn), np.sin(turn)])
    y, x = np.mgrid[:area.shape[0], :area.shape[1]]
    off = np.hypot(x - light[0], y - light[1])
    return np.asarray(off > np.quantile(off[area], rng.uniform(0.3, 0.6)))


def _disc(radius: float) -> Byte:
    r = max(1, round(radius))
    disc: Byte = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * r + 1,) * 2).astype(np.uint8)
    return disc


def _draw(image: Byte, points: NDArray[np.float64], width: float) -> None:
    cv2.polylines(image, [np.rint(points * _FINE).astype(np.int32)], False, 255,
                  max(1, round(width)), cv2.LINE_AA, int(np.log2(_FINE)))


def _rows(where: Mask, hand: _Hand, *, turn: float = 0.0, bend: float = 0.0,
          ragged: float = 0.0) -> Byte:
    """Parallel strokes across a place: straight, bent along a circle, or with ragged ends."""
    out = np.zeros(where.shape, np.uint8)
    ys, xs = np.nonzero(where)
    if not len(ys):
        return out
    middle = np.array([xs.mean(), ys.mean()])
    along = np.array([np.cos(hand.angle + turn), np.sin(hand.angle + turn)])
    across = np.array([-along[1], along[0]])
    reach = float(np.hypot(np.ptp(xs), np.ptp(ys))) / 2 + 2 * hand.spacing
    t = np.linspace(-reach, reach, 60)
    for offset in np.arange(-reach, reach, hand.spacing):
        shift = offset + hand.rng.normal(0, 0.06) * hand.spacing
        sag = bend * reach * (1 - (t / reach) ** 2)
        line = middle + t[:, None] * along + (shift + sag)[:, None] * across
        width = hand.width * hand.rng.uniform(0.85, 1.15)
        if ragged:
            line = line + hand.rng.normal(0, 0.1 * hand.spacing) * across
            at = np.clip(np.rint(line).astype(int), 0, np.array(where.shape[::-1]) - 1)
            inner = np.flatnonzero(where[at[:, 1], at[:, 0]])
            if not len(inner):
                continue
            cut = ragged * len(inner)
            first = inner[0] + int(hand.rng.uniform(0, cut))
            last = inner[-1] - int(hand.rng.uniform(0, cut))
            line = line[first:max(first + 2, last)]
        _draw(out, line, width)
    return out


def _crossed(where: Mask, hand: _Hand, ways: int) -> Byte:
    turns = np.array([0.0, 1.35, 0.65])[:ways]
    return np.maximum.reduce([_rows(where, hand, turn=float(t)) for t in turns])


def _partly(where: Mask, hand: _Hand) -> Byte:
    second = np.where(_side(where, hand.rng), _rows(where, hand, turn=1.3), 0) if where.any() else 0
    return np.maximum(_rows(where, hand), second).astype(np.uint8)


def _scattered(where: Mask, hand: _Hand) -> NDArray[np.float64]:
    """Places about a spacing apart."""
    height, width = where.shape
    step = hand.spacing
    y, x = np.mgrid[0:height:step, 0:width:step]
    shaken = hand.rng.uniform(-0.35, 0.35, (x.size, 2)) * step
    at = np.stack([x.ravel(), y.ravel()], axis=1) + shaken
    inside = np.clip(at.astype(int), 0, [width - 1, height - 1])
    return np.asarray(at[where[inside[:, 1], inside[:, 0]]])


def _stipple(where: Mask, hand: _Hand) -> Byte:
    out = np.zeros(where.shape, np.uint8)
    for at in _scattered(where, hand):
        size = hand.width * hand.rng.uniform(0.5, 0.9)
        cv2.circle(out, np.rint(at * _FINE).astype(int).tolist(), max(1, round(size * _FINE)), 255,
                   -1, cv2.LINE_AA, int(np.log2(_FINE)))
    return out


def _ticks(where: Mask, hand: _Hand) -> Byte:
    out = np.zeros(where.shape, np.uint8)
    for at in _scattered(where, hand):
        turn = hand.angle + hand.rng.normal(0, 0.25)
        half = 0.5 * hand.spacing * hand.rng.uniform(0.6, 1.1) * np.array(
            [np.cos(turn), np.sin(turn)])
        _draw(out, np.stack([at - half, at + half]), hand.width)
    return out


KINDS: dict[str, Callable[[Mask, _Hand], Byte]] = {
    "parallel": _rows,
    "ragged": lambda where, hand: _rows(where, hand, ragged=0.2),
    "curved": lambda where, hand: _rows(where, hand, bend=hand.rng.uniform(0.1, 0.35)),
    "crossed two ways": lambda where, hand: _crossed(where, hand, 2),
    "crossed three ways": lambda where, hand: _crossed(where, hand, 3),
    "partly crossed": _partly,
    "stipple": _stipple,
    "ticks": _ticks,
}
INSET = ("ragged", "stipple", "ticks")
