"""The stack's list: what will be delivered, without making the pixels."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from wardrobe.core.colour import to_hex
from wardrobe.core.stack.arrange import obstacle
from wardrobe.core.stack.check.canvas import where_on
from wardrobe.core.stack.model import Layer, Node, Stack, Tint
from wardrobe.core.stack.plan import (
    Arrangement,
    Planned,
    PlannedGroup,
    PlannedLayer,
    planned_layers,
)
from wardrobe.core.stack.roles import role_of
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.stages import Deriver

_PLAIN = ("pattern", "printed")  # more than one colour


@dataclass(frozen=True)
class StackLine:
    """A layer or a group.

    Attributes
    ----------
    index : int
        Of a layer, from the bottom; of a group the one of its lowest layer.
    columns : tuple of str
        What it lies on: ids of parts, or other columns; empty for the whole canvas.
    what : str
        Its purpose in a word or two.
    depth : int
        Groups around it.
    """

    index: int
    name: str
    kind: Literal["layer", "group"]
    columns: tuple[str, ...] = ()
    what: str = ""
    mode: str = "normal"
    opacity: float = 1.0
    clipped_to: str | None = None
    colour: str | None = None
    depth: int = 0
    visible: bool = True
    empty: bool = False


@dataclass(frozen=True)
class Column:
    """A part, or what else layers are piled on."""

    key: str
    name: str
    colour: str | None = None


@dataclass(frozen=True)
class Section:
    """A stack drawn as a section: columns with what is piled on them, lines top to bottom.

    Attributes
    ----------
    obstacles : dict of str to str
        Arrangements that are not possible, and why.
    """

    columns: tuple[Column, ...]
    lines: tuple[StackLine, ...]
    obstacles: dict[Arrangement, str]


def stack_section(deriver: Deriver, recipe: Recipe) -> Section:
    """The stack that will be delivered."""
    figure = deriver.figure(recipe)
    nodes = deriver.plan(recipe)
    grounds = {layer.rows[0]: layer.name for layer in planned_layers(nodes)
               if layer.content == "ground"}
    grounds[-1] = next(n.name for n in planned_layers(nodes) if n.content == "figure")
    grounds[-2] = next((n.name for n in planned_layers(nodes) if n.over and n.over.clipped), "")
    ids = ["", *(p.id for p in recipe.parts)]
    arrangements: tuple[Arrangement, ...] = ("by part", "by pass", "whole figure")
    why = {a: obstacle(figure, a) for a in arrangements}
    return Section(
        tuple(Column(p.id, p.name, p.base) for p in recipe.parts),
        tuple(_lines(nodes, ids, grounds))[::-1],
        {a: reason for a, reason in why.items() if reason})


def section_of(stack: Stack) -> Section:
    """Any stack as a section: a column for each of its topmost groups."""
    columns: list[Column] = []
    found: list[StackLine] = []
    count = 0

    def walk(nodes: Sequence[Node], depth: int, column: tuple[str, ...]) -> None:
        nonlocal count
        base: Layer | None = None
        for node in nodes:
            mine = column
            if isinstance(node, Layer):
                colour = to_hex(node.paint.colour) if isinstance(node.paint, Tint) else None
                on = base.name if base and depth and _lies_on(node, base, stack) else None
                if base is None and role_of(node) == "flat":
                    base = node
                found.append(StackLine(count, node.name, "layer", mine,
                                       node.name.rpartition("/")[2].strip() or node.name,
                                       node.mode, node.opacity, on, colour, depth,
                                       node.visible, not node.alpha.any()))
                count += 1
                continue
            if depth == 0:
                mine = (f"g{len(columns)}",)
                columns.append(Column(mine[0], node.name))
            first = count
            walk(node.children, depth + 1, mine)
            found.append(StackLine(first, node.name, "group", mine, node.name, node.mode,
                                   node.opacity, None, None, depth, node.visible))

    walk(stack.nodes, 0, ())
    return Section(tuple(columns[::-1]), tuple(found[::-1]), {})


def _of_many(layer: PlannedLayer) -> bool:
    """Whether it has more than one colour: an image, a gradient."""
    return layer.content == "clipped" or (layer.over is not None
                                          and not isinstance(layer.over.source, tuple))


def _lies_on(layer: Layer, base: Layer, stack: Stack) -> bool:
    """Whether a layer is painted nowhere but on a base: as if it were clipped to it."""
    shape = stack.height, stack.width
    where, alpha = where_on(layer, shape)
    there, cover = where_on(base, shape)
    covered = np.zeros(alpha.shape, bool)  # by the base, within the layer's own rectangle
    rows, columns = (slice(max(a.start, b.start), max(a.start, b.start, min(a.stop, b.stop)))
                     for a, b in zip(where, there, strict=True))
    covered[rows.start - where[0].start:rows.stop - where[0].start,
            columns.start - where[1].start:columns.stop - where[1].start] = cover[
        rows.start - there[0].start:rows.stop - there[0].start,
        columns.start - there[1].start:columns.stop - there[1].start] > 0
    return bool(alpha.any()) and not (alpha.astype(bool) & ~covered).any()


def _lines(nodes: Sequence[Planned], ids: list[str],
           grounds: dict[int, str]) -> Iterator[StackLine]:
    """Bottom to top; a group after what it holds."""
    count = 0

    def walk(nodes: Sequence[Planned], depth: int) -> Iterator[StackLine]:
        nonlocal count
        for node in nodes:
            columns = tuple(ids[row] for row in node.rows if row)
            if isinstance(node, PlannedGroup):
                first = count
                yield from walk(node.children, depth + 1)
                yield StackLine(first, node.name, "group", columns, node.what or node.part,
                                node.mode, node.opacity, depth=depth, visible=node.visible)
            else:
                colour = None if node.content in _PLAIN or _of_many(node) else to_hex(node.colour)
                yield StackLine(count, node.name, "layer", columns, node.what, node.mode,
                                node.opacity, grounds.get(node.base) if node.base else None,
                                colour, depth, node.visible, node.content == "blank")
                count += 1

    yield from walk(nodes, 0)
