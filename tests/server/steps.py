"""What tests of the server do again and again."""

import time
from typing import Any

from fastapi.testclient import TestClient

from tests.drawings import figure_ink, png, transparent


def finished(client: TestClient, job: dict[str, Any]) -> dict[str, Any]:
    """Wait for a job."""
    until = time.monotonic() + 60
    while job["state"] in ("waiting", "running") and time.monotonic() < until:
        time.sleep(0.05)
        job = client.get(f"/api/jobs/{job['id']}").json()
    return job


def import_file(client: TestClient, data: bytes, title: str = "Figure") -> dict[str, Any]:
    answer = client.post("/api/pieces", files={"file": ("a.png", data)}, data={"title": title})
    assert answer.status_code == 202, answer.text
    return finished(client, answer.json())


def new_piece(client: TestClient) -> dict[str, Any]:
    job = import_file(client, png(transparent(figure_ink())))
    assert job["state"] == "done", job
    return client.get(f"/api/pieces/{job['piece']}").json()


def edit(client: TestClient, piece: dict[str, Any], **change: Any) -> dict[str, Any]:
    answer = client.post(f"/api/pieces/{piece['id']}/edits",
                         json={"seen": piece["revision"], "edit": change})
    assert answer.status_code == 200, answer.text
    return answer.json()


def said(answer: Any, *statuses: int) -> str:
    """The sentence of a refusal."""
    assert answer.status_code in (statuses or (422,)), answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    body = answer.json()
    assert body["status"] == answer.status_code and body["title"]
    assert len(body["detail"]) > 8 and "omething" not in body["detail"]
    return str(body["detail"])
