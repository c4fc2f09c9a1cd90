"""Pieces: list, import, change, undo, redo, delete."""

from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Response, UploadFile
from pydantic import TypeAdapter

from wardrobe.core.formats.images import DEFAULT_LONG_EDGE
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.types import Title
from wardrobe.recipe.edits import TouchUpPass
from wardrobe.recipe.events import Delivered, Event, EventRefusedError, Happened
from wardrobe.recipe.events.review import remarks
from wardrobe.recipe.events.wishes import edit_of
from wardrobe.recipe.reports.first_edits import more_parts
from wardrobe.recipe.reports.gestures import meaning
from wardrobe.recipe.reports.room import give_room
from wardrobe.recipe.reports.scenery import share_ground
from wardrobe.server.arrivals import correct_drawing, import_coloured, import_drawing, restore
from wardrobe.server.problems import NotFoundError
from wardrobe.server.routes.common import (
    KEPT_PNG,
    WORK,
    HeldDep,
    PathId,
    StudioDep,
    job_state,
)
from wardrobe.server.schemas.pictures import MOST_EDGE
from wardrobe.server.schemas.pieces import (
    EditRequest,
    GestureRequest,
    Id,
    JobState,
    KeptReference,
    Minutes,
    Piece,
    PieceCard,
    PieceChange,
    RoomRequest,
    TravelRequest,
)

router = APIRouter(prefix="/api/pieces", tags=["pieces"])

_CARDS: TypeAdapter[list[PieceCard]] = TypeAdapter(list[PieceCard])


@router.get("", response_model=list[PieceCard])
def list_pieces(studio: StudioDep) -> Response:
    """All pieces, latest change first."""
    # Written at once: with a thousand pieces, checking each again takes longer than reading them.
    return Response(_CARDS.dump_json(list(map(PieceCard.of, studio.pieces.all()))),
                    media_type="application/json")


@router.post("", status_code=202)
def import_piece(
    studio: StudioDep,
    file: Annotated[UploadFile, File()],
    title: Annotated[Title, Form()],
    planned_minutes: Annotated[Minutes, Form()] = 40,
    long_edge: Annotated[int, Form(ge=200, le=12_000)] = DEFAULT_LONG_EDGE,
    like: Annotated[Id | None, Form()] = None,
    coloured: Annotated[bool, Form()] = False,
    plan: Annotated[str | None, Form(max_length=40)] = None,
) -> JobState:
    """Start to import a drawing; the job ends with the new piece, which begins with the card,
    light, method and stack settings of the piece that it is to be like. A ``coloured`` picture is
    told apart into lines, parts and shade instead, and looks as it came. ``plan`` is the key of a
    plan by which the minutes are shared out."""
    if like is not None:
        studio.pieces.recipe(like)
    by = studio.plans.get(plan) if plan is not None else None
    kept = studio.scratch.keep(file.file, studio.settings.most_file_bytes)
    if coloured:
        return job_state(studio.jobs.start("import", lambda job: import_coloured(
            studio, job, kept, title, planned_minutes, long_edge, by), kept))
    return job_state(studio.jobs.start("import", lambda job: import_drawing(
        studio, job, kept, title, planned_minutes, long_edge, like, by), kept))


@router.post("/restore", status_code=202)
def restore_piece(studio: StudioDep, file: Annotated[UploadFile, File()]) -> JobState:
    """Start to bring back a piece from its archive; the job ends with it."""
    kept = studio.scratch.keep(file.file, studio.settings.most_stack_bytes)
    return job_state(studio.jobs.start("restore", lambda job: restore(studio, job, kept), kept))


@router.post("/pictures", status_code=201)
def store_picture(studio: StudioDep, file: Annotated[UploadFile, File()],
                  long_edge: Annotated[int, Form(ge=200, le=12_000)] = 1600) -> PlacedPicture:
    """Store a picture that is to lie on a part, or a second drawing; an SVG is drawn with this
    longer edge."""
    kept = studio.scratch.keep(file.file, studio.settings.most_file_bytes)
    try:
        return studio.store_picture(kept, long_edge)
    finally:
        kept.unlink()


@router.get("/{piece_id}")
def get_piece(studio: StudioDep, piece_id: PathId) -> Piece:
    """A piece with its recipe."""
    return Piece.of(studio.pieces.get(piece_id), studio.deriver)


@router.patch("/{piece_id}")
def change_piece(studio: StudioDep, piece_id: PathId, change: PieceChange) -> Piece:
    """Change the title."""
    return Piece.of(studio.pieces.rename(piece_id, change.title), studio.deriver)


@router.delete("/{piece_id}", status_code=204)
def delete_piece(studio: StudioDep, piece_id: PathId) -> None:
    """Delete a piece."""
    studio.pieces.remove(piece_id)


@router.post("/{piece_id}/edits")
def edit_piece(studio: StudioDep, piece_id: PathId, request: EditRequest) -> Piece:
    """Make an edit; 409 if the piece has changed since ``seen``."""
    return Piece.of(studio.edit(piece_id, request.seen, request.edit), studio.deriver)


@router.post("/{piece_id}/drawings", status_code=202)
def bring_drawing(studio: StudioDep, piece_id: PathId,
                  file: Annotated[UploadFile, File()]) -> JobState:
    """Start to lay a corrected drawing under a piece; the job ends with the edit that puts it
    there, and with what changes hands."""
    studio.pieces.recipe(piece_id)
    kept = studio.scratch.keep(file.file, studio.settings.most_file_bytes)
    return job_state(studio.jobs.start(
        "drawing", lambda job: correct_drawing(studio, job, kept, piece_id), kept))


@router.post("/{piece_id}/gestures", dependencies=[WORK])
def gesture(studio: StudioDep, piece_id: PathId, request: GestureRequest) -> Piece:
    """Change the cut by a stroke or a click: what it means depends on the areas it meets."""
    recipe = studio.pieces.recipe(piece_id, request.seen)
    edit = meaning(studio.deriver, recipe, request.gesture, request.stroke, request.part)
    return Piece.of(studio.pieces.edit(piece_id, request.seen, edit), studio.deriver)


@router.post("/{piece_id}/suggest-parts", dependencies=[WORK])
def suggest(studio: StudioDep, piece_id: PathId, request: TravelRequest) -> Piece:
    """Propose parts for what has none yet."""
    recipe = studio.pieces.recipe(piece_id, request.seen)
    return Piece.of(studio.pieces.edit(piece_id, request.seen,
                                       more_parts(studio.deriver, recipe)), studio.deriver)


@router.post("/{piece_id}/share-ground", dependencies=[WORK])
def share_out_ground(studio: StudioDep, piece_id: PathId, request: TravelRequest) -> Piece:
    """Give the ground that has no scenery yet to that which is nearest."""
    recipe = studio.pieces.recipe(piece_id, request.seen)
    return Piece.of(studio.pieces.edit(piece_id, request.seen,
                                       share_ground(studio.deriver, recipe)), studio.deriver)


@router.post("/{piece_id}/room", dependencies=[WORK])
def change_room(studio: StudioDep, piece_id: PathId, request: RoomRequest) -> Piece:
    """Give the picture more room on some sides, or less; a figure that the edge cut off ends
    there."""
    recipe = studio.pieces.recipe(piece_id, request.seen)
    edit = give_room(studio.deriver, recipe, request.left, request.top, request.right,
                     request.bottom)
    return Piece.of(studio.pieces.edit(piece_id, request.seen, edit), studio.deriver)


@router.post("/{piece_id}/undo")
def undo(studio: StudioDep, piece_id: PathId, request: TravelRequest) -> Piece:
    """Go one edit back."""
    return Piece.of(studio.pieces.travel(piece_id, request.seen, -1), studio.deriver)


@router.post("/{piece_id}/redo")
def redo(studio: StudioDep, piece_id: PathId, request: TravelRequest) -> Piece:
    """Go one edit forward."""
    return Piece.of(studio.pieces.travel(piece_id, request.seen, +1), studio.deriver)


@router.get("/{piece_id}/events")
def list_events(studio: StudioDep, piece_id: PathId) -> list[Happened]:
    """What happened to a piece besides its making, in its order."""
    return studio.events.of(piece_id)


@router.post("/{piece_id}/events", status_code=201)
def note_event(studio: StudioDep, piece_id: PathId, event: Event) -> list[Happened]:
    """Note an event: an answer, a plan, a verdict. It is kept for ever and is not undone; the
    name of its look is that which the look has now."""
    if isinstance(event, Delivered):
        raise EventRefusedError("A delivery is noted when its file is written.")
    return studio.note(piece_id, event)


@router.get("/{piece_id}/remarks/{number}/edit", dependencies=[WORK])
def get_wish(studio: StudioDep, piece_id: PathId, number: PathId) -> TouchUpPass:
    """The edit that does what a drawn remark wishes for."""
    remark = next((s.remark for s in remarks(studio.events.of(piece_id)) if s.number == number),
                  None)
    if remark is None:
        raise NotFoundError("There is no such remark.")
    return edit_of(studio.deriver, studio.pieces.recipe(piece_id), remark)


@router.get("/{piece_id}/references")
def list_references(studio: StudioDep, piece_id: PathId) -> list[KeptReference]:
    """The pictures that are kept beside a piece: its own, and those of the other pieces of its
    character that are shared."""
    return studio.references(piece_id)


@router.get("/{piece_id}/references/{number}/picture", dependencies=[WORK],
            response_class=Response, responses=KEPT_PNG)
def get_reference_picture(studio: StudioDep, piece_id: PathId, number: PathId, held: HeldDep,
                          edge: Annotated[int, Query(ge=32, le=MOST_EDGE)] = 1600) -> Response:
    """A reference, no larger than ``edge`` along its longer edge."""
    picture = studio.reference(piece_id, number).picture
    return held.png(lambda: studio.shrunk(picture, edge), picture.asset, edge)
