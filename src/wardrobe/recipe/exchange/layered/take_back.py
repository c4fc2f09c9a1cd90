"""Take a layered file back: what was painted elsewhere becomes touch-ups and colours."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.colour.srgb import to_bytes
from wardrobe.core.errors import WardrobeError
from wardrobe.core.geometry.outline import outlines_of, solid
from wardrobe.core.passes.seen import seen
from wardrobe.core.passes.table import PASSES
from wardrobe.core.stack.check.canvas import where_on
from wardrobe.core.stack.check.flats import has_colour, main_colour
from wardrobe.core.stack.match import Kind, Match, match_layers
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.core.stack.plan import PlannedLayer, planned_layers
from wardrobe.core.stack.roles import placed_layers
from wardrobe.recipe.document.lighting import MAX_TOUCH_UPS
from wardrobe.recipe.document.model import Recipe, ground_rows
from wardrobe.recipe.document.types import Frozen, PartId, PassKey
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, ChooseColours, Several, SingleEdit, TouchUpPass
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.colours import Colouring, coats_of

_LEAST = 24  # px: smaller differences are not worth a touch-up
_ALIKE = 0.005  # opacities that files round

Mask = NDArray[np.bool_]


class OtherSizeError(WardrobeError):
    """The file does not fit the piece."""

    title = "The file has another size"


class LayerMatch(Frozen):
    """What a layer is of the piece, as told or as corrected by hand.

    Attributes
    ----------
    part : str or None
        None for the whole figure, or for what belongs to no part.
    name : str or None
        The pass that it fills.
    """

    index: int
    kind: Kind
    part: PartId | None = None
    name: PassKey | None = None
    outside: bool = False


@dataclass(frozen=True)
class Returned:
    """A layer that came back, against the piece.

    Attributes
    ----------
    match : LayerMatch
    how : str
        By what it was told.
    put_in, taken_out : int
        Pixels by which its shape differs from the piece's.
    colour : str or None
        What is to be seen in the pass or base instead, if that differs.
    repainted : int
        Pixels by which a flat's own shape differs, which is not taken over.
    added : bool
        It is none of the piece's own layers, and may become one.
    """

    match: LayerMatch
    how: str
    put_in: int = 0
    taken_out: int = 0
    colour: str | None = None
    repainted: int = 0
    added: bool = False


def match_returned(deriver: Deriver, recipe: Recipe, stack: Stack) -> list[Returned]:
    """Match the layers of a file to the parts and passes of a piece, bottom to top.

    Raises
    ------
    OtherSizeError
        If the file's canvas is not as large as the piece.
    """
    check_size(recipe, stack)
    names = [p.name for p in recipe.parts]
    found = match_layers(stack, deriver.plan(recipe), names, deriver.parts_map(recipe))
    matches = [_told(recipe, m) for m in found]
    differ = compare(deriver, recipe, stack, matches)
    return [Returned(told, match.how, *differ[match.index])
            for told, match in zip(matches, found, strict=True)]


def _told(recipe: Recipe, match: Match) -> LayerMatch:
    part = recipe.parts[match.row - 1].id if match.row else None
    key = match.key if match.key in PASSES else None
    kind: Kind = "other" if match.kind == "pass" and key is None else match.kind
    return LayerMatch(index=match.index, kind=kind, part=part, name=key, outside=match.outside)


Differences = dict[int, tuple[int, int, str | None, int]]


def compare(deriver: Deriver, recipe: Recipe, stack: Stack,
            matches: Sequence[LayerMatch]) -> Differences:
    """By how many pixels shapes differ, and what is to be seen instead, by layer."""
    shapes = _Shapes(deriver, recipe)
    layers = [p.layer for p in placed_layers(stack)]
    found: Differences = {}
    for match in matches:
        differs = shapes.differences(match, [layers[match.index]])
        colour = _colour(recipe, layers[match.index], match, shapes.own(match))
        found[match.index] = (int(differs.more.sum()), int(differs.less.sum()), colour,
                              shapes.repainted(match, layers[match.index]))
    return found


def take_over(deriver: Deriver, recipe: Recipe, stack: Stack, matches: Sequence[LayerMatch],
              colours: bool = True, leave: Mask | None = None, most: int = MAX_TOUCH_UPS,
              ) -> tuple[Several | None, list[str]]:
    """The change that brings what was painted into the piece, and what could not be taken.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    stack : Stack
        What came back.
    matches : sequence of LayerMatch
    colours : bool
        Take base and pass colours, too.
    leave : ndarray of bool, shape (height, width), or None
        Where shapes stay as the piece has them.
    most : int
        Touch-ups to make at most.

    Returns
    -------
    edit : Several or None
        None if nothing differs.
    notes : list of str

    Raises
    ------
    OtherSizeError
        If the file's canvas is not as large as the piece.
    """
    check_size(recipe, stack)
    layers = [p.layer for p in placed_layers(stack)]
    shapes = _Shapes(deriver, recipe, leave)
    edits: list[SingleEdit] = []
    notes: list[str] = []
    together: dict[tuple[str, str | None], list[LayerMatch]] = {}
    for match in matches:
        if match.kind == "pass" and match.name:
            together.setdefault((match.name, match.part), []).append(match)
        colour = _colour(recipe, layers[match.index], match, shapes.own(match))
        if colours and colour and match.part:
            edits.append(ChangePart(part=match.part, base=colour) if match.kind == "base"
                         else ChooseColours(part=match.part, own={match.name or "": colour}))
    touch_ups: list[SingleEdit] = []
    room = min(most, MAX_TOUCH_UPS - len(recipe.touch_ups))
    left_out = 0
    # Outer passes first: what is put into an inner one is put into them, too.
    for (name, part), same in sorted(together.items(),
                                     key=lambda item: list(PASSES).index(item[0][0])):
        differs = shapes.differences(same[0], [layers[m.index] for m in same])
        for act, mask in (("take out", differs.less), ("put in", differs.more)):
            for outline in outlines_of(mask, _LEAST, differs.corner):
                if len(touch_ups) >= room:
                    left_out += 1
                    continue
                touch_ups.append(TouchUpPass(name=name, act=act, part=part,
                                             points=tuple(map(tuple, outline.round(2).tolist()))))
    names = {p.id: p.name for p in recipe.parts}
    for match in matches:
        pixels = shapes.repainted(match, layers[match.index])
        if pixels:
            notes.append(f"The flat of “{names[match.part or '']}” has another shape "
                         f"({pixels:,} px), and stays as it is in the piece.")
    if left_out:
        notes.append(f"{left_out} small differences were left out: a piece has at most "
                     f"{MAX_TOUCH_UPS} touch-ups.")
    edits += touch_ups
    return (Several(edits=tuple(edits)) if edits else None), notes


def check_size(recipe: Recipe, stack: Stack) -> None:
    """Raise OtherSizeError if a file's canvas is not as large as a piece."""
    if (stack.width, stack.height) != recipe.size:
        raise OtherSizeError(f"The file has {stack.width} x {stack.height} px, the piece "
                             f"{recipe.size[0]} x {recipe.size[1]}. Nothing was changed.")


class _Shapes:
    """The piece's own shapes, to hold what came back against."""

    def __init__(self, deriver: Deriver, recipe: Recipe, leave: Mask | None = None) -> None:
        self._leave = leave
        view = View.whole(*recipe.size)
        self._masks = deriver.masks(recipe, view)
        self._parts = deriver.parts_map(recipe)
        self._core = deriver.areas(recipe).core
        self._boxes = ndimage.find_objects(self._parts, max_label=len(recipe.parts))
        self._around = ground_rows(recipe.parts)
        self._rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)}
        self._own = {(layer.rows[0], layer.layer.shape): layer
                     for layer in planned_layers(deriver.plan(recipe))
                     if layer.layer and layer.content == "pass" and len(layer.rows) == 1}

    def own(self, match: LayerMatch) -> PlannedLayer | None:
        """The piece's own layer of the same part and pass."""
        return self._own.get((self._rows.get(match.part or "", 0), match.name))

    def differences(self, match: LayerMatch, layers: Sequence[Layer]) -> "_Difference":
        """Where the painted layers put more into a pass than the piece does, and where less."""
        box = self._box(match)
        if match.kind != "pass" or match.name not in self._masks.keys or box is None:
            return _Difference(np.zeros((1, 1), bool), np.zeros((1, 1), bool), (0, 0))
        shape = self._parts.shape[0], self._parts.shape[1]
        painted = np.zeros(shape, bool)
        for layer in layers:
            where, alpha = where_on(layer, shape)
            # A layer painted thinly throughout is still a shape.
            painted[where] |= alpha > max(8, int(alpha.max(initial=0)) // 2)
        parts, painted = self._parts[box], painted[box]
        mine = parts == self._rows[match.part] if match.part \
            else ~np.isin(parts, list(self._around))
        if match.outside:
            painted = ~painted
        if self._leave is not None:
            mine = mine & ~self._leave[box]
        have = self._masks.level(match.name)[box] > 127
        return _Difference(solid(mine & painted & ~have), solid(mine & have & ~painted),
                           (box[1].start, box[0].start))

    def repainted(self, match: LayerMatch, layer: Layer) -> int:
        """Pixels free of ink by which a flat differs from the part."""
        box = self._box(match)
        if match.kind != "base" or match.part is None or box is None:
            return 0
        shape = self._parts.shape[0], self._parts.shape[1]
        painted = np.zeros(shape, bool)
        where, alpha = where_on(layer, shape)
        painted[where] = alpha > 127
        both = tuple(slice(min(a.start, b.start), max(a.stop, b.stop))
                     for a, b in zip(where, box, strict=True))
        differs = (painted[both] != (self._parts[both] == self._rows[match.part])) \
            & self._core[both]
        return int(solid(differs).sum())

    def _box(self, match: LayerMatch) -> tuple[slice, slice] | None:
        """The rectangle around what a match lies on; None if there is nothing."""
        if match.part is None:
            return slice(0, self._parts.shape[0]), slice(0, self._parts.shape[1])
        row = self._rows.get(match.part)
        return self._boxes[row - 1] if row else None


@dataclass(frozen=True, eq=False)
class _Difference:
    """Masks of a rectangle whose corner (x, y) is given."""

    more: Mask
    less: Mask
    corner: tuple[int, int]


def _colour(recipe: Recipe, layer: Layer, match: LayerMatch,
            own: PlannedLayer | None) -> str | None:
    """The colour that a layer makes seen, if it is one part's and differs from the piece's."""
    row = next((row for row, p in enumerate(recipe.parts) if p.id == match.part), None)
    if row is None or not layer.alpha.any():
        return None
    part, colour = recipe.parts[row], main_colour(layer)
    if match.kind == "base":
        if to_hex(colour) == part.base or has_colour(layer, from_hex(part.base)):
            return None
        return to_hex(colour)
    if match.kind != "pass" or own is None or not match.name or match.outside:
        return None
    if colour == own.colour and abs(layer.opacity - own.opacity) < _ALIKE \
            and layer.mode == own.mode:
        return None
    coat = coats_of(Colouring.of(recipe))[row]
    painted = tuple(replace(a, colour=colour, strength=layer.opacity, mode=layer.mode)
                    if a.name == own.what else a for a in coat.layers)
    base = from_hex(part.base)
    shown = to_bytes(seen(replace(coat, layers=painted), base, match.name))
    now = to_bytes(seen(coat, base, match.name))
    return None if max(abs(a - b) for a, b in zip(shown, now, strict=True)) <= 1 else to_hex(shown)
