"""Pages of panels, made up: grids, insets, without frames, to the edge of the paper, tilted.

What is drawn in the panels comes from the object drawings and busts of `hands`.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Points = NDArray[np.float64]

WIDTH, HEIGHT = 1240, 1754
KINDS = ("grid", "inset", "borderless", "bleed", "tilted")
_FONT = cv2.FONT_HERSHEY_SIMPLEX
_WORDS = ("WHERE", "IS", "THE", "LANTERN", "NOW", "WAIT", "RUN", "TIDE", "COMES", "IN", "NO",
          "LIGHT", "LEFT", "HOLD", "ON", "KEEPER", "OH", "LOOK", "UP", "AT", "LAST")


@dataclass
class Page:
    """A page, the true outlines of its panels in the order of reading, and what is lettered."""

    kind: str
    ink: Byte
    panels: list[Points]
    lettered: NDArray[np.bool_]
    balloons: list[Points] = field(default_factory=list)


def pages(count: int, seed: int, art: list[Byte]) -> Iterator[Page]:
    """Pages of every kind by turns; ``art`` are line drawings to fill them with."""
    for k in range(count):
        yield _page(KINDS[k % len(KINDS)], np.random.default_rng([seed, k]), art)


def _page(kind: str, dice: np.random.Generator, art: list[Byte]) -> Page:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    line = int(dice.integers(3, 7))
    gutter = float(dice.uniform(14, 34))
    margin = 0.0 if kind == "bleed" else float(dice.uniform(30, 90))
    quads = _layout(kind, dice, gutter, margin)
    page = Page(kind, ink, [], np.zeros(ink.shape, bool))
    bare = set()
    if kind == "borderless":
        bare = set(dice.choice(len(quads), max(1, len(quads) // 3), replace=False).tolist())
        for k in sorted(bare):  # two of them side by side could not be told apart
            if any(_apart(quads[k], quads[j]) < 2 * gutter for j in bare - {k}):
                bare.discard(k)
    for k, quad in enumerate(quads):
        _draw(page, quad, k not in bare, line, dice, art)
        page.panels.append(_shrunk(quad, line / 2) if k not in bare else quad)
    if kind == "inset":
        _set_in(page, dice, line, art)
    return page


def _layout(kind: str, dice: np.random.Generator, gutter: float, margin: float) -> list[Points]:
    """Rows of panels, some of them split once more."""
    rows = int(dice.integers(2, 5))
    heights = dice.dirichlet(np.full(rows, 8.0))
    inner_w, inner_h = WIDTH - 2 * margin, HEIGHT - 2 * margin
    tilt = (lambda: float(np.tan(np.radians(dice.uniform(-8, 8))))) if kind == "tilted" else \
        (lambda: 0.0)
    quads: list[Points] = []
    top, top_tilt = margin, 0.0
    for r in range(rows):
        bottom = top + heights[r] * inner_h
        low_tilt = 0.0 if r == rows - 1 else 0.5 * tilt()
        columns = int(dice.integers(1, 4 if heights[r] * inner_h > 260 else 3))
        widths = dice.dirichlet(np.full(columns, 8.0))
        left, left_tilt = margin, 0.0
        split = int(dice.integers(columns))  # two that are split side by side read as two rows
        for c in range(columns):
            right = left + widths[c] * inner_w
            right_tilt = 0.0 if c == columns - 1 else tilt()

            def y(x: float, base: float, t: float) -> float:
                return base + t * (x - WIDTH / 2)

            mid = (top + bottom) / 2
            corners = []
            for x, xt, base, t, sx, sy in (
                    (left, left_tilt, top, top_tilt, 1, 1),
                    (right, right_tilt, top, top_tilt, -1, 1),
                    (right, right_tilt, bottom, low_tilt, -1, -1),
                    (left, left_tilt, bottom, low_tilt, 1, -1)):
                yy = y(x, base, t)
                xx = x + xt * (yy - mid)
                yy = y(xx, base, t)
                gx = gutter / 2 if margin < abs(x) < WIDTH - margin - 1 else 0
                gy = gutter / 2 if margin < base < HEIGHT - margin - 1 else 0
                corners.append((xx + sx * gx, yy + sy * gy))
            quad = np.array(corners)
            if kind in ("grid", "borderless") and columns > 1 and heights[r] * inner_h > 640 \
                    and c == split and dice.random() < 0.7:
                cut = dice.uniform(0.4, 0.6) * (quad[2, 1] - quad[0, 1]) + quad[0, 1]
                upper, lower = quad.copy(), quad.copy()
                upper[2:, 1] = cut - gutter / 2
                lower[:2, 1] = cut + gutter / 2
                quads += [upper, lower]
            else:
                quads.append(quad)
            left, left_tilt = right, right_tilt
        top, top_tilt = bottom, low_tilt
    return quads


def _apart(one: Points, other: Points) -> float:
    """px between the boxes of two panels."""
    gap = np.maximum(one.min(axis=0) - other.max(axis=0), other.min(axis=0) - one.max(axis=0))
    return float(np.maximum(gap, 0).max())


def _draw(page: Page, quad: Points, framed: bool, line: int, dice: np.random.Generator,
          art: list[Byte], bleed: bool = False) -> None:
    """Art within a panel, its frame, and what is said in it."""
    low, high = quad.min(axis=0), quad.max(axis=0)
    size = high - low
    mask = np.zeros(page.ink.shape, np.uint8)
    cv2.fillPoly(mask, [np.round(quad).astype(np.int32)], 255)
    drawn = np.zeros_like(mask)
    for _ in range(int(dice.integers(1, 4))):
        some = art[int(dice.integers(len(art)))]
        ys, xs = np.nonzero(some > 128)
        some = some[ys.min():ys.max() + 1, xs.min():xs.max() + 1]
        goal = dice.uniform(0.4, 1.1) * min(size) if framed else dice.uniform(0.4, 0.75) * min(size)
        scale = goal / max(some.shape)
        small = cv2.resize(some, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        room = 0.3 if framed else 0.0
        left = dice.uniform(low[0] - room * small.shape[1],
                            max(low[0] + 1, high[0] - (1 - room) * small.shape[1]))
        top = dice.uniform(low[1] - room * small.shape[0],
                           max(low[1] + 1, high[1] - (1 - room) * small.shape[0]))
        x, y = max(0, int(left)), max(0, int(top))
        w, h = min(small.shape[1], WIDTH - x), min(small.shape[0], HEIGHT - y)
        if w > 8 and h > 8:
            drawn[y:y + h, x:x + w] = np.maximum(drawn[y:y + h, x:x + w], small[:h, :w])
    if framed and dice.random() < 0.6:  # a horizon, a wall
        yy = int(dice.uniform(low[1] + 0.3 * size[1], high[1] - 0.1 * size[1]))
        cv2.line(drawn, (int(low[0]) - 20, yy), (int(high[0]) + 20, yy + int(dice.normal(0, 25))),
                 255, max(2, line - 2), cv2.LINE_AA)
    if framed and dice.random() < 0.3:
        xx = int(dice.uniform(low[0] + 0.2 * size[0], high[0] - 0.2 * size[0]))
        cv2.line(drawn, (xx, int(low[1]) - 20), (xx + int(dice.normal(0, 25)), int(high[1]) + 20),
                 255, max(2, line - 2), cv2.LINE_AA)
    if dice.random() < 0.7 and min(size) > 190:
        _say(page, drawn, low, high, dice)
    if framed:
        cv2.polylines(drawn, [np.round(quad).astype(np.int32)], True, 255, line, cv2.LINE_AA)
        page.ink[:] = np.where(mask > 0, np.maximum(drawn, 0), page.ink)
        cv2.polylines(page.ink, [np.round(quad).astype(np.int32)], True, 255, line, cv2.LINE_AA)
    else:
        page.ink[:] = np.where(mask > 0, drawn, page.ink)


def _say(page: Page, drawn: Byte, low: Points, high: Points, dice: np.random.Generator) -> None:
    """A balloon with words."""
    height = int(dice.integers(13, 19))
    scale = height / 21
    rows = [" ".join(dice.choice(_WORDS, int(dice.integers(1, 4)))) for _ in
            range(int(dice.integers(1, 4)))]
    widths = [cv2.getTextSize(r, _FONT, scale, 2)[0][0] for r in rows]
    w, h = max(widths), int(len(rows) * height * 1.7)
    size = high - low
    if w * 1.7 > size[0] or h * 2.2 > size[1]:
        return
    cx = dice.uniform(low[0] + 0.9 * w, high[0] - 0.9 * w) if size[0] > 1.9 * w else \
        (low[0] + high[0]) / 2
    cy = low[1] + dice.uniform(1.1, 1.5) * h
    box = dice.random() < 0.25
    thick = int(dice.integers(2, 5))
    shape = np.zeros(drawn.shape, np.uint8)
    if box:
        cv2.rectangle(shape, (int(cx - 0.6 * w), int(cy - 0.8 * h)),
                      (int(cx + 0.6 * w), int(cy + 0.8 * h)), 255, -1)
    else:
        cv2.ellipse(shape, (int(cx), int(cy)), (int(0.78 * w), int(0.95 * h)), 0, 0, 360, 255, -1)
        tail = np.array([[cx - 10, cy + 0.8 * h], [cx + 14, cy + 0.8 * h],
                         [cx + dice.normal(0, 40), cy + 1.35 * h]], np.int32)
        cv2.fillPoly(shape, [tail], 255)
    outline, _ = cv2.findContours(shape, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    drawn[shape > 0] = 0
    cv2.drawContours(drawn, outline, -1, 255, thick, cv2.LINE_AA)
    for k, (row, wide) in enumerate(zip(rows, widths, strict=True)):
        at = (int(cx - wide / 2), int(cy - h / 2 + (k + 0.75) * height * 1.7))
        letters = np.zeros(drawn.shape, np.uint8)
        cv2.putText(letters, row, at, _FONT, scale, 255, 2, cv2.LINE_AA)
        drawn[:] = np.maximum(drawn, letters)
        page.lettered |= letters > 128
    page.balloons.append(outline[0].reshape(-1, 2).astype(np.float64))


def _set_in(page: Page, dice: np.random.Generator, line: int, art: list[Byte]) -> None:
    """A panel set into the largest, with a margin of paper."""
    sizes = [np.prod(q.max(axis=0) - q.min(axis=0)) for q in page.panels]
    k = int(np.argmax(sizes))
    low, high = page.panels[k].min(axis=0), page.panels[k].max(axis=0)
    size = (high - low) * dice.uniform(0.28, 0.42, 2)
    corner = int(dice.integers(4))
    gap = dice.uniform(0.04, 0.07) * (high - low)
    left = low[0] + gap[0] if corner in (0, 3) else high[0] - gap[0] - size[0]
    top = low[1] + gap[1] if corner in (0, 1) else high[1] - gap[1] - size[1]
    quad = np.array([[left, top], [left + size[0], top], [left + size[0], top + size[1]],
                     [left, top + size[1]]])
    around = dice.uniform(8, 16)
    cv2.rectangle(page.ink, (int(left - around), int(top - around)),
                  (int(left + size[0] + around), int(top + size[1] + around)), 0, -1)
    page.lettered[int(top - around):int(top + size[1] + around),
                  int(left - around):int(left + size[0] + around)] = False
    balloons = page.balloons
    page.balloons = [b for b in balloons if not (
        b[:, 0].max() > left - around and b[:, 0].min() < left + size[0] + around
        and b[:, 1].max() > top - around and b[:, 1].min() < top + size[1] + around)]
    _draw(page, quad, True, line, dice, art)
    page.panels.insert(k if corner == 0 else k + 1, _shrunk(quad, line / 2))


def _shrunk(quad: Points, by: float) -> Points:
    """To the inner side of its frame."""
    middle = quad.mean(axis=0)
    return quad - by * np.sign(quad - middle)
