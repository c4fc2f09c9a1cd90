"""The gaps of a piece as the Lines step lists them: what each joins, and what was decided."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from wardrobe.core.areas.recut import area_at
from wardrobe.core.areas.segment import Areas
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.lines.closing import Point, closing_curve, draw_barriers
from wardrobe.core.lines.gaps import LIKELY, Gaps
from wardrobe.core.lines.leak import Leak, leak_level
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.stages import Assignment, Deriver

State = Literal["undecided", "closed", "left open"]
# In the order of what a mistake costs.
Group = Literal["outline", "between parts", "inside a part"]
GROUPS: tuple[Group, ...] = ("outline", "between parts", "inside a part")
TOO_DOUBTFUL = 0.65  # to be called an opening of the outline in words
OUTSIDE = "outside"
UNNAMED = "an area without a part"


@dataclass(frozen=True)
class GapLine:
    """One gap.

    Attributes
    ----------
    x, y : float
        Its middle, picture pixels.
    width : float
        Px.
    widths : float
        The same in line widths.
    ends, sides : ((x, y), (x, y))
        Its banks, and a free place on either side.
    curve : list of (x, y)
        The closing that joins the banks along the strokes.
    joins : (str, str)
        What lies on either side.
    group : str
        Whether it is on the outline, between two parts, or has one part on both sides, as a
        fold's end has.
    doubt : float, 0..1
        How likely it is no gap.
    listed : bool
        Shown without asking for the doubtful.
    state : str
    index : int or None
        Place among the recipe's closings or open gaps, once decided.
    """

    x: float
    y: float
    width: float
    widths: float
    ends: tuple[Point, Point]
    sides: tuple[Point, Point]
    curve: list[Point]
    joins: tuple[str, str]
    group: Group
    doubt: float
    listed: bool
    state: State
    index: int | None


@dataclass(frozen=True)
class GapReport:
    """All gaps, in each group the most doubtful first, and the outline in words."""

    line_width: float
    perimeter: str
    openings: int
    gaps: list[GapLine]
    tips: list[Point]


def report_gaps(deriver: Deriver, recipe: Recipe) -> GapReport:
    """The gaps of a recipe; where no area is closed, all of them join the outside with itself."""
    gaps = deriver.gaps(recipe)
    try:
        cut = deriver.areas(recipe), deriver.assignment(recipe)
    except NoClosedAreaError:
        cut = None
    lines = gap_lines(gaps, cut, recipe)
    perimeter = [g for g in lines if opens_outline(g)]
    return GapReport(gaps.line_width, _perimeter(perimeter, recipe), len(perimeter), lines,
                     [(x, y) for x, y in gaps.tips.tolist()])


def gap_lines(gaps: Gaps, cut: tuple[Areas, Assignment] | None, recipe: Recipe) -> list[GapLine]:
    """All gaps in the order in which they are asked about; of the recipe closings, gaps that are
    left open and names of parts are read."""
    lines = [_line(gaps, k, cut, recipe) for k in range(len(gaps))]
    return sorted(lines, key=lambda g: (g.state != "undecided", not g.listed,
                                        GROUPS.index(g.group), -g.doubt))


def opens_outline(gap: GapLine) -> bool:
    """Whether a gap is undecided and likely to let the ground in."""
    return gap.state == "undecided" and gap.group == "outline" and gap.doubt < TOO_DOUBTFUL


def leak_to(deriver: Deriver, recipe: Recipe, goal: Point, start: Point | None) -> Leak:
    """How a fill gets from the outside, or from the area at ``start``, to the area at ``goal``."""
    areas = deriver.areas(recipe)
    coverage = deriver.coverage(recipe)
    if recipe.closings:
        open_pixels = np.ones_like(coverage)
        draw_barriers(open_pixels, [c.points for c in recipe.closings])
        coverage = np.where(open_pixels > 0, coverage, 255).astype(np.uint8)
    area = area_at(areas, goal)
    if start is None:
        begin = areas.ground[areas.labels] & areas.core
    else:
        begin = (areas.labels == area_at(areas, start)) & areas.core
    x, y = areas.seeds[area]
    return leak_level(coverage, begin, (int(x), int(y)))


def _area_beyond(areas: Areas, middle: Point, side: Point, reach: float) -> int:
    """The area on one side of a gap: straight on from its middle, up to ink or ``reach`` px.

    Right at the gap the areas are not yet told apart.
    """
    height, width = areas.labels.shape
    away = np.array(side) - middle
    away /= max(float(np.hypot(*away)), 1e-6)
    steps = side + away * np.arange(0, reach)[:, None]
    x = np.clip(steps[:, 0].astype(int), 0, width - 1)
    y = np.clip(steps[:, 1].astype(int), 0, height - 1)
    stop = np.flatnonzero(~areas.core[y, x])
    last = max(0, (int(stop[0]) if len(stop) else len(steps)) - 1)
    return int(areas.labels[y[last], x[last]])


def _line(gaps: Gaps, k: int, cut: tuple[Areas, Assignment] | None, recipe: Recipe) -> GapLine:
    ends, sides = _pair(gaps.ends[k]), _pair(gaps.sides[k])
    leave, arrive = _pair(gaps.directions[k])
    x, y = (float(v) for v in gaps.centre[k])
    width = float(gaps.width[k])
    near = max(4.0, 0.6 * width, 0.5 * gaps.line_width)
    state: State = "undecided"
    index = _nearest(((x, y), [c.points for c in recipe.closings]), near)
    if index is not None:
        state = "closed"
    else:
        index = _nearest(((x, y), [(_middle(g.ends),) for g in recipe.left_open]), near)
        state = "left open" if index is not None else "undecided"
    reach = max(1.2 * width, 2 * gaps.line_width)
    one = two = OUTSIDE
    if cut:
        areas, assignment = cut
        names = [p.name for p in recipe.parts]
        one, two = (_name(_area_beyond(areas, _middle(ends), side, reach), assignment, names)
                    for side in sides)
    group: Group = "inside a part"
    if OUTSIDE in (one, two):
        group = "outline"
    elif one != two:
        group = "between parts"
    chance = float(gaps.chance[k])
    return GapLine(x, y, width, width / gaps.line_width, ends, sides,
                   closing_curve(ends[0], ends[1], leave, arrive), (one, two), group,
                   1 - chance, chance >= LIKELY, state, index)


def _pair(rows: np.ndarray) -> tuple[Point, Point]:
    (ax, ay), (bx, by) = rows.tolist()
    return (ax, ay), (bx, by)


def _middle(ends: tuple[Point, Point]) -> Point:
    return (ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2


def _nearest(query: tuple[Point, list[tuple[Point, ...]]], reach: float) -> int | None:
    """Index of the first polyline that comes within reach of a point."""
    (x, y), polylines = query
    for index, points in enumerate(polylines):
        if _distance((x, y), np.array(points, np.float64)) <= reach:
            return index
    return None


def _distance(point: Point, line: np.ndarray) -> float:
    p = np.array(point)
    if len(line) == 1:
        return float(np.hypot(*(line[0] - p)))
    a, d = line[:-1], np.diff(line, axis=0)
    t = np.clip(np.sum((p - a) * d, axis=1) / np.maximum(np.sum(d * d, axis=1), 1e-9), 0, 1)
    return float(np.hypot(*(a + t[:, None] * d - p).T).min())


def _name(area: int, assignment: Assignment, names: list[str]) -> str:
    if assignment.ground[area]:
        return OUTSIDE
    row = int(assignment.part_of_area[area])
    return names[row - 1] if row else UNNAMED


def _perimeter(openings: list[GapLine], recipe: Recipe) -> str:
    """The state of the outline in words."""
    if not openings:
        return "The outline is closed."
    largest = max(openings, key=lambda g: g.width)
    place = _place(largest, recipe)
    if len(openings) == 1:
        return f"1 opening in the outline, {largest.width:.0f} px {place}."
    word = "larger" if len(openings) == 2 else "largest"
    return f"{len(openings)} openings in the outline, the {word} {largest.width:.0f} px {place}."


def _place(gap: GapLine, recipe: Recipe) -> str:
    part = next((n for n in gap.joins if n not in (OUTSIDE, UNNAMED)), None)
    where = place_in_words(gap.x, gap.y, recipe)
    return f"at the {part}, {where}" if part else f"at the {where}"


def place_in_words(x: float, y: float, recipe: Recipe) -> str:
    """Where in the picture a place is: upper left, middle, lower ..."""
    row = ("upper", "middle", "lower")[min(2, int(3 * y / recipe.size[1]))]
    column = ("left", "middle", "right")[min(2, int(3 * x / recipe.size[0]))]
    return "middle" if row == column else " ".join(w for w in (row, column) if w != "middle")
