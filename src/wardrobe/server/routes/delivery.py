"""The stack, its templates, deliveries and jobs."""


from typing import Annotated, Any

from fastapi import APIRouter, File, Path, Response, UploadFile
from fastapi.responses import FileResponse

from wardrobe.core.formats.png import encode_png
from wardrobe.core.press.profile import MOST_BYTES
from wardrobe.core.stack.check import StackFinding, check_stack
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.paper import KeptProfile
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.paper import OnPaper, Unprintable, on_paper, unprintable
from wardrobe.recipe.reports.section import Section, stack_section
from wardrobe.recipe.stages.press import press_of
from wardrobe.server.deliverables import DELIVERABLES
from wardrobe.server.deliveries import deliver_piece
from wardrobe.server.layered import LAYER_EDGE, layer_shape
from wardrobe.server.problems import NotFoundError
from wardrobe.server.routes.common import (
    KEPT,
    KEPT_PNG,
    PNG,
    WORK,
    HeldDep,
    PathId,
    PathIndex,
    StudioDep,
    as_file,
    job_state,
    png,
    rests_on,
)
from wardrobe.server.schemas.delivery import DeliveryRequest, SaveTemplate, StackTemplate
from wardrobe.server.schemas.pieces import JobState

router = APIRouter(prefix="/api", tags=["delivery"])

_MEDIA = {f".{kind.suffix}": kind.media for kind in DELIVERABLES.values()}


FILES: dict[int | str, dict[str, Any]] = {200: {"content": {
    media: {"schema": {"type": "string", "format": "binary"}} for media in _MEDIA.values()}}}


@router.get("/pieces/{piece_id}/stack", dependencies=[WORK], responses=KEPT)
def get_stack(studio: StudioDep, recipe: Annotated[Recipe, rests_on("stack")]) -> Section:
    """The stack that will be delivered, as a section."""
    return stack_section(studio.deriver, recipe)


@router.get("/pieces/{piece_id}/stack/layers/{index}", response_class=Response,
            responses=KEPT_PNG,
            dependencies=[WORK])
def get_stack_layer(studio: StudioDep, piece_id: PathId, index: PathIndex,
                    held: HeldDep) -> Response:
    """Where a layer of the stack is painted: grey, at screen size."""
    recipe = studio.pieces.recipe(piece_id)
    view = View.whole(*recipe.size, LAYER_EDGE)
    stage = studio.deriver.stages(recipe).stack(view, kept=True)

    def draw() -> bytes:
        stack = studio.store(stage)
        layers = list(stack.layers())
        if not 0 <= index < len(layers):
            raise NotFoundError("There is no such layer.")
        return encode_png(layer_shape(layers[index], stack))

    return held.png(draw, stage, index)


@router.get("/pieces/{piece_id}/stack/findings", dependencies=[WORK])
def check_own_stack(studio: StudioDep, piece_id: PathId) -> list[StackFinding]:
    """What a check of the stack notices, before it is delivered."""
    return check_stack(studio.deriver.stack(studio.pieces.recipe(piece_id)))


@router.get("/pieces/{piece_id}/paper", dependencies=[WORK], responses=KEPT)
def get_paper(studio: StudioDep, recipe: Annotated[Recipe, rests_on("paper")]) -> OnPaper:
    """How the piece lies on its paper: its size there, its resolution, what is cut off."""
    return on_paper(studio.deriver, recipe)


@router.get("/pieces/{piece_id}/unprintable", dependencies=[WORK], responses=KEPT)
def get_unprintable(studio: StudioDep, recipe: Annotated[Recipe, rests_on("unprintable")],
                    ) -> list[Unprintable]:
    """Colours that the press cannot print, with the nearest that it can."""
    press = press_of(recipe.delivery.press, studio.store.load)
    return unprintable(studio.deriver, recipe, press)


@router.post("/profiles", status_code=201)
def keep_profile(studio: StudioDep, file: Annotated[UploadFile, File()]) -> KeptProfile:
    """Bring in the ICC profile of a press."""
    kept = studio.scratch.keep(file.file, MOST_BYTES)
    try:
        return studio.keep_profile(kept)
    finally:
        kept.unlink(missing_ok=True)


@router.get("/stack-templates")
def list_templates(studio: StudioDep) -> list[StackTemplate]:
    """The stack templates."""
    return studio.templates.all()


@router.post("/stack-templates", status_code=201)
def save_template(studio: StudioDep, request: SaveTemplate) -> StackTemplate:
    """Keep a piece's stack settings and passes; a template of the same name is replaced."""
    return studio.templates.save(request.name, studio.pieces.recipe(request.piece))


@router.delete("/stack-templates/{template_id}", status_code=204)
def delete_template(studio: StudioDep, template_id: PathId) -> None:
    """Delete a template."""
    studio.templates.remove(template_id)


@router.post("/pieces/{piece_id}/deliveries", status_code=202)
def deliver(studio: StudioDep, piece_id: PathId, request: DeliveryRequest) -> JobState:
    """Start to write a file; the job ends with it."""
    studio.pieces.recipe(piece_id)
    return job_state(studio.jobs.start(
        "deliver", lambda job: deliver_piece(studio, job, piece_id, request)))


@router.get("/jobs/{job_id}")
def get_job(studio: StudioDep, job_id: str) -> JobState:
    """How far a job is."""
    return job_state(studio.jobs.get(job_id))


@router.delete("/jobs/{job_id}", status_code=204)
def cancel_job(studio: StudioDep, job_id: str) -> None:
    """Cancel a job."""
    studio.jobs.get(job_id).cancel()


@router.get("/jobs/{job_id}/seen/{number}", response_class=Response, responses=PNG)
def get_seen(studio: StudioDep, job_id: str,
             number: Annotated[int, Path(ge=1, le=100)]) -> Response:
    """A small picture of what a job had come to, from 1."""
    seen = studio.jobs.get(job_id).seen
    if number > len(seen):
        raise NotFoundError("There is no such picture of this job yet.")
    return png(seen[number - 1])


@router.get("/jobs/{job_id}/file", response_class=FileResponse, responses=FILES)
def get_file(studio: StudioDep, job_id: str) -> FileResponse:
    """The file that a job has made."""
    job = studio.jobs.get(job_id)
    if job.state != "done" or job.file is None or not job.file.exists():
        raise NotFoundError("There is no file of this job, or not any more. Deliver it again.")
    return FileResponse(job.file, media_type=_MEDIA[job.file.suffix],
                        headers=as_file(job.file_name or job.file.name))
