"""The colours of a recipe: what lies on each part, and the program that composes it."""

from dataclasses import dataclass, replace
from typing import NamedTuple

from wardrobe.core.colour import from_hex
from wardrobe.core.finish.planes import PLANES
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.methods import AMOUNTS, METHODS, Ink, Method, Rules
from wardrobe.core.passes.own import with_own
from wardrobe.core.passes.seen import shapes_of
from wardrobe.core.passes.table import BY_LAMP, GROUND, PASSES
from wardrobe.recipe.document.colouring import Passes, WashKey
from wardrobe.recipe.document.look import Look, dressed_parts
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.stages.stage import Get, Small, Stage

_WASHES: tuple[WashKey, ...] = ("shade", "deep shade", "light", "glint", "wash")


class Dye(NamedTuple):
    """What the colours of one part follow from.

    ``inked`` are passes drawn in ink instead; ``plane`` is that of scenery.
    """

    base: str
    method: str | None
    material: str
    own: tuple[tuple[str, str], ...]
    inked: tuple[str, ...] = ()
    plane: str | None = None


class Overlay(NamedTuple):
    """A colour that is laid on at a strength."""

    colour: str
    strength: float


@dataclass(frozen=True)
class Colouring:
    """What the colours of a picture follow from, whatever its shapes.

    Attributes
    ----------
    parts : tuple of Dye
    passes : Passes
    background, ambient : str
    rim, bounce, ground : Overlay or None
        Lights from the sides, and the shadow on the ground.
    """

    parts: tuple[Dye, ...]
    passes: Passes
    background: str
    ambient: str
    rim: Overlay | None
    bounce: Overlay | None
    ground: Overlay | None

    @classmethod
    def of(cls, recipe: Recipe) -> "Colouring":
        """Those of a recipe."""
        light = recipe.light
        rim, bounce, ground = (None if side is None else Overlay(side.colour, side.strength)
                               for side in (light.rim, light.bounce, light.ground))
        inked = {p.id: tuple(s.name for s in recipe.ink.shades
                             if s.instead and (not s.parts or p.id in s.parts))
                 for p in recipe.parts}
        return cls(tuple(Dye(p.base, p.method, p.material, tuple(p.own.items()), inked[p.id],
                             p.scenery)
                         for p in recipe.parts), recipe.passes, recipe.background,
                   light.ambient, rim, bounce, ground)


def method_of(recipe: Recipe, part: Part) -> Method:
    """The method by which a part gets its colours."""
    return METHODS[part.method or recipe.passes.method]


def rules_of(colouring: Colouring) -> Rules:
    """The settings from which methods derive colours."""
    passes = colouring.passes
    washes = {key: passes.wash_of(key) for key in _WASHES}
    return Rules(
        washes={key: Ink(from_hex(w.colour), w.strength) for key, w in washes.items()},
        amounts={name: passes.amounts.get(name, s.usual) for name, s in AMOUNTS.items()},
        ambient=from_hex(colouring.ambient), turn_to=passes.turn_to, tones=passes.tones,
        over_figure=passes.over_figure, off=frozenset(passes.off))


def coats_of(colouring: Colouring) -> list[Coat]:
    """What lies on each part, in their order."""
    rules = rules_of(colouring)
    return [_coat(colouring, part, rules) for part in colouring.parts]


def ground_coat(colouring: Colouring) -> Coat:
    """What lies behind the figure: the background, and the figure's shadow on it."""
    return _shadowed(colouring, colouring.background)


def _shadowed(colouring: Colouring, colour: str) -> Coat:
    ground = colouring.ground
    shadow = () if ground is None or GROUND in colouring.passes.off else (
        PassLayer("ground shadow", "multiply", GROUND, from_hex(ground.colour), ground.strength),)
    return Coat(from_hex(colour), shadow)


def _with_side_lights(coat: Coat, colouring: Colouring, off: frozenset[str]) -> Coat:
    """The coat with the lights of their own on screen, below what lies over the whole figure."""
    sides = {key: getattr(colouring, lamp) for key, lamp in BY_LAMP.items()}
    extra = tuple(PassLayer(key, "screen", key, from_hex(side.colour), side.strength)
                  for key, side in sides.items() if side and key not in off)
    own = tuple(layer for layer in coat.layers if not layer.over_figure)
    over = tuple(layer for layer in coat.layers if layer.over_figure)
    return replace(coat, layers=(*own, *extra, *over))


def _coat(colouring: Colouring, part: Dye, rules: Rules) -> Coat:
    base = from_hex(part.base)
    if part.plane is not None:
        return _shadowed(colouring, part.base) if PLANES[part.plane].shadowed else Coat(base, ())
    off = rules.off.union(part.inked, () if MATERIALS[part.material].glint_share else ("glint",))
    rules = replace(rules, off=off)
    method = METHODS[part.method or colouring.passes.method]
    plain = _with_side_lights(method.coat(base, rules), colouring, off)
    if colouring.passes.modes:
        plain = replace(plain, layers=tuple(
            replace(layer, mode=colouring.passes.modes.get(layer.name, layer.mode))
            for layer in plain.layers))
    return with_own(plain, base, {key: from_hex(c) for key, c in part.own})


@dataclass(frozen=True)
class Coats(Small):
    """What lies on the background and on each part, and their base colours."""

    coats: tuple[Coat, ...]
    bases: tuple[Rgb, ...]


@dataclass(frozen=True, eq=False)
class Coated(Stage[Coats]):
    """What lies on each row: 0 is the background, then one row a part."""

    colouring: Colouring

    def make(self, get: Get) -> Coats:
        c = self.colouring
        bases = (c.background, *(p.base for p in c.parts))
        return Coats((ground_coat(c), *coats_of(c)), tuple(map(from_hex, bases)))


@dataclass(frozen=True, eq=False)
class WantedShapes(Stage[tuple[str, ...]], by_content=True):
    """Passes whose shapes are needed, in their order; ``also`` beside those of the parts."""

    coated: Coated
    also: tuple[str, ...] = ()

    def make(self, get: Get) -> tuple[str, ...]:
        found = {*shapes_of(get(self.coated).coats), *self.also}
        return tuple(key for key in PASSES if key in found)


@dataclass(frozen=True, eq=False)
class Dressed(Stage[tuple[Part, ...]]):
    """The parts as they are in a look."""

    parts: tuple[Part, ...]
    look: Look

    def make(self, get: Get) -> tuple[Part, ...]:
        return dressed_parts(self.parts, self.look)
