"""What ink reads of the recipe."""

from wardrobe.core.colour import from_hex
from wardrobe.core.ink.rule import Side
from wardrobe.core.ink.shading import Hand
from wardrobe.core.ink.tones import Tones
from wardrobe.core.layers.layer import INK
from wardrobe.core.passes.layers import Clipped, Over
from wardrobe.core.words.parts import drawn_in_black
from wardrobe.recipe.document.ink import AsDrawn, InkShade
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.stages.ink import ALL, DRAWING, GROUND, IMAGE, ITSELF, Chosen, shade_name


def coloured(recipe: Recipe) -> bool:
    """Whether lines have colours of their own."""
    ink = recipe.ink
    return ink.on and ink.amount > 0 and ink.drawing is None and bool(recipe.parts)


def sides_of(recipe: Recipe, darker: float = 0.0) -> tuple[Side, ...]:
    """The ground and the parts, as lines take colour from them; darker by a share."""
    rules = {m.material: m.rule.darker(darker) for m in recipe.ink.materials}
    return (Side(from_hex(recipe.background)), *(
        Side(from_hex(p.base), p.material == "metal", drawn_in_black(p.name),
             rules.get(p.material)) for p in recipe.parts))


def chosen_of(recipe: Recipe) -> tuple[Chosen, ...]:
    """Colours that were chosen for lines."""
    rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)} | {
        "ground": GROUND, "itself": ITSELF, None: ALL}
    return tuple(Chosen(rows[o.part], rows[o.beside], from_hex(o.colour))
                 for o in recipe.ink.own if o.part in rows and o.beside in rows)


def hand_of(shade: InkShade) -> Hand:
    """How a pass is drawn in ink; lengths in line widths are to be multiplied."""
    return Hand(shade.style, shade.angle, shade.spacing, shade.tone, shade.pressure, shade.taper,
                shade.follow, shade.gap)


def tones_of(drawing: AsDrawn) -> Tones:
    """How the drawing is printed."""
    return Tones(from_hex(drawing.tint), doubled=drawing.doubled)


def inked_over(recipe: Recipe) -> tuple[Over, ...]:
    """What is printed in ink: the passes drawn in it, and the lines, or the drawing itself."""
    ink, colour = recipe.ink, from_hex(recipe.lines.colour)
    shades = tuple(Over("lines", f"{shade.name} in ink",
                        from_hex(shade.colour) if shade.colour else colour, soft=shade_name(k))
                   for k, shade in enumerate(ink.shades))
    if ink.drawing is not None:
        return (*shades, Over("lines", "drawing", DRAWING, "multiply", ink.opacity))
    clipped = Clipped("colour", IMAGE, ink.amount) if coloured(recipe) else None
    return (*shades, Over("lines", "ink", colour, ink.mode, ink.opacity, INK, clipped=clipped))
