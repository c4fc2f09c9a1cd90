"""Random figures in which nothing is wrong. Invented data, for tests only."""

import random
from dataclasses import dataclass, field
from functools import reduce

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import (
    delta_e_2000,
    oklch_to_srgb,
    srgb_to_lab,
    to_bytes,
    to_hex,
)
from wardrobe.core.formats.tokens import CardColour
from wardrobe.core.looks.vision import VISIONS, seen_with
from wardrobe.recipe.document.model import Claim, Part, Recipe, Source
from wardrobe.recipe.edits import (
    Edit,
    MoveLight,
    ReplaceParts,
    SetBackground,
    apply,
)
from wardrobe.recipe.reports.proposals import EvenOut, propose
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Float = NDArray[np.float64]
Place = tuple[float, float]

WIDTH, HEIGHT = 600, 840
_PAIRS = (("hair", "face"), ("face", "scarf"), ("scarf", "coat"), ("coat", "sleeves"),
          ("coat", "trousers"), ("trousers", "boots"), ("coat", "buttons"), ("sleeves", "hand"),
          ("face", "whites"), ("whites", "irises"), ("hair", "scarf"), ("sleeves", "scarf"))
_OUTSIDE = ("hair", "face", "scarf", "coat", "sleeves", "trousers", "boots", "hand")


@dataclass
class Planted:
    """A figure: its drawing, its recipe, and where its parts lie.

    Attributes
    ----------
    ink : ndarray of uint8, shape (HEIGHT, WIDTH)
        Coverage.
    places : dict of str to list of (x, y)
        Clicks by the names of parts.
    card : tuple of CardColour
    """

    ink: Byte
    places: dict[str, list[Place]]
    deriver: Deriver
    recipe: Recipe
    card: tuple[CardColour, ...] = ()
    mirrored: bool = False
    ids: dict[str, str] = field(default_factory=dict)

    def base(self, name: str) -> str:
        """Colour of a part."""
        return next(p.base for p in self.recipe.parts if p.name == name)

    def edited(self, *edits: Edit) -> "Planted":
        """The figure after edits."""
        return Planted(self.ink, self.places, self.deriver, reduce(apply, edits, self.recipe),
                       self.card, self.mirrored, self.ids)


@dataclass(frozen=True)
class Drawing:
    """How a figure is drawn."""

    line: int = 5
    gap: bool = False
    speck: bool = False
    folds: bool = False
    hatched_boots: bool = False
    gaze: int = 0  # px by which one iris is moved


def drawn(dice: random.Random, how: Drawing) -> tuple[Byte, dict[str, list[Place]], bool]:
    """Line art of a figure with an arm akimbo, and clicks on its parts."""
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    line, wide = how.line, dice.uniform(0.92, 1.08)
    shift = dice.uniform(-8, 8)

    def at(x: float, y: float) -> tuple[int, int]:
        return round(300 + shift + (x - 300) * wide), round(y)

    def polygon(*points: Place) -> None:
        shape = np.array([at(*p) for p in points], np.int32)
        cv2.fillPoly(ink, [shape], 0)
        cv2.polylines(ink, [shape], True, 255, line, cv2.LINE_AA)

    def limb(thick: int, *points: Place) -> None:
        way = np.array([at(*p) for p in points], np.int32)
        cv2.polylines(ink, [way], False, 255, thick + line, cv2.LINE_AA)
        cv2.polylines(ink, [way], False, 0, thick - line, cv2.LINE_AA)

    def oval(x: float, y: float, a: float, b: float) -> None:
        centre, axes = at(x, y), (round(a * wide), round(b))
        cv2.ellipse(ink, centre, axes, 0, 0, 360, 0, -1, cv2.LINE_AA)
        cv2.ellipse(ink, centre, axes, 0, 0, 360, 255, line, cv2.LINE_AA)

    polygon((232, 560), (368, 560), (362, 752), (312, 752), (302, 620), (292, 752), (238, 752))
    oval(258, 766, 42, 26)
    oval(344, 766, 42, 26)
    if how.hatched_boots:
        for x in range(222, 386, 6):
            cv2.line(ink, at(x, 746), at(x + 6, 786), 255, 3, cv2.LINE_AA)
    if how.folds:
        for x in (254, 272, 332, 346):
            cv2.line(ink, at(x, 625), at(x + 3, 715), 255, line, cv2.LINE_AA)
    polygon((232, 330), (368, 330), (394, 470), (404, 592), (196, 592), (206, 470))
    oval(300, 410, 7, 7)
    oval(300, 500, 7, 7)
    if how.speck:
        oval(352, 452, 11, 11)
    limb(46, (232, 362), (132, 458), (214, 540))
    limb(44, (372, 362), (436, 540))
    oval(440, 562, 24, 24)
    oval(300, 322, 74, 27)
    oval(300, 212, 84, 104)
    crown = [(300 - 98 * float(np.cos(a)), 162 - 84 * float(np.sin(a)))
             for a in np.linspace(-0.14, np.pi + 0.14, 40)]
    polygon(*crown, (366, 160), (330, 176), (282, 150), (238, 178))
    line = min(line, 3)
    for x in (262, 338):
        oval(x, 222, 27, 21)
        oval(x + (how.gaze if x == 338 else 0), 222, 14, 14)
    cv2.ellipse(ink, at(300, 268), (26, 12), 0, 30, 150, 255, line, cv2.LINE_AA)
    if how.gap:
        x, y = at(258, 792)
        ink[y - 12:y + 12, x - 7:x + 7] = 0
    places: dict[str, list[Place]] = {
        "hair": [(300, 110)], "face": [(300, 250)], "scarf": [(300, 330)],
        "coat": [(350, 480)], "sleeves": [(140, 455), (420, 500)], "hand": [(440, 562)],
        "trousers": [(264, 660)], "boots": [(258, 772), (344, 772)],
        "buttons": [(300, 410), (300, 500)],
        "whites": [(241, 222), (283, 222), (317, 222), *([] if how.gaze else [(359, 222)])],
        "irises": [(262, 222), (338, 222)], "ground": [(188, 459), (301, 744)],
        "speck": [(352, 452)]}
    moved = {name: [(float(a), float(b)) for a, b in (at(*p) for p in spots)]
             for name, spots in places.items()}
    mirrored = dice.random() < 0.5
    if mirrored:
        ink = np.ascontiguousarray(ink[:, ::-1])
        moved = {name: [(WIDTH - 1 - x, y) for x, y in spots] for name, spots in moved.items()}
    return ink, moved, mirrored


def palette(dice: random.Random) -> tuple[dict[str, str], str]:
    """Bases and a background that are told apart wherever they touch, to all eyes."""
    skins = ((0.90, 0.045, 58), (0.66, 0.075, 52), (0.55, 0.07, 50))
    while True:
        bases: dict[str, Float] = {}
        skin = np.array(dice.choice(skins))
        bases["face"] = bases["hand"] = skin
        bases["whites"] = np.array([0.975, 0.008, 80])
        bases["irises"] = np.array([dice.uniform(0.45, 0.6), 0.09, dice.uniform(0, 360)])
        for name in ("hair", "scarf", "coat", "sleeves", "trousers", "boots", "buttons"):
            bases[name] = np.array([dice.uniform(0.42, 0.84), dice.uniform(0.05, 0.14),
                                    dice.uniform(0, 360)])
        ground = np.array([dice.choice([0.955, 0.3]), 0.012, dice.uniform(0, 360)])
        colours = {name: np.array(to_bytes(oklch_to_srgb(lch))) / 255
                   for name, lch in (bases | {"ground": ground}).items()}
        if all(_apart(colours[a], colours[b]) for a, b in _PAIRS) and all(
                _apart(colours[name], colours["ground"]) for name in _OUTSIDE):
            told = {name: to_hex(to_bytes(c)) for name, c in colours.items()}
            return told, told.pop("ground")


def _apart(one: Float, other: Float) -> bool:
    a, b = srgb_to_lab(one), srgb_to_lab(other)
    if float(delta_e_2000(a, b)) < 17 or abs(a[0] - b[0]) < 8:
        return False
    return all(float(delta_e_2000(*(srgb_to_lab(np.clip(seen_with(c, key), 0, 1))
                                    for c in (one, other)))) > 9 for key in VISIONS)


MATERIALS = {"hair": "hair", "face": "skin", "hand": "skin", "whites": "plain", "irises": "plain",
             "boots": "leather", "buttons": "metal"}


def figure(seed: int, how: Drawing | None = None) -> Planted:
    """A figure in which nothing is wrong."""
    dice = random.Random(seed)
    ink, places, mirrored = drawn(dice, how or Drawing())
    rgba = np.zeros((HEIGHT, WIDTH, 4), np.uint8)
    rgba[..., 3] = ink
    deriver = Deriver(lambda asset: rgba)
    bases, ground = palette(dice)
    names = ("irises", "whites", "hair", "hand", "face", "scarf", "buttons", "sleeves", "coat",
             "boots", "trousers")
    parts = tuple(Part(id=f"p{k}", name=name, base=bases[name],
                       material=MATERIALS.get(name, "matte cloth"))
                  for k, name in enumerate(names, start=1))
    ids = {p.name: p.id for p in parts}
    claims = tuple(Claim(to=ids[name], strokes=tuple((spot,) for spot in places[name]))
                   for name in names)
    claims += (Claim(to="ground", strokes=tuple((spot,) for spot in places["ground"])),)
    if how and how.speck:
        claims += (Claim(to=ids["scarf"], strokes=((places["speck"][0],),)),)
    recipe = Recipe(source=Source(asset="0" * 64, width=WIDTH, height=HEIGHT))
    light = recipe.light.model_copy(update={"azimuth": dice.uniform(35, 145),
                                            "height": dice.uniform(32, 55)})
    for edit in (ReplaceParts(parts=parts, claims=claims, proposed=False),
                 SetBackground(colour=ground), MoveLight(light=light)):
        recipe = apply(recipe, edit)
    for name in ("shade", "light"):
        recipe = apply(recipe, propose(recipe, EvenOut(name=name)).edit)
    card = tuple(CardColour(p.name, p.base) for p in recipe.parts)
    return Planted(ink, places, deriver, recipe, card, mirrored, ids)
