"""Errors as RFC 9457 problem details."""

import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from wardrobe.core.errors import ImageLimitError, UnreadableImageError, WardrobeError
from wardrobe.recipe.edits import EditRefusedError

log = structlog.get_logger()


class NotFoundError(WardrobeError):
    """There is nothing of that name."""

    title = "Not found"


class StaleEditError(WardrobeError):
    """The request was made for an older revision."""

    title = "The piece has changed meanwhile"


_STATUS: dict[type[WardrobeError], int] = {
    NotFoundError: 404,
    StaleEditError: 409,
    ImageLimitError: 413,
    UnreadableImageError: 415,
    EditRefusedError: 422,
}


def problem_of(error: WardrobeError) -> dict[str, str | int]:
    """Problem details of an error that has a message for the user."""
    status = next((_STATUS[c] for c in type(error).__mro__ if c in _STATUS), 422)
    return {"type": "about:blank", "title": error.title, "status": status,
            "detail": error.message}


def problem(status: int, title: str, detail: str) -> JSONResponse:
    """A problem response."""
    return JSONResponse({"type": "about:blank", "title": title, "status": status,
                         "detail": detail}, status, media_type="application/problem+json")


def install(app: FastAPI) -> None:
    """Turn every error into problem details."""

    @app.exception_handler(WardrobeError)
    async def known(request: Request, error: WardrobeError) -> JSONResponse:
        body = problem_of(error)
        return JSONResponse(body, int(body["status"]), media_type="application/problem+json")

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        where = " → ".join(str(p) for p in first["loc"] if p not in ("body", "query", "path"))
        message = str(first["msg"]).removeprefix("Value error, ")
        return problem(422, "The request does not fit", f"{where}: {message}" if where else message)

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, "The request could not be answered", str(error.detail))

    @app.exception_handler(Exception)
    async def unexpected(request: Request, error: Exception) -> JSONResponse:
        log.error("unexpected error", path=request.url.path, exc_info=error)
        return problem(500, "Something went wrong in the server",
                       "The piece is as it was before. Try again; if it happens again, restart "
                       "the server.")
