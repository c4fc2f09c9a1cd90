"""The outermost layer: what keeps other sites out, bodies that are too large, headers of every
answer, and what becomes of errors that nobody foresaw."""

import asyncio
from urllib.parse import urlsplit

from fastapi.responses import Response
from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wardrobe.server.problems import answer_of, problem, problem_of

_SAFE = {"GET", "HEAD", "OPTIONS"}
_OWN_PAGE = {"same-origin", "none"}  # Fetch Metadata: what a browser says of its own page and bar
_HOSTS = {"127.0.0.1", "localhost", "::1"}
# The component library inserts its rules into empty style elements: the hash of nothing.
_EMPTY_STYLE = "'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='"
_HEADERS = {
    "content-security-policy":
        f"default-src 'self'; img-src 'self' blob: data:; style-src 'self' {_EMPTY_STYLE}; "
        "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cross-origin-resource-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}


class SecurityMiddleware:
    """Adds the headers; refuses changes asked for by pages of another origin, and large bodies;
    answers HEAD as GET without the body.

    Parameters
    ----------
    app : ASGIApp
    most_bytes : int
        Largest upload that is read.
    most_json_bytes : int
        Largest body of any other kind, which is held in memory and taken apart.
    """

    def __init__(self, app: ASGIApp, most_bytes: int, most_json_bytes: int) -> None:
        self._app = app
        self._most_bytes, self._most_json_bytes = most_bytes, most_json_bytes

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        bare = scope["method"] == "HEAD"
        started = False

        async def send_on(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers.setdefault(name, value)
            elif bare and message["type"] == "http.response.body":
                message = {**message, "body": b""}
            await send(message)

        refusal = self._refusal(scope["method"], Headers(scope=scope))
        if refusal:
            await refusal(scope, receive, send_on)
            return
        if bare:
            scope = {**scope, "method": "GET"}
        try:
            await self._app(scope, receive, send_on)
        except ClientDisconnect:
            return
        except Exception as error:
            # Off the loop: others are answered while this is put into words.
            details = await asyncio.to_thread(problem_of, error)
            if not started:
                await answer_of(details)(scope, receive, send_on)

    def _refusal(self, method: str, headers: Headers) -> Response | None:
        """Why a request is not let in."""
        host = headers.get("host", "")
        if _name_of(host) not in _HOSTS:
            return problem(400, "Refused", "Wardrobe answers to the address of this machine only.")
        origin, site = headers.get("origin"), headers.get("sec-fetch-site")
        foreign = origin.partition("://")[2] != host if origin is not None \
            else site is not None and site not in _OWN_PAGE
        if method not in _SAFE and foreign:
            return problem(403, "Refused", "This request came from another site.")
        if "transfer-encoding" in headers:
            return problem(411, "Refused", "The request must say how long it is.")
        length = headers.get("content-length", "0")
        if not (length.isascii() and length.isdigit()):
            return problem(400, "Refused", "The request does not say in numbers how long it is.")
        upload = headers.get("content-type", "").lower().startswith("multipart/form-data")
        most = self._most_bytes if upload else self._most_json_bytes
        if len(length) > 18 or int(length) > most:
            return problem(413, "This is too large", f"The limit is {most / 2**20:.0f} MB.")
        return None


def _name_of(host: str) -> str | None:
    """The name in a Host header; None if it is none."""
    try:
        return urlsplit(f"//{host}").hostname
    except ValueError:
        return None
