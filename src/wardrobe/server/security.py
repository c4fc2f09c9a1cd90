"""What keeps other sites out: security headers, and no requests from another origin."""

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wardrobe.server.problems import problem

_SAFE = {"GET", "HEAD", "OPTIONS"}
_HEADERS = {
    "content-security-policy":
        "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; "
        "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cross-origin-resource-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}


class SecurityMiddleware:
    """Adds the headers, and refuses changes asked for by pages of another origin."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

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
        if scope["method"] not in _SAFE and foreign:
            refusal = problem(403, "Refused", "This request came from another site.")
            await refusal(scope, receive, send_with_headers)
            return
        await self._app(scope, receive, send_with_headers)
