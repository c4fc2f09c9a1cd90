"""Looks: the rail, how they compare, proposals, outfits."""

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Body, Query, Response

from wardrobe.core.formats.png import encode_png
from wardrobe.recipe.document.look import Look, worn
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddFinish,
    AddLook,
    EditRefusedError,
    RemoveFinish,
    Several,
    apply,
    dressed,
)
from wardrobe.recipe.edits.target import look_of
from wardrobe.recipe.exchange.kept_finish import kept, worn_finish
from wardrobe.recipe.reports.finishes.lay_out import Ground
from wardrobe.recipe.reports.look_proposals import ProposedLook, VaryWish, propose_looks
from wardrobe.recipe.reports.looks import LookReport, report_looks
from wardrobe.recipe.reports.rail import rail_pictures, side_by_side
from wardrobe.server.problems import NotFoundError
from wardrobe.server.routes.common import (
    KEPT,
    KEPT_PNG,
    PNG,
    WORK,
    HeldDep,
    PathId,
    StudioDep,
    png,
    rests_on,
)
from wardrobe.server.schemas.characters import Character, KeepOutfit, Outfit, WearOutfit, WornOutfit
from wardrobe.server.schemas.pictures import TryRequest
from wardrobe.server.schemas.pieces import Piece
from wardrobe.server.studio import Studio

router = APIRouter(prefix="/api", tags=["looks"])



@router.get("/pieces/{piece_id}/looks", dependencies=[WORK], responses=KEPT)
def get_looks(studio: StudioDep, recipe: Annotated[Recipe, rests_on("looks")]) -> LookReport:
    """The looks of a piece, how far apart they are and how they stand."""
    return report_looks(studio.deriver, recipe)


@router.get("/pieces/{piece_id}/rail", dependencies=[WORK], response_class=Response,
            responses=KEPT_PNG)
def get_rail(studio: StudioDep, piece_id: PathId, held: HeldDep,
             edge: Annotated[int, Query(ge=60, le=1200)] = 600) -> Response:
    """The piece and all its looks, retired ones too, one below the other in one picture."""
    recipe = studio.pieces.recipe(piece_id)
    shown = [recipe, *(studio.deriver.worn(recipe, look) for look in recipe.looks)]
    view = View.whole(*recipe.size, edge)
    return held.png(lambda: _drawn(studio, shown, edge),
                    *(studio.deriver.stages(each).picture(view) for each in shown))


@router.post("/pieces/{piece_id}/rail", dependencies=[WORK], response_class=Response, responses=PNG)
def try_looks(studio: StudioDep, piece_id: PathId, request: TryRequest) -> Response:
    """Looks that are not on the rail, one below the other in one picture."""
    recipe = studio.pieces.recipe(piece_id)
    shown = []
    for tried in request.looks:
        start = dressed(recipe, tried.start)
        shown.append(worn(start, Look(id="k0", name="tried", bases=tried.bases,
                                      light=tried.light, passes=tried.passes)))
    return png(_drawn(studio, shown, request.edge))


def _drawn(studio: Studio, shown: Sequence[Recipe], edge: int) -> bytes:
    return encode_png(side_by_side(rail_pictures(studio.deriver, shown, edge)))


@router.post("/pieces/{piece_id}/look-proposals", dependencies=[WORK])
def make_look_proposals(studio: StudioDep, piece_id: PathId,
                        wish: Annotated[VaryWish, Body()]) -> list[ProposedLook]:
    """Looks worked out from the piece or one of its looks; nothing is changed."""
    return propose_looks(studio.deriver, studio.pieces.recipe(piece_id), wish)


@router.post("/characters/{character_id}/outfits", status_code=201, dependencies=[WORK])
def keep_outfit(studio: StudioDep, character_id: PathId, request: KeepOutfit) -> Character:
    """Keep a look on the character's card; an outfit of the same name is replaced."""
    recipe = studio.pieces.recipe(request.piece)
    shown = worn(recipe, look_of(recipe, request.look))
    return studio.characters.keep_outfit(character_id, Outfit(
        name=request.name, colours={p.name: p.base for p in shown.parts},
        finish=kept(shown, Ground.of(studio.deriver, shown))))


@router.delete("/characters/{character_id}/outfits/{name}")
def remove_outfit(studio: StudioDep, character_id: PathId, name: str) -> Character:
    """Forget an outfit."""
    return studio.characters.remove_outfit(character_id, name)


@router.post("/pieces/{piece_id}/wear-outfit", dependencies=[WORK])
def wear_outfit(studio: StudioDep, piece_id: PathId, request: WearOutfit) -> WornOutfit:
    """Hang an outfit of the piece's character on its rail: parts are matched by name."""
    character = studio.characters.of_piece(piece_id)
    outfit = next((o for o in character.outfits if o.name == request.outfit), None) \
        if character else None
    if outfit is None:
        raise NotFoundError("This outfit is not there; the character may have been changed.")
    recipe = studio.pieces.recipe(piece_id, request.seen)
    by_name = {name.casefold(): colour for name, colour in outfit.colours.items()}
    bases = {p.id: by_name[p.name.casefold()] for p in recipe.parts
             if p.name.casefold() in by_name}
    if not bases:
        raise EditRefusedError("No part of this piece has a name of the outfit.")
    here = {p.name.casefold() for p in recipe.parts}
    hang = AddLook(name=outfit.name[:80], bases={
        p.id: bases[p.id] for p in recipe.parts if bases.get(p.id, p.base) != p.base})
    piece = studio.pieces.edit(piece_id, request.seen, _finished(studio, recipe, hang, outfit))
    return WornOutfit(piece=Piece.of(piece, studio.deriver),
                      missing=[n for n in outfit.colours if n.casefold() not in here])


def _finished(studio: Studio, recipe: Recipe, hang: AddLook, outfit: Outfit) -> Several:
    """The edit that hangs an outfit with its finish, if it has one: laid out on this figure."""
    if outfit.finish is None:
        return Several(edits=(hang,))
    look = apply(recipe, hang).looks[-1].id
    layers = worn_finish(outfit.finish, recipe, Ground.of(studio.deriver, recipe))
    gone = (RemoveFinish(layers=tuple(f.id for f in recipe.finish), targets=(look,)),) \
        if recipe.finish else ()
    laid = (AddFinish(layers=layers, targets=(look,)),) if layers else ()
    return Several(edits=(hang, *gone, *laid))
