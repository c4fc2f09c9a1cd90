"""What the checks say of a piece."""

from typing import Annotated

from fastapi import APIRouter, Query, Response

from wardrobe.core.checks.wheel import HueWheel
from wardrobe.recipe.checks.finding import Desk, QuestionKey
from wardrobe.recipe.checks.maps import hues_of
from wardrobe.recipe.checks.report import Finding, check_piece
from wardrobe.recipe.document.look import Wearer
from wardrobe.recipe.edits import dressed
from wardrobe.recipe.events import dismissed
from wardrobe.server.kept import NotModifiedError, kept
from wardrobe.server.routes.common import (
    KEPT,
    WORK,
    HeldDep,
    PathId,
    StudioDep,
    etag_of,
)
from wardrobe.server.schemas.pieces import MOST_ID

router = APIRouter(prefix="/api/pieces/{piece_id}", tags=["checks"])


@router.get("/hues", dependencies=[WORK], responses=KEPT)
def get_hues(studio: StudioDep, piece_id: PathId, held: HeldDep, response: Response,
             look: Wearer = "piece",
             revision: Annotated[int | None, Query(ge=0, le=MOST_ID)] = None) -> HueWheel:
    """The colours of the picture on the hue wheel, by area, without its lines."""
    recipe = dressed(studio.pieces.recipe(piece_id), look)
    etag = etag_of("hues", recipe)
    if held.has(etag):
        raise NotModifiedError(etag)
    response.headers.update(kept(etag))
    return hues_of(Desk(studio.deriver, recipe))


@router.get("/findings", dependencies=[WORK], responses=KEPT)
def get_findings(studio: StudioDep, piece_id: PathId, held: HeldDep, response: Response,
                 question: QuestionKey | None = None, look: Wearer = "piece",
                 repairs: bool = True,
                 revision: Annotated[int | None, Query(ge=0, le=MOST_ID)] = None,
                 ) -> list[Finding]:
    """What the checks notice, those of one question or all; what matters most first, what was
    dismissed last. Without ``repairs`` it is known sooner; ``revision`` only keeps browsers'
    caches apart."""
    recipe = studio.pieces.recipe(piece_id)
    character = studio.characters.of_piece(piece_id)
    card = tuple(character.card) if character else ()
    left = dismissed(studio.events.of(piece_id))
    etag = etag_of("findings", question, look, repairs, recipe, card, left)
    if held.has(etag):
        raise NotModifiedError(etag)
    response.headers.update(kept(etag))
    return check_piece(studio.deriver, recipe, question, look, card, left, repairs)
