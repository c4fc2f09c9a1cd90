"""A pass drawn in ink: how dark it is where, and which way its lines run."""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.ink.screens import dot_screen, line_screen, stipple

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

MOST_REACH = 240  # picture px around a place that have a say in it
_DEEP = 8.0  # line widths from the edge of a shape at which it is as dark as it gets
_MOST = MOST_REACH - 4.0
_CROSSES = 0.5  # of that way, where a second set of lines begins (common practice)
_BULGE, _CLING = np.float32(0.6), np.float32(0.4)  # how far lines follow the form
_CALM = 2.0  # line widths over which the form is smoothed: lines do not follow every fold
_CROSS_ANGLE = 64.0  # degrees between the two sets: a right angle looks like a weave


@dataclass(frozen=True)
class Hand:
    """How a shape is filled with ink.

    Attributes
    ----------
    style : str
        A key of STYLES.
    angle : float
        Degrees, counter-clockwise from the right: the way of the lines, or of the screen.
    spacing : float
        From line to line or from dot to dot, picture px.
    tone : float, 0..1
        Share of the paper that is covered, where it is darkest.
    pressure : float, 0..1
        How much of that grows from the edge of the shape inwards.
    taper : float
        px over which lines end.
    follow : str
        ``straight``, ``along`` the form, or ``across`` it.
    gap : float
        px that solid black keeps from lines.
    """

    style: str
    angle: float
    spacing: float
    tone: float
    pressure: float
    taper: float
    follow: str
    gap: float


@dataclass(frozen=True, eq=False)
class Sheet:
    """What a view is drawn from.

    Attributes
    ----------
    mask : ndarray of uint8, shape (height, width)
        The shape that is to be filled.
    ink : ndarray of uint8, same shape
        Coverage of the lines.
    swell : ndarray of float32, same shape
        How far the form stands out, px, and its normals: shape (height, width, 3).
    corner : (float, float)
        Picture px of the first pixel's corner.
    step : float
        Picture px from pixel to pixel.
    line_width : float
        Picture px.
    """

    mask: Byte
    ink: Byte
    swell: Real
    corner: tuple[float, float]
    step: float
    line_width: float


def draw(hand: Hand, sheet: Sheet) -> Byte:
    """The ink of a shape.

    Parameters
    ----------
    hand : Hand
    sheet : Sheet

    Returns
    -------
    ndarray of uint8, shape (height, width)
        Coverage, nowhere more than the shape's own.
    """
    filled = STYLES[hand.style](hand, sheet)
    inked: Byte = cv2.multiply(filled, sheet.mask, scale=1 / 255)
    return inked


def _depth(sheet: Sheet) -> Real:
    """Picture px from the edge of the shape."""
    inside = cv2.distanceTransform((sheet.mask > 127).astype(np.uint8), cv2.DIST_L2, 5)
    depth: Real = inside * np.float32(sheet.step)
    return depth


def _deep(sheet: Sheet) -> np.float32:
    """Picture px from the edge at which a shape is as dark as it gets."""
    return np.float32(min(_DEEP * sheet.line_width, _MOST))


def _tone(hand: Hand, sheet: Sheet, depth: Real) -> Real:
    """Darker from the edge inwards; thin at the ends."""
    tone = np.full(depth.shape, hand.tone, np.float32)
    if hand.pressure:
        inwards = np.clip(depth / _deep(sheet), 0, 1)
        tone *= 1 - np.float32(hand.pressure) * (1 - inwards)
    if hand.taper:
        tone *= np.clip(depth / np.float32(min(hand.taper, _MOST)), 0, 1)
    return tone


def _across(hand: Hand, sheet: Sheet, angle: float) -> Real:
    """Distance across lines of a direction, on the form or straight over it, picture px."""
    height, width = sheet.mask.shape
    turn = np.radians(angle)
    dx, dy = np.float32(np.sin(turn)), np.float32(np.cos(turn))  # at right angles to the lines
    x = np.float32(sheet.corner[0]) + (np.arange(width, dtype=np.float32) + 0.5) * sheet.step
    y = np.float32(sheet.corner[1]) + (np.arange(height, dtype=np.float32) + 0.5) * sheet.step
    straight = (x * dx)[None] + (y * dy)[:, None]
    if hand.follow == "straight":
        return straight.astype(np.float32)
    out, nx, ny = (sheet.swell[..., k] for k in range(3))
    if hand.follow == "across":  # as planes cut the form
        return (straight + _BULGE * out).astype(np.float32)
    # As threads lie along it: farther apart in the middle than where it turns away.
    turned = np.arcsin(np.clip(nx * dx + ny * dy, -0.999, 0.999))
    size = np.hypot(out, 1.0)
    return ((1 - _CLING) * straight + _CLING * size * turned).astype(np.float32)


def _parallel(hand: Hand, sheet: Sheet) -> Byte:
    tone = _tone(hand, sheet, _depth(sheet))
    return line_screen(tone, _across(hand, sheet, hand.angle), hand.spacing)


def _crossed(hand: Hand, sheet: Sheet) -> Byte:
    depth = _depth(sheet)
    tone = _tone(hand, sheet, depth)
    first = line_screen(tone, _across(hand, sheet, hand.angle), hand.spacing)
    begins = _CROSSES * _deep(sheet)
    ends = np.clip((depth - begins) / np.float32(max(hand.taper, 1.0)), 0, 1)
    second = line_screen(tone * ends, _across(hand, sheet, hand.angle + _CROSS_ANGLE),
                         hand.spacing)
    both: Byte = 255 - cv2.multiply(255 - first, 255 - second, scale=1 / 255)
    return both


def _screened(hand: Hand, sheet: Sheet) -> Byte:
    return dot_screen(_tone(hand, sheet, _depth(sheet)), hand.spacing, hand.angle, sheet.corner,
                      sheet.step)


def _strewn(hand: Hand, sheet: Sheet) -> Byte:
    return stipple(_tone(hand, sheet, _depth(sheet)), hand.spacing, sheet.corner, sheet.step)


def _solid(hand: Hand, sheet: Sheet) -> Byte:
    if hand.gap <= 0:
        return np.full(sheet.mask.shape, 255, np.uint8)
    away = cv2.distanceTransform((sheet.ink <= 127).astype(np.uint8), cv2.DIST_L2, 5)
    free = np.clip((away * np.float32(sheet.step) - np.float32(hand.gap))
                   / np.float32(sheet.step) + np.float32(0.5), 0, 1)
    found: Byte = (free * 255 + np.float32(0.5)).astype(np.uint8)
    return found


STYLES: dict[str, Callable[[Hand, Sheet], Byte]] = {
    "lines": _parallel, "crossed": _crossed, "dots": _screened, "stipple": _strewn,
    "solid": _solid}


def swell_seen(form: Form, x: float, y: float, scale: float, shape: tuple[int, int]) -> Real:
    """How far the form stands out in a view, picture px, and its normals' x and y.

    Parameters
    ----------
    form : Form
    x, y, scale : float
        The view's corner in picture px, and its pixels per picture px.
    shape : (int, int)

    Notes
    -----
    A ball or a tube of radius r stands out r times the z of its normal; the radius of a form is
    the largest distance from its edge.
    """
    grid = form.grid
    radius = np.zeros(int(form.labels.max()) + 1, np.float32)
    np.maximum.at(radius, form.labels.ravel(), form.edge.ravel())
    out = radius[form.labels] / np.float32(grid.scale) * form.normals[..., 2]
    fields = cv2.GaussianBlur(np.dstack([out, form.normals[..., :2]]).astype(np.float32), (0, 0),
                              max(1.0, _CALM * grid.line_width))
    step = grid.scale / scale
    back = np.array([[step, 0, (x - grid.x) * grid.scale + step / 2 - 0.5],
                     [0, step, (y - grid.y) * grid.scale + step / 2 - 0.5]])
    seen: Real = cv2.warpAffine(fields, back, shape[::-1], borderMode=cv2.BORDER_REPLICATE,
                                flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP)
    return seen
