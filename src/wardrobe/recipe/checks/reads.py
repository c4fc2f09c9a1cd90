"""Does it read? Parts told from each other, passes from their base, values used."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.spread import value_range, varied
from wardrobe.core.colour import (
    delta_e_2000,
    from_hex,
    oklch_to_srgb,
    srgb_to_lab,
    srgb_to_oklch,
    to_bytes,
    to_hex,
)
from wardrobe.core.looks.vision import VISIONS, seen_with
from wardrobe.core.passes.table import LIT, PASSES
from wardrobe.core.shades.steps import SPANS, TWO_COLOURS
from wardrobe.recipe.checks.finding import (
    Check,
    Desk,
    Found,
    Limit,
    Noticed,
    Repair,
    listed,
)
from wardrobe.recipe.checks.seen import (
    EDGE,
    AcrossBorders,
    PictureSeen,
    across,
    box_around,
    box_of,
    dots,
    ids_of,
    picture_seen,
    view_of,
)
from wardrobe.recipe.document.model import Part, Recipe, ground_rows, lineage
from wardrobe.recipe.edits import AddFinish, ChangePart, ChooseColours, Several, apply
from wardrobe.recipe.reports.finishes.lay_out import Ground
from wardrobe.recipe.reports.finishes.proposed import broken_up
from wardrobe.recipe.reports.sheet import colour_sheet
from wardrobe.recipe.stages.picture import DrawnMasks
from wardrobe.recipe.stages.stage import Get, Small, Stage

Float = NDArray[np.float64]

_ALIKE = SPANS["shade"].faint  # two flats must differ more than a shade does from its base
_CONFUSED = 4.0  # CIEDE2000 under a deficiency: close to one and the same
_SAME_VALUE = 3.0  # L*
_CLOSE_HUES = 14.0  # CIEDE2000: beyond it two parts are told apart by colour alone
_LEAST_SHARE = 0.08  # of the border of the smaller part: less does not matter
_MERGED, _SOME = 0.35, 0.1  # of a border
_ROOM = 1.2  # a repaired pair is this much farther apart than it must be
_LARGE = 0.08  # of the figure (common practice): larger parts look dull when they are flat
_FLAT = 0.02  # of a part
_SMALL = 0.004  # of the figure: smaller parts and shapes are not judged
_FEW_VALUES = 30.0  # L*
_LIGHT_SKIN, _SKIN_PLACE, _SKIN_ROOM = 72.0, 0.8, 0.03  # L*, share of the values, and slack
_MOST_TRIED = 40  # changes of base
_SHIFTS = [s * k / 50 for k in range(2, 30) for s in (1, -1)]  # of Oklab lightness


@dataclass(frozen=True)
class _Pair:
    """A border between two parts of the figure."""

    one: int
    other: int
    share: float
    at: NDArray[np.intp]
    bases: Float  # what most of the two is, sRGB 0..1

    def merges(self, merged: NDArray[np.bool_], bases: bool) -> bool:
        """Whether it is lost: along much of it, or along some where the bases are alike, too.
        Shade that happens to fall on one side holds two parts apart only there."""
        return bool(np.mean(merged) >= (_SOME if bases else _MERGED))


@dataclass(frozen=True, eq=False)
class _OfBorders(Stage[Found]):
    """A check of borders between parts.

    ``kin`` are rows that belong together on purpose.
    """

    across: AcrossBorders
    ids: tuple[str, ...]
    around: frozenset[int]
    kin: frozenset[frozenset[int]]
    scale: float

    def pairs(self, get: Get) -> list[_Pair]:
        """Borders that matter."""
        borders = get(self.across)
        count = len(self.ids)
        lengths = np.bincount(borders.one, minlength=count) + \
            np.bincount(borders.other, minlength=count)
        codes = borders.one * count + borders.other
        order = np.argsort(codes, kind="stable")
        starts = np.flatnonzero(np.diff(codes[order], prepend=-1))
        seen, found = get(self.across.seen), []
        middles: dict[int, Float] = {}
        for at in np.split(order, starts[1:]) if len(order) else []:
            one, other = int(borders.one[at[0]]), int(borders.other[at[0]])
            share = len(at) / max(1, min(lengths[one], lengths[other]))
            if share >= _LEAST_SHARE and not {one, other} & self.around \
                    and frozenset((one, other)) not in self.kin:
                for row in {one, other} - middles.keys():
                    middles[row] = np.median(seen.bare[seen.parts == row], axis=0) / 255
                found.append(_Pair(one, other, share, at,
                                   np.array([middles[one], middles[other]])))
        return found

    def noticed(self, get: Get, pair: _Pair, measured: float, weight: float, words: str,
                merged: NDArray[np.bool_]) -> Noticed:
        """What was noticed of a pair; ``merged`` are the places of it that are shown."""
        borders = get(self.across)
        at = pair.at[merged]
        x, y = borders.x[at].astype(float), borders.y[at].astype(float)
        return Noticed("border", (self.ids[pair.one], self.ids[pair.other]), round(measured, 1),
                       words, round(weight, 3), box_around(x, y, self.scale),
                       dots(x, y, self.scale))


class RunTogether(_OfBorders):
    """Parts that look alike along much of their border, light and shade included."""

    def make(self, get: Get) -> Found:
        borders, found = get(self.across), []
        for pair in self.pairs(get):
            step = borders.step[pair.at]
            merged = step < _ALIKE
            if pair.merges(merged, bool(_colours_apart(*pair.bases) < _ALIKE)):
                middle = float(np.median(step[merged]))
                found.append(self.noticed(
                    get, pair, middle,
                    pair.share * float(np.mean(merged)) * (1 - middle / _ALIKE / 2),
                    f"{{0}} and {{1}} are {middle:.1f} ΔE apart along "
                    f"{100 * np.mean(merged):.0f} % of their border.", merged))
        return Found.of(found)


class SameValue(_OfBorders):
    """Parts of one value and of colours that are not far apart."""

    def make(self, get: Get) -> Found:
        borders, found = get(self.across), []
        for pair in self.pairs(get):
            step, light = borders.step[pair.at], np.abs(borders.lightness[pair.at])
            merged = (light < _SAME_VALUE) & (step >= _ALIKE) & (step < _CLOSE_HUES)
            bases = float(_lightness_apart(*pair.bases)) < _SAME_VALUE \
                and _ALIKE <= float(_colours_apart(*pair.bases)) < _CLOSE_HUES
            if pair.share >= 2 * _LEAST_SHARE and pair.merges(merged, bases):
                apart = float(np.median(light[merged]))
                found.append(self.noticed(
                    get, pair, apart, 0.5 * pair.share * (1 - apart / _SAME_VALUE / 2),
                    f"{{0}} and {{1}} differ by {apart:.1f} L* and "
                    f"{np.median(step[merged]):.1f} ΔE along {100 * np.mean(merged):.0f} % of "
                    "their border: in grey they are one.", merged))
        return Found.of(found)


class Confused(_OfBorders):
    """Parts that people with a colour-vision deficiency cannot tell apart."""

    def make(self, get: Get) -> Found:
        borders, found = get(self.across), []
        for pair in self.pairs(get):
            if pair.share < 2 * _LEAST_SHARE:
                continue
            told = borders.step[pair.at] >= _ALIKE
            merged = {key: told & (seen[pair.at] < _CONFUSED)
                      for key, seen in borders.seen_with.items()}
            key = max(merged, key=lambda k: int(np.count_nonzero(merged[k])))
            bases = float(_least_told(*pair.bases)) < _CONFUSED \
                and float(_colours_apart(*pair.bases)) >= _ALIKE
            if pair.merges(merged[key], bases):
                middle = float(np.median(borders.seen_with[key][pair.at][merged[key]]))
                found.append(self.noticed(
                    get, pair, middle, 0.4 * pair.share,
                    f"{{0}} and {{1}} are {middle:.1f} ΔE apart for people "
                    f"{VISIONS[key].label} ({VISIONS[key].share}).", merged[key]))
        return Found.of(found)


def _borders(kind: type[_OfBorders]) -> Callable[[Desk], Stage[Found]]:
    return lambda desk: kind(across(desk), ids_of(desk.recipe), ground_rows(desk.recipe.parts),
                             _kin(desk.recipe), view_of(desk, EDGE).scale)


def _kin(recipe: Recipe) -> frozenset[frozenset[int]]:
    """Rows of parts that are of one colour on purpose: what belongs to another, or is called by
    the same last word."""
    rows = list(enumerate(recipe.parts, start=1))
    lines = {p.id: lineage(recipe.parts, p.id) for p in recipe.parts}
    found = set()
    for a, one in rows:
        for b, other in rows[a:]:
            same = one.name.casefold().split()[-1:] == other.name.casefold().split()[-1:] \
                and not one.name.split()[-1:][0].isdigit()
            if same or other.id in lines[one.id] or one.id in lines[other.id]:
                found.add(frozenset((a, b)))
    return frozenset(found)


def _lightness_apart(one: Float, other: Float) -> Float:
    return np.abs(srgb_to_lab(one)[..., 0] - srgb_to_lab(other)[..., 0])


def _colours_apart(one: Float, other: Float) -> Float:
    return delta_e_2000(srgb_to_lab(one), srgb_to_lab(other))


def _least_told(one: Float, other: Float) -> Float:
    seen = [_colours_apart(np.clip(seen_with(one, key), 0, 1), np.clip(seen_with(other, key), 0, 1))
            for key in VISIONS]
    return np.min(seen, axis=0)


def _part_apart(desk: Desk, noticed: Noticed) -> Repair | None:
    """One of two parts lighter or darker, as little as can be, until the two are told apart and
    neither is too like any other neighbour."""
    return _first_free(desk, [(shift, part, moved) for part in desk.recipe.parts
                              if part.id in noticed.ids for shift, moved in _moved(part)],
                       frozenset(noticed.ids))


def _of(colour: str) -> Float:
    return np.array(from_hex(colour)) / 255


def _moved(part: Part) -> list[tuple[float, Float]]:
    """A part's base, lighter and darker."""
    lightness, chroma, hue = srgb_to_oklch(_of(part.base))
    return [(shift, np.array(to_bytes(oklch_to_srgb([lightness + shift, chroma, hue]))) / 255)
            for shift in _SHIFTS if 0.12 <= lightness + shift <= 0.97]


def _first_free(desk: Desk, found: list[tuple[float, Part, Float]],
                mended: frozenset[str] = frozenset()) -> Repair | None:
    """The smallest of some changes of base that brings no clash of colours.

    Parameters
    ----------
    found : list of (float, Part, ndarray)
        How far each moves the base, of which part, and to where.
    mended : frozenset of str
        Parts that must no longer clash with each other.
    """
    near = _near(desk)
    before: dict[str, set[_Clash]] = {}
    for shift, part, moved in sorted(found, key=lambda f: abs(f[0]))[:_MOST_TRIED]:
        if part.pattern or part.own:
            continue
        around = _only(desk.recipe, near.get(part.id, set()) | {part.id})
        edit = ChangePart(part=part.id, base=to_hex(to_bytes(moved)))
        if part.id not in before:
            before[part.id] = {c for c in _clashes(around, part.id) if not mended <= c.parts
                               or len(mended) < 2}
        if _clashes(apply(around, edit), part.id) <= before[part.id]:
            return Repair(f"Make {part.name} {'lighter' if shift > 0 else 'darker'}", edit)
    return None


def _near(desk: Desk) -> dict[str, set[str]]:
    """The parts that lie beside each part."""
    stage = _borders(RunTogether)(desk)
    assert isinstance(stage, RunTogether)
    found: dict[str, set[str]] = {}
    for pair in stage.pairs(desk.deriver.store):
        one, other = stage.ids[pair.one], stage.ids[pair.other]
        found.setdefault(one, set()).add(other)
        found.setdefault(other, set()).add(one)
    return found


def _only(recipe: Recipe, ids: set[str]) -> Recipe:
    """The recipe with some of its parts: only what lies beside a part can clash with it."""
    return recipe.model_copy(update={"parts": tuple(p for p in recipe.parts if p.id in ids)})


class _Clash(NamedTuple):
    """Two colours that are too alike, or one that is marked on the sheet."""

    parts: frozenset[str]
    names: tuple[str, ...]
    what: str


def _clashes(recipe: Recipe, part_id: str) -> set[_Clash]:
    """What is too alike between a part and the others, in light and in shade, with room."""
    rows = {row.part: row for row in colour_sheet(recipe).rows}
    mine = rows[part_id]
    found = {_Clash(frozenset([part_id]), (cell.name,), cell.mark) for cell in mine.cells
             if cell.mark in ("faint", "heavy", "in the line")}
    tones = [(row.part, cell.name, _of(cell.colour)) for row in rows.values()
             for cell in row.cells if cell.name in ("base", "shade")]
    ours = [t for t in tones if t[0] == part_id]
    theirs = [t for t in tones if t[0] != part_id]
    if not theirs:
        return found
    a, b = (np.array([colour for *_, colour in side]) for side in (ours, theirs))
    step = _colours_apart(a[:, None], b)
    light, least = _lightness_apart(a[:, None], b), _least_told(a[:, None], b)
    for what, where in (
            ("alike", step < _ROOM * _ALIKE),
            ("one value", (light < _ROOM * _SAME_VALUE) & (step < _ROOM * _CLOSE_HUES)),
            ("confused", least < _ROOM * _CONFUSED)):
        found |= {_Clash(frozenset([part_id, theirs[k][0]]), (ours[j][1], theirs[k][1]), what)
                  for j, k in zip(*np.nonzero(where), strict=True)}
    return found


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
                if cell.mark == self.mark and covered is not None and covered[row] > _SMALL / 4 \
                        and shares.parts[row] > _SMALL:
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


def _marked(mark: str) -> Callable[[Desk], Stage[Found]]:
    def stage(desk: Desk) -> Stage[Found]:
        recipe = desk.recipe
        return Marked(
            PassShares(desk.graph.masks(view_of(desk, EDGE)), ground_rows(recipe.parts),
                       len(recipe.parts) + 1, view_of(desk, EDGE).scale),
            recipe.only("parts", "passes", "light", "lines", "background", "touch_ups",
                     "ink"), mark)
    return stage


def _restepped(desk: Desk, noticed: Noticed) -> Repair | None:
    """Colours of their own for the parts, as far from their base as the pass should be."""
    name, *ids = noticed.ids
    recipe, ink = desk.recipe, _of(desk.recipe.lines.colour)
    rows = {line.part: line for line in colour_sheet(recipe).rows}
    near = _near(desk)
    edits = []
    for part in ids:
        line = rows[part]
        under = [_of(line.colour(k)) for k in PASSES[name].within
                 if any(c.name == k for c in line.cells)]
        around = _only(recipe, near.get(part, set()) | {part})
        before = _clashes(around, part)
        for colour in _at_step(_of(line.colour("base")), _of(line.colour(name)), name, under, ink):
            edit = ChooseColours(part=part, own={name: to_hex(to_bytes(colour))})
            if _clashes(apply(around, edit), part) <= before:
                edits.append(edit)
                break
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
        steps = _colours_apart(base, path)
        fits = np.ones(len(path), bool)
        for below in under:
            fits &= _colours_apart(below, path) >= 1.2 * TWO_COLOURS
        if PASSES[name].dark:
            fits &= (_colours_apart(ink, path) >= 1.2 * TWO_COLOURS) \
                & (srgb_to_lab(path)[:, 0] > srgb_to_lab(ink)[0] + 0.5)
        span = SPANS.get(name)
        if span:
            fits &= (steps >= 1.05 * span.faint) & (steps <= 0.97 * span.heavy)
        order = np.flatnonzero(fits)[np.argsort(np.abs(steps[fits] - wanted))]
        found += list(path[order[::max(1, len(order) // 10)]])
    return found


@dataclass(frozen=True, eq=False)
class FlatParts(Stage[Found]):
    """Large parts without any change of colour."""

    seen: PictureSeen
    ids: tuple[str, ...]
    around: frozenset[int]

    def make(self, get: Get) -> Found:
        seen, found = get(self.seen), []
        total = max(1, int(np.count_nonzero(seen.figure)))
        for row, part in enumerate(self.ids):
            if row in self.around:
                continue
            mine = seen.parts == row
            share = np.count_nonzero(mine) / total
            if share < _LARGE:
                continue
            changes = varied(seen.lab[mine])
            if changes < _FLAT:
                found.append(Noticed(
                    "part", (part,), round(100 * share, 1),
                    f"{{0}} is {100 * share:.0f} % of the figure and one colour all over.",
                    round(min(1.0, share + 0.2), 3), box_of(mine, seen.scale)))
        return Found.of(found)


def _broken(desk: Desk, noticed: Noticed) -> Repair | None:
    ground = Ground.of(desk.deriver, desk.recipe)
    row = ids_of(desk.recipe).index(noticed.ids[0])
    part = desk.recipe.parts[row - 1]
    layer = broken_up(ground, row, part)
    return None if layer is None else Repair(f"Lay a slight gradient on {part.name}",
                                             AddFinish(layers=(layer,)))


@dataclass(frozen=True, eq=False)
class FewValues(Stage[Found]):
    """The range of values of the figure."""

    seen: PictureSeen

    def make(self, get: Get) -> Found:
        seen = get(self.seen)
        if not seen.figure.any():
            return Found(())
        low, high = value_range(seen.lab[..., 0][seen.figure])
        if high - low >= _FEW_VALUES:
            return Found(())
        return Found((Noticed(
            "piece", (), round(high - low, 1),
            f"The figure lies between L* {low:.0f} and {high:.0f}.", 0.7),))


@dataclass(frozen=True, eq=False)
class DullSkin(Stage[Found]):
    """Light skin that is not among the brightest values."""

    seen: PictureSeen
    skins: tuple[tuple[int, str, str], ...]

    def make(self, get: Get) -> Found:
        seen, found = get(self.seen), []
        low, high = value_range(seen.lab[..., 0])
        total = max(1, int(np.count_nonzero(seen.figure)))
        for row, part, base in self.skins:
            mine = seen.parts == row
            value = float(srgb_to_lab(_of(base))[0])
            if value < _LIGHT_SKIN or np.count_nonzero(mine) < _SMALL * total or high <= low:
                continue
            # Its lightest third is what light falls on.
            lit = float(np.percentile(seen.lab[..., 0][mine], 80))
            place = (lit - low) / (high - low)
            if place < _SKIN_PLACE - _SKIN_ROOM:
                found.append(Noticed(
                    "part", (part,), round(100 * place, 0),
                    f"{{0}} in the light is at {100 * place:.0f} % of the picture’s values.",
                    0.5, box_of(mine, seen.scale)))
        return Found.of(found)


def _lighter_skin(desk: Desk, noticed: Noticed) -> Repair | None:
    part = next(p for p in desk.recipe.parts if p.id == noticed.ids[0])
    seen = desk.deriver.store(picture_seen(desk))
    low, high = value_range(seen.lab[..., 0])
    value = float(srgb_to_lab(_of(part.base))[0])
    wanted = value + (high - low) * (_SKIN_PLACE - _SKIN_ROOM / 2 - noticed.measured / 100)
    return _first_free(desk, [(shift, part, moved) for shift, moved in _moved(part)
                              if srgb_to_lab(moved)[0] >= wanted])


_MOKRZYCKI = ("W. Mokrzycki, M. Tatol, “Colour difference ΔE – a survey”, 2011: from 5 on two "
              "colours are seen")
_STEPS = "docs/steps.md: what a change of 20 to 30 % of HSB brightness gives"

READS: tuple[Check, ...] = (
    Check("run together", "reads", "Two parts run together",
          "Where value and colour are alike on both sides, only the line holds the parts apart, "
          "and in a small picture not even that.",
          Limit(_ALIKE, "ΔE", "own", "less than the faintest shade from its base"),
          _borders(RunTogether),
          _part_apart),
    Check("same value", "reads", "Two parts of one value",
          "What differs only by hue is one shape to whoever squints.",
          Limit(_SAME_VALUE, "L*", "own", "far less than a step of the value scale"),
          _borders(SameValue),
          _part_apart),
    Check("confused", "reads", "Two parts alike to some eyes",
          "One man in twelve sees red and green as one; a difference of value helps all.",
          Limit(_CONFUSED, "ΔE", "published", "Machado, Oliveira, Fernandes 2009 for what is seen; "
                + _MOKRZYCKI),
          _borders(Confused),
          _part_apart),
    Check("faint", "reads", "A pass hardly shows",
          "A shade or light that cannot be told from its base is work for nothing.",
          Limit(SPANS["shade"].faint, "ΔE", "common practice", _STEPS), _marked("faint"),
          _restepped),
    Check("heavy", "reads", "A pass is too heavy",
          "So large a step reads as another colour rather than as light.",
          Limit(SPANS["shade"].heavy, "ΔE", "common practice", _STEPS), _marked("heavy"),
          _restepped),
    Check("in the line", "reads", "A shade is lost in the lines",
          "A shade as dark as the lines joins them and swells them into blots.",
          Limit(TWO_COLOURS, "ΔE", "published", _MOKRZYCKI), _marked("in the line"), _restepped),
    Check("flat", "reads", "A large part is flat",
          "Large parts in one colour look cut out of paper.",
          Limit(100 * _LARGE, "% of the figure", "common practice",
                "common practice, no published source"),
          lambda desk: FlatParts(picture_seen(desk), ids_of(desk.recipe),
                                 ground_rows(desk.recipe.parts)), _broken),
    Check("few values", "reads", "Few values",
          "With a third of the values between black and white the figure has no weight.",
          Limit(_FEW_VALUES, "L*", "own", "a third of the scale"),
          lambda desk: FewValues(picture_seen(desk))),
    Check("dull skin", "reads", "Light skin is dull",
          "Light skin lies among the brightest fifth of the values; below it looks tired or ill.",
          Limit(100 * _SKIN_PLACE, "% of the values", "common practice",
                "common practice, no published source"),
          lambda desk: DullSkin(picture_seen(desk), tuple(
              (row, p.id, p.base) for row, p in enumerate(desk.recipe.parts, start=1)
              if p.material == "skin" and p.scenery is None)), _lighter_skin),
)
