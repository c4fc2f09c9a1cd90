"""Begin a piece from a layered file: its lines are the drawing, its flats the parts."""

import re
import unicodedata

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas
from wardrobe.core.colour import to_hex
from wardrobe.core.errors import WardrobeError
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.stack.check.canvas import where_on
from wardrobe.core.stack.check.flats import main_colour
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Stack
from wardrobe.core.stack.naming import Names
from wardrobe.core.stack.roles import Placed, placed_layers
from wardrobe.recipe.document.model import MAX_PARTS, Claim, Part
from wardrobe.recipe.document.types import MOST_NAME
from wardrobe.recipe.edits import ReplaceParts, SetBackground

_MINE = 0.5  # share of an area that a flat must cover to have it
# Words that tell a material (common practice, no published source).
_MATERIAL_WORDS = {
    "skin": "skin face neck hands ears lips", "hair": "hair beard brows fringe moustache",
    "leather": "leather boots boot shoes belt strap gloves satchel bag",
    "metal": "metal steel brass buckle fittings armour sword rims",
    "glass": "glass lens visor window", "wet": "eye eyes whites irises iris",
}


class NoLinesLayerError(WardrobeError):
    """The file has no layer of lines."""

    title = "There are no lines"


class TooManyFlatsError(WardrobeError):
    """The file has more flats than a piece has parts."""

    title = "There are too many flats"


def lines_of(stack: Stack) -> NDArray[np.uint8]:
    """The lines of a stack, RGBA.

    Raises
    ------
    NoLinesLayerError
        If no layer that is shown seems to hold lines.
    """
    lines = [p.layer for p in placed_layers(stack) if p.role == "lines" and p.shown]
    if not any(layer.alpha.any() for layer in lines):
        raise NoLinesLayerError("No layer of this file seems to hold its lines. Give that layer a "
                                "name with “lines” or “ink” in it, and open the file again.")
    return flatten(Stack(stack.width, stack.height, lines))


def parts_of(stack: Stack, areas: Areas) -> ReplaceParts:
    """A part for every flat that covers areas of the drawing, with its name and colour.

    Parameters
    ----------
    stack : Stack
    areas : Areas
        Of the stack's lines.

    Raises
    ------
    TooManyFlatsError
        If more flats cover areas than a piece may have parts.
    """
    flats: list[Placed] = []
    for placed in placed_layers(stack):
        # What lies on the lowest flat of a group, such as a pattern, is not a part of its own.
        lowest = not placed.group or all(f.group != placed.group for f in flats)
        if placed.role == "flat" and placed.shown and lowest:
            flats.append(placed)
    owners = np.zeros(areas.labels.shape, np.int64)
    for number, placed in enumerate(flats, start=1):
        where, alpha = where_on(placed.layer, (stack.height, stack.width))
        owners[where][alpha > 127] = number
    count = len(flats) + 1
    # Lines cover the seams between flats; only free pixels are asked.
    free = areas.core
    covered = np.bincount(areas.labels[free].astype(np.int64) * count + owners[free],
                          minlength=(areas.count + 1) * count).reshape(-1, count)
    best = covered[:, 1:].argmax(axis=1) + 1 if count > 1 else np.zeros(areas.count + 1, np.int64)
    share = covered[np.arange(areas.count + 1), best] / np.maximum(1, covered.sum(axis=1))
    bare = np.flatnonzero((covered[:, 0] > _MINE * covered.sum(axis=1)) & ~areas.ground)
    names = Names(longest=MOST_NAME)
    parts: list[Part] = []
    claims: list[Claim] = []
    for number in range(len(flats), 0, -1):  # the topmost is in front
        mine = np.flatnonzero((best == number) & (share >= _MINE))
        mine = mine[mine > 0]
        if not len(mine):
            continue
        if len(parts) == MAX_PARTS:
            raise TooManyFlatsError(f"The file has more than {MAX_PARTS} flats that cover areas; "
                                    "a piece has no more parts. Merge some that belong together, "
                                    "and open the file again.")
        part = f"p{len(parts) + 1}"
        name = names.unique(part_name(flats[number - 1]))
        parts.append(Part(id=part, name=name, material=_material(name),
                          base=to_hex(main_colour(flats[number - 1].layer))))
        claims.append(Claim(to=part, strokes=spots_of(areas, mine)))
    if len(bare):
        claims.append(Claim(to="ground", strokes=spots_of(areas, bare)))
    return ReplaceParts(parts=tuple(parts), claims=tuple(claims))


def spots_of(areas: Areas, which: NDArray[np.int64]) -> tuple[tuple[tuple[float, float]], ...]:
    """The innermost places of areas, as strokes of a claim."""
    return tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in areas.seeds[which])


def background_of(stack: Stack) -> SetBackground | None:
    """The colour behind the figure, if a layer holds it."""
    found = [p.layer for p in placed_layers(stack)
             if p.role == "background" and p.shown and p.layer.mode == "normal"
             and p.layer.alpha.mean() > 127]
    return SetBackground(colour=to_hex(main_colour(found[0]))) if found else None


def part_name(placed: Placed) -> str:
    """A layer's name without what every flat is called."""
    steps = [s.strip() for s in placed.path.split("/") if s.strip()]
    plain = [re.sub(r"\b(flats?|bases?|fills?|colou?rs?|local)\b|"
                    r"\b(copy|layer|group)\b[\s\d#]*", "", s, flags=re.IGNORECASE)
             for s in steps]
    said = [re.sub(r'[\\<>:"|?*]|[^\w\s\-]', " ", s) for s in plain]
    said = [" ".join(s.split()) for s in said]
    # Composed first: that can make a name longer.
    told = unicodedata.normalize("NFC", next((s for s in reversed(said) if s), "part"))
    return told[:MOST_NAME].strip() or "part"


def _material(name: str) -> str:
    words = set(re.findall(r"[a-z]+", name.casefold()))
    for material, told in _MATERIAL_WORDS.items():
        if material in MATERIALS and words & set(told.split()):
            return material
    return "matte cloth"
