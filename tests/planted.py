"""Random figures without fault, and faults to be planted in them. Invented data, for tests only."""

import random
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import reduce

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import (
    delta_e_2000,
    from_hex,
    oklch_to_srgb,
    srgb_to_lab,
    srgb_to_oklch,
    to_bytes,
    to_hex,
)
from wardrobe.core.formats.tokens import CardColour
from wardrobe.core.looks.vision import VISIONS, seen_with
from wardrobe.recipe.document.finish import (
    ColourGradient,
    Everywhere,
    FinishDraft,
    Focus,
    PlainColour,
    Stop,
)
from wardrobe.recipe.document.lighting import SideLight
from wardrobe.recipe.document.model import Claim, Part, Recipe, Source, SplitArea
from wardrobe.recipe.edits import (
    AddFinish,
    AddLook,
    AddPart,
    AddRecut,
    ChangePart,
    ChooseColours,
    ClaimAreas,
    Edit,
    MoveLight,
    ReplaceParts,
    SetBackground,
    SetFocus,
    SetForm,
    SetPasses,
    TouchUpPass,
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
        oval(x, 222, 14, 14)
    cv2.ellipse(ink, at(300, 268), (26, 12), 0, 30, 150, 255, line, cv2.LINE_AA)
    if how.gap:
        x, y = at(258, 792)
        ink[y - 12:y + 12, x - 7:x + 7] = 0
    places: dict[str, list[Place]] = {
        "hair": [(300, 110)], "face": [(300, 250)], "scarf": [(300, 330)],
        "coat": [(350, 480)], "sleeves": [(140, 455), (420, 500)], "hand": [(440, 562)],
        "trousers": [(264, 660)], "boots": [(258, 772), (344, 772)],
        "buttons": [(300, 410), (300, 500)],
        "whites": [(241, 222), (283, 222), (317, 222), (359, 222)],
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


def _moved(colour: str, lightness: float = 0.0, chroma: float = 1.0, hue: float = 0.0) -> str:
    base = srgb_to_oklch(np.array(from_hex(colour)) / 255)
    return to_hex(to_bytes(oklch_to_srgb([np.clip(base[0] + lightness, 0.03, 0.99),
                                          base[1] * chroma, base[2] + hue])))


def _searched(fits: Callable[[Float], Float]) -> str:
    """The colour of a coarse cube that fits best: the least of what ``fits`` gives."""
    axis = np.arange(12, 256, 6)
    cube = np.stack(np.meshgrid(axis, axis, axis), axis=-1).reshape(-1, 3)
    return to_hex(tuple(int(v) for v in cube[int(np.argmin(fits(cube / 255)))]))


def _of(colour: str) -> Float:
    return np.array(from_hex(colour)) / 255


def _step(colours: Float, other: str) -> Float:
    return delta_e_2000(srgb_to_lab(colours), srgb_to_lab(_of(other)))


def _lightness(colours: Float) -> Float:
    return srgb_to_lab(colours)[..., 0]


def _toward(p: Planted) -> Float:
    angle = np.radians(p.recipe.light.azimuth)
    return np.array([np.cos(angle), -np.sin(angle)])


def _coat(p: Planted) -> tuple[float, float]:
    """The middle of the coat."""
    (x0, y0), (x1, y1) = p.places["buttons"]
    return (x0 + x1) / 2, (y0 + y1) / 2


def _base(p: Planted, name: str, colour: str) -> Planted:
    return p.edited(ChangePart(part=p.ids[name], base=colour))


def _own(p: Planted, name: str, shade: str, colour: str) -> Planted:
    return p.edited(ChooseColours(part=p.ids[name], own={shade: colour}))


def _same_value(p: Planted) -> Planted:
    coat = p.base("coat")
    return _base(p, "sleeves", _searched(
        lambda c: 3 * np.abs(_lightness(c) - _lightness(_of(coat)))
        + np.abs(_step(c, coat) - 10.5)))


def _confused(p: Planted) -> Planted:
    coat = "#a8623a"

    def fits(colours: Float) -> Float:
        seen = [delta_e_2000(srgb_to_lab(np.clip(seen_with(colours, "deutan"), 0, 1)),
                             srgb_to_lab(np.clip(seen_with(_of(coat), "deutan"), 0, 1)))]
        return seen[0] + np.maximum(0, 22 - _step(colours, coat))

    return _base(_base(p, "coat", coat), "sleeves", _searched(fits))


def _few_values(p: Planted) -> Planted:
    rows = [(name, 0.62 + 0.05 * (k % 2)) for k, name in enumerate(p.ids)]
    edits: tuple[Edit, ...] = tuple(ChangePart(part=p.ids[name], base=to_hex(to_bytes(
        oklch_to_srgb([lightness, 0.09, 40.0 * k])))) for k, (name, lightness) in enumerate(rows))
    off = p.recipe.passes.model_copy(update={"off": ("shade", "deep shade", "light", "glint")})
    return p.edited(*edits, SetPasses(passes=off))


def _elsewhere(p: Planted) -> Planted:
    x, y = p.places["hair"][0]
    to = _toward(p)
    across = np.array([-to[1], to[0]])

    def field_(a: float, b: float) -> tuple[Place, ...]:
        corners = ((a, -170.0), (b, -170.0), (b, 170.0), (a, 170.0))
        return tuple((float(x + to[0] * u + across[0] * v), float(y + to[1] * u + across[1] * v))
                     for u, v in corners)

    part = p.ids["hair"]
    return p.edited(
        TouchUpPass(name="shade", act="take out", points=field_(-220, 220), part=part),
        TouchUpPass(name="shade", act="put in", points=field_(18, 220), part=part))


def _another_light(p: Planted) -> Planted:
    x, y = _coat(p)
    touch = TouchUpPass(name="shade", act="put in", part=p.ids["coat"],
                        points=((x - 12, y), (x + 12, y), (x + 12, y + 30), (x - 12, y + 30)))
    light = p.recipe.light
    return p.edited(touch, MoveLight(light=light.model_copy(
        update={"azimuth": light.azimuth + 40})))


def _falls_to_light(p: Planted) -> Planted:
    """Light from the side of the hanging arm; the other throws its shadow towards it."""
    light = p.recipe.light.model_copy(update={"azimuth": 20.0 if not p.mirrored else 160.0,
                                              "height": 55.0, "cast": 0.0,
                                              "amount": 0.12})
    side = 1 if not p.mirrored else -1
    x, y = _coat(p)
    left = x - side * 64
    strip = ((left, y - 110), (left + side * 34, y - 110), (left + side * 34, y - 60),
             (left, y - 60))
    return p.edited(MoveLight(light=light),
                    TouchUpPass(name="shade", act="put in", points=strip, part=p.ids["coat"]))


def _glint(p: Planted, k: int, put: bool) -> Planted:
    x, y = p.places["irises"][k]
    to = _toward(p)
    part = p.ids["irises"]
    taken = p.edited(TouchUpPass(name="light", act="take out", part=part,
                                 points=((x - 1, y), (x + 1, y)), widths=(30.0, 30.0)),
                     TouchUpPass(name="glint", act="take out", part=part,
                                 points=((x - 1, y), (x + 1, y)), widths=(30.0, 30.0)))
    if not put:
        return taken
    away = (float(x - 6 * to[0]), float(y - 6 * to[1]))
    return taken.edited(*(TouchUpPass(
        name=name, act="put in", part=part, points=(away, (away[0] + 0.5, away[1])),
        widths=(6.0, 6.0)) for name in ("light", "glint")))


def _lamp(p: Planted, which: str) -> Planted:
    light = p.recipe.light
    lamp = SideLight(azimuth=light.azimuth + 15, height=10, colour="#ffe0b0", strength=0.5)
    return p.edited(MoveLight(light=light.model_copy(update={which: lamp})))


def _dots(p: Planted, name: str, width: float, count: int) -> Planted:
    x, y = _coat(p)
    spots = [(x - 48 + 32 * (k % 4) + 3 * (k // 4 % 2), y - 52 + 17 * (k // 4))
             for k in range(count)]
    touches = tuple(TouchUpPass(name=name, act="put in", part=p.ids["coat"],
                                points=((a, b), (a + 0.5, b)), widths=(width, width))
                    for a, b in spots)
    return p.edited(*touches)


def _scattered(p: Planted) -> Planted:
    x, y = _coat(p)
    clear = p.edited(TouchUpPass(name="shade", act="take out", part=p.ids["coat"], points=(
        (x - 70, y - 75), (x + 70, y - 75), (x + 70, y + 75), (x - 70, y + 75))))
    return _dots(clear, "shade", 7.0, 24)


def _ragged(p: Planted) -> Planted:
    x, y = _coat(p)
    zigzag = tuple((x - 140 + 5 * k, y + 25 + (6 if k % 2 else -6)) for k in range(57))
    part = AddPart(name="hem", base=_moved(p.base("coat"), -0.12, 1, 60))
    made = p.edited(part, AddRecut(recut=SplitArea(stroke=zigzag)))
    hem = made.recipe.parts[-1].id
    # The coat is clicked on below the cut, and above it on its other side.
    return made.edited(ClaimAreas(to=hem, strokes=(((x, y + 75.0),),)),
                       ClaimAreas(to=p.ids["coat"], strokes=(((x, y - 25.0),),)))


def _hot_ground(p: Planted) -> Planted:
    dark = p.edited(*(ChangePart(part=p.ids[name], base=colour) for name, colour in (
        ("coat", "#2a2433"), ("sleeves", "#3d2b2b"))))
    return dark.edited(SetBackground(colour="#fbf8f0"))


def _gradient(name: str, top: str, bottom: str, scope: str) -> AddFinish:
    paint = ColourGradient(ends=((300.0, 40.0), (300.0, 800.0)),
                           stops=(Stop(at=0, colour=top), Stop(at=1, colour=bottom)))
    layer = FinishDraft(name=name, paint=paint, shape=Everywhere(), scope=scope)
    return AddFinish(layers=(layer,))


def _same_trend(p: Planted) -> Planted:
    lit = p.edited(*(ChangePart(part=p.ids[name], base=colour) for name, colour in (
        ("hair", "#f0dcae"), ("boots", "#3a2f3f"), ("trousers", "#5a4a68"))))
    return lit.edited(_gradient("dusk", "#f4efe6", "#6d6a7c", "ground"))


def _focused(p: Planted) -> Planted:
    x, y = p.places["face"][0]
    return p.edited(SetFocus(places=(Focus(at=(x, y - 25), radius=110.0),)))



def _rival(p: Planted) -> Planted:
    return _focused(p).edited(
        ChangePart(part=p.ids["whites"], base="#e8cfba"),
        ChangePart(part=p.ids["irises"], base="#c9a890"),
        ChangePart(part=p.ids["boots"], base="#0c0a10"), SetBackground(colour="#ffffff"),
        ChangePart(part=p.ids["hair"], base="#d8cfc0"), ChangePart(part=p.ids["face"],
                                                                   base="#f3dcc8"),
        ChangePart(part=p.ids["trousers"], base="#f6f4ea"))


def _clipping(p: Planted) -> Planted:
    glare = FinishDraft(name="glare", paint=PlainColour(colour="#ffd9a0"), mode="color-dodge",
                        strength=1.0)
    return p.edited(AddFinish(layers=(glare,)))


def _hidden(p: Planted) -> Planted:
    return p.edited(ChangePart(part=p.ids["scarf"], visible=False))


def _unnamed(p: Planted) -> Planted:
    return p.edited(ChangePart(part=p.ids["trousers"], name="Part 4"))


@dataclass(frozen=True)
class Fault:
    """A fault: the check that should find it, how it is planted, and the drawing it needs."""

    name: str
    check: str
    plant: Callable[[Planted], Planted]
    how: Drawing = Drawing()


def _proposed(p: Planted) -> Planted:
    made = p.edited()
    made.recipe = made.recipe.model_copy(update={"proposed": True})
    return made


FAULTS: tuple[Fault, ...] = (
    Fault("bases alike", "run together",
          lambda p: _base(p, "sleeves", _moved(p.base("coat"), 0.025))),
    Fault("one value", "same value", _same_value),
    Fault("red on green", "confused", _confused),
    Fault("faint shade", "faint",
          lambda p: _own(p, "coat", "shade", _moved(p.base("coat"), -0.02))),
    Fault("faint light", "faint",
          lambda p: _own(p, "hair", "light", _moved(p.base("hair"), 0.015))),
    Fault("heavy shade", "heavy",
          lambda p: _own(p, "coat", "shade", _searched(
              lambda c: np.abs(_step(c, p.base("coat")) - 27)
              + np.maximum(0, 16 - _step(c, p.recipe.lines.colour))
              + np.maximum(0, _lightness(c) - _lightness(_of(p.base("coat"))))))),
    Fault("black shade", "in the line",
          lambda p: _own(p, "coat", "shade", p.recipe.lines.colour)),
    Fault("no passes", "flat", lambda p: p.edited(SetPasses(passes=p.recipe.passes.model_copy(
        update={"off": ("shade", "deep shade", "light", "glint")})))),
    Fault("few values", "few values", _few_values),
    Fault("dull skin", "dull skin", lambda p: _base(p, "face", "#cdb49f").edited(
        SetBackground(colour="#fdfdfb"), ChangePart(part=p.ids["whites"], base="#ffffff"))),
    Fault("lit from elsewhere", "lit from elsewhere", _elsewhere),
    Fault("old touch-ups", "another light", _another_light),
    Fault("cast towards the light", "falls to the light", _falls_to_light),
    Fault("glint on the wrong side", "glints", lambda p: _glint(p, 0, True)),
    Fault("one glint", "glints", lambda p: _glint(p, 1, False)),
    Fault("rim on the lit side", "rim by key", lambda p: _lamp(p, "rim")),
    Fault("bounce from the light", "bounce by key", lambda p: _lamp(p, "bounce")),
    Fault("gap", "open outline", lambda p: p, Drawing(gap=True)),
    Fault("unclaimed boot", "no part", lambda p: p.edited(ClaimAreas(
        to="none", strokes=((p.places["boots"][0],),)))),
    Fault("unpainted white", "whites", lambda p: p.edited(ClaimAreas(
        to="ground", strokes=((p.places["whites"][0],),)))),
    Fault("speck", "speck", lambda p: p, Drawing(speck=True)),
    Fault("spattered shade", "scattered", _scattered),
    Fault("folds in the dark", "lost drawing",
          lambda p: _base(p, "trousers", _moved(p.recipe.lines.colour, 0.02)), Drawing(folds=True)),
    Fault("hairlines", "thin lines", lambda p: p, Drawing(line=1)),
    Fault("zigzag border", "ragged", _ragged),
    Fault("coat on its like", "lost outline",
          lambda p: p.edited(SetBackground(colour=_moved(p.base("sleeves"), 0.02)))),
    Fault("paper in the crook", "hot ground", _hot_ground),
    Fault("dusk with the figure", "same trend", _same_trend),
    Fault("loud boots", "rival", _rival),
    Fault("pure boots", "purest away", lambda p: _focused(p).edited(
        ChangePart(part=p.ids["boots"], base="#ff2a00"))),
    Fault("hatched boots", "detail away", _focused, Drawing(hatched_boots=True)),
    Fault("sprinkled light", "many gleams", lambda p: _dots(p, "light", 5.0, 32)),
    Fault("suggestions", "proposed", _proposed),
    Fault("a number for a name", "unnamed", _unnamed),
    Fault("hidden scarf", "hidden", _hidden),
    Fault("layer of white", "idle layer", lambda p: p.edited(AddFinish(layers=(FinishDraft(
        name="nothing", paint=PlainColour(colour="#ffffff"), mode="multiply"),)))),
    Fault("glare", "clipping", _clipping),
    Fault("a look like the piece", "looks alike", lambda p: p.edited(AddLook(
        name="other", bases={p.ids["scarf"]: _moved(p.base("scarf"), 0.03)}))),
    Fault("off the card", "drifted", lambda p: _base(p, "hair", _moved(p.base("hair"), 0.06))),
)
__all__ = ["FAULTS", "Drawing", "Fault", "Planted", "SetForm", "figure"]
