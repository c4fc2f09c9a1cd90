"""Where a page is cut: along gutters, or along lines that panels share."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.page.sheet import Points, Sheet, area, filled, half

_TILTS = tuple(0.25 * k for k in range(-56, 57) if k)  # degrees off the level or the plumb line
_LEAST_GUTTER = 0.0028  # of the page's longer edge
_LEAST_PANEL = 0.012  # of the page
_SHORTEST = 0.055  # of the page's longer edge that a panel must reach both ways
_INKED = 0.4  # share of a gutter along which a frame is drawn, on one of its sides
_DRAWN = 0.85  # share of a side that is drawn where it is taken for a frame in the end
_FRAME_WEIGHT = 0.75  # of the outer frame's line, that one between panels has at least
_STRAIGHT = 0.9  # share of a line that must be drawn for two panels to meet at it
_HARDLY = 0.12  # of the ink of the fullest row
_FRAME = 0.7  # share of both sides that must be drawn where a figure reaches across a gutter
_BROKEN_OUT = 0.3  # share of a gutter that it may take
_WIDEST = 0.035  # of the page's longer edge: a gutter that a figure reaches across


@dataclass(frozen=True)
class _Cut:
    """A strip: the direction and the offsets of its two sides; ``broken`` if ink crosses it."""

    turn: float
    low: float
    high: float
    good: float
    broken: bool = False


def cut(page: Sheet, region: Points, depth: int, lines: bool = False) -> Iterator[Points]:
    """Convex regions that a region is cut into, as they are read; along gutters, or along lines
    that go from side to side."""
    best = None if depth > 12 else _best(page, region, lines)
    if best is None:
        yield region
        return
    for part in (half(region, best.turn, best.low, False),
                 half(region, best.turn, best.high, True)):
        if len(part) > 2 and area(part) > 0.3 * _LEAST_PANEL * page.ink.size:
            yield from cut(page, part, depth + 1, lines)


def _best(page: Sheet, region: Points, lines: bool) -> _Cut | None:
    """The best place to cut: level and upright before tilted, clear before broken."""
    ys, xs = np.nonzero(page.ink & (filled(page.ink.shape, region) > 0))
    if not len(xs):
        return None
    ink = np.stack([xs, ys], axis=1).astype(np.float32)
    # Whether a tilt is worth a closer look can be seen at half the size.
    code = np.unique((ys // 2) * 65536 + xs // 2)
    half = np.stack([code % 65536, code // 65536], axis=1).astype(np.float32) * 2 + 0.5
    frame = max(_frame_width(_seen(page, region, ink, t)) for t in (0.0, np.pi / 2))
    for tilts in ((0.0,), _TILTS):
        turns = [np.radians(tilt + 90 * upright) for upright in (False, True) for tilt in tilts]
        found: list[_Cut] = []
        for turn in turns:
            if tilts == (0.0,) or lines or _clear(half, turn):
                rows = _seen(page, region, ink, turn)
                found += _lines(rows, frame) if lines else _gutters(rows)
        for broken in (False, True):
            some = [c for c in found if c.broken == broken]
            if some:
                return max(some, key=lambda c: c.good - 0.1 * abs(_off(c.turn)))
    return None


def _clear(ink: NDArray[np.float32], turn: float) -> bool:
    """Whether there may be a strip with hardly any ink in a direction."""
    off = np.float32(np.cos(turn)) * ink[:, 1] - np.float32(np.sin(turn)) * ink[:, 0]
    counts = np.bincount(((off - off.min()) / 2).astype(np.int64))
    return bool((counts[2:-2] <= _HARDLY * counts.max()).any())


def _off(turn: float) -> float:
    """By how much a direction is off the level or the plumb line, radians."""
    return (turn + np.pi / 4) % (np.pi / 2) - np.pi / 4


@dataclass(frozen=True)
class _Rows:
    """A region seen along a direction: where its ink lies along it and across it, px, and how
    much there is in each row."""

    turn: float
    along: NDArray[np.float32]
    across: NDArray[np.int64]
    first: float
    counts: NDArray[np.int64]
    region: Points
    longest: int

    def length(self, row: int) -> float:
        """px that a row is within the region."""
        normal = np.array([-np.sin(self.turn), np.cos(self.turn)])
        away = self.region @ normal - (self.first + row + 0.5)
        on = self.region @ np.array([np.cos(self.turn), np.sin(self.turn)])
        ends = [on[k] + (on[j] - on[k]) * away[k] / (away[k] - away[j])
                for k in range(len(away)) if away[k] * away[j := (k + 1) % len(away)] < 0]
        return max(ends) - min(ends) if len(ends) > 1 else 0.0

    def drawn(self, row: int) -> float:
        """How much of a line is drawn, within a few px of its row."""
        near = (self.across >= row - 3) & (self.across <= row + 3)
        length = self.length(row)
        return len(np.unique(self.along[near].astype(np.int64))) / length if length > 1 else 0.0


def _seen(page: Sheet, region: Points, ink: NDArray[np.float32], turn: float) -> _Rows:
    """A region along a direction."""
    c, s = np.float32(np.cos(turn)), np.float32(np.sin(turn))
    off = c * ink[:, 1] - s * ink[:, 0]
    first = float(np.floor(off.min()))
    across = (off - np.float32(first)).astype(np.int64)
    return _Rows(float(turn), c * ink[:, 0] + s * ink[:, 1], across, first, np.bincount(across),
                 region, max(page.ink.shape))


def _gutters(rows: _Rows) -> Iterator[_Cut]:
    """Strips without ink between what is drawn, a frame at least on one side; and those that a
    figure reaches across, between two frames."""
    longest = rows.longest
    widest = max(1.0, max((rows.length(k) for k in range(0, len(rows.counts), 16)), default=1.0))
    for most in (0.0, _BROKEN_OUT * widest):
        clear = rows.counts <= most
        edges = np.flatnonzero(np.diff(np.concatenate([[0], clear.astype(np.int8), [0]])))
        for low, high in edges.reshape(-1, 2).tolist():
            if high - low < _LEAST_GUTTER * longest or low == 0 or high == len(clear):
                continue
            broken = most > 0
            if broken and (high - low > _WIDEST * longest or not rows.counts[low:high].all()):
                continue
            framed = [rows.drawn(low - 1), rows.drawn(high)]
            if max(framed) < _INKED or (broken and (
                    min(framed) < _FRAME or _reach(rows, low, high) > _BROKEN_OUT * widest)):
                continue
            good = 2 * min(high - low, 0.02 * longest) / longest + 0.05 * sum(framed) \
                + 0.12 * rows.length(low) / longest
            yield _Cut(rows.turn, rows.first + low, rows.first + high, good, broken)


def _reach(rows: _Rows, low: int, high: int) -> float:
    """px from the first to the last place where ink crosses a strip."""
    within = (rows.across >= low) & (rows.across < high)
    return float(np.ptp(rows.along[within])) if within.any() else 0.0


def _lines(rows: _Rows, frame: int) -> Iterator[_Cut]:
    """Lines that go from side to side, with art on both sides."""
    longest, last = rows.longest, len(rows.counts) - 1
    deep = int(_SHORTEST * longest)
    for row in np.flatnonzero(rows.counts > 0.1 * longest).tolist():
        length = rows.length(row)
        if not deep < row < last - deep or rows.counts[row] < _STRAIGHT * length \
                or length < 0.12 * longest or rows.counts[row - 1] > rows.counts[row]:
            continue
        thick = row
        while thick + 1 < last and rows.counts[thick + 1] >= _STRAIGHT * length:
            thick += 1
        beside = max(rows.counts[row - 6:row - 3].mean(), rows.counts[thick + 4:thick + 7].mean())
        # Neither a solid black nor a line of the drawing, which is thinner than a frame's.
        if thick - row > 0.012 * longest or beside > 0.3 * length \
                or thick - row + 1 < _FRAME_WEIGHT * frame:
            continue
        yield _Cut(rows.turn, rows.first + row, rows.first + thick + 1,
                   0.05 * rows.counts[row] / length + 0.06 * length / longest)


def _frame_width(rows: _Rows) -> int:
    """How thick the outermost lines across a region are, px; 0 if there are none."""
    drawn = np.flatnonzero(rows.counts >= _DRAWN * rows.counts.max())
    runs = np.split(drawn, np.flatnonzero(np.diff(drawn) > 1) + 1)
    return min(len(runs[0]), len(runs[-1])) if len(runs) > 1 else 0


def outer_frame(page: Sheet) -> bool:
    """Whether all art stands in a frame, off the edge of the paper."""
    ys, xs = np.nonzero(page.ink)
    high, wide = page.ink.shape
    off = min(xs.min(), ys.min(), wide - 1 - xs.max(), high - 1 - ys.max())
    sides = (page.ink[ys.min():ys.min() + 3], page.ink[ys.max() - 2:ys.max() + 1],
             page.ink[:, xs.min():xs.min() + 3].T, page.ink[:, xs.max() - 2:xs.max() + 1].T)
    spans = (np.ptp(xs), np.ptp(ys))
    return bool(off > 0.005 * max(page.ink.shape)) and all(
        side.any(axis=0).sum() > _DRAWN * spans[k // 2] for k, side in enumerate(sides))
