"""The stack's list: what will be delivered, without making the pixels."""

from dataclasses import dataclass
from typing import Literal

from wardrobe.core.colour import to_hex
from wardrobe.core.stack.build import PASSES, SILHOUETTE_GREY
from wardrobe.recipe.model import Recipe, hidden


@dataclass(frozen=True)
class StackLine:
    """A layer or a group; ``depth`` is 1 inside a group."""

    name: str
    kind: Literal["layer", "group"]
    mode: str = "normal"
    opacity: float = 1.0
    clipped_to: str | None = None
    colour: str | None = None
    part: str | None = None
    depth: int = 0
    visible: bool = True


def stack_outline(recipe: Recipe, has_halo: bool = False) -> list[StackLine]:
    """The delivered layers, top to bottom; a test holds it against the stack that is built."""
    washes = {"shade": recipe.passes.shade, "light": recipe.passes.light}
    lines = [StackLine("lines / ink", "layer", colour=recipe.lines.colour)]
    if has_halo:
        lines.insert(0, StackLine("finish / halo", "layer", colour=recipe.halo.colour))
    out_of_sight = hidden(recipe.parts)
    for part in recipe.parts:
        base = f"{part.name} / base"
        lines.append(StackLine(part.name, "group", part=part.id,
                               visible=part.id not in out_of_sight))
        lines += [StackLine(f"{part.name} / {name}", "layer", mode, washes[name].strength, base,
                            washes[name].colour, part.id, 1) for name, mode in reversed(PASSES)]
        if part.pattern:
            lines.append(StackLine(f"{part.name} / pattern", "layer", clipped_to=base,
                                   colour=part.pattern.colour, part=part.id, depth=1))
        lines.append(StackLine(base, "layer", colour=part.base, part=part.id, depth=1))
    lines.append(StackLine("silhouette / mask", "layer", colour=to_hex(SILHOUETTE_GREY),
                           visible=False))
    lines.append(StackLine("silhouette / base", "layer", colour=to_hex(SILHOUETTE_GREY)))
    lines.append(StackLine("background / base", "layer", colour=recipe.background))
    return lines
