"""Pim, the courier owl of the night ferry: a pencil sketch, photographed on a desk."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.images import decode_image
from wardrobe.demo.pen import Pen

C = 1  # a third entry marks a corner
_LONG_EDGE = 2400
_SEED = 20
# Where the pencil lifted off the outline: x, y, radius in the drawing's units.
_LIFTED = ((211, 700, 9), (789, 690, 6), (283, 262, 6), (500, 1232, 11), (300, 1063, 6),
           (567, 600, 5))


def draw() -> bytes:
    """The photo as JPEG, 1800 x 2400 px for 1000 x 1333 units; the same every time."""
    return _develop(graphite(), np.random.default_rng(_SEED))


def graphite() -> NDArray[np.float32]:
    """How much graphite the pencil left, 0..1: the truth behind the photo."""
    pen = Pen(1000, 1333, line=5.0)
    _branch(pen)
    _tail(pen)
    _body(pen)
    _wings(pen)
    _scarf(pen)
    _head(pen)
    _bag(pen)
    rgba = decode_image(pen.svg().encode(), long_edge=_LONG_EDGE)
    dark = cv2.multiply(rgba[..., 3], 255 - rgba[..., 0], scale=1 / 255).astype(np.float32) / 255
    scale = dark.shape[0] / 1333
    for x, y, radius in _LIFTED:
        cv2.circle(dark, (round(x * scale), round(y * scale)), round(radius * scale), 0.0, -1)
    return dark


def _branch(pen: Pen) -> None:
    pen.shape([(60, 1080, C), (240, 1062), (500, 1072), (780, 1052), (950, 1064, C), (956, 1112, C),
               (760, 1112), (500, 1130), (230, 1118), (70, 1128, C)])
    pen.stroke([(150, 1096), (260, 1088), (360, 1094)], 0.6)
    pen.stroke([(700, 1082), (800, 1076), (880, 1082)], 0.6)
    pen.shape([(840, 1058, C), (872, 990), (930, 950, C), (944, 968), (906, 1010), (892, 1060, C)],
              0.9)


def _tail(pen: Pen) -> None:
    for x in (430, 500, 570):
        pen.shape([(x - 38, 960, C), (x - 44, 1080), (x - 26, 1200), (x, 1232), (x + 26, 1200),
                   (x + 44, 1080), (x + 38, 960, C)])
        pen.stroke([(x, 1090), (x + 2, 1140), (x, 1190)], 0.6)


def _body(pen: Pen) -> None:
    pen.shape([(500, 380), (640, 430), (728, 570), (742, 760), (690, 930), (590, 1020), (500, 1036),
               (410, 1020), (310, 930), (258, 760), (272, 570), (360, 430)])
    pen.shape([(500, 560), (596, 600), (640, 720), (622, 870), (560, 960), (500, 976), (440, 960),
               (378, 870), (360, 720), (404, 600)], 0.8)
    for y, xs in ((700, (440, 500, 560)), (760, (410, 470, 530, 590)), (820, (440, 500, 560)),
                  (880, (470, 530))):
        for x in xs:
            pen.stroke([(x - 16, y - 8), (x, y + 10), (x + 16, y - 8)], 0.6, (0.6, 0.6))
    for x in (420, 580):
        for off in (-34, 0, 34):
            pen.shape([(x + off - 18, 1030), (x + off, 1014), (x + off + 18, 1030),
                       (x + off + 16, 1082), (x + off, 1104), (x + off - 16, 1082)], 0.9)


def _wings(pen: Pen) -> None:
    for side in (-1, 1):
        def at(x: float, y: float, side: int = side) -> tuple[float, float]:
            return 500 + side * x, y
        pen.shape([(*at(196, 470), C), at(262, 560), at(290, 720), at(270, 860),
                   (*at(206, 962), C), at(202, 880), at(160, 760), at(150, 620)])
        pen.stroke([at(262, 700), at(236, 770), at(206, 800)], 0.7)
        pen.stroke([at(272, 780), at(250, 840), at(222, 868)], 0.7)
        pen.stroke([at(240, 600), at(220, 660), at(190, 690)], 0.7)


def _scarf(pen: Pen) -> None:
    pen.shape([(606, 500, C), (640, 560), (650, 640), (622, 690, C), (590, 676), (560, 690, C),
               (570, 600), (556, 520, C)])
    pen.stroke([(612, 560), (618, 610), (612, 650)], 0.6)
    pen.shape([(316, 430), (360, 404), (500, 440), (640, 404), (684, 430), (690, 490), (640, 540),
               (500, 568), (360, 540), (310, 490)])
    pen.stroke([(352, 470), (420, 510), (500, 520)], 0.7)
    pen.stroke([(650, 466), (600, 496), (540, 512)], 0.7)


def _head(pen: Pen) -> None:
    pen.shape([(308, 150, C), (380, 186), (440, 202), (500, 204), (560, 202), (620, 186),
               (692, 150, C), (716, 250), (712, 340), (660, 430), (560, 476), (500, 482),
               (440, 476), (340, 430), (288, 340), (284, 250)])
    pen.stroke([(312, 158), (356, 210), (376, 236)], 0.7)
    pen.stroke([(688, 158), (644, 210), (624, 236)], 0.7)
    for side in (-1, 1):
        def at(x: float, y: float, side: int = side) -> tuple[float, float]:
            return 500 + side * x, y

        def ring(r: float, side: int = side) -> list[tuple[float, float]]:
            turn = np.linspace(0, 2 * np.pi, 12, endpoint=False)
            return [(500 + side * 96 + r * float(np.cos(t)), 320 + r * float(np.sin(t)))
                    for t in turn]
        pen.shape(ring(92), 0.9)
        pen.shape(ring(56), 0.9)
        pen.black(ring(27))
        pen.shape([at(88, 306), at(96, 310), at(88, 316), at(82, 311)], 0.3)
        # a heavy lid makes an owl patient
        pen.shape([(*at(196, 296), C), at(150, 286), at(96, 274), at(44, 284), (*at(8, 312), C),
                   at(40, 250), at(100, 232), (*at(176, 246), C)], 0.9)
    pen.shape([(500, 330, C), (528, 366), (518, 402), (500, 432, C), (482, 402), (472, 366)])
    pen.stroke([(500, 336), (504, 370), (500, 400)], 0.6)


def _bag(pen: Pen) -> None:
    pen.shape([(330, 520, C), (356, 536), (560, 760), (668, 866, C), (650, 890, C), (540, 792),
               (340, 572), (316, 552, C)], 0.9)
    pen.shape([(560, 830, C), (700, 822), (742, 836, C), (752, 930), (742, 990, C), (650, 1000),
               (566, 994, C), (552, 900)])
    pen.shape([(554, 826, C), (650, 816), (748, 830, C), (742, 890), (700, 918), (652, 926),
               (600, 918), (560, 890)], 0.9)
    pen.shape([(636, 908, C), (668, 908, C), (668, 946, C), (636, 946, C)], 0.8)


def _develop(dark: NDArray[np.float32], rng: np.random.Generator) -> bytes:
    """A phone photo: graphite on warm paper, a lamp at one side, blur, noise, JPEG."""
    height, width = dark.shape
    tooth = cv2.GaussianBlur(rng.normal(0, 1, dark.shape).astype(np.float32), (0, 0), 1.2)
    graphite = 0.78 * dark * np.clip(0.92 + 0.35 * tooth, 0.5, 1.1)
    fibre = cv2.GaussianBlur(rng.normal(0, 1, dark.shape).astype(np.float32), (0, 0), 3)
    paper = 1 + 0.03 * fibre
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    lamp = 1 / (1 + ((x / width + 0.15) ** 2 + (y / height - 0.1) ** 2) * 0.55)
    corner = 1 - 0.34 * (((x / width - 0.5) ** 2 + (y / height - 0.5) ** 2) / 0.5) ** 1.5
    light = 235 * lamp * corner
    tint = np.array([1.0, 0.955, 0.85], np.float32)
    photo = (light * paper * (1 - graphite))[..., None] * tint
    photo = cv2.GaussianBlur(photo, (0, 0), 1.1)
    photo += rng.normal(0, 3.2, photo.shape).astype(np.float32)
    pixels = np.clip(photo, 0, 255).astype(np.uint8)
    return cv2.imencode(".jpg", pixels[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 86])[1].tobytes()
