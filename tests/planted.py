"""Faults to be planted in random figures. Invented data, for tests only."""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from tests.figures import Drawing, Float, Place, Planted
from wardrobe.core.colour import (
    delta_e_2000,
    from_hex,
    oklch_to_srgb,
    srgb_to_lab,
    srgb_to_oklch,
    to_bytes,
    to_hex,
)
from wardrobe.core.looks.vision import seen_with
from wardrobe.recipe.document.finish import (
    ColourGradient,
    Everywhere,
    FinishDraft,
    Focus,
    PlainColour,
    Stop,
)
from wardrobe.recipe.document.lighting import SideLight
from wardrobe.recipe.document.model import SplitArea
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
    SetBackground,
    SetFocus,
    SetPasses,
    TouchUpPass,
)


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
    how: Drawing = field(default_factory=Drawing)


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
    Fault("one eye looks away", "gaze", lambda p: p, Drawing(gaze=8)),
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
