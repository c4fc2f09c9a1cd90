"""Start the server."""

import os
import socket
import tempfile
import threading
from types import FrameType

import uvicorn

from wardrobe.core.errors import WardrobeError
from wardrobe.server.app import create_app
from wardrobe.server.logs import configure_logs
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

_CLOSING_SECONDS = 12.0


class PortTakenError(WardrobeError):
    """Another program listens on the port."""

    title = "The port is taken"


def check_port(host: str, port: int) -> None:
    """Raise PortTakenError if the address cannot be bound."""
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise PortTakenError(f"Port {port} on {host} is in use by another program. Choose "
                                 f"another one, for example PORT={port + 1}.") from error


def serve(settings: Settings) -> None:
    """Serve until Ctrl+C.

    Raises
    ------
    PortTakenError, DataFolderError
        If it cannot start.
    """
    check_port(settings.host, settings.port)
    configure_logs()
    studio = Studio(settings)
    tempfile.tempdir = str(studio.scratch.folder)  # uploads are spooled there, too
    if not studio.alone:
        print("\n  Another Wardrobe works with this data folder. Both may be used; this one leaves "
              "tidying up to the other.")
    print(f"\n  Wardrobe is at http://{settings.host}:{settings.port}/   (Ctrl+C stops it)\n",
          flush=True)
    _Server(uvicorn.Config(create_app(settings, studio), host=settings.host, port=settings.port,
                           log_level="warning", access_log=False,
                           timeout_graceful_shutdown=3)).run()


class _Server(uvicorn.Server):
    """Ends in a bounded time: work in threads cannot be interrupted, and leaves nothing half
    written."""

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """Stop on a signal."""
        end = threading.Timer(_CLOSING_SECONDS, os._exit, (0,))
        end.daemon = True
        end.start()
        super().handle_exit(sig, frame)
