"""The colours of a recipe: what lies on each part, and the program that composes it."""

from dataclasses import replace
from functools import lru_cache

from wardrobe.core.colour import from_hex
from wardrobe.core.composite.program import Program, compile_coats
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.methods import AMOUNTS, METHODS, Ink, Method, Rules
from wardrobe.core.passes.own import with_own
from wardrobe.core.passes.table import GROUND
from wardrobe.recipe.colouring import WashKey
from wardrobe.recipe.memo import Memo
from wardrobe.recipe.model import Part, Recipe

_PROGRAMS: Memo[Program] = Memo(32)
_WASHES: tuple[WashKey, ...] = ("shade", "deep shade", "light", "glint", "wash")


def rules_of(recipe: Recipe) -> Rules:
    """The settings from which a recipe's methods derive colours."""
    passes = recipe.passes
    washes = {key: passes.wash_of(key) for key in _WASHES}
    return Rules(
        washes={key: Ink(from_hex(w.colour), w.strength) for key, w in washes.items()},
        amounts={name: passes.amounts.get(name, s.usual) for name, s in AMOUNTS.items()},
        ambient=from_hex(recipe.light.ambient), turn_to=passes.turn_to, tones=passes.tones,
        over_figure=passes.over_figure, off=frozenset(passes.off))


def method_of(recipe: Recipe, part: Part) -> Method:
    """The method by which a part gets its colours."""
    return METHODS[part.method or recipe.passes.method]


def coats_of(recipe: Recipe) -> list[Coat]:
    """What lies on each part, in their order."""
    rules = rules_of(recipe)
    return [_coat(recipe, part, rules) for part in recipe.parts]


def program_of(recipe: Recipe) -> Program:
    """The program of a recipe: row 0 is the background, then one row a part."""
    light = recipe.light

    def build() -> Program:
        bases = (recipe.background, *(p.base for p in recipe.parts))
        return _compiled((ground_coat(recipe), *coats_of(recipe)), tuple(map(from_hex, bases)))

    return _PROGRAMS.get((recipe.parts, recipe.passes),
                         (recipe.background, light.ambient, light.rim, light.bounce, light.ground),
                         build)


def bare_program(recipe: Recipe) -> Program:
    """The bases alone."""
    bases = tuple(map(from_hex, (recipe.background, *(p.base for p in recipe.parts))))
    return _compiled(tuple(Coat(base, ()) for base in bases), bases)


@lru_cache(maxsize=32)
def _compiled(coats: tuple[Coat, ...], bases: tuple[Rgb, ...]) -> Program:
    return compile_coats(coats, bases)


def ground_coat(recipe: Recipe) -> Coat:
    """What lies behind the figure: the background, and the figure's shadow on it."""
    ground = recipe.light.ground
    shadow = () if ground is None or GROUND in recipe.passes.off else (
        PassLayer("ground shadow", "multiply", GROUND, from_hex(ground.colour), ground.strength),)
    return Coat(from_hex(recipe.background), shadow)


def _with_side_lights(coat: Coat, recipe: Recipe) -> Coat:
    """The coat with bounce and rim on screen, below what lies over the whole figure."""
    sides = {"bounce": recipe.light.bounce, "rim": recipe.light.rim}
    extra = tuple(PassLayer(key, "screen", key, from_hex(side.colour), side.strength)
                  for key, side in sides.items() if side and key not in recipe.passes.off)
    own = tuple(layer for layer in coat.layers if not layer.over_figure)
    over = tuple(layer for layer in coat.layers if layer.over_figure)
    return replace(coat, layers=(*own, *extra, *over))


def _coat(recipe: Recipe, part: Part, rules: Rules) -> Coat:
    base = from_hex(part.base)
    if not MATERIALS[part.material].glint_share:
        rules = replace(rules, off=rules.off | {"glint"})
    plain = _with_side_lights(method_of(recipe, part).coat(base, rules), recipe)
    return with_own(plain, base, {key: from_hex(c) for key, c in part.own.items()})
