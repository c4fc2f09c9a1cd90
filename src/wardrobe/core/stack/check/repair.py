"""Repairs that are safe: one table entry each. The stack that came in is never changed."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.stack.check.bounds import base_of, leftovers
from wardrobe.core.stack.check.canvas import EDGE, Canvas, where_on
from wardrobe.core.stack.check.finding import Mask, StackFinding, grown
from wardrobe.core.stack.check.flats import bare, main_colour, see_through, specks
from wardrobe.core.stack.check.ink import colour_on_ink
from wardrobe.core.stack.check.order import usual_settings
from wardrobe.core.stack.model import Layer, Node, Stack, Tint, mapped
from wardrobe.core.stack.naming import Names
from wardrobe.core.stack.roles import Placed, placed_layers


@dataclass
class _Draft:
    """Layers as they are being repaired, by their index; those that are to go are None. New ones
    come to lie below those whose index they have."""

    placed: list[Placed]
    canvas: Canvas
    layers: list[Layer | None]
    names: Names
    to_top: list[int] = field(default_factory=list)
    below: dict[int, Layer] = field(default_factory=dict)

    def change(self, index: int, change: Callable[[Layer], Layer | None]) -> None:
        """Change a layer unless it is gone."""
        layer = self.layers[index]
        if layer is not None:
            self.layers[index] = change(layer)


@dataclass(frozen=True)
class Repair:
    """A safe repair.

    Attributes
    ----------
    label : str
        What it does, as an order.
    make : callable
        Called with the draft and the finding.
    """

    label: str
    make: Callable[[_Draft, StackFinding], None]


def repaired(stack: Stack, findings: Sequence[StackFinding]) -> Stack:
    """A new stack in which findings are repaired, as far as there is a safe repair.

    Parameters
    ----------
    stack : Stack
        The one that was checked.
    findings : sequence of StackFinding
        Those to repair.
    """
    placed = placed_layers(stack)
    draft = _Draft(placed, Canvas.of(stack, placed), [p.layer for p in placed],
                   Names(p.layer.name for p in placed))
    for finding in findings:
        if finding.code in REPAIRS:
            REPAIRS[finding.code].make(draft, finding)
    top = [layer for index in dict.fromkeys(draft.to_top) if (layer := draft.layers[index])]
    for index in draft.to_top:
        draft.layers[index] = None
    changed = iter(enumerate(draft.layers))

    def next_ones(layer: Layer) -> list[Layer]:
        index, now = next(changed)
        return [found for found in (draft.below.get(index), now) if found is not None]

    out = mapped(stack, next_ones)
    nodes: list[Node] = [*out.nodes, *top]
    return replace(out, nodes=nodes)


def _with_alpha(layer: Layer, alpha: NDArray[np.uint8]) -> Layer:
    if isinstance(layer.paint, Tint):
        return replace(layer, paint=Tint(alpha, layer.paint.colour))
    paint = layer.paint.copy()
    paint[..., 3] = alpha
    return replace(layer, paint=paint)


def _renamed(layer: Layer, name: str) -> Layer:
    return replace(layer, name=name)


def _name(draft: _Draft, finding: StackFinding) -> None:
    assert finding.index is not None
    placed = draft.placed[finding.index]
    around = [p.layer.name for p in draft.placed if p.group == placed.group and p.group]
    group = placed.path.rpartition(" / ")[0].rpartition(" / ")[2] if around else ""
    told = f"{group} / {placed.role}" if group else f"{placed.role} layer"
    name = draft.names.unique(told)
    draft.change(finding.index, partial(_renamed, name=name))


def _number(draft: _Draft, finding: StackFinding) -> None:
    for placed in draft.placed:
        if placed.path == finding.layer and placed.order != finding.index:
            name = draft.names.unique(placed.layer.name)
            draft.change(placed.order, partial(_renamed, name=name))


def _remove(draft: _Draft, finding: StackFinding) -> None:
    assert finding.index is not None
    draft.change(finding.index, lambda layer: None)


def _lift(draft: _Draft, finding: StackFinding) -> None:
    assert finding.index is not None
    draft.to_top.append(finding.index)


def _harden(draft: _Draft, finding: StackFinding) -> None:
    assert finding.index is not None
    draft.change(finding.index, lambda layer: _with_alpha(
        layer, np.where(see_through(layer), np.uint8(255), layer.alpha)))


def _clean(draft: _Draft, finding: StackFinding) -> None:
    assert finding.index is not None

    def change(layer: Layer) -> Layer:
        if isinstance(layer.paint, Tint):
            return layer
        paint = layer.paint.copy()
        paint[specks(layer), :3] = main_colour(layer)
        return replace(layer, paint=paint)

    draft.change(finding.index, change)


def _erase_leftovers(draft: _Draft, finding: StackFinding) -> None:
    assert finding.index is not None
    draft.change(finding.index, lambda layer: _with_alpha(
        layer, np.where(leftovers(layer, draft.canvas), np.uint8(0), layer.alpha)))


def _limit(draft: _Draft, finding: StackFinding) -> None:
    """Cut a layer off at its base, or at the figure."""
    assert finding.index is not None
    placed, canvas = draft.placed[finding.index], draft.canvas
    kept: Mask | None = grown(canvas.figure, EDGE) if finding.code == "outside-silhouette" \
        else base_of(placed, draft.placed, canvas)
    if kept is None:
        return

    def change(layer: Layer) -> Layer:
        inside = np.zeros(layer.shape, bool)
        where, _ = where_on(layer, canvas.shape)
        inside[where[0].start - layer.y:where[0].stop - layer.y,
               where[1].start - layer.x:where[1].stop - layer.x] = kept[where]
        return _with_alpha(layer, np.where(inside, layer.alpha, np.uint8(0)))

    draft.change(finding.index, change)


def _part_from_ink(draft: _Draft, finding: StackFinding) -> None:
    """Colour that was painted on the lines goes to a layer of its own below them."""
    assert finding.index is not None
    layer = draft.layers[finding.index]
    if layer is None:
        return
    painted = colour_on_ink(layer)
    draft.below[finding.index] = replace(
        _with_alpha(layer, np.where(painted, layer.alpha, np.uint8(0))),
        name=draft.names.unique(f"{layer.name} colour"))
    draft.change(finding.index, lambda layer: _with_alpha(
        layer, np.where(painted, np.uint8(0), layer.alpha)))


def _settle(draft: _Draft, finding: StackFinding) -> None:
    assert finding.index is not None
    usual = usual_settings(draft.placed).get(finding.index)
    if usual:
        draft.change(finding.index,
                     lambda layer: replace(layer, mode=usual[0], opacity=usual[1]))


def _fill(draft: _Draft, finding: StackFinding) -> None:
    """Paint pinholes in the flat that lies next to them."""
    holes = bare(draft.canvas)[0]
    if not holes.any():
        return
    owners = np.zeros(draft.canvas.shape, np.int32)
    for placed in draft.placed:
        if placed.role == "flat" and placed.shown:
            where, alpha = where_on(placed.layer, draft.canvas.shape)
            owners[where][alpha > 127] = placed.order + 1
    _, (ys, xs) = ndimage.distance_transform_edt(owners == 0, return_indices=True)
    nearest = owners[ys[holes], xs[holes]]
    places = np.argwhere(holes)
    for order in np.unique(nearest[nearest > 0]):
        mine = places[nearest == order]
        draft.change(int(order) - 1, partial(_dotted, places=mine))


def _dotted(layer: Layer, places: NDArray[np.int64]) -> Layer:
    """The layer with opaque pixels of its colour at some places (y, x) of the canvas."""
    top, left = np.minimum(places.min(axis=0), (layer.y, layer.x))
    bottom, right = np.maximum(places.max(axis=0) + 1, (layer.y + layer.shape[0],
                                                        layer.x + layer.shape[1]))
    pixels = np.zeros((bottom - top, right - left, 4), np.uint8)
    pixels[..., :3] = main_colour(layer)
    pixels[layer.y - top:layer.y - top + layer.shape[0],
           layer.x - left:layer.x - left + layer.shape[1]] = layer.pixels
    ys, xs = places[:, 0] - top, places[:, 1] - left
    pixels[ys, xs] = (*main_colour(layer), 255)
    paint = Tint(np.ascontiguousarray(pixels[..., 3]), layer.paint.colour) \
        if isinstance(layer.paint, Tint) else pixels
    return replace(layer, paint=paint, x=int(left), y=int(top))


REPAIRS: dict[str, Repair] = {
    "unnamed": Repair("Name it after its purpose", _name),
    "duplicate-name": Repair("Number them", _number),
    "empty": Repair("Remove it", _remove),
    "lines-not-on-top": Repair("Move the lines to the top", _lift),
    "colour-on-lines": Repair("Move it to a layer of its own below", _part_from_ink),
    "semi-transparent": Repair("Make it opaque", _harden),
    "speck": Repair("Paint over the spots", _clean),
    "pinhole": Repair("Fill them from beside", _fill),
    "outside-silhouette": Repair("Cut it off at the figure", _limit),
    "outside-base": Repair("Cut it off at its base", _limit),
    "not-clipped": Repair("Cut it off at its base", _limit),
    "differs": Repair("Set it like the others", _settle),
    "leftover": Repair("Erase them", _erase_leftovers),
}
