"""Flats that were repainted elsewhere, as areas that change hands and cuts through areas."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas
from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.geometry.edges import Spot, free_edges, innermost, pieces_of
from wardrobe.core.geometry.outline import solid
from wardrobe.core.passes.layers import Rgb
from wardrobe.core.stack.check.canvas import where_on
from wardrobe.core.stack.check.flats import main_colour
from wardrobe.core.stack.model import Layer, Stack, Tint
from wardrobe.core.stack.naming import Names
from wardrobe.core.stack.paint import BLEED
from wardrobe.core.stack.plan import planned_layers
from wardrobe.core.stack.roles import Placed, placed_layers
from wardrobe.recipe.document.model import MAX_PARTS, MAX_RECUTS, Recipe, SplitArea
from wardrobe.recipe.document.types import MOST_NAME
from wardrobe.recipe.edits import AddPart, AddRecut, ClaimAreas, SingleEdit, apply
from wardrobe.recipe.exchange.layered.begin import part_name
from wardrobe.recipe.exchange.layered.take_back import LayerMatch
from wardrobe.recipe.stages import Deriver

_LEAST = 24  # px: smaller differences are not worth a cut
_ALIKE = 2  # levels by which files round a colour
_MOST_CUTS = 200  # of one change, which holds other edits, too
_MOST = 0.8  # share of an area that is filled, of its pixels free of ink

Mask = NDArray[np.bool_]
Rows = NDArray[np.uint16]


@dataclass(frozen=True)
class Handed:
    """Areas that go from one part to another.

    Attributes
    ----------
    before, after : str
        Names of parts; empty for what belongs to none.
    areas : int
    pixels : int
        Free of ink.
    cut : int
        How many of them were part of an area that is divided for it.
    """

    before: str
    after: str
    areas: int
    pixels: int
    cut: int


@dataclass(frozen=True)
class Repainted:
    """What repainted flats come to: the edits, in their order, and what they change."""

    edits: tuple[SingleEdit, ...] = ()
    handed: tuple[Handed, ...] = ()
    notes: tuple[str, ...] = ()


def repainted_flats(deriver: Deriver, recipe: Recipe, stack: Stack,
                    matches: Sequence[LayerMatch]) -> Repainted:
    """Which areas have another flat over them than before.

    Where flats lie over each other the upper one counts. An area that is covered by several is
    cut along their edges. A flat that is matched to no part becomes a new one.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    stack : Stack
        As large as the piece.
    matches : sequence of LayerMatch
    """
    placed = list(placed_layers(stack))
    edits: list[SingleEdit] = []
    notes: list[str] = []
    rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)}
    names = ["", *(p.name for p in recipe.parts)]
    ids = ["none", *(p.id for p in recipe.parts)]
    taken = Names(longest=MOST_NAME)
    for name in names[1:]:
        taken.unique(name)
    flats: list[tuple[int, Placed]] = []
    for match in sorted((m for m in matches if m.kind == "base"), key=lambda m: m.index):
        layer = placed[match.index].layer
        if match.part is None:
            if len(ids) > MAX_PARTS:
                notes.append(f"“{layer.name}” was left out: a piece has at most {MAX_PARTS} "
                             "parts.")
                continue
            edits.append(AddPart(name=taken.unique(part_name(placed[match.index])),
                                 base=to_hex(main_colour(layer))))
            recipe = apply(recipe, edits[-1])
            ids.append(recipe.parts[-1].id)
            names.append(recipe.parts[-1].name)
            flats.append((len(ids) - 1, placed[match.index]))
        else:
            flats.append((rows[match.part], placed[match.index]))
    now, areas = deriver.parts_map(recipe), deriver.areas(recipe)
    owners = _owners(now, flats, recipe.delivery.clipping == "masked")
    whole = _with_passes(deriver, recipe, stack)
    for row, one in flats:
        if row not in whole:  # passes may have been merged into it
            continue
        for colour, its in _recoloured(one.layer, areas, owners == row):
            to = next((k for k, p in enumerate(recipe.parts, start=1)
                       if k != row and _alike(from_hex(p.base), colour)), None)
            if to is None:
                if len(ids) > MAX_PARTS:
                    notes.append(f"{len(its)} areas of “{names[row]}” have a colour of their own, "
                                 f"and stay: a piece has at most {MAX_PARTS} parts.")
                    continue
                part = next(p for p in recipe.parts if p.id == ids[row])
                edits.append(AddPart(name=taken.unique(names[row]), material=part.material,
                                     base=to_hex(colour), scenery=part.scenery))
                recipe = apply(recipe, edits[-1])
                to = len(ids)
                ids.append(recipe.parts[-1].id)
                names.append(recipe.parts[-1].name)
            owners[np.isin(areas.labels, its) & (owners == row)] = to
    work = _Work(areas, now, owners, min(_MOST_CUTS, MAX_RECUTS - len(recipe.recuts)))
    work.go_through(_unlike(areas, now, owners))
    if work.left_out:
        notes.append(f"{work.left_out} areas were not divided: too many cuts at once. Take the "
                     "file over again for the rest.")
    # Claims after all cuts: each names a place that lies in an area of its own by then.
    edits += [AddRecut(recut=SplitArea(stroke=stroke)) for stroke in work.cuts]
    edits += [ClaimAreas(to=ids[row], strokes=tuple((spot,) for spot in spots))
              for row, spots in work.claims.items()]
    handed = tuple(Handed(names[before], names[after], *figures)
                   for (before, after), figures in sorted(work.handed.items()))
    return Repainted(tuple(edits), handed, tuple(notes))


def _owners(now: Rows, flats: Sequence[tuple[int, Placed]], bleeds: bool) -> Rows:
    """The row whose flat is uppermost at each pixel; what is in no flat of the file stays."""
    there = {row for row, _ in flats}
    owners = np.where(np.isin(now, list(there)), 0, now).astype(np.uint16)
    for row, placed in flats:
        where, alpha = where_on(placed.layer, (now.shape[0], now.shape[1]))
        painted = alpha > 127
        if bleeds:  # what was delivered beyond the part, under a mask
            mine = (now[where] == row).astype(np.uint8)
            size = 2 * BLEED + 3
            painted &= (cv2.dilate(mine, np.ones((size, size), np.uint8)) == mine).astype(bool)
        owners[where][painted] = row
    return owners


def _with_passes(deriver: Deriver, recipe: Recipe, stack: Stack) -> set[int]:
    """Rows of which every layer is in the file by its name."""
    there = {layer.name.strip().casefold() for layer in stack.layers()}
    rows: dict[int, bool] = {}
    for own in planned_layers(deriver.plan(recipe)):
        if len(own.rows) == 1 and own.content in ("ground", "pass"):
            rows[own.rows[0]] = rows.get(own.rows[0], True) and own.name.casefold() in there
    return {row for row, whole in rows.items() if whole}


def _recoloured(layer: Layer, areas: Areas, mine: Mask) -> list[tuple[Rgb, list[int]]]:
    """Areas of a flat that are filled with another colour than most of it."""
    if isinstance(layer.paint, Tint):
        return []
    main, found = main_colour(layer), dict[Rgb, list[int]]()
    where, alpha = where_on(layer, (mine.shape[0], mine.shape[1]))
    y, x = max(0, -layer.y), max(0, -layer.x)
    height, width = alpha.shape
    pixels = layer.paint[y:y + height, x:x + width, :3]
    wanted = mine[where] & areas.core[where] & (alpha > 250)
    other = wanted & (np.abs(pixels.astype(np.int16) - main).max(axis=-1) > _ALIKE)
    counts = np.bincount(areas.labels[where][wanted], minlength=areas.count + 1)
    others = np.bincount(areas.labels[where][other], minlength=areas.count + 1)
    for area in np.flatnonzero((others >= _LEAST) & (others > _MOST * counts)).tolist():
        its = pixels[other & (areas.labels[where] == area)]
        colours, sizes = np.unique(its, axis=0, return_counts=True)
        if sizes.max() < _MOST * len(its):
            continue  # painted, not filled
        r, g, b = (int(v) for v in colours[sizes.argmax()])
        same = next((c for c in found if _alike(c, (r, g, b))), (r, g, b))
        found.setdefault(same, []).append(area)
    return list(found.items())


def _alike(one: Rgb, other: Rgb) -> bool:
    return max(abs(a - b) for a, b in zip(one, other, strict=True)) <= _ALIKE


def _unlike(areas: Areas, now: Rows, owners: Rows) -> list[int]:
    """Areas that are covered otherwise, by more than fringes."""
    differs = solid((owners != now) & areas.core)
    found = np.bincount(areas.labels[differs], minlength=areas.count + 1)
    return np.flatnonzero(found >= min(_LEAST, 4)).tolist()


@dataclass
class _Work:
    """Goes through areas, and gathers cuts and claims."""

    areas: Areas
    now: Rows
    owners: Rows
    room: int
    cuts: list[tuple[Spot, ...]] = field(default_factory=list)
    claims: dict[int, list[Spot]] = field(default_factory=dict)
    handed: dict[tuple[int, int], tuple[int, int, int]] = field(default_factory=dict)
    left_out: int = 0

    def go_through(self, wanted: Sequence[int]) -> None:
        if not wanted:
            return
        boxes = _boxes(self.areas.labels, wanted)
        for area, box in boxes.items():
            x, y, w, h = box
            near = np.s_[y:y + h, x:x + w]
            mine = (self.areas.labels[near] == area) & self.areas.core[near]
            self._area(area, mine, near, (x, y))

    def _area(self, area: int, mine: Mask, near: tuple[slice, slice], corner: tuple[int, int],
              ) -> None:
        owners, before = self.owners[near], self._before(area)
        sizes = np.bincount(owners[mine])
        main = int(sizes.argmax())
        pieces = [(row, piece) for row in np.flatnonzero(sizes).tolist() if row != main
                  for piece in pieces_of(mine & (owners == row))]
        if not pieces:
            if main != before:
                x, y = self.areas.seeds[area]
                self._claim(before, main, (float(x) + 0.5, float(y) + 0.5), int(mine.sum()), 0)
            return
        strokes = [s for _, piece in pieces for s in free_edges(piece, mine & ~piece, corner)]
        if len(self.cuts) + len(strokes) > self.room:
            self.left_out += 1
            return
        self.cuts += strokes
        rest = mine.copy()
        for row, piece in pieces:
            rest &= ~piece
            self._claim(before, row, innermost(piece, corner), int(piece.sum()), 1)
        for piece in pieces_of(rest):
            self._claim(before, main, innermost(piece, corner), int(piece.sum()), 1)

    def _before(self, area: int) -> int:
        x, y = self.areas.seeds[area]
        return int(self.now[y, x])

    def _claim(self, before: int, row: int, spot: Spot, pixels: int, cut: int) -> None:
        self.claims.setdefault(row, []).append(spot)
        if row != before:
            count, all_pixels, cuts = self.handed.get((before, row), (0, 0, 0))
            self.handed[before, row] = count + 1, all_pixels + pixels, cuts + cut


def _boxes(labels: Rows, wanted: Sequence[int]) -> dict[int, tuple[int, int, int, int]]:
    from scipy import ndimage

    found = ndimage.find_objects(labels)
    return {area: (box[1].start, box[0].start, box[1].stop - box[1].start,
                   box[0].stop - box[0].start)
            for area in wanted if (box := found[area - 1]) is not None}
