"""How near a drawn answer comes to what is true, and what light it implies."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.edges import pieces_of
from wardrobe.core.learn.scenes import LINE, SIZE
from wardrobe.core.learn.truth import SMALL, Asked, View, truth_of, view_of
from wardrobe.core.light.rig import KeyLight

Mask = NDArray[np.bool_]

NEAR = (1, 2, 4)  # line widths from the true edge
_FLOOR = 0.35  # weight of a shadow on the floor against what lies on the things
_COARSE, _FINE, _FINEST = 15.0, 3.0, 0.5  # degrees between the lights that are tried
_AS_GOOD = 0.003  # agreements that are as good as the best
_SIMPLE = 1.2  # times the true edge's length that a drawn one may have,
_ROOM = 0.5  # and so many times the root of the things' pixels besides
_LISTED = 6
_PIECE = 60  # px: smaller pieces are not worth a word
_LEAST_SHADOW = 30  # px from which a shadow has a direction
_EMPTY_SHARE = 0.06  # of the things: a highlight this large where none belongs counts 0


@dataclass(frozen=True)
class Piece:
    """A piece that is missing, or too much.

    Attributes
    ----------
    box : tuple of int
        x, y, width, height.
    pixels : int
    """

    box: tuple[int, ...]
    pixels: int


@dataclass(frozen=True)
class Verdict:
    """What was measured of a drawn answer.

    Attributes
    ----------
    score : float, 0..100
    agreement : float, up to 1
        Cohen's kappa of the pixels: 0 is no better than chance.
    amount, wanted : float, 0..1
        Share of the things that is drawn, and that should be.
    azimuth_error : float or None
        Degrees, counter-clockwise, from the light to the one that the answer implies.
    near : tuple of float, 0..1
        Share of the true edge's length within 1, 2 and 4 line widths of the drawn one.
    missing, extra : tuple of Piece
        The largest first.
    shadow_turn : float or None
        Degrees from the true shadow's direction on the floor to the drawn one's.
    shadow_length : float or None
        Length of the drawn shadow to the true one's.
    """

    score: float
    agreement: float
    amount: float
    wanted: float
    azimuth_error: float | None
    near: tuple[float, ...]
    missing: tuple[Piece, ...]
    extra: tuple[Piece, ...]
    shadow_turn: float | None = None
    shadow_length: float | None = None


def kappa(answer: Mask, truth: Mask) -> float:
    """Agreement of two masks beyond chance.

    References
    ----------
    J. Cohen, "A coefficient of agreement for nominal scales", 1960.
    """
    if not answer.size:
        return 0.0
    same = float((answer == truth).mean())
    a, t = float(answer.mean()), float(truth.mean())
    chance = a * t + (1 - a) * (1 - t)
    if chance >= 1:
        return 1.0 if a == t else 0.0
    return (same - chance) / (1 - chance)


def judge(view: View, asked: Asked, light: KeyLight, answer: Mask) -> Verdict:
    """Measure an answer to a lesson.

    Parameters
    ----------
    view : View
        At full size.
    asked : str
    light : KeyLight
        The true one.
    answer : ndarray of bool, shape (SIZE, SIZE)
    """
    truth, where = truth_of(view, asked, light)
    things = view.things
    verdict = compare(answer, truth, where & things, where & ~things, things, LINE)
    if not truth.any():
        return verdict
    answer = answer & where
    implied = _implied_azimuth(view, asked, light, answer, truth) if answer.any() else None
    error = None if implied is None else (implied - light.azimuth + 180) % 360 - 180
    floor = where & ~things
    turn, length = _shadow(view, truth & floor, answer & floor)
    return replace(verdict, azimuth_error=error, shadow_turn=turn, shadow_length=length)


def compare(answer: Mask, truth: Mask, on: Mask, floor: Mask, things: Mask,
            line: float) -> Verdict:
    """Measure how near a drawn shape comes to another.

    Parameters
    ----------
    answer, truth : ndarray of bool, shape (height, width)
    on, floor : ndarray of bool, same shape
        Where they count on the things, and beside them.
    things : ndarray of bool, same shape
        All that amounts are shares of.
    line : float
        Width of the lines, px.

    Returns
    -------
    Verdict
        Without what it implies of the light. A perfect answer has 100; a score falls with the
        agreement, with the share of edges that lie within two line widths of each other, and
        where the drawn edge is much longer than the true one: shapes are simple.
    """
    where = on | floor
    answer, truth = answer & where, truth & where
    amount, wanted = (float((m & things).sum() / max(1, things.sum())) for m in (answer, truth))
    missing, extra = (_pieces(m, line) for m in (truth & ~answer, answer & ~truth))
    if not truth.any():
        score = 100 * max(0.0, 1 - amount / _EMPTY_SHARE)
        return Verdict(score, score / 100, amount, wanted, None, (1.0,) * len(NEAR), missing, extra)
    agreement = _agreement(answer, truth, on, floor)
    drawn, true = _edge(answer, where), _edge(truth, where)
    room = _ROOM * np.sqrt(things.sum())
    simple = min(1.0, float((_SIMPLE * true.sum() + room) / max(1, drawn.sum())))
    near = tuple(_within(true, drawn, n * line) for n in NEAR)
    both = min(near[1], _within(drawn, true, NEAR[1] * line))
    score = 100 * max(0.0, agreement) * (0.5 + 0.5 * both) * simple
    return Verdict(round(score, 2), round(agreement, 4), amount, wanted, None, near, missing,
                   extra)


def _implied_azimuth(view: View, asked: Asked, light: KeyLight, answer: Mask,
                     right: Mask) -> float | None:
    """The direction of the light, at its true height, that explains an answer best.

    Where several explain it alike, as light from either side of a tube does, the one nearest to
    the true one.
    """
    rough_fit, fine_fit = (_Fit(view_of(view.scene, scale), asked, light, answer, right, {})
                           for scale in (SMALL, SMALL / 2))
    fits = rough_fit.at

    def best_of(turns: NDArray[np.float64]) -> float:
        found = [fits(float(t)) for t in turns]
        good = [float(t) for t, f in zip(turns, found, strict=True) if f >= max(found) - 1e-9]
        return min(good, key=abs)

    rough = np.arange(-180, 180, _COARSE)
    values = [fits(float(t)) for t in rough]
    if max(values) <= 0:
        return None
    # Each hill is climbed: the best of them counts, or one that is as good and nearer.
    tops = [float(t) for k, t in enumerate(rough)
            if values[k] >= max(values[k - 1], values[(k + 1) % len(values)])]
    climbed = [0.0]
    for top in sorted(tops, key=fits, reverse=True)[:4]:
        at = best_of(top + np.arange(-_COARSE, _COARSE + 0.1, _FINE))
        climbed.append(best_of(at + np.arange(-_FINE, _FINE + 0.1, _FINEST)))
    # What a right answer loses by being made smaller does not tell lights apart.
    as_good = max(_AS_GOOD, 1.5 * fine_fit.lost)
    most = max(fine_fit.at(t) for t in climbed)
    turn = min((t for t in climbed if fine_fit.at(t) >= most - as_good),
               key=lambda t: abs((t + 180) % 360 - 180))
    return float((light.azimuth + turn) % 360)


@dataclass(frozen=True, eq=False)
class _Fit:
    """How well lights explain an answer, at a scale; those that were tried are kept."""

    view: View
    asked: Asked
    light: KeyLight
    answer: Mask
    right: Mask
    tried: dict[float, float]

    def at(self, turn: float) -> float:
        """Agreement with what light from so many degrees further would draw."""
        turn = round((turn + 180) % 360 - 180, 2)
        if turn not in self.tried:
            there = KeyLight(self.light.azimuth + turn, self.light.height)
            self.tried[turn] = self._agrees(self.answer, there)
        return self.tried[turn]

    @property
    def lost(self) -> float:
        """What the right answer loses at this scale."""
        return 1 - self._agrees(self.right, self.light)

    def _agrees(self, mask: Mask, light: KeyLight) -> float:
        drawn, things = _shrunk(mask, self.view.seen.scale), self.view.things
        truth, where = truth_of(self.view, self.asked, light)
        return _agreement(drawn & where, truth, things & where, where & ~things)


def _shrunk(mask: Mask, scale: float) -> Mask:
    edge = round(SIZE / scale)
    found: Mask = cv2.resize(mask.astype(np.uint8) * 255, (edge, edge),
                             interpolation=cv2.INTER_AREA) > 127
    return found


def _agreement(answer: Mask, truth: Mask, things: Mask, floor: Mask) -> float:
    on = kappa(answer[things], truth[things])
    if not (truth & floor).any() and not (answer & floor).any():
        return on
    below = kappa(answer[floor], truth[floor])
    if not (truth & things).any() and not (answer & things).any():
        return below
    return (1 - _FLOOR) * on + _FLOOR * below


def _edge(mask: Mask, where: Mask) -> Mask:
    """The edge of a mask, but for where it runs along a line or the picture's edge."""
    inner = cv2.erode(where.astype(np.uint8), np.ones((5, 5), np.uint8), borderValue=0) > 0
    gradient = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_GRADIENT,
                                np.ones((3, 3), np.uint8)) > 0
    found: Mask = gradient & inner
    return found


def _within(edge: Mask, other: Mask, reach: float) -> float:
    """Share of an edge that lies within a reach of another."""
    if not edge.any():
        return 1.0
    if not other.any():
        return 0.0
    away = cv2.distanceTransform((~other).astype(np.uint8), cv2.DIST_L2, 5)
    return float((away[edge] <= reach).mean())


def _pieces(mask: Mask, line: float) -> tuple[Piece, ...]:
    # What lies within a line width of a true edge is not a piece.
    solid = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN,
                             np.ones((round(2 * line) + 1,) * 2, np.uint8)) > 0
    found = [Piece(tuple(int(v) for v in cv2.boundingRect(p.astype(np.uint8))), int(p.sum()))
             for p in pieces_of(solid)]
    found = [p for p in found if p.pixels >= _PIECE]
    return tuple(sorted(found, key=lambda p: -p.pixels)[:_LISTED])


def _shadow(view: View, truth: Mask, answer: Mask) -> tuple[float | None, float | None]:
    """How a drawn shadow on the floor lies to the true one: degrees, and lengths."""
    if truth.sum() < _LEAST_SHADOW or answer.sum() < _LEAST_SHADOW:
        return None, None
    foot = _foot(view)
    (a1, l1), (a2, l2) = (_direction(m, foot) for m in (truth, answer))
    return (a2 - a1 + 180) % 360 - 180, l2 / max(l1, 1.0)


def _foot(view: View) -> tuple[float, float]:
    """Where the things stand: the middle of the lowest that is seen of them."""
    ys, xs = np.nonzero(view.seen.parts > 0)
    low = ys > ys.max() - 0.12 * (ys.max() - ys.min())
    return float(xs[low].mean()), float(ys[low].mean())


def _direction(mask: Mask, foot: tuple[float, float]) -> tuple[float, float]:
    ys, xs = np.nonzero(mask)
    dx, dy = float(xs.mean() - foot[0]), float(ys.mean() - foot[1])
    reach = np.hypot(xs - foot[0], ys - foot[1])
    return float(np.degrees(np.arctan2(-dy, dx))), float(np.percentile(reach, 98))
