"""Answers that the browser keeps and asks about (RFC 9110 sections 8.8.3 and 13.1.2)."""

from fastapi import Request, Response


class NotModifiedError(Exception):
    """The browser has the answer."""

    def __init__(self, etag: str) -> None:
        self.etag = etag


def kept(etag: str) -> dict[str, str]:
    """Headers of an answer that the browser keeps, and asks about each time."""
    return {"cache-control": "no-cache", "etag": f'"{etag}"'}


async def not_modified(_: Request, error: Exception) -> Response:
    """The answer without its body (RFC 9110 section 15.4.5)."""
    assert isinstance(error, NotModifiedError)
    return Response(status_code=304, headers=kept(error.etag))
