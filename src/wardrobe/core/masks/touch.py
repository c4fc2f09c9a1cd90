"""Corrections of masks by hand: an outline or a pen's stroke, put in, taken out or softened."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.passes.table import PASSES

Byte = NDArray[np.uint8]
Act = Literal["put in", "take out", "soften"]

_SHIFT = 4  # fractional bits of places
_FINER = (4, 2)  # times in either direction that a touch-up is drawn finer, for even edges
_FINER_PIXELS = 64_000_000
_MOST_PAINT = 40_000_000  # pixels; a stroke that fills more, over and over, is drawn coarser
_LARGE_SIGMA = 12.0  # px from which a blur is done at a smaller size
_SOFT_SHARE = 0.4  # of the pen's width: standard deviation of what it softens


@dataclass(frozen=True)
class Touch:
    """A touch-up as it lies on a view.

    Attributes
    ----------
    key : str
        The pass.
    act : str
    part : int or None
        Row of the part that it keeps to; None for all.
    box : (slice, slice)
        Rows and columns of the view.
    cover : ndarray of uint8
        How much of each pixel of the box it covers.
    width : float
        Of the pen at its widest, in pixels of the view.
    """

    key: str
    act: Act
    part: int | None
    box: tuple[slice, slice]
    cover: Byte
    width: float


def draw_touch(key: str, act: Act, part: int | None, points: NDArray[np.float64],
               widths: NDArray[np.float64], shape: tuple[int, int]) -> Touch | None:
    """Draw a touch-up, anti-aliased.

    Parameters
    ----------
    points : ndarray of float64, shape (n, 2)
        Pixels of the view; an outline is closed and filled.
    widths : ndarray of float64, shape (n,) or (0,)
        Of the pen, in pixels of the view; empty for an outline.
    shape : (int, int)
        Height and width of the view.

    Returns
    -------
    Touch or None
        None if it lies outside the view.
    """
    width = float(widths.max(initial=0))
    margin = width / 2 + (3 * _SOFT_SHARE * width if act == "soften" else 0) + 2
    low, high = np.floor(points.min(axis=0) - margin), np.ceil(points.max(axis=0) + margin)
    x0, y0 = np.maximum(0, low).astype(int)
    x1, y1 = np.minimum((shape[1], shape[0]), high).astype(int)
    if x1 <= x0 or y1 <= y0:
        return None
    # Drawn as a whole where that is possible: what OpenCV cuts off at a border has other edges.
    if np.prod(high - low) > _FINER_PIXELS:
        low, high = np.array([x0, y0], float), np.array([x1, y1], float)
    # OpenCV's own anti-aliasing makes shapes half a pixel larger all round.
    finer = _finer(points, widths, float(np.prod(high - low)))
    wide, tall = (high - low).astype(int).tolist()
    fine = np.zeros((max(1, round(tall * finer)), max(1, round(wide * finer))), np.uint8)
    at = (points - low) * finer - 0.5  # OpenCV counts places from the middle of pixels
    if len(widths):
        _draw_stroke(fine, at, widths * finer)
    else:
        cv2.fillPoly(fine, [_fixed(at)], 255, cv2.LINE_8, _SHIFT)
    how = cv2.INTER_AREA if finer >= 1 else cv2.INTER_LINEAR
    whole = cv2.resize(fine, (wide, tall), interpolation=how)
    left, top = low.astype(int).tolist()
    cover = np.ascontiguousarray(whole[y0 - top:y1 - top, x0 - left:x1 - left])
    return Touch(key, act, part, (slice(int(y0), int(y1)), slice(int(x0), int(x1))), cover, width)


def _finer(points: NDArray[np.float64], widths: NDArray[np.float64], pixels: float) -> float:
    """How much finer a touch-up is drawn: the same in every tile, so all of it counts."""
    for finer in _FINER:
        if pixels * finer**2 < _FINER_PIXELS and _paint(points, widths * finer) < _MOST_PAINT:
            return float(finer)
    return min(1.0, (_MOST_PAINT / _paint(points, widths)) ** 0.5)


def _paint(points: NDArray[np.float64], widths: NDArray[np.float64]) -> float:
    """Pixels that drawing a stroke fills, one over the other, at least 1."""
    if not len(widths):
        return 1.0
    lengths = np.hypot(*np.diff(points, axis=0).T)
    return float(1 + (widths**2).sum() + (lengths * widths[:-1]).sum())


def _fixed(points: NDArray[np.float64]) -> NDArray[np.int32]:
    return np.round(np.clip(points, -120_000, 120_000) * (1 << _SHIFT)).astype(np.int32)


def _draw_stroke(cover: Byte, points: NDArray[np.float64], widths: NDArray[np.float64]) -> None:
    """Disks at the points, and between them what lies inside their outer tangents."""
    # Half a pixel less: borders are drawn, too.
    half = np.maximum(0.0, widths / 2 - 0.5)
    radii = np.maximum(1, np.round(half * (1 << _SHIFT))).astype(int)
    for centre, radius in zip(_fixed(points).tolist(), radii.tolist(), strict=True):
        cv2.circle(cover, centre, radius, 255, -1, cv2.LINE_8, _SHIFT)
    way = np.diff(points, axis=0)
    length = np.hypot(way[:, 0], way[:, 1])
    apart = length >= 1e-3
    side = np.stack([-way[:, 1], way[:, 0]], axis=1)[apart] / length[apart, None]
    here, there = points[:-1][apart], points[1:][apart]
    begin, end = side * half[:-1][apart, None], side * half[1:][apart, None]
    for ring in _fixed(np.stack([here + begin, there + end, there - end, here - begin], axis=1)):
        cv2.fillConvexPoly(cover, ring, 255, cv2.LINE_8, _SHIFT)


def touch_up(levels: Byte, keys: Sequence[str], parts: NDArray[np.uint16],
             touches: Sequence[Touch]) -> None:
    """Correct masks, in place, in the order of the touch-ups.

    What is put into a pass is put into what it lies within, too, and what is put in light comes
    out of the shade; what disagrees otherwise is for ``settle`` to settle.

    Parameters
    ----------
    levels : ndarray of uint8, shape (height, width, planes)
    keys : sequence of str
        Passes, in the order of the masks; touch-ups of others do nothing.
    parts : ndarray of uint16, shape (height, width)
        Row of the part of each pixel; 0, the ground, is never touched.
    touches : sequence of Touch
    """
    for touch in touches:
        if touch.key not in keys:
            continue
        here = parts[touch.box]
        mine = here > 0 if touch.part is None else here == touch.part
        cover = np.where(mine, touch.cover, np.uint8(0))
        masks = levels[touch.box]
        at = keys.index(touch.key)
        if touch.act == "soften":
            for k in _touched_by(touch.key, keys):
                masks[..., k] = _softened(masks[..., k], here, mine, cover, touch.width)
        elif touch.act == "take out":
            masks[..., at] = np.minimum(masks[..., at], 255 - cover)
        else:
            for k in _touched_by(touch.key, keys):
                masks[..., k] = np.maximum(masks[..., k], cover)
            if PASSES[touch.key].lit:
                for k, other in enumerate(keys):
                    if other in PASSES and not PASSES[other].lit and not PASSES[other].alone:
                        masks[..., k] = np.minimum(masks[..., k], 255 - cover)


def _touched_by(key: str, keys: Sequence[str]) -> list[int]:
    """The masks of a pass and of what it lies within; bounced light makes no shade."""
    within = PASSES[key].within if PASSES[key].takes_along else ()
    return [k for k, other in enumerate(keys) if other == key or other in within]


def _softened(mask: Byte, parts: NDArray[np.uint16], mine: NDArray[np.bool_], cover: Byte,
              width: float) -> Byte:
    """Blur a mask inside each part on its own, where the pen went."""
    sigma = max(0.5, _SOFT_SHARE * width)
    out = mask.astype(np.float32)
    share = _blurred(cover.astype(np.float32), sigma / 2) / np.float32(255)
    for part in np.unique(parts[mine]):
        inside = (parts == part).astype(np.float32)
        blurred, whole = (_blurred(image, sigma) for image in (mask * inside, inside))
        here = inside > 0
        target = blurred[here] / np.maximum(whole[here], 1e-6)
        out[here] += share[here] * (target - out[here])
    return np.where(mine, np.clip(out + 0.5, 0, 255).astype(np.uint8), mask)


def _blurred(image: NDArray[np.float32], sigma: float) -> NDArray[np.float32]:
    """A Gaussian blur; a wide one on a smaller picture, where it costs the same as any other."""
    factor = int(sigma / _LARGE_SIGMA * 2) if sigma > _LARGE_SIGMA else 1
    height, width = image.shape
    small = image if factor == 1 else cv2.resize(
        image, (-(-width // factor), -(-height // factor)), interpolation=cv2.INTER_AREA)
    small = cv2.GaussianBlur(small, (0, 0), sigma / factor, borderType=cv2.BORDER_REPLICATE)
    return np.asarray(small if factor == 1 else cv2.resize(
        small, (width, height), interpolation=cv2.INTER_LINEAR), np.float32)
