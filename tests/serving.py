"""A running server of its own for a test."""

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn

from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings


@contextmanager
def serving(data: Path) -> Iterator[str]:
    """The address of a server over a data folder."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    config = uvicorn.Config(create_app(Settings(data_dir=data)), port=port, log_level="warning")
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    until = time.monotonic() + 120  # a busy machine is no fault
    while not server.started and time.monotonic() < until:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(20)
