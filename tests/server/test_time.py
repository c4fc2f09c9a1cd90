"""Plans, the clock, rounds, the log and what leaves of it, over the API."""

import csv
import hashlib
import io
import json
import sqlite3
from contextlib import closing
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
import vobject
from fastapi.testclient import TestClient
from pypdf import PdfReader

from tests.drawings import figure_ink, png, transparent
from tests.server.steps import edit, finished, new_piece, said
from wardrobe.core.timing.plan import STEPS, plan_steps
from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings
from wardrobe.server.timekeeping import Timekeeper

PLAN = {"kind": "plan", "minutes": {"lines": 1, "parts": 6, "colour": 3}, "due": "2027-03-01",
        "occasion": "Harbour fair", "rounds": 2}


def note(client: TestClient, piece: dict[str, Any], **event: Any) -> Any:
    return client.post(f"/api/pieces/{piece['id']}/events", json=event)


def beat(client: TestClient, piece: int, since: float, **more: Any) -> dict[str, Any]:
    told = {"window": "window-one", "piece": piece, "step": "parts", "doing": "work",
            "since": since} | more
    answer = client.post("/api/beats", json=told)
    assert answer.status_code == 200, answer.text
    return answer.json()


def card(client: TestClient, piece: dict[str, Any]) -> dict[str, Any]:
    return next(c for c in client.get("/api/pieces").json() if c["id"] == piece["id"])


def test_a_plan_is_kept_told_on_home_and_costs_no_picture(client: TestClient) -> None:
    piece = new_piece(client)
    url, view = f"/api/pieces/{piece['id']}", "width=99&height=99"
    tags = [client.get(f"{url}/picture?{view}").headers["etag"],
            client.get(f"{url}/sheet").headers["etag"]]
    assert client.get(f"{url}/clock").json()["plan"]["minutes"] == plan_steps(40)
    assert note(client, piece, **PLAN).status_code == 201
    clock = client.get(f"{url}/clock").json()
    assert clock["plan"]["minutes"] == PLAN["minutes"] and clock["pace"]["left"] == 10
    home = card(client, piece)
    assert (home["planned_minutes"], home["due"], home["occasion"]) == (
        10, "2027-03-01", "Harbour fair")
    for event in ({"kind": "verdict", "verdict": "approved", "about": "colours"},
                  {"kind": "filing", "tags": ["fair"], "away": False}, {"kind": "completion"}):
        assert note(client, piece, **event).status_code == 201
    assert [client.get(f"{url}/picture?{view}").headers["etag"],
            client.get(f"{url}/sheet").headers["etag"]] == tags
    after = client.get(url).json()
    assert {**after, "planned_minutes": 40.0} == piece
    assert client.post(f"{url}/undo", json={"seen": piece["revision"]}).status_code == 200
    assert card(client, piece)["state"] == "done"  # what was said is not undone


@pytest.mark.parametrize(("event", "says"), [
    (PLAN | {"minutes": {}}, "more than no minutes"),
    (PLAN | {"minutes": {"parts": 5000, "light": 2000}}, "at most 6000"),
    (PLAN | {"minutes": {"dreaming": 5}}, "unknown step"), (PLAN | {"due": "2027-02-30"}, "due"),
    (PLAN | {"leave_out": ["lines"]}, "omission"),
    ({"kind": "sent", "to": "Ada", "files": [3]}, "File 3"),
    ({"kind": "delivered", "format": "png", "name": "a.png", "size": 1, "digest": "0" * 64},
     "when its file is written"),
    ({"kind": "verdict", "verdict": "approved", "drawing": 7}, "drawing"),
    ({"kind": "verdict", "verdict": "approved", "remark": 7}, "remark"),
    ({"kind": "filing", "tags": [" "]}, "tags")])
def test_what_makes_no_sense_is_refused_in_words(client: TestClient, event: dict[str, Any],
                                                 says: str) -> None:
    piece = new_piece(client)
    assert says in said(note(client, piece, **event))
    assert client.get(f"/api/pieces/{piece['id']}/events").json() == []


def test_beats_become_sittings_and_are_corrected_by_hand(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    first = beat(client, piece["id"], 30)
    assert first["spent"] == {"parts": pytest.approx(0.5)}
    # What this window and another say of the same seconds counts once.
    again = beat(client, piece["id"], 30)
    other = beat(client, piece["id"], 30, window="window-two", step="light")
    assert sum(again["spent"].values()) == pytest.approx(0.5, abs=0.01)
    assert sum(other["spent"].values()) == pytest.approx(0.5, abs=0.02)
    assert beat(client, piece["id"], 0, doing="away")["since_break"]["hands"] > 0.4
    line = client.get(f"{url}/sittings").json()[-1]
    assert line["kind"] == "work" and line["step"] == "parts"
    for minutes in (12.0, 7.5):  # said twice: the last counts, what was counted stays on record
        lines = client.post(f"/api/sittings/{line['id']}/corrections",
                            json={"minutes": minutes, "note": "forgot the pen"}).json()
        assert lines[-1]["minutes"] == pytest.approx(minutes)
        assert lines[-1]["counted"] == pytest.approx(line["counted"])
    hand = client.post(f"{url}/sittings", json={"step": "lines", "minutes": 20,
                                                "note": "inked on paper"}).json()
    assert sum(s["minutes"] for s in hand) == pytest.approx(27.5, abs=0.05)
    assert card(client, piece)["spent_minutes"] == pytest.approx(27.5, abs=0.05)
    ahead = (datetime.now(UTC) + timedelta(days=3)).isoformat()
    assert "yet to come" in said(client.post(f"{url}/sittings", json={
        "step": "lines", "minutes": 20, "began": ahead}))
    assert client.post("/api/sittings/999/corrections", json={"minutes": 1}).status_code == 404
    assert client.post("/api/beats", json={"window": "window-one", "piece": 99, "step": "parts",
                                           "doing": "work", "since": 1}).status_code == 404


def test_a_sitting_goes_on_while_beats_come_and_a_killed_server_keeps_it(
        client: TestClient, settings: Settings) -> None:
    piece = new_piece(client)["id"]
    studio = client.app.state.studio  # type: ignore[attr-defined]
    now = 1000.0
    keeper = Timekeeper(studio.sittings, lambda: now)

    def run(seconds: int, doing: str = "work", step: str = "light") -> None:
        nonlocal now
        from wardrobe.core.timing.clock import Beat

        for _ in range(0, seconds, 10):
            now += 10
            keeper.hear(Beat("window-one", piece, step, doing, 10))  # type: ignore[arg-type]

    run(100)
    run(50, "look")
    now += 3600  # asleep
    run(60)
    run(40, step="looks")
    keeper = Timekeeper(studio.sittings, lambda: now)  # as after kill -9
    run(30, step="looks")
    with closing(sqlite3.connect(settings.data_dir / "wardrobe.sqlite3")) as database:
        kept = database.execute("SELECT step, kind, seconds FROM sitting ORDER BY id").fetchall()
    assert kept == [("light", "work", 100), ("light", "look", 50), ("light", "work", 60),
                    ("looks", "work", 40), ("looks", "work", 30)]


def test_what_changed_after_an_approval_is_listed_against_it(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    part, other = piece["recipe"]["parts"][:2]
    events = note(client, piece, kind="verdict", verdict="approved", about="colours",
                  by="Ada").json()
    since = f"{url}/events/{events[-1]['number']}/since"
    assert card(client, piece)["state"] == "colours approved"
    assert client.get(since).json() == []
    piece = edit(client, piece, kind="change_part", part=part["id"], base="#123456")
    piece = edit(client, piece, kind="change_part", part=other["id"], name="other name")
    light = piece["recipe"]["light"]
    piece = edit(client, piece, kind="move_light", light=light | {
        "azimuth": (light["azimuth"] + 30) % 360})
    told = client.get(since).json()
    assert told[0]["part"] == part["id"] and told[0]["step"] > 5
    # The largest change of a part in any pass, CIEDE2000, as its colours differ.
    assert told[0]["before"] != told[0]["after"]
    words = {t["what"]: t["words"] for t in told}
    assert words["other name"] == f"was called {other['name']}"
    assert words["the light"].startswith("moved by 2")
    assert all(t["step"] <= told[0]["step"] for t in told)
    for _ in range(3):
        piece = client.post(f"{url}/undo", json={"seen": piece["revision"]}).json()
    assert client.get(since).json() == []
    assert client.get(f"{url}/events/99/since").status_code == 404


def test_deliveries_are_noted_and_what_was_sent_names_them(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    job = finished(client, client.post(f"{url}/deliveries", json={"format": "png"}).json())
    data = client.get(f"/api/jobs/{job['id']}/file").content
    (made,) = client.get(f"{url}/events").json()

    assert made["event"]["digest"] == hashlib.sha256(data).hexdigest()
    assert made["event"]["size"] == len(data) and made["event"]["name"] == "figure.png"
    sent = note(client, piece, kind="sent", to="Ada", files=[made["number"]], text="round 1")
    assert sent.status_code == 201 and card(client, piece)["state"] == "sent"
    assert client.get("/api/today?minutes=600").json()["order"] == []  # it is not one's turn
    note(client, piece, kind="verdict", verdict="changes wanted", text="warmer")
    assert card(client, piece)["state"] == "changes asked"
    assert client.get("/api/today?minutes=600").json()["fits"] == [piece["id"]]
    note(client, piece, kind="completion")
    note(client, piece, kind="completion", done=False)
    assert card(client, piece)["state"] == "changes asked"


def test_the_log_is_searched_filtered_and_paged(client: TestClient) -> None:
    one, two = new_piece(client), new_piece(client)
    client.patch(f"/api/pieces/{two['id']}", json={"title": "Lantern"})
    for colour in ("#111111", "#222222", "#333333"):
        one = edit(client, one, kind="set_background", colour=colour)
    note(client, two, **PLAN)
    client.post(f"/api/pieces/{two['id']}/sittings", json={"step": "parts", "minutes": 5})
    whole = client.get("/api/log?most=1000").json()["lines"]
    assert [line["at"] for line in whole] == sorted((line["at"] for line in whole), reverse=True)
    assert "Set background, 3 times" in [line["words"] for line in whole]
    pages, before = [], None
    while True:
        page = client.get("/api/log", params={"most": 2, **({"before": before} if before else {})})
        pages += page.json()["lines"]
        before = page.json()["more"]
        if before is None:
            break
    # A gesture may be cut where a page ends; nothing else is lost or told twice.
    rest = [p for p in pages if p["kind"] != "edit"]
    assert rest == [line for line in whole if line["kind"] != "edit"] and len(rest) == 4
    edits = [p["words"] for p in pages if p["kind"] == "edit"]
    assert {w.split(",")[0] for w in edits} == {
        line["words"].split(",")[0] for line in whole if line["kind"] == "edit"}
    lantern = client.get("/api/log", params={"text": "lantern planned"}).json()["lines"]
    assert [line["words"] for line in lantern] == [
        "Planned: 10 minutes, due 2027-03-01, for Harbour fair"]
    of_two = client.get("/api/log", params={"piece": two["id"]}).json()["lines"]
    assert {line["piece"] for line in of_two} == {two["id"]}
    month = datetime.now().astimezone().strftime("%Y-%m")
    assert client.get("/api/log", params={"month": month, "most": 1000}).json()["lines"] == whole
    for odd in ("0000-01", "9999-12", "2026-13", "2026-1"):
        assert client.get(f"/api/log?month={odd}").status_code == 422
    for edge in ("0001-01-01T00:00:00%2B14:00", "9999-12-31T23:59:00-14:00"):
        assert client.get(f"/api/log?before={edge}").status_code == 200
    assert client.get("/api/log?month=2001-01").json() == {"lines": [], "more": None}
    assert client.get("/api/log?kind=sitting").json()["lines"][0]["minutes"] == 5
    saved = json.loads(client.get("/api/log/file?form=json").content)
    assert saved == whole
    rows = list(csv.DictReader(io.StringIO(client.get("/api/log/file?form=csv").text)))
    assert [r["words"] for r in rows] == [line["words"] for line in whole]


def test_what_leaves_is_read_by_others(client: TestClient) -> None:
    """The calendar by vobject, the time sheet by csv and pypdf."""
    piece = new_piece(client)
    client.patch(f"/api/pieces/{piece['id']}", json={"title": "=Zoë, “Kite”; harbour"})
    note(client, piece, **PLAN)
    client.post(f"/api/pieces/{piece['id']}/sittings", json={
        "step": "light", "minutes": 90, "began": "2026-03-02T12:00:00Z"})
    answer = client.get("/api/calendar.ics")
    assert answer.headers["content-type"].startswith("text/calendar")
    (event,) = vobject.readOne(answer.text).vevent_list
    assert event.summary.value == "=Zoë, “Kite”; harbour"
    assert event.dtstart.value == date(2027, 3, 1) and event.dtend.value == date(2027, 3, 2)
    assert event.uid.value == f"piece-{piece['id']}@wardrobe"
    sheet = client.get("/api/timesheet?form=csv&month=2026-03").text
    (row,) = csv.DictReader(io.StringIO(sheet))
    assert row["day"] == "2026-03-02" and row["light"] == row["minutes"] == "90.0"
    assert row["title"] == "'=Zoë, “Kite”; harbour"  # a spreadsheet takes it for text
    text = PdfReader(io.BytesIO(client.get("/api/timesheet?month=2026-03").content)
                     ).pages[0].extract_text()
    assert "1 h 30 min in all" in text and "2026-03-02" in text
    empty = client.get("/api/timesheet?month=2020-01")
    assert "No time was noted" in PdfReader(io.BytesIO(empty.content)).pages[0].extract_text()
    note(client, piece, kind="completion")
    assert "VEVENT" not in client.get("/api/calendar.ics").text


def test_time_follows_the_archive(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    note(client, piece, **PLAN)
    (line,) = client.post(f"{url}/sittings", json={
        "step": "light", "minutes": 9, "note": "by lamp",
        "began": "2026-03-02T01:30:00+05:00"}).json()
    assert datetime.fromisoformat(line["began"]) == datetime(2026, 3, 1, 20, 30, tzinfo=UTC)
    client.post(f"/api/sittings/{line['id']}/corrections", json={"minutes": 4})
    job = finished(client, client.post(f"{url}/deliveries", json={"format": "archive"}).json())
    archive = client.get(f"/api/jobs/{job['id']}/file").content
    job = finished(client, client.post("/api/pieces/restore",
                                       files={"file": ("a.zip", archive)}).json())
    again = client.get(f"/api/pieces/{job['piece']}/sittings").json()
    assert [(s["step"], s["minutes"], s["counted"], s["began"]) for s in again] == [
        ("light", pytest.approx(4), pytest.approx(9), line["began"])]
    home = card(client, {"id": job["piece"]})
    assert (home["planned_minutes"], home["due"], home["step"]) == (10, "2027-03-01", "light")


def test_estimates_rest_on_what_is_done(client: TestClient) -> None:
    pieces = [new_piece(client) for _ in range(6)]
    url = f"/api/pieces/{pieces[0]['id']}/estimate"
    assert client.get(url).json()["rests_on"] == "plan"
    for piece, minutes in zip(pieces[1:], (20, 22, 25, 21, 24), strict=True):
        client.post(f"/api/pieces/{piece['id']}/sittings",
                    json={"step": "parts", "minutes": minutes})
        note(client, piece, kind="completion")
    found = client.get(url).json()
    assert found["rests_on"] == "pieces" and found["count"] == 5
    assert 18 < found["total"]["low"] < found["total"]["likely"] < found["total"]["high"] < 28
    figures = client.get("/api/figures").json()
    assert len(figures["done"]) == 5 and figures["minutes"] == pytest.approx(112)
    assert figures["a_piece"]["parts"] == pytest.approx(22.4)
    assert client.get(f"/api/figures?piece={pieces[1]['id']}").json()["minutes"] == 20
    month = datetime.now().astimezone().strftime("%Y-%m")
    assert len(client.get(f"/api/figures?month={month}").json()["done"]) == 5
    assert client.get("/api/figures?month=2001-01").json()["done"] == []


def test_many_are_filed_at_once_and_plans_are_kept(client: TestClient) -> None:
    pieces = [new_piece(client) for _ in range(3)]
    ids = [p["id"] for p in pieces]
    for filing in ({"pieces": [*ids[:2], 999], "add": ["fair", "blue"], "done": True},
                   {"pieces": ids, "add": ["new"], "remove": ["blue"], "away": True,
                    "done": False}):
        job = finished(client, client.post("/api/filings", json=filing).json())
        assert job["state"] == "done", job
    cards = {c["id"]: c for c in client.get("/api/pieces").json()}
    assert [cards[i]["tags"] for i in ids] == [["fair", "new"], ["fair", "new"], ["new"]]
    assert all(cards[i]["away"] and cards[i]["state"] == "in work" for i in ids)
    assert client.get("/api/today").json()["order"] == []
    ready = client.get("/api/plans").json()
    assert {p["key"] for p in ready} >= {"sitter", "cel", "full", "commission"}
    kept = client.post("/api/plans", json={"name": "Fair day", "minutes": {"parts": 4}}).json()
    again = client.post("/api/plans", json={"name": "Fair day", "minutes": {"parts": 5}}).json()
    assert kept["id"] == again["id"] and client.get("/api/plans").json()[-1]["minutes"] == {
        "parts": 5}
    assert client.delete(f"/api/plans/{kept['id']}").status_code == 204
    assert client.get("/api/plans").json() == ready
    assert set(ready[0]["minutes"]) == set(STEPS)


def test_a_piece_begins_with_a_plan_or_with_that_of_another(client: TestClient) -> None:
    import_ = {"file": ("a.png", png(transparent(figure_ink())))}

    def planned(**form: Any) -> dict[str, Any]:
        job = finished(client, client.post("/api/pieces", files=import_,
                                           data={"title": "Kite"} | form).json())
        return client.get(f"/api/pieces/{job['piece']}/clock").json()["plan"] | {
            "piece": job["piece"]}

    sitter = planned(plan="sitter", planned_minutes=14)
    assert sitter["minutes"]["parts"] == 4 and sitter["minutes"]["looks"] == 0  # twice as long
    note(client, {"id": sitter["piece"]}, **{**PLAN, "leave_out": ["finish"]})
    like = planned(like=sitter["piece"], planned_minutes=20)
    assert like["minutes"]["parts"] == 12 and like["leave_out"] == ["finish"]
    assert like["rounds"] == 2 and like["due"] is None and like["occasion"] == ""
    assert client.post("/api/pieces", files=import_,
                       data={"title": "Kite", "plan": "none"}).status_code == 404


def test_time_survives_another_start(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        piece = new_piece(client)
        beat(client, piece["id"], 20)
        note(client, piece, **PLAN)
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        clock = client.get(f"/api/pieces/{piece['id']}/clock").json()
        assert clock["spent"] == {"parts": pytest.approx(1 / 3)}
        assert clock["plan"]["occasion"] == "Harbour fair"
