"""The values that a picture uses: flat parts, a narrow range, dull skin."""

from dataclasses import dataclass

import numpy as np

from wardrobe.core.checks.spread import value_range, varied
from wardrobe.core.colour import srgb_to_lab
from wardrobe.recipe.checks.apart import as_real, first_free, lighter_and_darker
from wardrobe.recipe.checks.finding import Desk, Found, Noticed, Repair
from wardrobe.recipe.checks.seen import SMALL, PictureSeen, box_of, ids_of, picture_seen
from wardrobe.recipe.edits import AddFinish
from wardrobe.recipe.reports.finishes.lay_out import Ground
from wardrobe.recipe.reports.finishes.proposed import broken_up
from wardrobe.recipe.stages.stage import Get, Stage

LARGE = 0.08  # of the figure (common practice): larger parts look dull when they are flat
_FLAT = 0.02  # of a part
FEW_VALUES = 30.0  # L*
_LIGHT_SKIN, SKIN_PLACE, SKIN_ROOM = 72.0, 0.8, 0.03  # L*, share of the values, and slack


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
            if share < LARGE:
                continue
            changes = varied(seen.lab[mine])
            if changes < _FLAT:
                found.append(Noticed(
                    "part", (part,), round(100 * share, 1),
                    f"{{0}} is {100 * share:.0f} % of the figure and one colour all over.",
                    round(min(1.0, share + 0.2), 3), box_of(mine, seen.scale)))
        return Found.of(found)


def broken(desk: Desk, noticed: Noticed) -> Repair | None:
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
        if high - low >= FEW_VALUES:
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
            value = float(srgb_to_lab(as_real(base))[0])
            if value < _LIGHT_SKIN or np.count_nonzero(mine) < SMALL * total or high <= low:
                continue
            # Its lightest third is what light falls on.
            lit = float(np.percentile(seen.lab[..., 0][mine], 80))
            place = (lit - low) / (high - low)
            if place < SKIN_PLACE - SKIN_ROOM:
                found.append(Noticed(
                    "part", (part,), round(100 * place, 0),
                    f"{{0}} in the light is at {100 * place:.0f} % of the picture’s values.",
                    0.5, box_of(mine, seen.scale)))
        return Found.of(found)


def lighter_skin(desk: Desk, noticed: Noticed) -> Repair | None:
    part = next(p for p in desk.recipe.parts if p.id == noticed.ids[0])
    seen = desk.deriver.store(picture_seen(desk))
    low, high = value_range(seen.lab[..., 0])
    value = float(srgb_to_lab(as_real(part.base))[0])
    wanted = value + (high - low) * (SKIN_PLACE - SKIN_ROOM / 2 - noticed.measured / 100)
    return first_free(desk, [(shift, part, moved) for shift, moved in lighter_and_darker(part)
                              if srgb_to_lab(moved)[0] >= wanted])
