"""A corrected drawing under a piece: how it lies, who keeps what, and what changed hands."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.carry import changes, fallen_together, owners_before, strokes_apart
from wardrobe.core.errors import NoLinesError, WardrobeError
from wardrobe.core.lines.register import Registration, register
from wardrobe.recipe.document.drawing import Laid, Source
from wardrobe.recipe.document.model import MAX_RECUTS, Frame, Recipe, ShareArea
from wardrobe.recipe.edits import AddRecut, ClaimAreas, PutDrawing, Several, SingleEdit, apply
from wardrobe.recipe.stages import Deriver

LEAST_AGREEMENT = 0.35
SURE_AGREEMENT = 0.6
_LISTED = 60  # of a kind
_MOST_STROKES = 4000
_MOST_SHARES = 200
_MOVED_WIDTHS = 2.0  # line widths up to which a strip along a line is the line, moved a little

Box = tuple[int, int, int, int]


class AnotherDrawingError(WardrobeError):
    """The lines do not lie on those of the piece."""

    title = "This is another drawing"


@dataclass(frozen=True)
class ChangedHands:
    """A place that belongs to another part than before.

    Attributes
    ----------
    box : (x, y, width, height)
        Picture px.
    place : (x, y)
        Its innermost point.
    pixels : int
    before, after : str
        Ids of parts, ``ground``, or ``none``.
    """

    box: Box
    place: tuple[float, float]
    pixels: int
    before: str
    after: str


@dataclass(frozen=True)
class RedrawnPlace:
    """Lines that are in one of the drawings only: ``new`` ones, or those that are gone."""

    box: Box
    new: bool
    pixels: int


@dataclass(frozen=True)
class CorrectedDrawing:
    """What a corrected drawing would come to.

    Attributes
    ----------
    edit : Several
        What puts it under the piece.
    dx, dy : float
        px by which its middle is moved from where it would lie, middle on middle.
    clockwise : float
        Degrees by which it is turned.
    scale : float
    agreement : float, up to 1
        Share of the lines of both that lie on each other, beyond chance.
    sure : bool
        Whether so many do that it is surely the same drawing.
    kept : float, 0..1
        Share of the figure's pixels, as it was, that belong to the same part.
    changed : tuple of ChangedHands
        Largest first.
    redrawn : tuple of RedrawnPlace
        Most lines first.
    """

    edit: Several
    dx: float
    dy: float
    clockwise: float
    scale: float
    agreement: float
    sure: bool
    kept: float
    changed: tuple[ChangedHands, ...]
    redrawn: tuple[RedrawnPlace, ...]


def lay_corrected(deriver: Deriver, recipe: Recipe, drawing: Source,
                  on_progress: Callable[[float, str], None] = lambda share, doing: None,
                  ) -> CorrectedDrawing:
    """Lay a corrected drawing under a piece; nothing is changed.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    drawing : Source
        The drawing at its own size.
    on_progress : callable
        Told the share that is done, and what is being done.

    Raises
    ------
    AnotherDrawingError
        If its lines do not lie on those of the piece.
    NoLinesError
        If it holds no line art.
    """
    on_progress(0.1, "Finding the lines")
    alone = Recipe(source=drawing, lines=recipe.lines, boundaries=recipe.boundaries)
    ink = deriver.drawn(alone)
    if not (ink >= 128).any():
        raise NoLinesError("There are no lines in this drawing.")
    on_progress(0.3, "Laying it on the drawing")
    found = register(ink, deriver.drawn(recipe.model_copy(update={"frame": Frame()})))
    if found.agreement < LEAST_AGREEMENT:
        raise AnotherDrawingError(
            f"Only {max(0.0, found.agreement):.0%} of its lines lie on those of the piece, however "
            "it is shifted, turned or scaled. Begin a new piece with it; this one is as it was.")
    put = PutDrawing(asset=drawing.asset, original=drawing.original,
                     laid=_laid(found, drawing, recipe.source))
    on_progress(0.4, "Cutting areas")
    after = apply(recipe, put)
    shares = [AddRecut(recut=ShareArea(places=tuple(places[:_MOST_SHARES])))
              for places in fallen_together(deriver.areas(after), _owners(deriver, recipe),
                                            deriver.coverage(after))]
    shares = shares[:max(0, MAX_RECUTS - len(recipe.recuts))][:_MOST_SHARES]
    edits: list[SingleEdit] = [put, *shares]
    edits += _carried(deriver, recipe, reduce(apply, edits, recipe))
    edit = Several(edits=tuple(edits))
    on_progress(0.8, "Looking for what changed hands")
    return _compared(deriver, recipe, apply(recipe, edit), edit, found, drawing)


def _laid(found: Registration, drawing: Source, first: Source) -> Laid | None:
    same = (drawing.width, drawing.height) == (first.width, first.height)
    if same and (found.matrix == np.eye(2, 3)).all():
        return None
    a, b = found.matrix.tolist()
    return Laid(width=drawing.width, height=drawing.height,
                matrix=((a[0], a[1], a[2]), (b[0], b[1], b[2])))


def _owners(deriver: Deriver, recipe: Recipe) -> NDArray[np.uint16]:
    """Row of every pixel's part, from 1; 0 where there is none, and one more for the ground."""
    areas, assigned = deriver.areas(recipe), deriver.assignment(recipe)
    owner = assigned.part_of_area.copy()
    owner[assigned.ground] = len(recipe.parts) + 1
    return owner[areas.labels]


def _carried(deriver: Deriver, before: Recipe, after: Recipe) -> list[ClaimAreas]:
    """Areas that fell to another by the claims alone go to the part that had most of them."""
    areas, assigned = deriver.areas(after), deriver.assignment(after)
    ground = len(before.parts) + 1
    wanted = owners_before(areas, _owners(deriver, before))
    now = np.where(assigned.ground, ground, assigned.part_of_area)
    wrong = np.flatnonzero(wanted != now)
    wrong = wrong[wrong > 0]
    rows: dict[str, list[int]] = {}
    for area in wrong.tolist():
        if wanted[area] == ground:
            rows.setdefault("ground", []).append(area)
            continue
        if assigned.ground[area]:
            rows.setdefault("figure", []).append(area)
        to = "none" if wanted[area] == 0 else before.parts[wanted[area] - 1].id
        rows.setdefault(to, []).append(area)
    order = sorted(rows, key=lambda to: to not in ("ground", "figure"))
    return [ClaimAreas.model_validate({"to": to, "strokes": [
        [(x + 0.5, y + 0.5)] for x, y in areas.seeds[rows[to]][:_MOST_STROKES].tolist()]})
        for to in order]


def _compared(deriver: Deriver, before: Recipe, after: Recipe, edit: Several,
              found: Registration, drawing: Source) -> CorrectedDrawing:
    old, new = (_owners(deriver, recipe) for recipe in (before, after))
    areas = deriver.areas(before)
    width = areas.line_width
    free = areas.core & deriver.areas(after).core
    names = ["none", *(p.id for p in before.parts), "ground"]
    figure = free & (old > 0) & (old <= len(before.parts))
    changed = changes(old, new, free, _MOVED_WIDTHS * width)
    inks = deriver.coverage(before), deriver.coverage(after)
    redrawn = [RedrawnPlace(box, is_new, pixels)
               for is_new, (ink, other) in ((False, inks), (True, inks[::-1]))
               for box, pixels in strokes_apart(ink, other, max(2.0, width))]
    x, y = (found.matrix @ [drawing.width / 2, drawing.height / 2, 1]).tolist()
    return CorrectedDrawing(
        edit, round(x - before.source.width / 2, 1), round(y - before.source.height / 2, 1),
        round(found.clockwise, 2), round(found.scale, 4), round(found.agreement, 3),
        found.agreement >= SURE_AGREEMENT,
        float(np.mean(old[figure] == new[figure])) if figure.any() else 1.0,
        tuple(ChangedHands(c.box, (c.place[0] + 0.5, c.place[1] + 0.5), c.pixels,
                           names[c.before], names[c.after]) for c in changed[:_LISTED]),
        tuple(sorted(redrawn, key=lambda r: -r.pixels)[:_LISTED]))
