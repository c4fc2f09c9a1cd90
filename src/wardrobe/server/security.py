"""What keeps other sites out, and bodies that are too large to be taken in."""

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wardrobe.server.problems import problem

_SAFE = {"GET", "HEAD", "OPTIONS"}
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
    """Adds the headers; refuses changes asked for by pages of another origin, and large bodies.

    Parameters
    ----------
    app : ASGIApp
    most_bytes : int
        Largest body that is read.
    """

    def __init__(self, app: ASGIApp, most_bytes: int) -> None:
        self._app = app
        self._most_bytes = most_bytes

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return

        async def send_with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers.setdefault(name, value)
            await send(message)

        headers = Headers(scope=scope)
        origin = headers.get("origin")
        foreign = origin is not None and origin.partition("://")[2] != headers.get("host")
        refusal = None
        if scope["method"] not in _SAFE and foreign:
            refusal = problem(403, "Refused", "This request came from another site.")
        elif "transfer-encoding" in headers:
            refusal = problem(411, "Refused", "The request must say how long it is.")
        elif int(headers.get("content-length", "0")) > self._most_bytes:
            refusal = problem(413, "This file is too large",
                              f"The limit is {self._most_bytes / 2**20:.0f} MB.")
        if refusal:
            await refusal(scope, receive, send_with_headers)
            return
        await self._app(scope, receive, send_with_headers)
