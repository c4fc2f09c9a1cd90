"""Panels fitted to their frames."""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from wardrobe.core.page.sheet import Points, Sheet, filled, half

_DRAWN = 0.85  # share of a side that is drawn where it is taken for a frame in the end
_THICKEST = 0.008  # of the page's longer edge: a frame's line
_BARE = 0.04  # share of what lies outside of a frame that may be drawn


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


def fitted(page: Sheet, leaf: Points) -> Panel:
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


def _trimmed(page: Sheet, leaf: Points) -> Points:
    """A leaf without the paper around what is drawn in it."""
    ys, xs = np.nonzero((filled(page.ink.shape, leaf) > 0) & page.ink)
    for turn, low, high in ((0.0, ys.min(), ys.max()), (np.pi / 2, -xs.max(), -xs.min())):
        leaf = half(half(leaf, turn, float(low) - 2, True), turn, float(high) + 2, False)
    return leaf


def _simplified(leaf: Points) -> Points:
    """Without corners that are none."""
    found = cv2.approxPolyDP(leaf.astype(np.float32).reshape(-1, 1, 2), 3.0, closed=True)
    return found.reshape(-1, 2).astype(np.float64) if len(found) > 2 else leaf


def _frame_along(page: Sheet, a: Points, b: Points, middle: Points) -> tuple[float, bool]:
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


def filled_out(page: Sheet, panels: list[Panel]) -> list[Panel]:
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


def _ways_out(page: Sheet, panels: list[Panel], number: int) -> list[float | None]:
    """For each side the px to the next panel, None where there is none."""
    others = np.zeros(page.ink.shape, np.uint8)
    for k, panel in enumerate(panels):
        if k != number:
            others |= filled(page.ink.shape, panel.outline)
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


def _bleeds(page: Sheet, outline: Points, side: int) -> bool:
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
