"""Pictures and what they are made of."""

from collections.abc import Sequence
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Body, Path, Query, Response

from wardrobe.core.areas.complete import Completeness
from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.formats.png import encode_png
from wardrobe.core.lines.blacks import Blacks
from wardrobe.core.lines.intake import INTAKES
from wardrobe.core.lines.leak import Leak
from wardrobe.core.shades.illumination import shade_hues
from wardrobe.recipe.checks.maps import any_picture
from wardrobe.recipe.document.finish import FinishId
from wardrobe.recipe.document.look import Wearer
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Coordinate, PassKey, Point
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import Edit, apply, dressed
from wardrobe.recipe.reports.figure import FigureOffer, offer_figure
from wardrobe.recipe.reports.finishes import Finish, ready_finishes
from wardrobe.recipe.reports.gaps import GapReport, leak_to, report_gaps
from wardrobe.recipe.reports.hatching import HatchingReport, report_hatching
from wardrobe.recipe.reports.ink import InkReport, report_ink
from wardrobe.recipe.reports.joins import JoinedPart, joined_parts
from wardrobe.recipe.reports.keys import AREA_MAP_EDGE
from wardrobe.recipe.reports.light import LightReport, report_light
from wardrobe.recipe.reports.modes import ModeSeen, in_modes, pictures_in_modes
from wardrobe.recipe.reports.neighbours import Neighbours, alike
from wardrobe.recipe.reports.palettes import PaletteOffer, first_palettes
from wardrobe.recipe.reports.proposals import Proposal, Wish, propose
from wardrobe.recipe.reports.rail import side_by_side
from wardrobe.recipe.reports.sheet import Sheet, colour_sheet
from wardrobe.recipe.reports.sides import (
    Difference,
    DifferenceMap,
    Side,
    measure_difference,
    side_picture,
)
from wardrobe.recipe.stages.views import upto
from wardrobe.server.routes.common import (
    KEPT,
    KEPT_PNG,
    PNG,
    QUICK,
    WORK,
    HeldDep,
    PathId,
    PreviewInTurn,
    StudioDep,
    ViewInTurn,
    png,
    rests_on,
    view_of,
)
from wardrobe.server.schemas.pictures import (
    MOST_EDGE,
    AreaInfo,
    Cut,
    HueInfo,
    HueOption,
    LinesInfo,
    PictureKind,
    SolidInfo,
)
from wardrobe.server.schemas.pieces import MOST_ID

router = APIRouter(prefix="/api/pieces/{piece_id}", tags=["pictures"])

Laid = Annotated[FinishId | PassKey, Path()]


@router.get("/picture", response_class=Response, responses=KEPT_PNG)
def get_picture(studio: StudioDep, piece_id: PathId, view: ViewInTurn, held: HeldDep,
                kind: PictureKind = "picture", last: PassKey | None = None,
                look: Wearer = "piece", side: Side | None = None, against: Side | None = None,
                revision: Annotated[int | None, Query(ge=0, le=MOST_ID)] = None) -> Response:
    """A rectangle of the picture at a scale, in a look, without the passes after ``last``; or of
    another state of the piece, or of how far two are apart. ``revision`` only keeps browsers'
    caches apart."""
    whole = studio.pieces.recipe(piece_id)
    recipe = dressed(whole, look)
    if last is not None:
        recipe = upto(recipe, last)
    shown = view_of(view).within(*recipe.size)
    stage = any_picture(studio.deriver, recipe, kind, shown)
    if side is not None:
        sides = studio.sides(piece_id)
        stage = side_picture(studio.deriver, whole, side, shown, sides)
        if against is not None:
            stage = DifferenceMap(stage, side_picture(studio.deriver, whole, against, shown, sides))
    return held.png(lambda: encode_png(studio.store(stage)), stage)


@router.get("/difference", dependencies=[WORK])
def get_difference(studio: StudioDep, piece_id: PathId, side: Side, against: Side) -> Difference:
    """How far two states of a piece are apart."""
    return measure_difference(studio.deriver, studio.pieces.recipe(piece_id), side, against,
                              studio.sides(piece_id))


@router.get("/card", dependencies=[QUICK], response_class=Response, responses=KEPT_PNG)
def get_card(studio: StudioDep, piece_id: PathId, held: HeldDep) -> Response:
    """The small picture for Home."""
    card = studio.card(studio.pieces.recipe(piece_id))
    return held.png(lambda: studio.store(card), card)


@router.post("/preview", response_class=Response, responses=PNG)
def preview(studio: StudioDep, piece_id: PathId, request: PreviewInTurn) -> Response:
    """The picture as it would be after an edit; nothing is changed."""
    recipe = dressed(apply(studio.pieces.recipe(piece_id), request.edit), request.look)
    return png(studio.picture(recipe, request.kind, view_of(request.view), request.draft))


@router.post("/preview/sheet")
def preview_sheet(studio: StudioDep, piece_id: PathId,
                  edit: Annotated[Edit, Body()]) -> Sheet:
    """The colours as they would be after an edit; nothing is changed."""
    return colour_sheet(apply(studio.pieces.recipe(piece_id), edit))


@router.get("/sheet", responses=KEPT)
def get_sheet(recipe: Annotated[Recipe, rests_on("sheet")]) -> Sheet:
    """The colours that each part shows, and their steps from the base."""
    return colour_sheet(recipe)


@router.get("/neighbours", dependencies=[WORK], responses=KEPT)
def get_neighbours(studio: StudioDep,
                   recipe: Annotated[Recipe, rests_on("neighbours")]) -> list[Neighbours]:
    """Parts that touch and are too alike."""
    return alike(studio.deriver, recipe)


@router.post("/proposals", dependencies=[WORK])
def make_proposal(studio: StudioDep, piece_id: PathId, wish: Annotated[Wish, Body()]) -> Proposal:
    """Work out a change of colours, to look at before it is made."""
    return propose(studio.pieces.recipe(piece_id), wish)


@router.get("/light", dependencies=[WORK], responses=KEPT)
def get_light_report(studio: StudioDep,
                     recipe: Annotated[Recipe, rests_on("light")]) -> LightReport:
    """How simple the shapes are, the light that each part implies, touch-ups to look at again."""
    return report_light(studio.deriver, recipe)


@router.get("/ink", dependencies=[WORK], responses=KEPT)
def get_ink(studio: StudioDep, recipe: Annotated[Recipe, rests_on("ink")]) -> InkReport:
    """The lines, stretch by stretch: their colours, and where they cannot be seen."""
    return report_ink(studio.deriver, recipe)


@router.get("/finishes", dependencies=[WORK], responses=KEPT)
def get_finishes(studio: StudioDep,
                 recipe: Annotated[Recipe, rests_on("finishes")],
                 look: Wearer = "piece") -> list[Finish]:
    """Ready finishes to begin from, laid out for the piece or a look."""
    return ready_finishes(studio.deriver, dressed(recipe, look))


@router.get("/modes/{layer}", dependencies=[WORK], responses=KEPT)
def get_modes(studio: StudioDep, layer: Laid, recipe: Annotated[Recipe, rests_on("modes")],
              look: Wearer = "piece") -> list[ModeSeen]:
    """What a finish layer or a pass would do in each blend mode, and where that clips."""
    return in_modes(studio.deriver, dressed(recipe, look), layer)


@router.get("/modes/{layer}/picture", dependencies=[WORK], response_class=Response, responses=PNG)
def get_modes_picture(studio: StudioDep, piece_id: PathId, layer: Laid, look: Wearer = "piece",
                      edge: Annotated[int, Query(ge=60, le=600)] = 160,
                      revision: Annotated[int | None, Query(ge=0, le=MOST_ID)] = None,
                      ) -> Response:
    """The picture with a finish layer or a pass in each blend mode, one below the other;
    ``revision`` only keeps browsers' caches apart."""
    recipe = dressed(studio.pieces.recipe(piece_id), look)
    view = View.whole(*recipe.size, edge)
    shown = pictures_in_modes(studio.deriver, recipe, layer, view)[1:]
    return png(encode_png(side_by_side(shown)))


@router.get("/shade-hues", responses=KEPT)
def get_shade_hues(recipe: Annotated[Recipe, rests_on("shade_hues")]) -> list[HueOption]:
    """Hues that a shade could have under this light."""
    light = recipe.light
    return [HueOption(why=h.why, hue=h.hue, colour=to_hex(h.colour))
            for h in shade_hues(from_hex(light.colour), from_hex(light.ambient),
                                from_hex(recipe.background))]


@router.get("/cut", dependencies=[WORK], responses=KEPT)
def get_cut(studio: StudioDep, recipe: Annotated[Recipe, rests_on("cut")]) -> Cut:
    """The areas, who has them, and what the lines are like."""
    areas, assignment = studio.deriver.areas(recipe), studio.deriver.assignment(recipe)
    ids, painted = [None, *(p.id for p in recipe.parts)], assignment.painted
    infos = [AreaInfo(area=a, x=areas.seeds[a, 0] + 0.5, y=areas.seeds[a, 1] + 0.5,
                      pixels=int(areas.pixels[a]), ground=bool(assignment.ground[a]),
                      part=ids[painted[a]])
             for a in range(1, areas.count + 1)]
    darkness, set_ = studio.deriver.darkness(recipe), recipe.lines
    intake = INTAKES[darkness.kind]
    lines = LinesInfo(
        kind=darkness.kind, recognised=darkness.recognised, line_width=areas.line_width,
        areas=areas.count, specks=areas.specks,
        solids=_solids(studio.deriver.solids(recipe), recipe.coloured_blacks),
        hues=[HueInfo(hue=h.hue, colour=to_hex(h.colour), pixels=h.pixels,
                      role=studio.deriver.role_of(recipe, h))
              for h in studio.deriver.hues(recipe)],
        even=intake.even if set_.even is None else set_.even,
        paper=max(darkness.noise, intake.paper if set_.paper is None else set_.paper),
        least_paper=darkness.noise, grain=intake.grain if set_.grain is None else set_.grain)
    return Cut(lines=lines, areas=infos,
               silhouette_pixels=sum(i.pixels for i in infos if i.part and not i.ground),
               unclaimed=sum(1 for i in infos if i.part is None and not i.ground))


def _solids(blacks: Blacks, coloured: Sequence[Point]) -> list[SolidInfo]:
    named = {blacks.at([place])[0]: place for place in coloured if blacks.at([place])}
    found = []
    for k, solid in enumerate(blacks.solids, start=1):
        x, y = named.get(k, (solid.x, solid.y))
        found.append(SolidInfo(x=x, y=y, pixels=solid.pixels, coloured=k in named))
    return found


@router.get("/completeness", dependencies=[WORK], responses=KEPT)
def get_completeness(studio: StudioDep,
                     recipe: Annotated[Recipe, rests_on("completeness")]) -> Completeness:
    """How completely the figure is filled, measured on the full-size picture."""
    return studio.deriver.completeness(recipe)[0]


@router.get("/joins", dependencies=[WORK], responses=KEPT)
def get_joins(studio: StudioDep, recipe: Annotated[Recipe, rests_on("joins")]) -> list[JoinedPart]:
    """Why the areas of each part may be together, and what would split it in two."""
    return joined_parts(studio.deriver, recipe)


@router.get("/palettes", dependencies=[WORK], responses=KEPT)
def get_palettes(studio: StudioDep,
                 recipe: Annotated[Recipe, rests_on("palettes")]) -> list[PaletteOffer]:
    """First colours to choose from: related hues, and values that tell neighbours apart."""
    return first_palettes(studio.deriver, recipe)


@router.get("/figure", dependencies=[WORK], responses=KEPT)
def get_figure(studio: StudioDep, recipe: Annotated[Recipe, rests_on("figure")]) -> FigureOffer:
    """What would make the figure whole: closings and claims as one edit, and how sure it is."""
    return offer_figure(studio.deriver, recipe)


@router.get("/hatching", dependencies=[WORK], responses=KEPT)
def get_hatching(studio: StudioDep,
                 recipe: Annotated[Recipe, rests_on("hatching")]) -> HatchingReport:
    """Strokes that seem to bound nothing, by families, and what was decided about each."""
    return report_hatching(studio.deriver, recipe)


@router.get("/gaps", dependencies=[WORK], responses=KEPT)
def get_gaps(studio: StudioDep, recipe: Annotated[Recipe, rests_on("gaps")]) -> GapReport:
    """The gaps in the lines, what they would join, and what was decided about each."""
    return report_gaps(studio.deriver, recipe)


@router.get("/leak", dependencies=[WORK])
def get_leak(studio: StudioDep, piece_id: PathId, x: Coordinate, y: Coordinate,
             from_x: Coordinate | None = None, from_y: Coordinate | None = None) -> Leak:
    """How a fill gets to the area at x, y: from the outside, or from another area."""
    start = (from_x, from_y) if from_x is not None and from_y is not None else None
    return leak_to(studio.deriver, studio.pieces.recipe(piece_id), (x, y), start)


@router.get("/areas.png", dependencies=[WORK], response_class=Response, responses=KEPT_PNG)
def get_area_map(studio: StudioDep, piece_id: PathId, held: HeldDep) -> Response:
    """Area numbers by pixel, for pointing without asking: red is the low byte, green the high."""
    recipe = studio.pieces.recipe(piece_id)
    sample = studio.deriver.stages(recipe).sample(View.whole(*recipe.size, AREA_MAP_EDGE))

    def draw() -> bytes:
        labels = studio.store(sample).labels
        low, high = labels & 255, labels >> 8
        return encode_png(np.stack([low, high, np.zeros_like(low)], axis=-1).astype(np.uint8))

    return held.png(draw, sample)


@router.get("/colour-at", dependencies=[WORK])
def colour_at(studio: StudioDep, piece_id: PathId,
              x: Annotated[int, Query(ge=0, le=MOST_EDGE)],
              y: Annotated[int, Query(ge=0, le=MOST_EDGE)]) -> str:
    """The colour of one pixel of the finished picture, ``#rrggbb``."""
    recipe = studio.pieces.recipe(piece_id)
    view = View(x, y, 1, 1).within(*recipe.size)
    r, g, b = studio.deriver.picture(recipe, view)[0, 0]
    return f"#{r:02x}{g:02x}{b:02x}"
