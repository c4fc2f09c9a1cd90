"""A running server with the built web application."""

import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import expect

from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings

expect.set_options(timeout=30_000)


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    data: Path = tmp_path_factory.mktemp("data")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    config = uvicorn.Config(create_app(Settings(data_dir=data)), port=port, log_level="warning")
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    until = time.monotonic() + 30
    while not server.started and time.monotonic() < until:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(20)
