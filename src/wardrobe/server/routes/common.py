"""Dependencies and answers that routes share."""

from typing import Annotated

from fastapi import Depends, Request, Response, UploadFile

from wardrobe.core.errors import ImageLimitError
from wardrobe.recipe.view import View
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.pictures import ViewRequest
from wardrobe.server.schemas.pieces import JobState
from wardrobe.server.studio import Studio


def studio_of(request: Request) -> Studio:
    """The studio that the application was made with."""
    studio: Studio = request.app.state.studio
    return studio


StudioDep = Annotated[Studio, Depends(studio_of)]


def uploaded(file: UploadFile, most: int) -> bytes:
    """The bytes of an uploaded file of at most so many."""
    data = file.file.read(most + 1)
    if len(data) > most:
        raise ImageLimitError(f"The file is larger than {most / 2**20:.0f} MB.")
    return data


def job_state(job: Job) -> JobState:
    """A job as the API shows it."""
    return JobState(id=job.id, kind=job.kind, state=job.state, progress=job.progress,
                    doing=job.doing, piece=job.piece, layered=job.layered, file_name=job.file_name,
                    problem=job.problem)


def view_of(request: ViewRequest) -> View:
    """A view as the recipe layer takes it."""
    return View(request.x, request.y, request.width, request.height, request.scale)


def png(data: bytes, etag: str | None = None) -> Response:
    """A PNG answer; with an etag the browser may keep it but must ask."""
    headers = {"cache-control": "no-cache", "etag": f'"{etag}"'} if etag else \
        {"cache-control": "no-store"}
    return Response(data, media_type="image/png", headers=headers)
