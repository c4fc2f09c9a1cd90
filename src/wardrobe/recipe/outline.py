"""The stack's list: what will be delivered, without making the pixels."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from wardrobe.core.colour import to_hex
from wardrobe.core.passes.layers import Coat
from wardrobe.core.stack.build import FIGURE, SILHOUETTE_GREY, ground_name, over_figure
from wardrobe.recipe.model import Part, Recipe, hidden
from wardrobe.recipe.table import coats_of, ground_coat


@dataclass(frozen=True)
class StackLine:
    """A layer or a group; ``depth`` counts the groups around it."""

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
    lines = [StackLine("lines / ink", "layer", colour=recipe.lines.colour)]
    if has_halo:
        lines.insert(0, StackLine("finish / halo", "layer", colour=recipe.halo.colour))
    coats = coats_of(recipe)
    lines += [StackLine(f"{FIGURE} / {layer.name}", "layer", layer.mode, layer.strength,
                        "silhouette / base", to_hex(layer.colour))
              for layer in reversed(over_figure(coats))]
    out_of_sight = hidden(recipe.parts)
    for part, coat in zip(recipe.parts, coats, strict=True):
        lines.append(StackLine(part.name, "group", part=part.id,
                               visible=part.id not in out_of_sight))
        lines += _inside(part, coat)
    lines.append(StackLine("silhouette / mask", "layer", colour=to_hex(SILHOUETTE_GREY),
                           visible=False))
    lines.append(StackLine("silhouette / base", "layer", colour=to_hex(SILHOUETTE_GREY)))
    lines += [StackLine(f"background / {layer.name}", "layer", layer.mode, layer.strength,
                        colour=to_hex(layer.colour)) for layer in ground_coat(recipe).layers]
    lines.append(StackLine("background / base", "layer", colour=recipe.background))
    return lines


def _inside(part: Part, coat: Coat) -> Iterator[StackLine]:
    """A part's group, top to bottom."""
    ground = f"{part.name} / {ground_name(coat)}"
    for layer in reversed([layer for layer in coat.layers if not layer.over_figure]):
        name = f"{part.name} / {layer.name}"
        if layer.tones:
            yield StackLine(name, "group", layer.mode, layer.strength, None, None, part.id, 1)
            for tone in reversed(layer.tones):
                yield StackLine(f"{part.name} / {tone.name}", "layer", clipped_to=ground,
                                colour=to_hex(tone.colour), part=part.id, depth=2)
        else:
            yield StackLine(name, "layer", layer.mode, layer.strength, ground,
                            to_hex(layer.colour), part.id, 1)
    if part.pattern:
        yield StackLine(f"{part.name} / pattern", "layer", clipped_to=ground,
                        colour=part.pattern.colour, part=part.id, depth=1)
    yield StackLine(ground, "layer", colour=to_hex(coat.ground), part=part.id, depth=1)
