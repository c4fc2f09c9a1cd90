"""Layered files that come back: look at them, check them, repair them, take them over."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Response, UploadFile

from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.check import StackFinding
from wardrobe.recipe.document.types import Title
from wardrobe.recipe.exchange.layered.extras import added_layers
from wardrobe.recipe.exchange.layered.take_back import (
    LayerMatch,
    Returned,
    compare,
    match_returned,
)
from wardrobe.server.arrivals import begin_from, take_home
from wardrobe.server.problems import NotFoundError
from wardrobe.server.routes.common import (
    KEPT_PNG,
    WORK,
    HeldDep,
    PathId,
    PathIndex,
    StudioDep,
    as_file,
    job_state,
    view_of,
)
from wardrobe.server.schemas.layered import (
    LayeredCard,
    LayeredFile,
    MatchRequest,
    RepairRequest,
    TakeOverRequest,
)
from wardrobe.server.schemas.pictures import ViewRequest
from wardrobe.server.schemas.pieces import Id, JobState
from wardrobe.server.studio import file_name

router = APIRouter(prefix="/api/layered", tags=["layered"])



@router.get("")
def list_files(studio: StudioDep,
               piece: Annotated[Id | None, Query()] = None) -> list[LayeredCard]:
    """Layered files that came in, the latest first; all, or those of a piece."""
    return studio.layered.cards(piece)


@router.post("", status_code=202)
def take_in(studio: StudioDep, file: Annotated[UploadFile, File()],
            title: Annotated[Title, Form()],
            piece: Annotated[Id | None, Form()] = None) -> JobState:
    """Start to read a layered file; the job ends with it."""
    if piece is not None:
        studio.pieces.recipe(piece)
    kept = studio.scratch.keep(file.file, studio.settings.most_stack_bytes)
    return job_state(studio.jobs.start("layered", lambda job: setattr(
        job, "layered", studio.layered.take_in(kept, title, piece, job.report)), kept))


@router.get("/{file_id}", dependencies=[WORK])
def get_layered(studio: StudioDep, file_id: PathId) -> LayeredFile:
    """A layered file and its layers."""
    return studio.layered.get(file_id)


@router.delete("/{file_id}", status_code=204)
def remove(studio: StudioDep, file_id: PathId) -> None:
    """Take a layered file away; it can be put back for 30 days."""
    studio.layered.remove(file_id)


@router.post("/{file_id}/put-back", status_code=204)
def put_back(studio: StudioDep, file_id: PathId) -> None:
    """Have a layered file again that was removed."""
    studio.layered.put_back(file_id)


@router.get("/{file_id}/file", response_class=Response, responses={
    200: {"content": {"image/openraster": {"schema": {"type": "string", "format": "binary"}}}}})
def download(studio: StudioDep, file_id: PathId) -> Response:
    """The file as it came, or as it was repaired."""
    title, data = studio.layered.data(file_id)
    return Response(data, media_type="image/openraster", headers=as_file(f"{file_name(title)}.ora"))


@router.get("/{file_id}/picture", dependencies=[WORK], response_class=Response,
            responses=KEPT_PNG)
def get_layered_picture(studio: StudioDep, file_id: PathId, held: HeldDep,
                        view: Annotated[ViewRequest, Query()]) -> Response:
    """A rectangle of the flat picture at a scale."""
    return held.png(lambda: encode_png(studio.layered.picture(file_id, view_of(view))),
                    studio.layered.asset(file_id), view)


@router.get("/{file_id}/layers/{index}", dependencies=[WORK],
            response_class=Response, responses=KEPT_PNG)
def get_layer(studio: StudioDep, file_id: PathId, index: PathIndex, held: HeldDep) -> Response:
    """Where a layer is painted: grey, at screen size."""
    return held.png(lambda: encode_png(studio.layered.layer(file_id, index)),
                    studio.layered.asset(file_id), index)


@router.get("/{file_id}/findings", dependencies=[WORK])
def get_findings(studio: StudioDep, file_id: PathId) -> list[StackFinding]:
    """What a check of the file notices."""
    return studio.layered.findings(file_id)


@router.post("/{file_id}/repairs", status_code=202)
def repair(studio: StudioDep, file_id: PathId, request: RepairRequest) -> JobState:
    """Start to repair findings in a new version; the job ends with it."""
    studio.layered.asset(file_id)
    return job_state(studio.jobs.start("repair", lambda job: setattr(
        job, "layered", studio.layered.repair(file_id, request.findings, job.report,
                                              studio.scratch.room))))


@router.post("/{file_id}/piece", status_code=202)
def begin_piece(studio: StudioDep, file_id: PathId) -> JobState:
    """Start a piece from a file: its lines are the drawing, its flats the parts."""
    studio.layered.asset(file_id)
    return job_state(studio.jobs.start("begin", lambda job: begin_from(studio, job, file_id)))


@router.post("/{file_id}/matches", dependencies=[WORK])
def match(studio: StudioDep, file_id: PathId, request: MatchRequest) -> list[Returned]:
    """What each layer is of a piece, and how it differs from it; matches that are given count."""
    recipe, stack = studio.pieces.recipe(request.piece), studio.layered.stack(file_id)
    if not request.matches:
        returned = match_returned(studio.deriver, recipe, stack)
        added = {a.placed.order for a in added_layers(studio.deriver, recipe, stack,
                                                      [r.match for r in returned])}
        return [replace(r, added=r.match.index in added) for r in returned]
    _check(stack_size(studio, file_id), request.matches)
    found = compare(studio.deriver, recipe, stack, request.matches)
    others = [m for m in request.matches if m.kind == "other"]
    added = {a.placed.order for a in added_layers(studio.deriver, recipe, stack, others)}
    return [Returned(m, "by hand", *found[m.index], added=m.index in added)
            for m in request.matches]


@router.post("/{file_id}/take-over", status_code=202)
def bring_in(studio: StudioDep, file_id: PathId, request: TakeOverRequest) -> JobState:
    """Start to bring what was painted in the file home; the job's answer says what came of it."""
    studio.pieces.recipe(request.piece, request.seen)
    _check(stack_size(studio, file_id), request.matches)
    return job_state(studio.jobs.start(
        "take over", lambda job: take_home(studio, job, file_id, request)))


def stack_size(studio: StudioDep, file_id: PathId) -> int:
    """Layers of a file."""
    return sum(1 for _ in studio.layered.stack(file_id).layers())


def _check(layers: int, matches: tuple[LayerMatch, ...]) -> None:
    if any(not 0 <= m.index < layers for m in matches):
        raise NotFoundError("The file has no such layer.")
