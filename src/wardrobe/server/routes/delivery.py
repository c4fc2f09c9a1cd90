"""The stack, deliveries and jobs."""

from fastapi import APIRouter
from fastapi.responses import FileResponse

from wardrobe.recipe.outline import Section, stack_section
from wardrobe.server.problems import NotFoundError
from wardrobe.server.routes.common import StudioDep, job_state
from wardrobe.server.schemas import DeliveryRequest, JobState

router = APIRouter(prefix="/api", tags=["delivery"])

_MEDIA = {".ora": "image/openraster", ".png": "image/png"}


@router.get("/pieces/{piece_id}/stack")
def get_stack(studio: StudioDep, piece_id: int) -> Section:
    """The stack that will be delivered, as a section."""
    return stack_section(studio.deriver, studio.pieces.recipe(piece_id))


@router.post("/pieces/{piece_id}/deliveries", status_code=202)
def deliver(studio: StudioDep, piece_id: int, request: DeliveryRequest) -> JobState:
    """Start to write a file; the job ends with it."""
    studio.pieces.recipe(piece_id)
    return job_state(studio.jobs.start(
        "deliver", lambda job: studio.deliver(job, piece_id, request.format)))


@router.get("/jobs/{job_id}")
def get_job(studio: StudioDep, job_id: str) -> JobState:
    """How far a job is."""
    return job_state(studio.jobs.get(job_id))


@router.delete("/jobs/{job_id}", status_code=204)
def cancel_job(studio: StudioDep, job_id: str) -> None:
    """Cancel a job."""
    studio.jobs.get(job_id).cancel()


@router.get("/jobs/{job_id}/file")
def get_file(studio: StudioDep, job_id: str) -> FileResponse:
    """The file that a job has made."""
    job = studio.jobs.get(job_id)
    if job.state != "done" or job.file is None or not job.file.exists():
        raise NotFoundError("There is no file of this job.")
    return FileResponse(job.file, media_type=_MEDIA[job.file.suffix], filename=job.file_name)
