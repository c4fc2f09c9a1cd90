"""Passes that do not show on a part, or show too much."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.apart import colours_apart
from wardrobe.core.colour import oklch_to_srgb, srgb_to_lab, srgb_to_oklch, to_bytes, to_hex
from wardrobe.core.passes.table import LIT, PASSES
from wardrobe.core.shades.steps import SPANS, TWO_COLOURS
from wardrobe.recipe.checks.apart import as_real, clashes, near_parts, only_parts
from wardrobe.recipe.checks.finding import Desk, Found, Noticed, Repair, listed
from wardrobe.recipe.checks.seen import EDGE, SMALL, view_of
from wardrobe.recipe.document.model import Recipe, ground_rows
from wardrobe.recipe.edits import ChooseColours, Several
from wardrobe.recipe.reports.sheet import colour_sheet
from wardrobe.recipe.stages.picture import DrawnMasks
from wardrobe.recipe.stages.stage import Get, Small, Stage

Float = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class _Shares(Small):
    """Share of the figure that each part, and each pass on it, covers."""

    parts: Float
    passes: dict[str, Float]


@dataclass(frozen=True, eq=False)
class PassShares(Stage[_Shares]):
    """How much of the figure each pass covers on each part."""

    masks: DrawnMasks
    around: frozenset[int]
    count: int
    scale: float

    def make(self, get: Get) -> _Shares:
        masks = get(self.masks)
        rows = np.bincount(masks.parts.ravel(), minlength=self.count)
        figure = max(1, int(rows.sum()) - int(rows[list(self.around)].sum()))
        return _Shares(rows / figure, {
            key: np.bincount(masks.parts[masks.level(key) > 127], minlength=self.count) / figure
            for key in masks.keys})

    def middle(self, get: Get, key: str, row: int) -> tuple[float, float]:
        """The place of a pass on a part that is nearest to its middle, picture pixels."""
        masks = get(self.masks)
        y, x = np.nonzero((masks.level(key) > 127) & (masks.parts == row))
        k = int(np.argmin((x - x.mean()) ** 2 + (y - y.mean()) ** 2))
        return (round((float(x[k]) + 0.5) / self.scale, 1),
                round((float(y[k]) + 0.5) / self.scale, 1))


@dataclass(frozen=True, eq=False)
class Marked(Stage[Found]):
    """Passes whose colour is marked on the sheet."""

    shares: PassShares
    recipe: Recipe
    mark: str

    def make(self, get: Get) -> Found:
        shares, found = get(self.shares), []
        rows = {p.id: row for row, p in enumerate(self.recipe.parts, start=1)}
        told: dict[str, list[tuple[str, float]]] = {}
        for line in colour_sheet(self.recipe).rows:
            row = rows[line.part]
            for cell in line.cells:
                covered = shares.passes.get(cell.name)
                if cell.mark == self.mark and covered is not None and covered[row] > SMALL / 4 \
                        and shares.parts[row] > SMALL:
                    told.setdefault(cell.name, []).append((line.part, cell.step))
        for name, cells in told.items():
            ids, steps = [part for part, _ in cells], [step for _, step in cells]
            covered = shares.passes[name]
            worst = min(steps) if self.mark == "faint" else max(steps)
            span = f"{min(steps):.1f}" + (f" to {max(steps):.1f}" if len(steps) > 1 else "")
            on = listed([f"{{{k + 1}}}" for k in range(len(ids))])
            found.append(Noticed(
                "pass", (name, *ids), round(worst, 1),
                f"{PASSES[name].label} on {on}: {span} ΔE from the base"
                + (f", {SPANS[name].wanted:g} wanted." if name in SPANS else "."),
                round(min(1.0, 0.3 + sum(float(covered[rows[i]]) for i in ids)), 3), None,
                tuple((self.shares.middle(get, name, rows[i]),) for i in ids)))
        return Found.of(found)


def marked_passes(mark: str) -> Callable[[Desk], Stage[Found]]:
    def stage(desk: Desk) -> Stage[Found]:
        recipe = desk.recipe
        return Marked(
            PassShares(desk.graph.masks(view_of(desk, EDGE)), ground_rows(recipe.parts),
                       len(recipe.parts) + 1, view_of(desk, EDGE).scale),
            recipe.only("parts", "passes", "light", "lines", "background", "touch_ups",
                     "ink"), mark)
    return stage


def restepped(desk: Desk, noticed: Noticed) -> Repair | None:
    """Colours of their own for the parts, as far from their base as the pass should be."""
    name, *ids = noticed.ids
    recipe, ink = desk.recipe, as_real(desk.recipe.lines.colour)
    rows = {line.part: line for line in colour_sheet(recipe).rows}
    near = near_parts(desk)
    edits = []
    for part in ids:
        line = rows[part]
        under = [as_real(line.colour(k)) for k in PASSES[name].within
                 if any(c.name == k for c in line.cells)]
        around = only_parts(recipe, near.get(part, set()) | {part})
        base, now = as_real(line.colour("base")), as_real(line.colour(name))
        tried = [ChooseColours(part=part, own={name: to_hex(to_bytes(colour))})
                 for colour in _at_step(base, now, name, under, ink)]
        before, *after = clashes(around, part, tried)
        edits += [edit for edit, new in zip(tried, after, strict=True) if new <= before][:1]
    if not edits:
        return None
    return Repair(f"Bring {PASSES[name].label.lower()} to {SPANS[name].wanted:g} ΔE"
                  if name in SPANS else f"Set {PASSES[name].label.lower()} off",
                  Several(edits=tuple(edits)))


def _at_step(base: Float, now: Float, name: str, under: list[Float], ink: Float) -> list[Float]:
    """Colours about as far from the base as a pass should be, the nearest to that first, in the
    direction it goes already; near black nothing darker is seen, so that it goes up."""
    wanted = SPANS[name].wanted if name in SPANS else TWO_COLOURS * 2
    lch, to = srgb_to_oklch(base), srgb_to_oklch(now)
    turn = (to[2] - lch[2] + 180) % 360 - 180 if min(lch[1], to[1]) > 0.01 else 0.0
    amounts = np.linspace(0.01, 1, 120)
    found: list[Float] = []
    for way in (1, -1) if name in LIT else (-1, 1):
        lightness = lch[0] + way * amounts * (1 - lch[0] if way > 0 else lch[0])
        pull = np.clip(amounts * 3, 0, 1)
        path = oklch_to_srgb(np.column_stack([
            lightness, lch[1] + pull * (to[1] - lch[1]), lch[2] + pull * turn]))
        path = np.rint(255 * path) / 255
        steps = colours_apart(base, path)
        fits = np.ones(len(path), bool)
        for below in under:
            fits &= colours_apart(below, path) >= 1.2 * TWO_COLOURS
        if PASSES[name].dark:
            fits &= (colours_apart(ink, path) >= 1.2 * TWO_COLOURS) \
                & (srgb_to_lab(path)[:, 0] > srgb_to_lab(ink)[0] + 0.5)
        span = SPANS.get(name)
        if span:
            fits &= (steps >= 1.05 * span.faint) & (steps <= 0.97 * span.heavy)
        order = np.flatnonzero(fits)[np.argsort(np.abs(steps[fits] - wanted))]
        found += list(path[order[::max(1, len(order) // 10)]])
    return found
