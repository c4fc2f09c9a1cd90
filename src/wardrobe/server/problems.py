"""Errors as RFC 9457 problem details."""

import errno
import traceback
from typing import Any

import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from sqlalchemy.exc import DBAPIError
from starlette.exceptions import HTTPException

from wardrobe.core.errors import ImageLimitError, UnreadableImageError, WardrobeError
from wardrobe.recipe.edits import EditRefusedError
from wardrobe.server.db.session import DataFolderError, NewerVersionError
from wardrobe.server.memory import BusyError

log = structlog.get_logger()

Problem = dict[str, str | int]

_MEDIA = "application/problem+json"
_MOST_DETAIL = 600  # characters
_MOST_LINES, _LONGEST_LINE = 80, 400
_FULL = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)
_CLOSED = (errno.EROFS, errno.EACCES, errno.EPERM)


class NotFoundError(WardrobeError):
    """There is nothing of that name."""

    title = "Not found"


class MissingAssetError(NotFoundError, FileNotFoundError):
    """A file that a piece or layered file refers to is not in the data folder."""

    title = "A picture is missing"


class StaleEditError(WardrobeError):
    """The request was made for an older revision."""

    title = "The piece has changed meanwhile"


_STATUS: dict[type[WardrobeError], int] = {
    NotFoundError: 404,
    StaleEditError: 409,
    NewerVersionError: 409,
    ImageLimitError: 413,
    UnreadableImageError: 415,
    EditRefusedError: 422,
    BusyError: 503,
    DataFolderError: 507,
}


def problem_of(error: BaseException) -> Problem:
    """Problem details of any error; one that nobody foresaw is logged."""
    if isinstance(error, WardrobeError):
        status = next((_STATUS[c] for c in type(error).__mro__ if c in _STATUS), 422)
        return _details(status, error.title, error.message)
    if isinstance(error, MemoryError):
        return _details(507, "There is not enough memory", "Nothing was changed. Close other "
                        "pieces and programs, or choose a smaller size, and try again.")
    told = _of_the_disk(error)
    if told:
        log.warning("the data folder", error=str(error)[:400])
        return told
    log.error("unexpected error", exception=_trace(error))
    return _details(500, "The server made a mistake",
                    "Nothing was changed. Try again; the server's log says more.")


def _of_the_disk(error: BaseException) -> Problem | None:
    """Details of an error of the data folder; None if it is something else."""
    number = error.errno if isinstance(error, OSError) else None
    said = str(error.orig).lower() if isinstance(error, DBAPIError) else ""
    if number in _FULL or "is full" in said:
        return _details(507, "The disk is full", "This was not saved, and nothing that was saved "
                        "before is lost. Make room on the disk and do it again.")
    if number in _CLOSED or "readonly" in said or "unable to open" in said:
        return _details(507, "The data folder cannot be written", "This was not saved, and "
                        "nothing that was saved before is lost. Allow writing to the data folder "
                        "and do it again.")
    if "malformed" in said or "not a database" in said or "disk i/o" in said:
        return _details(507, "The database cannot be read", "The database in the data folder is "
                        "damaged; the drawings in “assets” are unharmed. Stop Wardrobe, put a copy "
                        "of the database in its place, and start again.")
    if "locked" in said or "busy" in said:
        return _details(503, "The database is busy", "Another program keeps the database to "
                        "itself. Nothing was changed; try again in a moment.")
    if isinstance(error, OSError) and number is not None:
        return _details(507, "A file could not be read or written",
                        f"{error.strerror}. Nothing was changed; try again.")
    return None


def _details(status: int, title: str, detail: str) -> Problem:
    # Half characters, as a request may hold them, cannot be sent.
    plain = detail.encode("utf-8", "replace").decode("utf-8")
    if len(plain) > _MOST_DETAIL:
        plain = plain[:_MOST_DETAIL - 1] + "…"
    return {"type": "about:blank", "title": title, "status": status, "detail": plain}


def _trace(error: BaseException) -> str:
    """Where it happened, without the values of variables, which may be whole pictures."""
    lines = "".join(traceback.format_exception(error, limit=-16)).splitlines()
    return "\n".join(line[:_LONGEST_LINE] for line in lines[-_MOST_LINES:])


def problem(status: int, title: str, detail: str) -> JSONResponse:
    """A problem response."""
    return answer_of(_details(status, title, detail))


def answer_of(details: Problem) -> JSONResponse:
    """Problem details as a response."""
    return JSONResponse(details, int(details["status"]), media_type=_MEDIA)


def install(app: FastAPI) -> None:
    """Turn what the application foresees into problem details; the rest is for the outermost
    middleware."""

    @app.exception_handler(WardrobeError)
    async def known(request: Request, error: WardrobeError) -> JSONResponse:
        return answer_of(problem_of(error))

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        if first["type"] == "json_invalid":
            return problem(422, "The request is not JSON", _broken(error, first))
        where = " → ".join(str(p) for p in first["loc"] if p not in ("body", "query", "path"))
        message = str(first["msg"]).removeprefix("Value error, ")
        return problem(422, "The request does not fit",
                       f"{where[:200]}: {message}" if where else message)

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, "The request could not be answered", str(error.detail))


def _broken(error: RequestValidationError, first: dict[str, Any]) -> str:
    """Where JSON breaks off."""
    text, at = str(error.body), int(first["loc"][-1])
    line, column = text.count("\n", 0, at) + 1, at - text.rfind("\n", 0, at)
    reason = str(first.get("ctx", {}).get("error", "it is not complete"))
    return f"Line {line}, column {column}: {reason[:1].lower()}{reason[1:]}."
