"""How a stack may be arranged: every layer and group in its place, before it has pixels.

Parts share no pixel, so passes of different parts may change places; what lies on one part may
not.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from graphlib import CycleError, TopologicalSorter
from itertools import pairwise

from wardrobe.core.layers.layer import INK
from wardrobe.core.passes.layers import Over, PassLayer
from wardrobe.core.stack.coverage import Coverage
from wardrobe.core.stack.naming import Names, check_pattern, filled
from wardrobe.core.stack.plan import (
    FIGURE,
    LINES,
    SILHOUETTE_GREY,
    Arrangement,
    Content,
    Figure,
    Layout,
    Place,
    Planned,
    PlannedGroup,
    PlannedLayer,
    planned_layers,
)

_MASK = "mask"
_Slot = tuple[object, ...]


def obstacle(figure: Figure, arrangement: Arrangement) -> str | None:
    """Why an arrangement cannot give the picture; None if it can."""
    if arrangement == "by part":
        return None
    coats = [(figure.names[row - 1], figure.coats[row - 1].layers) for row in sorted(_rows(figure))]
    if arrangement == "whole figure":
        first: dict[str, tuple[str, PassLayer]] = {}
        for part, layers in coats:
            for layer in layers:
                if layer.printed and figure.patterned:
                    return f"The {layer.name} carries the patterns of single parts."
                mine = replace(layer, over_figure=False)
                other, its = first.setdefault(layer.name, (part, mine))
                if mine != its:
                    return (f"“{other}” and “{part}” take {layer.name} in different colours or "
                            "modes, so one layer cannot hold both.")
    try:
        _slots(figure, arrangement)
    except CycleError:
        return "The parts take their passes in different orders, so they cannot share groups."
    return None


def arrange(figure: Figure, coverage: Coverage, layout: Layout) -> list[Planned]:
    """The whole stack, bottom to top, not yet named.

    Parameters
    ----------
    figure : Figure
    coverage : Coverage
        What is painted at all, at full size.
    layout : Layout
        An arrangement that is not possible falls back to "by part".
    """
    arrangement = layout.arrangement if obstacle(figure, layout.arrangement) is None else "by part"
    body = _BODIES[arrangement](figure, coverage, layout)
    ink = next(k for k, o in enumerate(figure.over) if o.part == LINES)
    # What lies on the ground alone may lie under the figure, unless something is below it.
    around = frozenset([0, *figure.scenery])
    behind = next((k for k, o in enumerate(figure.over)
                   if o.rows is None or not o.rows <= around), ink)
    nodes: list[Planned] = [
        PlannedLayer("background", "base", "canvas", colour=figure.background),
        *(PlannedLayer("background", layer.name, "pass", (0,), layer.colour, layer.mode,
                       layer.strength, layer, under=True) for layer in figure.behind),
        *_scenery(figure, coverage, layout),
        *(_over(figure, o, under=True) for o in figure.over[:behind]),
        *_blanks(layout, "behind", "background"),
        PlannedLayer("silhouette", "base", "figure", colour=SILHOUETTE_GREY),
        PlannedLayer("silhouette", _MASK, "silhouette", colour=SILHOUETTE_GREY, visible=False),
        *body,
        *(_over(figure, o) for o in figure.over[behind:ink]),
        *_blanks(layout, "over figure", FIGURE),
        *(_lines(figure, o) if o.shape == INK and layout.lines == "by part" and figure.line_rows
          else _over(figure, o) for o in figure.over[ink:]),
        *_blanks(layout, "over lines", "finish")]
    return nodes


def _over(figure: Figure, over: Over, under: bool = False) -> Planned:
    rows = () if over.rows is None else tuple(sorted(
        (over.rows - figure.hidden) | (figure.hidden if 0 in over.rows else frozenset())))
    colour = over.source if isinstance(over.source, tuple) else (0, 0, 0)
    layer = PlannedLayer("background" if under else over.part, over.what, "over", rows, colour,
                         over.mode, over.strength, over=over, under=under)
    if over.clipped is None:
        return layer
    upper = replace(layer, what=over.clipped.what, content="clipped", mode="source-atop",
                    opacity=over.clipped.strength, base=-2)
    return PlannedGroup(layer.part, "", (replace(layer, mode="normal", opacity=1.0), upper), rows,
                        over.mode, over.strength)


def _lines(figure: Figure, over: Over) -> PlannedGroup:
    """The lines in a layer for each part that owns some, with their colours if they have any;
    they share no pixel."""
    nodes: list[Planned] = []
    rows = {*figure.line_rows, *([0] if figure.hidden else [])}  # for what stays at soft cuts
    for row in sorted(rows, reverse=True):
        name, what = (figure.names[row - 1], LINES) if row else (LINES, "other")
        visible = row not in figure.hidden
        whole = _over(figure, replace(over, part=name, what=what))
        if isinstance(whole, PlannedLayer):
            nodes.append(replace(whole, content="line", rows=(row,), visible=visible,
                                 mode="normal", opacity=1.0))
            continue
        ink, colour = whole.children
        assert isinstance(ink, PlannedLayer) and isinstance(colour, PlannedLayer)
        nodes.append(PlannedGroup(name, what, (
            replace(ink, content="line", rows=(row,)),
            replace(colour, what=f"{what} {colour.what}", rows=(row,), base=-3 - row)), (row,),
            visible=visible))
    # Ground first: what no part owns lies at the bottom.
    nodes.sort(key=lambda node: node.rows != (0,))
    return PlannedGroup(LINES, "", tuple(nodes), (), over.mode, over.strength)


def _blanks(layout: Layout, place: Place, part: str) -> list[Planned]:
    return [PlannedLayer(part, e.name, "blank", mode=e.mode, opacity=e.opacity)
            for e in layout.extras if e.place == place]


def _rows(figure: Figure) -> list[int]:
    """Rows of the figure from the bottom: the first part is in front."""
    return [row for row in range(len(figure.names), 0, -1) if row not in figure.scenery]


def _ground(figure: Figure, row: int, visible: bool = True) -> list[PlannedLayer]:
    """The bottom of a part, and its pattern."""
    name, coat = figure.names[row - 1], figure.coats[row - 1]
    found = [PlannedLayer(name, "values" if coat.grey else "base", "ground", (row,), coat.ground,
                          visible=visible)]
    if row in figure.patterned:
        found.append(PlannedLayer(name, "pattern", "pattern", (row,), base=row, visible=visible))
    return found


def _laid(figure: Figure, coverage: Coverage, layout: Layout, rows: tuple[int, ...], part: str,
          layer: PassLayer, base: int) -> Planned | None:
    """A pass over some parts; None if nothing is painted on it."""
    painted = tuple(r for r in rows if coverage.painted(r, layer))
    if not (painted or layout.empties):
        return None
    if layer.tones:
        tones = (_laid(figure, coverage, layout, rows, part, tone, base) for tone in layer.tones)
        return PlannedGroup(part, layer.name, tuple(t for t in tones if t), rows, layer.mode,
                            layer.strength)
    content: Content = "printed" if layer.printed and figure.patterned & {*rows} else "pass"
    return PlannedLayer(part, layer.name, content, painted or rows[:1], layer.colour, layer.mode,
                        layer.strength, layer, base=base)


def _closed(children: Sequence[Planned], rows: tuple[int, ...], part: str,
            layout: Layout) -> tuple[Planned, ...]:
    """What a group holds; if groups are masked, the mask on top, and layers that may bleed."""
    if layout.clipping == "limited":
        return tuple(children)

    def bled(node: Planned) -> Planned:
        if isinstance(node, PlannedGroup):
            return replace(node, children=tuple(map(bled, node.children)))
        return replace(node, within=rows, base=0)

    return (*map(bled, children),
            PlannedLayer(part, _MASK, "mask", rows, SILHOUETTE_GREY, "destination-in"))


def _scenery(figure: Figure, coverage: Coverage, layout: Layout) -> Iterator[PlannedGroup]:
    """What lies around the figure, under it, a group each."""
    for row in figure.scenery:
        name = figure.names[row - 1]
        passes = (_laid(figure, coverage, layout, (row,), name, layer, row)
                  for layer in figure.coats[row - 1].layers)
        children = [*_ground(figure, row), *(p for p in passes if p)]
        yield PlannedGroup(name, "", _closed(children, (row,), name, layout), (row,),
                           visible=row not in figure.hidden)


def _by_part(figure: Figure, coverage: Coverage, layout: Layout) -> Iterator[Planned]:
    for row in _rows(figure):
        name, coat = figure.names[row - 1], figure.coats[row - 1]
        passes = (_laid(figure, coverage, layout, (row,), name, layer, row)
                  for layer in coat.layers if not layer.over_figure)
        blanks = [replace(b, base=row) for b in _blanks(layout, "in parts", name)
                  if isinstance(b, PlannedLayer)]
        children = [*_ground(figure, row), *(p for p in passes if p), *blanks]
        yield PlannedGroup(name, "", _closed(children, (row,), name, layout), (row,),
                           visible=row not in figure.hidden)
    over = dict.fromkeys(layer for coat in figure.coats for layer in coat.layers
                         if layer.over_figure)
    for layer in over:
        rows = tuple(row for row in _shown(figure) if layer in figure.coats[row - 1].layers)
        yield from _over_figure(figure, coverage, layout, rows, layer)


def _shown(figure: Figure) -> tuple[int, ...]:
    return tuple(row for row in _rows(figure) if row not in figure.hidden)


def _over_figure(figure: Figure, coverage: Coverage, layout: Layout, rows: tuple[int, ...],
                 layer: PassLayer) -> Iterator[Planned]:
    """A pass as one layer over the figure, in a group with a mask if groups are masked."""
    found = _laid(figure, coverage, layout, rows, FIGURE, layer, -1) if rows else None
    if found is None:
        return
    if layout.clipping == "limited":
        yield found
    elif isinstance(found, PlannedGroup):
        yield replace(found, children=_closed(found.children, rows, FIGURE, layout))
    else:
        yield PlannedGroup("", layer.name, _closed([replace(found, mode="normal")], rows, FIGURE,
                                                   layout), rows, found.mode)


def _bases(figure: Figure, layout: Layout) -> PlannedGroup:
    """The bottoms of all parts in one group."""
    rows = tuple(_rows(figure))
    grounds = [layer for row in rows for layer in _ground(figure, row, row not in figure.hidden)]
    # No mask: it would cut the figure out of itself.
    return PlannedGroup("", "base", tuple(grounds), rows)


def _slot(layer: PassLayer, arrangement: Arrangement) -> _Slot:
    """What layers that share a group, or are one, have in common."""
    return (layer.name, layer.mode) if arrangement == "by pass" else \
        (replace(layer, over_figure=False),)


def _slots(figure: Figure, arrangement: Arrangement) -> dict[_Slot, list[tuple[int, PassLayer]]]:
    """Layers by slot, in an order that every part agrees with.

    Raises
    ------
    CycleError
        If there is none.
    """
    held: dict[_Slot, list[tuple[int, PassLayer]]] = {}
    order: TopologicalSorter[_Slot] = TopologicalSorter()
    for row in _rows(figure):
        slots = [_slot(layer, arrangement) for layer in figure.coats[row - 1].layers]
        for slot, layer in zip(slots, figure.coats[row - 1].layers, strict=True):
            held.setdefault(slot, []).append((row, layer))
            order.add(slot)
        if len(set(slots)) < len(slots):
            raise CycleError("a slot comes twice", slots)
        for below, above in pairwise(slots):
            order.add(above, below)
    return {slot: held[slot] for slot in order.static_order()}


def _by_pass(figure: Figure, coverage: Coverage, layout: Layout) -> Iterator[Planned]:
    yield _bases(figure, layout)
    for slot, members in _slots(figure, "by pass").items():
        name, mode = str(slot[0]), str(slot[1])
        children: list[Planned] = []
        for row, layer in members:
            part = figure.names[row - 1]
            one = _laid(figure, coverage, layout, (row,), part, layer, row)
            if one:
                children.append(replace(one, mode="normal", visible=row not in figure.hidden))
        rows = tuple(row for row, _ in members)
        if children:
            yield PlannedGroup("", name, _closed(children, rows, name, layout), rows, mode)
    for extra in layout.extras:
        if extra.place == "in parts":
            rows = tuple(_rows(figure))
            blanks = [PlannedLayer(figure.names[row - 1], extra.name, "blank", base=row)
                      for row in rows]
            yield PlannedGroup("", extra.name, _closed(blanks, rows, extra.name, layout), rows,
                               extra.mode, extra.opacity)


def _whole_figure(figure: Figure, coverage: Coverage, layout: Layout) -> Iterator[Planned]:
    yield _bases(figure, layout)
    for members in _slots(figure, "whole figure").values():
        rows = tuple(row for row, _ in members if row not in figure.hidden)
        yield from _over_figure(figure, coverage, layout, rows, members[0][1])
    for extra in layout.extras:
        if extra.place == "in parts":
            yield PlannedLayer(FIGURE, extra.name, "blank", mode=extra.mode,
                               opacity=extra.opacity, base=-1)


_Body = Callable[[Figure, Coverage, Layout], Iterator[Planned]]
_BODIES: dict[Arrangement, _Body] = {"by part": _by_part, "by pass": _by_pass,
                                     "whole figure": _whole_figure}


def named(nodes: Sequence[Planned], layout: Layout) -> list[Planned]:
    """The stack with its names, each once among layers and once among groups."""
    pattern = check_pattern(layout.names)
    if layout.numbered and "{number}" not in pattern:
        pattern = f"{{number}} {pattern}"
    digits = len(str(sum(1 for _ in planned_layers(nodes))))
    layers, groups = Names(), Names()
    number = 0

    def name(node: Planned) -> Planned:
        nonlocal number
        if isinstance(node, PlannedGroup):
            children = tuple(map(name, node.children))
            title = filled(pattern.replace("{number}", ""), node.part, node.what, 0, 0) \
                if node.part and node.what else node.part or node.what
            return replace(node, children=children, name=groups.unique(title))
        number += 1
        return replace(node, name=layers.unique(
            filled(pattern, node.part, node.what, number, digits)))

    return list(map(name, nodes))
