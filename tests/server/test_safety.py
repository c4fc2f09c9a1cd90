"""What must not get in, and what must not get lost."""

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import httpx
import pytest
from fastapi.testclient import TestClient

from tests.drawings import figure_ink, on_white, png
from tests.server.steps import edit, new_piece
from wardrobe.core.errors import WardrobeError
from wardrobe.server.run import check_port
from wardrobe.server.settings import Settings


def test_foreign_hosts_and_origins_are_refused(client: TestClient) -> None:
    assert client.get("/api/pieces", headers={"host": "evil.example"}).status_code == 400
    foreign = {"origin": "http://evil.example"}
    assert client.post("/api/pieces/1/undo", json={"seen": 1}, headers=foreign).status_code == 403
    same = {"origin": "http://127.0.0.1"}
    assert client.post("/api/pieces/1/undo", json={"seen": 1}, headers=same).status_code == 404


def test_bodies_of_unknown_length_are_refused(client: TestClient) -> None:
    assert client.post("/api/pieces", content=iter([b"x" * 10])).status_code == 411


def test_only_loopback_is_bound() -> None:
    with pytest.raises(ValueError, match="loopback"):
        Settings(host="0.0.0.0")


def test_headers_say_what_a_page_may_do(client: TestClient) -> None:
    headers = client.get("/api/pieces").headers
    assert "default-src 'self'" in headers["content-security-policy"]
    assert headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize("path", ["/assets/../../../settings.py", "/assets/..%2f..%2fapp.py",
                                  "/..%2f..%2f..%2fetc/passwd", "/api/jobs/..%2f..%2fa/file"])
def test_no_path_leaves_the_folders(client: TestClient, path: str) -> None:
    answer = client.get(path)
    assert "import" not in answer.text and "root:" not in answer.text


def test_a_taken_port_is_said_so() -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        with pytest.raises(WardrobeError, match="in use"):
            check_port("127.0.0.1", other.getsockname()[1])


def start(settings: Settings, port: int) -> tuple[subprocess.Popen[bytes], httpx.Client]:
    process = subprocess.Popen(
        [sys.executable, "-m", "wardrobe.cli.main", "serve", "--port", str(port), "--data-dir",
         str(settings.data_dir)], stdout=subprocess.DEVNULL)
    client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60)
    until = time.monotonic() + 120  # a busy machine is no fault
    while True:
        try:
            client.get("/api/meta")
            return process, client
        except httpx.TransportError:
            assert time.monotonic() < until and process.poll() is None
            time.sleep(0.1)


def test_kill_during_import_and_edits_loses_nothing_made_before(settings: Settings) -> None:
    """SIGKILL while an import runs and edits pour in: every revision confirmed is readable."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    process, client = start(settings, port)
    piece = new_piece(client)  # type: ignore[arg-type]
    client.post("/api/pieces", files={"file": ("a.png", png(on_white(figure_ink(2600))))},
                data={"title": "Never finished"})
    for shade in range(0x10, 0x40):
        piece = edit(client, piece, kind="set_background",  # type: ignore[arg-type]
                     colour=f"#{shade:02x}{shade:02x}{shade:02x}")
    os.kill(process.pid, signal.SIGKILL)
    process.wait()
    process, client = start(settings, port)
    try:
        assert [p["title"] for p in client.get("/api/pieces").json()] == ["Figure"]
        assert client.get(f"/api/pieces/{piece['id']}").json() == piece
        for shade in reversed(range(0x10, 0x3F)):
            piece = client.post(f"/api/pieces/{piece['id']}/undo",
                                json={"seen": piece["revision"]}).json()
            assert piece["recipe"]["background"] == f"#{shade:02x}" + f"{shade:02x}" * 2
        left = [p for p in Path(settings.data_dir).rglob("*") if p.name.startswith(".part-")]
        assert not left
    finally:
        process.terminate()
        assert process.wait(20) is not None
