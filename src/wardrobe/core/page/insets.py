"""Panels that are set into others."""

from collections.abc import Iterator
from dataclasses import replace

import cv2
import numpy as np

from wardrobe.core.page.frames import Panel, fitted
from wardrobe.core.page.sheet import Points, Sheet, area, filled

_THICKEST = 0.008  # of the page's longer edge: a frame's line
_SMALLEST_INSET = 0.075  # of the page's longer edge


def insets(page: Sheet, panel: Panel, number: int) -> Iterator[Panel]:
    """Closed frames within a panel, with a margin of paper around them."""
    inside = filled(page.ink.shape, panel.outline)
    own = max(1.0, area(panel.outline))
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
                or not 0.9 < area(corners) / cv2.contourArea(hull) < 1.1 \
                or not _is_frame(page, corners):
            continue
        if any(within(corners, other) or within(other, corners) for other in found):
            continue
        found.append(corners)
    for corners in found:
        yield replace(fitted(page, _grown(corners)), over=(number,))


def _grown(corners: Points) -> Points:
    middle = corners.mean(axis=0)
    away = corners - middle
    grown: Points = middle + away * (1 + 2 / np.linalg.norm(away, axis=1, keepdims=True))
    return grown


def _is_frame(page: Sheet, corners: Points) -> bool:
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


def within(one: Points, other: Points) -> bool:
    """Whether most of a convex outline lies in another."""
    shared, _ = cv2.intersectConvexConvex(one.astype(np.float32), other.astype(np.float32))
    return bool(shared > 0.6 * area(one))
