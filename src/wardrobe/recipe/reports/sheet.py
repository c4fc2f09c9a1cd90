"""The sheet: the colour that is seen in each pass of each part, and how it reads."""

from dataclasses import dataclass

from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.passes.layers import Coat, PassLayer
from wardrobe.core.passes.methods import AMOUNTS, METHODS, Column
from wardrobe.core.passes.seen import in_bytes, seen_inside, shapes_of
from wardrobe.core.passes.table import BY_LAMP, LIT, PASSES
from wardrobe.core.shades.steps import judge_all
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.stages.colours import Colouring, coats_of, method_of

BASE = "base"


@dataclass(frozen=True)
class SheetCell:
    """A pass on a part.

    Attributes
    ----------
    name : str
        ``base`` or the key of a pass.
    colour : str
        Seen in the picture inside the pass, exactly, ``#rrggbb``.
    step : float
        CIEDE2000 from the base.
    lightness : float
        Change of L* from the base.
    mark : str or None
        ``faint``, ``heavy``, ``in the line``, ``not drawn`` for a light that the part's material
        does not show unless it is put in by hand, or None.
    own : bool
        The part's own choice.
    how : str
        How it came about.
    """

    name: str
    colour: str
    step: float
    lightness: float
    mark: str | None
    own: bool
    how: str


@dataclass(frozen=True)
class SheetRow:
    """What one part shows.

    Attributes
    ----------
    part : str
        Id of the part.
    method : str
    cells : list of SheetCell
        Those of the part's method, in order; passes that are off are left out.
    """

    part: str
    method: str
    cells: list[SheetCell]

    def colour(self, name: str) -> str:
        """What is seen in a pass, or in the base where the part does not have it."""
        return next((c.colour for c in self.cells if c.name == name), self.cells[0].colour)


@dataclass(frozen=True)
class SheetColumn:
    """A pass of the piece's method.

    Attributes
    ----------
    name, label : str
    mode : str
        Blend mode that is delivered.
    opacity : float or None
        Delivered, if it is the same for all parts.
    wash : str or None
        Key of the wash that it takes its colour from.
    settings : list of str
        Names of its amounts.
    on : bool
    lamp : str or None
        Name of the light that it takes its colour from.
    """

    name: str
    label: str
    mode: str
    opacity: float | None
    wash: str | None
    settings: list[str]
    on: bool
    lamp: str | None = None


@dataclass(frozen=True)
class Sheet:
    """The grid in which colour is decided."""

    columns: list[SheetColumn]
    rows: list[SheetRow]


def colour_sheet(recipe: Recipe) -> Sheet:
    """Columns of the piece's method, and one row a part, front to behind."""
    colouring = Colouring.of(recipe)
    coats = coats_of(colouring)
    names = [[BASE] if part.scenery else [BASE, *shapes_of([coat])]
             for part, coat in zip(recipe.parts, coats, strict=True)]
    at = [(row, name) for row, mine in enumerate(names) for name in mine]
    seen = seen_inside(coats, [from_hex(p.base) for p in recipe.parts], at)
    colours = {place: in_bytes(colour) for place, colour in zip(at, seen, strict=True)}
    under = []
    for row, name in at:
        within = [k for k in PASSES[name].within if k in names[row]] if name in PASSES else []
        under.append(colours[row, within[-1] if within else BASE])
    judged = judge_all([name for _, name in at], [colours[row, BASE] for row, _ in at],
                       [colours[place] for place in at], from_hex(recipe.lines.colour), under)
    rows: list[list[SheetCell]] = [[] for _ in recipe.parts]
    for (row, name), j in zip(at, judged, strict=True):
        part = recipe.parts[row]
        rows[row].append(SheetCell(
            name, to_hex(colours[row, name]), j.step, j.lightness,
            _mark(recipe, part, name, j.mark), name in part.own,
            _how(coats[row], name, part.base, name in part.own)))
    return Sheet(sheet_columns(recipe), [
        SheetRow(p.id, method_of(recipe, p).key, cells)
        for p, cells in zip(recipe.parts, rows, strict=True)])


def _mark(recipe: Recipe, part: Part, name: str, judged: str | None) -> str | None:
    if name == BASE:
        return None
    usual = MATERIALS[part.material].highlight
    shown = (usual if part.form.highlight is None else part.form.highlight) > 0 or any(
        t.name == name and t.act == "put in" and t.part in (None, part.id)
        for t in recipe.touch_ups)
    return judged if shown or name not in LIT else "not drawn"


def sheet_columns(recipe: Recipe) -> list[SheetColumn]:
    """The passes of the piece's method, whether on or off."""
    passes, light = recipe.passes, recipe.light
    sides = {key: getattr(light, lamp) for key, lamp in BY_LAMP.items()}
    return [
        SheetColumn(c.key, PASSES[c.key].label if c.key in PASSES else c.key.capitalize(),
                    passes.modes.get(c.key, c.mode), _opacity(recipe, c), c.wash,
                    list(c.settings), c.key not in passes.off)
        for c in METHODS[passes.method].columns
        if c.key != "low light" or passes.tones == 3] + [
        SheetColumn(key, PASSES[key].label, passes.modes.get(key, "screen"), side.strength, None,
                    [], key not in passes.off, BY_LAMP[key]) for key, side in sides.items() if side]


def _opacity(recipe: Recipe, column: Column) -> float | None:
    if column.wash:
        return recipe.passes.wash_of(column.wash).strength
    if column.mode == "multiply" and column.key in AMOUNTS:
        return recipe.passes.amounts.get(column.key, AMOUNTS[column.key].usual)
    return None


def _how(coat: Coat, name: str, base: str, own: bool) -> str:
    """In words, what lies where in the order it is laid."""
    if own:
        return "your own choice"
    inside = {name, *PASSES[name].within} if name in PASSES else set()
    said = [base if not coat.grey else f"value {to_hex(coat.ground)}"]

    def fills(layer: PassLayer) -> bool:
        return layer.shape is None or (layer.shape in inside) != layer.outside

    for layer in filter(fills, coat.layers):
        tones = [tone.colour for tone in layer.tones if fills(tone)]
        colour = tones[-1] if tones else layer.colour
        if tones and colour == (255, 255, 255):
            continue
        share = f" at {layer.strength:.0%}" if layer.strength < 1 else ""
        if layer.mode == "normal":
            said = [f"{to_hex(colour)}{share}"] if layer.strength == 1 else \
                [*said, f"then {to_hex(colour)}{share}"]
        else:
            word = {"multiply": "x", "screen": "screen"}.get(layer.mode, layer.mode)
            said.append(f"{word} {to_hex(colour)}{share}")
    return " ".join(said)
