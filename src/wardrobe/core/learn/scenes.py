"""What a learner is shown: solids of the harbour town, a light, and the lines around them."""

from collections.abc import Callable
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.learn.solids import Kind, Seen, Solid, turned
from wardrobe.core.light.rig import KeyLight

SIZE = 640  # px of a lesson's picture
LINE = 5.0  # px
FLOOR_PITCH = -26.0  # degrees by which a floor is seen from above

_CREASE = 0.8  # cosine between neighbours from which an edge is drawn
_MEETS = 0.97  # the same where one solid meets another
_JUMP = 7.0  # px of depth from one pixel to the next from which an edge is drawn
_MIDDLE = SIZE / 2

Random = np.random.Generator


@dataclass(frozen=True)
class Scene:
    """Solids under a light.

    Attributes
    ----------
    solids : tuple of Solid
    light : KeyLight
    rim : KeyLight or None
        A second light, from behind.
    materials : tuple of str
        Of the parts, from 1.
    what : str
        What it is, in words.
    """

    solids: tuple[Solid, ...]
    light: KeyLight
    what: str
    rim: KeyLight | None = None
    materials: tuple[str, ...] = field(default=("matte cloth",))

    @property
    def floor(self) -> bool:
        """Whether the solids stand on something that takes their shadow."""
        return any(s.kind is Kind.FLOOR for s in self.solids)


def _light(random: Random, level: int, low: float = 0, high: float = 360) -> KeyLight:
    """A light; the first levels have the usual ones, from above and a little from the front."""
    if level <= 2:
        low, high = max(low, 30), min(high, 150)
    azimuth = float(random.uniform(low, high))
    height = float(random.uniform(30, 50) if level <= 3 else random.uniform(15, 60))
    return KeyLight(round(azimuth % 360, 1), round(height, 1))


def _across(random: Random, level: int, axis: float) -> KeyLight:
    """A light that is neither along an axis nor straight across it: its shade tells where from."""
    away = random.uniform(32, 62) * random.choice([-1, 1])
    side = axis + away + random.choice([0, 180])
    if level <= 2 and np.sin(np.radians(side)) < 0:
        side += 180
    return KeyLight(round(float(side) % 360, 1), round(float(random.uniform(25, 50)), 1))


def _floor(y: float = 470) -> Solid:
    return Solid(Kind.FLOOR, 0, (_MIDDLE, y, 0), (), turned(FLOOR_PITCH))


def _standing(y: float, up: float) -> tuple[float, float, float]:
    """Where the middle of something lies that stands on the floor at y, so much above it."""
    down = turned(FLOOR_PITCH)[3:6]
    return (float(_MIDDLE - up * down[0]), float(y - up * down[1]), float(-up * down[2]))


def ball(random: Random, level: int) -> Scene:
    """A buoy."""
    radius = float(random.uniform(150, 215))
    return Scene((Solid(Kind.ELLIPSOID, 1, (_MIDDLE, _MIDDLE, 0), (radius,) * 3),),
                 _light(random, level), "a buoy: a ball")


def egg(random: Random, level: int) -> Scene:
    """A gull's egg."""
    long, wide = float(random.uniform(190, 230)), float(random.uniform(125, 160))
    turn = float(random.uniform(-70, 70))
    return Scene((Solid(Kind.ELLIPSOID, 1, (_MIDDLE, _MIDDLE, 0), (wide, long, wide),
                        turned(random.uniform(-25, 25), 0, turn)),),
                 _light(random, level), "a gull’s egg")


def tube(random: Random, level: int) -> Scene:
    """A rope spool."""
    turn = float(random.uniform(-75, 75))
    radius, half = float(random.uniform(85, 120)), float(random.uniform(165, 205))
    return Scene((Solid(Kind.TUBE, 1, (_MIDDLE, _MIDDLE, 0), (radius, half, 1.0),
                        turned(random.uniform(-24, -10), 0, turn)),),
                 _across(random, level, 90 - turn), "a rope spool: a tube")


def box(random: Random, level: int) -> Scene:
    """A tea crate."""
    half = [float(v) for v in random.uniform(75, 115, 3)]
    axes = turned(0, float(random.uniform(25, 65)), after=turned(FLOOR_PITCH))
    return Scene((_floor(), Solid(Kind.BOX, 1, _standing(450, half[1]), (*half, 0.8), axes)),
                 _light(random, level, 25, 155), "a tea crate: three faces and a shadow")


def cone(random: Random, level: int) -> Scene:
    """A bell."""
    turn = float(random.uniform(-50, 50))
    return Scene((Solid(Kind.CONE, 1, (_MIDDLE, _MIDDLE, 0),
                        (float(random.uniform(130, 170)), float(random.uniform(20, 50)),
                         float(random.uniform(150, 185))),
                        turned(random.uniform(-18, -6), 0, turn)),),
                 _across(random, level, 90 - turn), "a ship’s bell: a cone")


def ring(random: Random, level: int) -> Scene:
    """A mooring ring."""
    return Scene((Solid(Kind.RING, 1, (_MIDDLE, _MIDDLE, 0),
                        (float(random.uniform(140, 165)), float(random.uniform(48, 62))),
                        turned(float(random.uniform(55, 85)), 0,
                               float(random.uniform(-30, 30)))),),
                 _light(random, level), "a mooring ring")


def head(random: Random, level: int) -> Scene:
    """A head with a brimmed hat and a fringe."""
    x = _MIDDLE + float(random.uniform(-15, 15))
    tilt = turned(-14, 0, float(random.uniform(-8, 8)))
    fringe = tuple(Solid(
        Kind.ELLIPSOID, 2,
        (x + dx, 303.0, 135 * float(np.sqrt(1 - (dx / 128) ** 2 - (32 / 160) ** 2)) - 4),
        (35, 46, 26), turned(0, 0, -dx / 5)) for dx in (-84, -30, 28, 82))
    solids = (Solid(Kind.ELLIPSOID, 1, (x, 335, 0), (128, 160, 135)),
              Solid(Kind.TUBE, 1, (x, 520, -30), (58, 90, 1.0)), *fringe,
              Solid(Kind.TUBE, 3, (x, 212, 15), (205, 9, 4), tilt),
              Solid(Kind.ELLIPSOID, 3, (x, 190, 5), (122, 96, 122), tilt))
    return Scene(solids, _light(random, level, 35, 145), "a head under a hat, with a fringe",
                 materials=("skin", "hair", "matte cloth"))


def sleeve(random: Random, level: int) -> Scene:
    """A sleeve with folds."""
    turn = float(random.uniform(-35, 35))
    folds = int(random.integers(2, 4)) + (level > 4)
    return Scene((Solid(Kind.SLEEVE, 1, (_MIDDLE, _MIDDLE, 0),
                        (float(random.uniform(95, 120)), 200, 11.0, float(folds)),
                        turned(-12, 0, turn)),),
                 _across(random, level, 90 - turn), "a sleeve with folds")


def locks(random: Random, level: int) -> Scene:
    """Hair in locks."""
    count = 4 + level // 3
    xs = np.linspace(150, 490, count) + random.uniform(-8, 8, count)
    solids = tuple(Solid(Kind.ELLIPSOID, 1 + k % 3,
                         (float(x), float(_MIDDLE + random.uniform(-20, 20)),
                          float(random.uniform(-25, 25))),
                         (float(random.uniform(46, 60)), float(random.uniform(170, 220)), 48.0),
                         turned(0, 0, float(random.uniform(-16, 16)))) for k, x in enumerate(xs))
    return Scene(solids, _light(random, level), "hair in locks",
                 materials=("hair", "hair", "hair"))


def standing(random: Random, level: int) -> Scene:
    """Something that throws its shadow on the quay."""
    which = random.choice(["ball", "crate", "bell", "post"])
    spot = 450.0
    if which == "ball":
        radius = float(random.uniform(95, 130))
        thing = Solid(Kind.ELLIPSOID, 1, _standing(spot, radius), (radius,) * 3)
    elif which == "crate":
        half = [float(v) for v in random.uniform(75, 115, 3)]
        axes = turned(0, float(random.uniform(20, 70)), after=turned(FLOOR_PITCH))
        thing = Solid(Kind.BOX, 1, _standing(spot, half[1]), (*half, 0.8), axes)
    elif which == "bell":
        half_y = float(random.uniform(105, 145))
        thing = Solid(Kind.CONE, 1, _standing(spot, half_y),
                      (float(random.uniform(80, 110)), 20.0, half_y), turned(FLOOR_PITCH))
    else:
        half_y = float(random.uniform(120, 165))
        thing = Solid(Kind.TUBE, 1, _standing(spot, half_y), (52.0, half_y, 1.0),
                      turned(FLOOR_PITCH))
    light = _light(random, level, 25, 155)
    return Scene((_floor(spot), thing), KeyLight(light.azimuth, max(light.height, 20.0)),
                 f"a {which} on the quay")


def overlapping(random: Random, level: int) -> Scene:
    """One thing in front of another."""
    side = float(random.choice([-1, 1]))
    back = Solid(Kind.ELLIPSOID, 1, (_MIDDLE + side * 55, 330, -60), (165, 175, 120))
    front = Solid(Kind.ELLIPSOID, 2,
                  (_MIDDLE - side * 85, 290 + float(random.uniform(0, 110)), 130),
                  (float(random.uniform(75, 100)),) * 3) if level % 2 else \
        Solid(Kind.TUBE, 2, (_MIDDLE - side * 70, 330, 135), (38, 190, 10),
              turned(0, 0, float(random.uniform(-30, 30))))
    towards = 90 + side * float(random.uniform(20, 70))  # so that the shadow falls on the other
    light = KeyLight(round(towards, 1), round(float(random.uniform(30, 55)), 1))
    return Scene((back, front), light, "one thing in front of another",
                 materials=("matte cloth", "leather"))


SCENES: dict[str, Callable[[Random, int], Scene]] = {
    "ball": ball, "egg": egg, "tube": tube, "box": box, "cone": cone, "ring": ring, "head": head,
    "sleeve": sleeve, "locks": locks, "standing": standing, "overlapping": overlapping}


def lines_of(seen: Seen) -> NDArray[np.uint8]:
    """The lines that someone would draw around what is seen: outlines, overlaps, sharp edges;
    coverage 0..255."""
    thing = seen.parts > 0
    edges = np.zeros(thing.shape, np.uint8)
    for axis in (0, 1):
        here = [slice(None), slice(None)]
        there = [slice(None), slice(None)]
        here[axis], there[axis] = slice(None, -1), slice(1, None)
        a, b = tuple(here), tuple(there)
        both = thing[a] & thing[b]
        same = seen.solids[a] == seen.solids[b]
        turns = np.einsum("ijk,ijk->ij", seen.normals[a], seen.normals[b]) < np.where(
            same, _CREASE, _MEETS)
        jumps = np.abs(np.where(both, seen.depth[a], 0) - np.where(both, seen.depth[b], 0)) \
            > _JUMP * seen.scale
        edge = (seen.parts[a] != seen.parts[b]) | (both & (jumps | turns))
        edges[a] |= edge
    away = cv2.distanceTransform(1 - edges, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    # Evened along the line: what is seen jumps from pixel to pixel.
    line = (away <= LINE / 2 / seen.scale).astype(np.float32)
    even = cv2.GaussianBlur(line, (0, 0), max(0.3, LINE / 3.6 / seen.scale))
    ink: NDArray[np.uint8] = np.rint(255 * np.clip((even - 0.5) * LINE * 0.55 / seen.scale + 0.5,
                                                   0, 1)).astype(np.uint8)
    return ink
