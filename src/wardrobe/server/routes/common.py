"""Dependencies, bounds and answers that routes share."""

from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from typing import Annotated, Any
from urllib.parse import quote

from fastapi import Depends, Header, Path, Query, Request, Response

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.keys import ReportName, report_key
from wardrobe.recipe.stages.digest import digest
from wardrobe.recipe.stages.stage import Stage
from wardrobe.server.jobs import Job
from wardrobe.server.kept import NotModifiedError, kept
from wardrobe.server.schemas.pictures import PreviewRequest, ViewRequest
from wardrobe.server.schemas.pieces import MOST_ID, JobState
from wardrobe.server.studio import Studio
from wardrobe.server.turns import LARGE

PNG: dict[int | str, dict[str, Any]] = {
    200: {"content": {"image/png": {"schema": {"type": "string", "format": "binary"}}}}}
KEPT: dict[int | str, dict[str, Any]] = {304: {"description": "The browser has it."}}
KEPT_PNG = PNG | KEPT

PathId = Annotated[int, Path(ge=1, le=MOST_ID)]
PathIndex = Annotated[int, Path(ge=0, le=MOST_ID)]


def studio_of(request: Request) -> Studio:
    """The studio that the application was made with."""
    studio: Studio = request.app.state.studio
    return studio


StudioDep = Annotated[Studio, Depends(studio_of)]


@asynccontextmanager
async def _turn(request: Request, pixels: int) -> AsyncIterator[None]:
    studio = studio_of(request)
    studio.memory.used()
    async with studio.turns.taken(request, pixels):
        yield


async def _quick(request: Request) -> AsyncIterator[None]:
    async with _turn(request, 0):
        yield


async def _work(request: Request) -> AsyncIterator[None]:
    async with _turn(request, LARGE - 1):
        yield


async def _view(request: Request,
                view: Annotated[ViewRequest, Query()]) -> AsyncIterator[ViewRequest]:
    async with _turn(request, view.pixels):
        yield view


async def _preview(request: Request, wanted: PreviewRequest) -> AsyncIterator[PreviewRequest]:
    async with _turn(request, wanted.view.pixels):
        yield wanted


# Work waits for its turn before a thread takes it up, and ends its turn before the answer is sent.
QUICK = Depends(_quick, scope="function")
WORK = Depends(_work, scope="function")
ViewInTurn = Annotated[ViewRequest, Depends(_view, scope="function")]
PreviewInTurn = Annotated[PreviewRequest, Depends(_preview, scope="function")]


def job_state(job: Job) -> JobState:
    """A job as the API shows it."""
    return JobState(id=job.id, kind=job.kind, state=job.state, progress=job.progress,
                    doing=job.doing, piece=job.piece, layered=job.layered, file_name=job.file_name,
                    seen=len(job.seen), answer=job.answer, problem=job.problem)


def view_of(request: ViewRequest) -> View:
    """A view as the recipe layer takes it."""
    return View(request.x, request.y, request.width, request.height, request.scale)


def etag_of(*what: object) -> str:
    """An ETag that changes when, and only when, what stages give may change."""
    return digest(what, lambda v: v.name if isinstance(v, Stage) else None).hex()


def png(data: bytes, etag: str | None = None) -> Response:
    """A PNG answer; with an etag the browser may keep it but must ask."""
    return Response(data, media_type="image/png",
                    headers=kept(etag) if etag else {"cache-control": "no-store"})


class Held:
    """What the browser says that it holds (If-None-Match, RFC 9110 section 13.1.2)."""

    def __init__(self, if_none_match: Annotated[str | None, Header()] = None) -> None:
        told = (tag.strip().removeprefix("W/") for tag in (if_none_match or "").split(","))
        self._tags = {tag for tag in told if tag}

    def png(self, draw: Callable[[], bytes], *what: object) -> Response:
        """A PNG that follows from stages and values: nothing is drawn if the browser has it."""
        etag = etag_of(*what)
        if self.has(etag):
            raise NotModifiedError(etag)
        return png(draw(), etag)

    def has(self, etag: str) -> bool:
        """Whether the browser has what an ETag names."""
        return bool(self._tags & {f'"{etag}"', "*"})


HeldDep = Annotated[Held, Depends()]


def rests_on(name: ReportName) -> Any:
    """The recipe that a report is asked of; it is not made if the browser has it.

    The recipe is read once for ETag and answer: an edit that comes in between changes neither.
    """
    def recipe(studio: StudioDep, piece_id: PathId, held: HeldDep, response: Response) -> Recipe:
        found = studio.pieces.recipe(piece_id)
        etag = report_key(name, studio.deriver.stages(found))
        if held.has(etag):
            raise NotModifiedError(etag)
        response.headers.update(kept(etag))
        return found

    return Depends(recipe)


def as_file(name: str) -> dict[str, str]:
    """Headers of a file to be saved under a name in any script (RFC 6266, RFC 8187)."""
    coded = quote(name, safe="")
    told = f'filename="{name}"' if coded == name else f"filename*=UTF-8''{coded}"
    return {"content-disposition": f"attachment; {told}"}
