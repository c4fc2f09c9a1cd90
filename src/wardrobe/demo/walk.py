"""Tilo Wick, the lamplighter's boy, on his round: a walk of eight frames."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.demo.pen import Pen
from wardrobe.recipe.document.model import Claim, Part, Recipe
from wardrobe.recipe.edits import ReplaceParts

C = 1  # a third entry marks a corner
FRAMES = 8
WIDTH, HEIGHT = 900, 1200
_HIP = (430.0, 690.0)
_THIGH, _SHIN, _ARM = 168.0, 170.0, 128.0
# Degrees of thigh and knee of one leg through a step cycle; the other is half a cycle later.
_THIGHS = (26, 20, 8, -6, -20, -14, 4, 22)
_KNEES = (6, 16, 10, 4, 18, 58, 62, 26)
_BOBS = (10, 16, 4, -6, 10, 16, 4, -6)

Point = tuple[float, float]
Spots = list[tuple[str, Point]]
Ring = list[tuple[float, ...]]


def draw(frame: int) -> bytes:
    """A frame, from 0, as SVG of 900 x 1200 units."""
    pen = Pen(WIDTH, HEIGHT, line=4.6)
    figure(pen, frame)
    return pen.svg().encode()


def figure(pen: Pen, frame: int, at: Point = (0.0, 0.0), size: float = 1.0) -> Spots:
    """Draw the boy; gives places within his parts, from behind: a later one may cover them."""
    boy = _Boy(pen, frame % FRAMES, at, size)
    boy.draw()
    return boy.spots


class _Boy:
    def __init__(self, pen: Pen, frame: int, at: Point, size: float) -> None:
        self.pen, self.frame, self.at, self.size = pen, frame, at, size
        self.spots: Spots = []
        self.hip = np.array([_HIP[0], _HIP[1] + _BOBS[frame]])

    def draw(self) -> None:
        far, near = (self.frame + FRAMES // 2) % FRAMES, self.frame
        self._arm(far, self.hip + np.array([-6, -262]), back=True)
        self._leg(far, self.hip + np.array([-10, 0]))
        self._leg(near, self.hip + np.array([6, 0]))
        self._coat()
        self._head()
        self._arm(near, self.hip + np.array([-2, -258]), back=False)

    def _place(self, points: Ring) -> list[tuple[float, ...]]:
        return [(self.at[0] + self.size * p[0], self.at[1] + self.size * p[1], *p[2:])
                for p in points]

    def _shape(self, part: str, points: list[tuple[float, ...]], line: float = 1.0,
               spot: Point | None = None) -> None:
        self.pen.shape(self._place(points), line * self.size**0.5)
        middle = spot or tuple(np.mean([p[:2] for p in points], axis=0))
        self._also(part, middle)

    def _also(self, part: str, *spots: Point) -> None:
        """Further places of a part that lines divide."""
        for spot in spots:
            x, y = self._place([spot])[0][:2]
            self.spots.append((part, (float(x), float(y))))

    def _stroke(self, points: list[tuple[float, ...]], line: float = 0.7) -> None:
        self.pen.stroke(self._place(points), line * self.size**0.5)

    def _limb(self, part: str, a: NDArray[np.float64], b: NDArray[np.float64], wide: float,
              narrow: float) -> None:
        along = (b - a) / np.hypot(*(b - a))
        side = np.array([-along[1], along[0]])
        rim = [a + side * wide, (a + b) / 2 + side * (wide + narrow) / 1.9, b + side * narrow,
               b + along * narrow * 0.4, b - side * narrow,
               (a + b) / 2 - side * (wide + narrow) / 1.9, a - side * wide, a - along * wide * 0.7]
        # Near the far end: the near one is often behind something.
        self._shape(part, [(float(x), float(y)) for x, y in rim],
                    spot=tuple((a + 0.72 * (b - a)).tolist()))

    def _leg(self, phase: int, hip: NDArray[np.float64]) -> None:
        thigh = np.radians(_THIGHS[phase])
        knee = hip + _THIGH * np.array([np.sin(thigh), np.cos(thigh)])
        shin = thigh - np.radians(_KNEES[phase])
        ankle = knee + _SHIN * np.array([np.sin(shin), np.cos(shin)])
        self._limb("trousers", hip, knee, 46, 37)
        self._limb("trousers", knee, ankle - 0.3 * (ankle - knee), 37, 33)
        top = ankle - 0.42 * (ankle - knee)
        turn = shin * 0.55

        def boot(x: float, y: float) -> Point:
            c, s = np.cos(-turn), np.sin(-turn)
            return float(ankle[0] + c * x - s * y), float(ankle[1] + s * x + c * y)

        side = np.array([np.cos(shin), -np.sin(shin)])
        cuff = [top - side * 37, top + side * 37]
        self._shape("boots", [(*map(float, cuff[0]), C), (*map(float, cuff[1]), C), boot(28, -6),
                              boot(84, 14), boot(94, 38), (*boot(90, 46), C), (*boot(-34, 46), C),
                              boot(-36, 10)], spot=boot(6, 12))
        self._shape("soles", [(*boot(-38, 44), C), (*boot(94, 44), C), boot(96, 58),
                              boot(-36, 60)], spot=boot(20, 52))
        self._shape("boot cuffs", [(*map(float, cuff[0] - side * 6), C),
                                   (*map(float, cuff[1] + side * 6), C),
                                   (*map(float, cuff[1] + side * 4 + np.array([0, 24])), C),
                                   (*map(float, cuff[0] - side * 4 + np.array([0, 24])), C)],
                    spot=tuple((top + np.array([0, 12])).tolist()))

    def _coat(self) -> None:
        x, y = self.hip
        swing = 14 * np.sin(2 * np.pi * self.frame / FRAMES)
        self._shape("coat", [(x - 66, y - 284), (x - 92, y - 180), (x - 88, y - 70),
                             (x - 124 - swing, y + 72, C), (x - 40, y + 92), (x + 40, y + 88),
                             (x + 108 + swing, y + 66, C), (x + 84, y - 74), (x + 90, y - 186),
                             (x + 58, y - 286)], spot=(x - 46, y - 120))
        self._also("coat", (x - 96, y + 30), (x - 10, y + 30), (x + 80, y + 30), (x - 40, y - 220))
        self._shape("belt", [(x - 90, y - 72, C), (x - 10, y - 60), (x + 86, y - 74, C),
                             (x + 85, y - 44, C), (x - 8, y - 30), (x - 92, y - 42, C)],
                    spot=(x - 40, y - 54))
        self._shape("buckle", [(x + 30, y - 74, C), (x + 66, y - 76, C), (x + 66, y - 34, C),
                               (x + 30, y - 32, C)], 0.8)
        self._stroke([(x + 46, y - 28), (x + 52, y + 20), (x + 56, y + 80)])
        self._stroke([(x - 50, y - 22), (x - 66, y + 26), (x - 74, y + 80)], 0.5)
        for k in range(3):
            self._shape("buttons", [(x + 46 + 9 * np.cos(t), y - 232 + 44 * k + 9 * np.sin(t))
                                    for t in np.linspace(0, 2 * np.pi, 9)[:-1]], 0.6)

    def _head(self) -> None:
        x, y = self.hip + np.array([10, -352])
        wag = 5 * np.sin(2 * np.pi * (self.frame + 1) / FRAMES)
        self._shape("scarf", [(x - 96, y + 84), (x - 156 - wag * 2, y + 120 + wag),
                              (x - 186 - wag * 3, y + 176, C), (x - 146 - wag * 3, y + 190, C),
                              (x - 118 - wag, y + 146), (x - 60, y + 108)],
                    spot=(x - 132 - wag * 2, y + 130))
        self._shape("hair", [(x - 84, y - 40), (x - 106, y + 10), (x - 96, y + 66, C),
                             (x - 70, y + 50), (x - 52, y + 76, C), (x - 26, y + 30),
                             (x - 10, y - 40)], spot=(x - 78, y + 14))
        self._shape("skin", [(x - 46, y - 44), (x + 40, y - 58), (x + 76, y - 20),
                             (x + 82, y + 2), (x + 98, y + 22), (x + 82, y + 34), (x + 80, y + 58),
                             (x + 48, y + 82), (x - 8, y + 82), (x - 44, y + 50)],
                    spot=(x + 20, y + 44))
        self._shape("skin", [(x - 44, y + 2), (x - 30, y - 12), (x - 16, y + 4), (x - 22, y + 28),
                             (x - 38, y + 26)], 0.8)
        self._shape("eye", [(x + 44, y - 2), (x + 56, y - 10), (x + 66, y), (x + 57, y + 14),
                            (x + 47, y + 12)], 0.6)
        self._stroke([(x + 38, y - 22), (x + 54, y - 28), (x + 68, y - 22)], 0.9)
        self._stroke([(x + 42, y + 52), (x + 60, y + 58), (x + 76, y + 50)], 0.8)
        self._shape("hair", [(x - 70, y - 52), (x - 20, y - 8, C), (x + 4, y - 46), (x + 34, y - 18,
                             C), (x + 42, y - 48), (x + 76, y - 26, C), (x + 70, y - 66)],
                    spot=(x - 14, y - 40))
        self._shape("cap", [(x - 96, y - 52, C), (x - 104, y - 116), (x - 40, y - 162),
                            (x + 42, y - 156), (x + 84, y - 108), (x + 82, y - 56, C),
                            (x - 4, y - 44)], spot=(x - 10, y - 104))
        self._shape("cap band", [(x - 98, y - 74, C), (x - 4, y - 62), (x + 83, y - 78, C),
                                 (x + 83, y - 50, C), (x - 4, y - 34), (x - 98, y - 46, C)],
                    spot=(x - 40, y - 54))
        self._shape("cap peak", [(x + 70, y - 72, C), (x + 128, y - 62), (x + 146, y - 42, C),
                                 (x + 76, y - 46, C)], spot=(x + 108, y - 55))
        self._shape("scarf", [(x - 78, y + 66), (x - 10, y + 92), (x + 66, y + 74),
                              (x + 84, y + 98),
                              (x + 70, y + 124), (x - 10, y + 136), (x - 82, y + 116)],
                    spot=(x - 20, y + 126))
        self._also("scarf", (x - 66, y + 100), (x - 30, y + 86), (x + 74, y + 100))
        self._stroke([(x - 60, y + 84), (x, y + 106), (x + 60, y + 96)], 0.6)

    def _arm(self, phase: int, shoulder: NDArray[np.float64], back: bool) -> None:
        swing = np.radians(-0.8 * _THIGHS[phase] + (4 if back else -2))
        if not back:  # the lantern is held before him
            swing = np.radians(34 + 5 * np.sin(2 * np.pi * self.frame / FRAMES))
        elbow = shoulder + _ARM * np.array([np.sin(swing), np.cos(swing)])
        bend = swing + np.radians(52 if not back else 24)
        hand = elbow + 0.86 * _ARM * np.array([np.sin(bend), np.cos(bend)])
        if not back:
            self._lantern(hand)
        reach = (hand - elbow) / np.hypot(*(hand - elbow))
        palm = hand + 16 * reach
        ring: Ring = [(float(palm[0] + 27 * np.cos(t)), float(palm[1] + 24 * np.sin(t)))
                for t in np.linspace(0, 2 * np.pi, 9)[:-1]]
        self._shape("gloves", ring, spot=(float(palm[0]), float(palm[1])))
        self._limb("coat", shoulder, elbow, 38, 32)
        self._limb("coat", elbow, hand - 6 * reach, 32, 27)
        self._stroke([(elbow[0] - 14, elbow[1] - 12), (elbow[0] + 2, elbow[1] + 4),
                      (elbow[0] + 12, elbow[1] - 10)],
                     0.6)

    def _lantern(self, hand: NDArray[np.float64]) -> None:
        sway = 10 * np.sin(2 * np.pi * (self.frame + 2) / FRAMES)
        x, y = float(hand[0]) + 20 + sway, float(hand[1]) + 66
        self._stroke([(float(hand[0]) + 10, float(hand[1]) + 4), (x - 8, y - 26), (x, y)], 0.9)
        self._shape("lamp glass", [(x - 34, y + 30, C), (x + 34, y + 30, C), (x + 42, y + 116, C),
                                   (x - 42, y + 116, C)], spot=(x + 29, y + 96))
        self._shape("flame", [(x, y + 46), (x + 17, y + 84), (x, y + 106), (x - 17, y + 84)], 0.8)
        self._shape("lamp brass", [(x - 8, y - 2), (x + 8, y - 2), (x + 46, y + 32, C),
                                   (x - 46, y + 32, C)], spot=(x, y + 20))
        self._shape("lamp brass", [(x - 52, y + 114, C), (x + 52, y + 114, C), (x + 46, y + 140, C),
                                   (x - 46, y + 140, C)], spot=(x, y + 127))


PARTS: tuple[tuple[str, str, str], ...] = (
    ("flame", "matte cloth", "#ffc95c"), ("lamp glass", "glass", "#cfe6dc"),
    ("lamp brass", "metal", "#b98f4e"), ("eye", "wet", "#3a2c28"),
    ("cap peak", "leather", "#2d3a4a"),
    ("cap band", "sheen cloth", "#c9a348"), ("cap", "matte cloth", "#41536b"),
    ("hair", "hair", "#b5622f"), ("skin", "skin", "#edbf9b"), ("scarf", "matte cloth", "#c4503f"),
    ("gloves", "leather", "#7d5136"), ("buckle", "metal", "#d2b15f"),
    ("buttons", "metal", "#d2b15f"), ("belt", "leather", "#4c342a"),
    ("coat", "matte cloth", "#52788a"), ("boot cuffs", "leather", "#8d6342"),
    ("boots", "leather", "#5e4236"), ("soles", "matte cloth", "#332a2a"),
    ("trousers", "matte cloth", "#b8a07a"))


def claims(spots: Spots, scale: float = 1.0, origin: Point = (0.0, 0.0),
           own: Recipe | None = None) -> ReplaceParts:
    """The boy's parts, and claims for places within them in a picture.

    Parameters
    ----------
    spots : list of (str, (x, y))
        From behind.
    scale, origin
        Picture px a unit of them, and where the picture begins in them.
    own : Recipe, optional
        A picture whose scenery stays.
    """
    kept = [p for p in own.parts if p.scenery] if own else []
    numbers = {p.id: f"p{len(PARTS) + 1 + k}" for k, p in enumerate(kept)}
    parts = [Part(id=f"p{k}", name=name, material=material, base=base)
             for k, (name, material, base) in enumerate(PARTS, start=1)]
    ids = {part.name: part.id for part in parts}
    told = [c.model_copy(update={"to": numbers.get(c.to, c.to)}) for c in own.claims
            if c.to in numbers or c.to in ("ground", "figure")] if own else []
    told += [Claim(to=ids[name], strokes=((((x - origin[0]) * scale, (y - origin[1]) * scale),),))
             for name, (x, y) in spots]
    return ReplaceParts(parts=(*parts, *(p.model_copy(update={"id": numbers[p.id]})
                                         for p in kept)), claims=tuple(told))
