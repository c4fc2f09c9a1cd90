"""Answers are events: kept whatever is undone, never changed, and without effect on any picture."""

import sqlite3
from contextlib import closing
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.server.steps import edit, finished, new_piece, said
from wardrobe.server.settings import Settings

YES = {"kind": "answer", "look": "piece", "remarks": "as it is", "date": "2026-03-04"}


def note(client: TestClient, piece: dict[str, Any], **event: Any) -> Any:
    return client.post(f"/api/pieces/{piece['id']}/events", json=event)


def test_answers_outlive_undo_and_touch_no_picture(client: TestClient) -> None:
    piece = edit(client, new_piece(client), kind="add_look", name="Evening")
    url, view = f"/api/pieces/{piece['id']}", "width=99&height=99"
    before = client.get(f"{url}/picture?{view}").headers["etag"]
    assert note(client, piece, **YES).status_code == 201
    events = note(client, piece, **YES | {"look": "k1", "name": "not this"}).json()
    assert [e["event"]["name"] for e in events] == ["The piece", "Evening"]
    assert client.get(url).json() == piece  # neither revision nor what reports rest on
    assert client.get(f"{url}/picture?{view}").headers["etag"] == before
    undone = client.post(f"{url}/undo", json={"seen": piece["revision"]}).json()
    assert undone["recipe"]["looks"] == []
    assert client.get(f"{url}/events").json() == events
    renamed = note(client, piece, kind="withdrawal", answer=2).json()
    assert renamed[:2] == events and renamed[2]["event"] == {"kind": "withdrawal", "answer": 2}


@pytest.mark.parametrize(("event", "says"), [
    (YES | {"look": "k7"}, "look"), (YES | {"date": "2026-02-31"}, "2026-02-31"),
    ({"kind": "withdrawal", "answer": 2}, "answer"),  # which is a withdrawal itself
    ({"kind": "withdrawal", "answer": 1}, "withdrawn already"),
    ({"kind": "withdrawal", "answer": 9}, "not there"), ({"kind": "rumour"}, "kind"),
    (YES | {"remarks": "x" * 2001}, "2000")])
def test_what_is_about_nothing_is_refused_in_words(client: TestClient, event: dict[str, Any],
                                                   says: str) -> None:
    piece = new_piece(client)
    note(client, piece, **YES)
    events = note(client, piece, kind="withdrawal", answer=1).json()
    assert says in said(note(client, piece, **event))
    assert client.get(f"/api/pieces/{piece['id']}/events").json() == events
    assert note(client, {"id": 99}, **YES).status_code == 404
    assert client.get("/api/pieces/99/events").status_code == 404


def test_events_go_along_in_the_archive_and_end_with_the_piece(client: TestClient) -> None:
    piece = new_piece(client)
    note(client, piece, **YES)
    events = note(client, piece, kind="withdrawal", answer=1).json()
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                       json={"format": "archive"}).json())
    archive = client.get(f"/api/jobs/{job['id']}/file").content
    assert client.delete(f"/api/pieces/{piece['id']}").status_code == 204
    job = finished(client, client.post("/api/pieces/restore",
                                       files={"file": ("a.zip", archive)}).json())
    assert job["state"] == "done", job
    assert client.get(f"/api/pieces/{job['piece']}/events").json() == events


def test_no_event_is_ever_changed(client: TestClient, settings: Settings) -> None:
    """Not even by whoever has the database open."""
    note(client, new_piece(client), **YES)
    with closing(sqlite3.connect(settings.data_dir / "wardrobe.sqlite3")) as database, \
            pytest.raises(sqlite3.IntegrityError, match="stay as they are"):
        database.execute("UPDATE event SET event = '{}'")
