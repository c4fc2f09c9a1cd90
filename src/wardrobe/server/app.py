"""The application."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles

from wardrobe import __version__
from wardrobe.server import problems
from wardrobe.server.kept import NotModifiedError, not_modified
from wardrobe.server.logs import configure_logs
from wardrobe.server.openapi import describe
from wardrobe.server.routes import (
    characters,
    checks,
    delivery,
    layered,
    learn,
    looks,
    meta,
    pictures,
    pieces,
    series,
    shelf,
    time,
)
from wardrobe.server.security import SecurityMiddleware
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

WEB = Path(__file__).parent / "web"
_BESIDE = ("icon.svg", "first.js")  # files of the one page that are not built
_FORM_BYTES = 2**20  # what a form may have besides a file


def create_app(settings: Settings | None = None, studio: Studio | None = None) -> FastAPI:
    """Make the application.

    Parameters
    ----------
    settings : Settings, optional
        From the environment if not given.
    studio : Studio, optional
        Opened already; made and closed with the application if it is not given.
    """
    settings = settings or Settings()
    configure_logs()

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.studio = studio or Studio(settings)
        app.state.studio.warm_up()
        yield
        app.state.studio.close()

    app = FastAPI(title="Wardrobe", version=__version__, lifespan=lifespan, docs_url=None,
                  redoc_url=None, openapi_url="/api/openapi.json")
    problems.install(app)
    app.add_exception_handler(NotModifiedError, not_modified)
    describe(app)
    for router in (pieces.router, pictures.router, delivery.router, layered.router,
                   looks.router, checks.router, characters.router, shelf.router, series.router,
                   time.router, learn.router, learn.own, meta.router):
        app.include_router(router)

    if WEB.is_dir():
        _serve_web(app)
    most = max(settings.most_file_bytes, settings.most_stack_bytes)
    app.add_middleware(SecurityMiddleware, most_bytes=most + _FORM_BYTES,
                       most_json_bytes=settings.most_json_bytes)
    return app


def _serve_web(app: FastAPI) -> None:
    app.mount("/assets", StaticFiles(directory=WEB / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> FileResponse:
        """Every other address is a screen of the one page."""
        if path.startswith("api/"):
            raise problems.NotFoundError("There is no such address.")
        return FileResponse(WEB / (path if path in _BESIDE else "index.html"),
                            headers={"cache-control": "no-cache"})
