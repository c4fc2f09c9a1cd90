"""Start the server."""

import logging
import socket

import structlog
import uvicorn

from wardrobe.core.errors import WardrobeError
from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings


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
    """Serve until Ctrl+C."""
    check_port(settings.host, settings.port)
    structlog.configure(wrapper_class=structlog.make_filtering_bound_logger(logging.INFO))
    app = create_app(settings)
    print(f"\n  Wardrobe is at http://{settings.host}:{settings.port}/   (Ctrl+C stops it)\n",
          flush=True)
    uvicorn.run(app, host=settings.host, port=settings.port, log_level="warning",
                access_log=False, timeout_graceful_shutdown=3)
