"""A page of four panels from Tilo Wick's round, drawn and lettered in ink."""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.png import encode_png
from wardrobe.demo import walk
from wardrobe.demo.pen import Pen

C = 1
WIDTH, HEIGHT = 2480, 3508
_LINE, _GUTTER, _MARGIN = 11, 44, 130
_FONT = cv2.FONT_HERSHEY_DUPLEX

Byte = NDArray[np.uint8]
Box = tuple[int, int, int, int]
Drawer = Callable[[Pen, int, int], walk.Spots]


def draw() -> bytes:
    """The page as PNG, 2480 x 3508 px: black on white."""
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    for box, draw_in in _panels():
        _panel(ink, box, draw_in)
    _say(ink, ["DUSK ALREADY.", "FORTY LAMPS TO GO."], (690, 330), (1240, 470))
    _say(ink, ["THAT ONE WAS", "DARK LAST NIGHT."], (560, 1330), (760, 1560))
    _say(ink, ["THERE.", "NOW THEY SEE THE STEPS."], (1660, 2460), (1010, 2560))
    grey = 255 - ink
    return encode_png(np.dstack([grey, grey, grey]))


def places() -> list[walk.Spots]:
    """For each panel places within the boy's parts, px of the page, from behind."""
    found = []
    for (x, y, w, h), draw_in in _panels():
        found.append([(name, (x + u, y + v)) for name, (u, v) in draw_in(Pen(w, h), w, h)
                      if 0 < u < w and 0 < v < h])
    return found


def _panels() -> list[tuple[Box, Drawer]]:
    half = (WIDTH - 2 * _MARGIN - _GUTTER) // 2
    wide = WIDTH - 2 * _MARGIN
    return [((_MARGIN, _MARGIN, wide, 980), _street), ((_MARGIN, 1154, half, 1040), _face),
            ((_MARGIN + half + _GUTTER, 1154, half, 1040), _lamp),
            ((_MARGIN, 2238, wide, 1140), _light)]


def _panel(ink: Byte, box: Box, draw_in: Drawer) -> None:
    x, y, w, h = box
    pen = Pen(w, h, line=7.0)
    draw_in(pen, w, h)
    rgba = decode_image(pen.svg().encode(), long_edge=max(w, h))
    drawn = cv2.multiply(rgba[..., 3], 255 - rgba[..., 0], scale=1 / 255)
    ink[y:y + h, x:x + w] = cv2.resize(drawn, (w, h), interpolation=cv2.INTER_AREA)
    cv2.rectangle(ink, (x, y), (x + w, y + h), 255, _LINE, cv2.LINE_AA)


def _street(pen: Pen, w: int, h: int) -> walk.Spots:
    floor = h - 150
    for left, high, roof in ((-60, 300, 0), (560, 210, 60), (1160, 340, 20), (1720, 250, 80)):
        pen.shape([(left, floor, C), (left, high, C), (left + 250, high - 150 - roof, C),
                   (left + 520, high, C), (left + 520, floor, C)])
        for k in range(2):
            x, y = left + 90 + 210 * k, high + 120
            pen.shape([(x, y, C), (x + 120, y, C), (x + 120, y + 170, C), (x, y + 170, C)], 0.8)
            pen.stroke([(x + 60, y), (x + 60, y + 170)], 0.5, (0, 0))
    pen.shape([(-40, floor, C), (w + 40, floor, C), (w + 40, h + 60, C), (-40, h + 60, C)])
    return walk.figure(pen, 0, (1230, 60), 0.76)


def _face(pen: Pen, w: int, h: int) -> walk.Spots:
    pen.stroke([(-20, 700), (300, 690), (w + 20, 720)], 0.9, (0, 0))
    return walk.figure(pen, 2, (-400, -60), 1.85)


def _lamp(pen: Pen, w: int, h: int) -> walk.Spots:
    floor = h - 128
    pen.shape([(-40, floor, C), (w + 40, floor - 10, C), (w + 40, h + 60, C), (-40, h + 60, C)])
    pen.shape([(760, floor + 30, C), (764, 300), (748, 290, C), (808, 290, C), (792, 300),
               (796, floor + 30, C)])
    pen.shape([(700, 160, C), (856, 160, C), (834, 292, C), (722, 292, C)])
    pen.shape([(676, 162, C), (778, 84, C), (880, 162, C)])
    return walk.figure(pen, 4, (40, 110), 0.72)


def _light(pen: Pen, w: int, h: int) -> walk.Spots:
    floor = h - 170
    pen.shape([(1560, floor, C), (1560, 420, C), (1860, 250, C), (2240, 420, C), (2240, floor, C)])
    for x in (1640, 1900):
        pen.shape([(x, 560, C), (x + 150, 560, C), (x + 150, 760, C), (x, 760, C)], 0.8)
    pen.shape([(-40, floor, C), (w + 40, floor, C), (w + 40, h + 60, C), (-40, h + 60, C)])
    for k in range(4):
        x = 1300 + 70 * k
        pen.shape([(x, floor + 2, C), (x, floor - 46 * k - 46, C), (x + 70, floor - 46 * k - 46, C),
                   (x + 70, floor + 2, C)])
    pen.shape([(860, floor + 20, C), (866, 330), (850, 318, C), (922, 318, C), (906, 330),
               (912, floor + 20, C)])
    pen.shape([(796, 170, C), (976, 170, C), (950, 320, C), (822, 320, C)])
    pen.shape([(768, 172, C), (886, 84, C), (1004, 172, C)])
    pen.shape([(886, 196), (914, 254), (886, 294), (858, 254)], 0.8)
    return walk.figure(pen, 6, (100, 60), 0.86)


def _say(ink: Byte, rows: list[str], at: tuple[int, int], to: tuple[int, int]) -> None:
    """A balloon with words, its tail towards who says them."""
    scale, step = 1.9, 74
    widths = [cv2.getTextSize(r, _FONT, scale, 4)[0][0] for r in rows]
    cx, cy = at
    rx, ry = int(0.66 * max(widths) + 40), int(0.78 * step * len(rows) + 44)
    shape = np.zeros(ink.shape, np.uint8)
    cv2.ellipse(shape, at, (rx, ry), 0, 0, 360, 255, -1, cv2.LINE_AA)
    way = np.array(to) - at
    side = 46 * np.array([-way[1], way[0]]) / np.hypot(*way)
    middle = np.array(at) + 0.3 * way
    tail = np.array([middle + side, middle - side, at + 0.85 * way])
    cv2.fillPoly(shape, [tail.astype(np.int32)], 255, cv2.LINE_AA)
    ink[shape > 127] = 0
    outline, _ = cv2.findContours((shape > 127).astype(np.uint8), cv2.RETR_EXTERNAL,
                                  cv2.CHAIN_APPROX_NONE)
    cv2.drawContours(ink, outline, -1, 255, 8, cv2.LINE_AA)
    for k, (row, width) in enumerate(zip(rows, widths, strict=True)):
        y = int(cy - step * (len(rows) - 1) / 2 + k * step + 22)
        cv2.putText(ink, row, (int(cx - width / 2), y), _FONT, scale, 255, 4, cv2.LINE_AA)
