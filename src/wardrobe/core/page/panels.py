"""The panels of a page: between gutters, along frames, and set into each other."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.page.order import Reading, in_order

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Points = NDArray[np.float64]

_EDGE, _FINE_EDGE = 1300, 1800  # px of the longer edge to cut a page at, and to fit panels at
_TILTS = tuple(0.25 * k for k in range(-56, 57) if k)  # degrees off the level or the plumb line
_LEAST_GUTTER = 0.0028  # of the page's longer edge
_LEAST_PANEL = 0.012  # of the page
_SHORTEST = 0.055  # of the page's longer edge that a panel must reach both ways
_INKED = 0.4  # share of a gutter along which a frame is drawn, on one of its sides
_DRAWN = 0.85  # share of a side that is drawn where it is taken for a frame in the end
_THICKEST = 0.008  # of the page's longer edge: a frame's line
_FRAME_WEIGHT = 0.75  # of the outer frame's line, that one between panels has at least
_BARE = 0.04  # share of what lies outside of a frame that may be drawn
_STRAIGHT = 0.9  # share of a line that must be drawn for two panels to meet at it
_HARDLY = 0.12  # of the ink of the fullest row
_SMALLEST_INSET = 0.075  # of the page's longer edge
_FRAME = 0.7  # share of both sides that must be drawn where a figure reaches across a gutter
_BROKEN_OUT = 0.3  # share of a gutter that it may take
_WIDEST = 0.035  # of the page's longer edge: a gutter that a figure reaches across


@dataclass(frozen=True)
class Panel:
    """A panel.

    Attributes
    ----------
    outline : ndarray of float64, shape (n, 2)
        x, y in px of the page; along the inner side of its frame, where it has one.
    framed : tuple of bool
        For each side of the outline, from its first corner, whether a frame is drawn there.
    over : tuple of int
        Numbers, from 0, of the panels that it is set into or lies over.
    """

    outline: Points
    framed: tuple[bool, ...]
    over: tuple[int, ...] = ()

    @property
    def box(self) -> tuple[int, int, int, int]:
        """x, y, width, height of what holds it, px."""
        low, high = np.floor(self.outline.min(axis=0)), np.ceil(self.outline.max(axis=0))
        return int(low[0]), int(low[1]), int(high[0] - low[0]), int(high[1] - low[1])


def find_panels(coverage: Byte, balloons: Sequence[Points] = (),
                reading: Reading = "left to right") -> list[Panel]:
    """The panels of a page in the order in which they are read.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
        Ink.
    balloons : sequence of ndarray, shape (n, 2)
        Outlines of what letters stand in, px: no panels, though they may have frames.
    reading : str
        Which way rows are read.

    Returns
    -------
    list of Panel
        One that is the whole page where nothing divides it; none on an empty page.

    Notes
    -----
    The page is cut along the widest straight strips without ink, level or upright within 14
    degrees, again and again (G. Nagy and S. Seth, "Hierarchical representation of optically
    scanned documents", Proc. 7th ICPR, 1984, for the level and upright ones), where one side of
    the strip is a frame or both sides are as straight as one; and along lines that go from side
    to side. Closed frames within a panel, apart from its own lines, are panels set into it.
    """
    page = _Page.of(coverage)
    if not page.ink.any():
        return []
    height, width = page.ink.shape
    whole = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float64)
    leaves = list(_cut(page, whole, 0))
    if len(leaves) == 1 and _outer_frame(page):  # panels that share their lines
        leaves = list(_cut(page, whole, 0, lines=True))
    leaves = [leaf for leaf in leaves if _holds(page, leaf)]
    fine = _Page.of(coverage, _FINE_EDGE)
    times = fine.scale / page.scale
    page = fine
    panels = _filled_out(page, [_fitted(page, leaf * times) for leaf in leaves])
    spoken = [cv2.convexHull((b * page.scale).astype(np.float32)).reshape(-1, 2)
              for b in balloons]
    panels += [inset for k, panel in enumerate(panels) for inset in _insets(page, panel, k)
               if not any(_within(inset.outline, b) for b in spoken)]
    scaled = [replace(p, outline=p.outline / page.scale) for p in panels]
    order = in_order([p.outline for p in scaled], [p.over for p in scaled], reading)
    place = {old: new for new, old in enumerate(order)}
    return [replace(scaled[k], over=tuple(place[o] for o in scaled[k].over)) for k in order]


@dataclass(frozen=True)
class _Page:
    scale: float
    ink: Mask

    @classmethod
    def of(cls, coverage: Byte, edge: int = _EDGE) -> "_Page":
        scale = min(1.0, edge / max(coverage.shape))
        # Thin lines stay lines: the darkest of each block counts.
        step = max(1, int(1 / scale))
        reach = np.ones((step, step), np.uint8)
        dark = cv2.dilate(coverage, reach) if step > 1 else coverage
        size = (max(1, round(coverage.shape[1] * scale)), max(1, round(coverage.shape[0] * scale)))
        small = cv2.resize(dark, size, interpolation=cv2.INTER_AREA) if scale < 1 else dark
        return cls(scale, small >= 110)


def _inside(shape: tuple[int, ...], outline: Points) -> Byte:
    mask = np.zeros(shape, np.uint8)
    cv2.fillPoly(mask, [np.round(outline).astype(np.int32)], 1)
    return mask


def _area(outline: Points) -> float:
    x, y = outline.T
    return float(abs((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()) / 2)


def _holds(page: _Page, leaf: Points) -> bool:
    """Whether there is a panel's worth of ink."""
    inked = (_inside(page.ink.shape, leaf) > 0) & page.ink
    ys, xs = np.nonzero(inked)
    longest = max(page.ink.shape)
    return len(xs) > 0 and _area(leaf) > _LEAST_PANEL * page.ink.size \
        and bool(np.ptp(leaf, axis=0).min() > _SHORTEST * longest) \
        and bool(max(np.ptp(xs), np.ptp(ys)) > 0.4 * _SHORTEST * longest)


@dataclass(frozen=True)
class _Cut:
    """A strip: the direction and the offsets of its two sides; ``broken`` if ink crosses it."""

    turn: float
    low: float
    high: float
    good: float
    broken: bool = False


def _cut(page: _Page, region: Points, depth: int, lines: bool = False) -> Iterator[Points]:
    best = None if depth > 12 else _best(page, region, lines)
    if best is None:
        yield region
        return
    for part in (_half(region, best.turn, best.low, False),
                 _half(region, best.turn, best.high, True)):
        if len(part) > 2 and _area(part) > 0.3 * _LEAST_PANEL * page.ink.size:
            yield from _cut(page, part, depth + 1, lines)


def _best(page: _Page, region: Points, lines: bool) -> _Cut | None:
    """The best place to cut: level and upright before tilted, clear before broken."""
    ys, xs = np.nonzero(page.ink & (_inside(page.ink.shape, region) > 0))
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


def _half(region: Points, turn: float, offset: float, beyond: bool) -> Points:
    """The part of a convex region on one side of a line: of places whose distance along the
    line's normal is less than the offset, or more."""
    normal = np.array([-np.sin(turn), np.cos(turn)])
    away = (region @ normal - offset) * (1 if beyond else -1)
    out: list[Points] = []
    for k, (a, b) in enumerate(zip(away, np.roll(away, -1), strict=True)):
        p, q = region[k], region[(k + 1) % len(region)]
        if a >= 0:
            out.append(p)
        if (a > 0) != (b > 0) and a != b:
            out.append(p + (q - p) * a / (a - b))
    return np.array(out).reshape(-1, 2)


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


def _seen(page: _Page, region: Points, ink: NDArray[np.float32], turn: float) -> _Rows:
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


def _outer_frame(page: _Page) -> bool:
    """Whether all art stands in a frame, off the edge of the paper."""
    ys, xs = np.nonzero(page.ink)
    high, wide = page.ink.shape
    off = min(xs.min(), ys.min(), wide - 1 - xs.max(), high - 1 - ys.max())
    sides = (page.ink[ys.min():ys.min() + 3], page.ink[ys.max() - 2:ys.max() + 1],
             page.ink[:, xs.min():xs.min() + 3].T, page.ink[:, xs.max() - 2:xs.max() + 1].T)
    spans = (np.ptp(xs), np.ptp(ys))
    return bool(off > 0.005 * max(page.ink.shape)) and all(
        side.any(axis=0).sum() > _DRAWN * spans[k // 2] for k, side in enumerate(sides))


def _fitted(page: _Page, leaf: Points) -> Panel:
    """The panel of a leaf: to its frame, or as far as the leaf goes where it has none."""
    outline, framed = _simplified(_trimmed(page, leaf)), []
    sides = []
    for k in range(len(outline)):
        a, b = outline[k], outline[(k + 1) % len(outline)]
        offset, drawn = _frame_along(page, a, b, outline.mean(axis=0))
        sides.append((a, b, offset))
        framed.append(drawn)
    lines = []
    for a, b, offset in sides:
        direction = (b - a) / max(1e-6, float(np.linalg.norm(b - a)))
        normal = np.array([-direction[1], direction[0]])
        if (outline.mean(axis=0) - a) @ normal < 0:
            normal = -normal
        lines.append((a + normal * offset, direction))
    corners = []
    for k in range(len(lines)):
        corners.append(_meet(lines[k - 1], lines[k], outline[k]))
    return Panel(np.clip(np.array(corners), 0, page.ink.shape[::-1]), tuple(framed))


def _trimmed(page: _Page, leaf: Points) -> Points:
    """A leaf without the paper around what is drawn in it."""
    ys, xs = np.nonzero((_inside(page.ink.shape, leaf) > 0) & page.ink)
    for turn, low, high in ((0.0, ys.min(), ys.max()), (np.pi / 2, -xs.max(), -xs.min())):
        leaf = _half(_half(leaf, turn, float(low) - 2, True), turn, float(high) + 2, False)
    return leaf


def _simplified(leaf: Points) -> Points:
    """Without corners that are none."""
    found = cv2.approxPolyDP(leaf.astype(np.float32).reshape(-1, 1, 2), 3.0, closed=True)
    return found.reshape(-1, 2).astype(np.float64) if len(found) > 2 else leaf


def _frame_along(page: _Page, a: Points, b: Points, middle: Points) -> tuple[float, bool]:
    """How far inside of a side the art begins, px, and whether a frame is drawn there."""
    length = float(np.linalg.norm(b - a))
    if length < 4:
        return 0.0, False
    direction = (b - a) / length
    normal = np.array([-direction[1], direction[0]])
    if (middle - a) @ normal < 0:
        normal = -normal
    deep = int(0.1 * max(page.ink.shape))
    along = np.linspace(0.03, 0.97, max(8, int(length)))[None, :, None]
    across = np.arange(-3, deep)[:, None, None]
    at = a + (b - a) * along + normal * across
    x, y = (np.rint(at[..., k]).astype(int) for k in (0, 1))
    height, width = page.ink.shape
    there = (x >= 0) & (y >= 0) & (x < width) & (y < height)
    ink = page.ink[np.clip(y, 0, height - 1), np.clip(x, 0, width - 1)] & there
    spread = ink | np.roll(ink, 1, axis=0) | np.roll(ink, -1, axis=0)
    share = spread.mean(axis=1)
    lined = np.flatnonzero(share >= _DRAWN)
    if len(lined) and ink[:max(0, int(lined[0]) - 2)].mean(axis=1).max(initial=0) < _BARE:
        first = row = int(lined[0])
        while row + 1 < len(share) and ink[row + 1].mean() >= 0.5:
            row += 1
        if row - first > _THICKEST * max(page.ink.shape):  # black lies against the frame
            row = first + 1
        return float(row - 3 + 1), True
    return 0.0, False


def _meet(one: tuple[Points, Points], other: tuple[Points, Points], near: Points) -> Points:
    (p, d), (q, e) = one, other
    cross = d[0] * e[1] - d[1] * e[0]
    if abs(cross) < 0.05:
        return near
    t = ((q - p)[0] * e[1] - (q - p)[1] * e[0]) / cross
    return p + d * t


def _filled_out(page: _Page, panels: list[Panel]) -> list[Panel]:
    """Sides without a frame moved out to where a gutter of the usual width is left, or as far as
    the frames of the page reach."""
    height, width = page.ink.shape
    ways = [_ways_out(page, panels, k) for k in range(len(panels))]
    between = [d for k, panel in enumerate(panels) for d, framed in zip(
        ways[k], panel.framed, strict=True) if framed and d is not None]
    usual = float(np.median(between)) if between else 0.012 * max(page.ink.shape)
    framed_points = [np.array([panel.outline[j], panel.outline[(j + 1) % len(panel.outline)]])
                     for panel in panels for j, f in enumerate(panel.framed) if f]
    reach = np.concatenate(framed_points) if framed_points else None
    found = []
    for k, panel in enumerate(panels):
        outline, n = panel.outline.copy(), len(panel.outline)
        for j in range(n):
            if panel.framed[j]:
                continue
            ends = [j, (j + 1) % n]
            normal = _outward(outline, j)
            away = ways[k][j]
            if away is not None:
                outline[ends] += normal * max(0.0, away - usual)
            elif reach is not None and not _bleeds(page, panel.outline, j):
                to = float((reach @ normal).max() - (outline[ends] @ normal).mean())
                outline[ends] += normal * max(0.0, to)
        found.append(replace(panel, outline=np.clip(outline, 0, [width, height])))
    return found


def _outward(outline: Points, side: int) -> Points:
    a, b = outline[side], outline[(side + 1) % len(outline)]
    normal = np.array([-(b - a)[1], (b - a)[0]]) / max(1e-6, float(np.linalg.norm(b - a)))
    inner: Points = outline.mean(axis=0) - a
    return normal if inner @ normal < 0 else -normal


def _ways_out(page: _Page, panels: list[Panel], number: int) -> list[float | None]:
    """For each side the px to the next panel, None where there is none."""
    others = np.zeros(page.ink.shape, np.uint8)
    for k, panel in enumerate(panels):
        if k != number:
            others |= _inside(page.ink.shape, panel.outline)
    outline, (height, width) = panels[number].outline, page.ink.shape
    found: list[float | None] = []
    for side in range(len(outline)):
        a, b = outline[side], outline[(side + 1) % len(outline)]
        normal = _outward(outline, side)
        far = int(0.4 * max(height, width))
        at = (a + (b - a) * np.linspace(0.1, 0.9, 17)[:, None])[:, None] \
            + normal * np.arange(1, far)[None, :, None]
        x, y = (np.rint(at[..., k]).astype(int) for k in (0, 1))
        there = (x >= 0) & (y >= 0) & (x < width) & (y < height)
        hit = there & (others[np.clip(y, 0, height - 1), np.clip(x, 0, width - 1)] > 0)
        first = np.where(hit.any(axis=1), hit.argmax(axis=1) + 1, far)
        found.append(float(first.min()) if first.min() < far else None)
    return found


def _bleeds(page: _Page, outline: Points, side: int) -> bool:
    """Whether art goes to the edge of the paper at a side."""
    a, b = outline[side], outline[(side + 1) % len(outline)]
    height, width = page.ink.shape
    beyond = np.array([a, b]) + 5 * _outward(outline, side)
    if ((beyond >= 0) & (beyond <= [width, height])).all():
        return False
    inner = a + (b - a) * np.linspace(0.05, 0.95, 60)[:, None]
    hit = np.zeros(60, bool)
    for depth in range(1, 6):
        at = np.rint(inner - _outward(outline, side) * depth).astype(int)
        hit |= page.ink[np.clip(at[:, 1], 0, height - 1), np.clip(at[:, 0], 0, width - 1)]
    return bool(hit.mean() > 0.02)


def _insets(page: _Page, panel: Panel, number: int) -> Iterator[Panel]:
    """Closed frames within a panel, with a margin of paper around them."""
    inside = _inside(page.ink.shape, panel.outline)
    own = max(1.0, _area(panel.outline))
    kept = cv2.erode(inside, np.ones((5, 5), np.uint8))
    ink = (page.ink & (kept > 0)).astype(np.uint8)
    contours, _ = cv2.findContours(ink, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    found: list[Points] = []
    for contour in sorted(contours, key=cv2.contourArea, reverse=True):
        hull = cv2.convexHull(contour)
        share = cv2.contourArea(hull) / own
        if not 0.03 < share < 0.7:
            continue
        quad = cv2.approxPolyDP(hull, 0.012 * cv2.arcLength(hull, True), True)
        corners = (quad if len(quad) == 4 else cv2.boxPoints(cv2.minAreaRect(hull))) \
            .reshape(-1, 2).astype(np.float64)
        size = corners.max(axis=0) - corners.min(axis=0)
        if size.min() < _SMALLEST_INSET * max(page.ink.shape) \
                or not 0.9 < _area(corners) / cv2.contourArea(hull) < 1.1 \
                or not _is_frame(page, corners):
            continue
        if any(_within(corners, other) or _within(other, corners) for other in found):
            continue
        found.append(corners)
    for corners in found:
        yield replace(_fitted(page, _grown(corners)), over=(number,))


def _grown(corners: Points) -> Points:
    middle = corners.mean(axis=0)
    away = corners - middle
    grown: Points = middle + away * (1 + 2 / np.linalg.norm(away, axis=1, keepdims=True))
    return grown


def _is_frame(page: _Page, corners: Points) -> bool:
    """Whether all sides are drawn, square enough, and stand off from what is around."""
    sides = np.roll(corners, -1, axis=0) - corners
    unit = sides / np.maximum(1e-6, np.linalg.norm(sides, axis=1))[:, None]
    if np.abs((unit * np.roll(unit, 1, axis=0)).sum(axis=1)).max() > 0.3:
        return False
    height, width = page.ink.shape
    middle = corners.mean(axis=0)
    margin = 0
    for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        along = np.linspace(0.02, 0.98, 120)[:, None]
        normal = np.array([-(b - a)[1], (b - a)[0]])
        normal = normal / max(1e-6, float(np.linalg.norm(normal)))
        if (middle - a) @ normal > 0:
            normal = -normal
        hit = np.zeros(120, bool)
        clear, thick = np.ones(120, bool), np.zeros(120, bool)
        deep = int(_THICKEST * max(page.ink.shape)) + 3
        for off in (-deep, -3, -2, -1, 0, 1, 2, 3, 6, 7):
            at = np.rint(a + (b - a) * along + normal * off).astype(int)
            ok = ((at >= 0) & (at < [width, height])).all(axis=1)
            ink = ok & page.ink[np.clip(at[:, 1], 0, height - 1), np.clip(at[:, 0], 0, width - 1)]
            if off == -deep:
                thick |= ink
            elif off < 4:
                hit |= ink
            else:
                clear &= ~ink
        if hit.mean() < 0.93 or thick.mean() > 0.9:
            return False
        margin += clear.mean() > 0.9
    return margin >= 3


def _within(one: Points, other: Points) -> bool:
    shared, _ = cv2.intersectConvexConvex(one.astype(np.float32), other.astype(np.float32))
    return bool(shared > 0.6 * _area(one))
