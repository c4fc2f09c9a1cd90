"""What is said of a piece: remarks at places, settled one by one; a verdict; a sheet of it all."""

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.drawings import piece as a_piece
from tests.server.steps import edit, finished, new_piece, said
from wardrobe.core.formats.page import Picture, Text, page_to_pixels
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import SetBackground, apply
from wardrobe.recipe.events import EVENT, Happened, last_verdict, remarks
from wardrobe.recipe.exchange.handout.review_sheet import review_pages

PIN = {"kind": "remark", "points": [[200, 110]], "text": "too dark", "by": "Ina"}


def note(client: TestClient, piece: dict[str, Any], **event: Any) -> Any:
    return client.post(f"/api/pieces/{piece['id']}/events", json=event)


def test_remarks_are_settled_one_by_one_and_stay_on_record(client: TestClient) -> None:
    piece = new_piece(client)
    note(client, piece, **PIN)
    note(client, piece, **PIN | {"points": [[10, 10], [30, 40]], "wish": "shade here"})
    note(client, piece, kind="resolution", remark=1)
    events = note(client, piece, kind="resolution", remark=2).json()
    events = note(client, piece, kind="resolution", remark=2, done=False).json()
    held = [Happened.model_validate(e) for e in events]
    assert [(r.number, r.done, r.remark.wish) for r in remarks(held)] == [
        (1, True, "look here"), (2, False, "shade here")]
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece  # nothing of the piece changes


def test_what_a_drawn_remark_wishes_for_is_a_touch_up(client: TestClient) -> None:
    """What a stroke goes round, or the stroke itself, on the part that it lies on."""
    piece = new_piece(client)
    area = max((a for a in client.get(f"/api/pieces/{piece['id']}/cut").json()["areas"]
                if not a["ground"]), key=lambda a: a["pixels"])
    x, y = area["x"], area["y"]
    turn = np.linspace(0, 2 * np.pi, 12)
    ring = np.column_stack([x + 20 * np.cos(turn), y + 20 * np.sin(turn)]).round(1).tolist()
    line = [[x - 15, y], [x, y + 2], [x + 15, y]]
    for number, (points, wish) in enumerate([(ring, "shade here"), (line, "light here"),
                                             (ring, "another colour"), ([[x, y]], "shade here"),
                                             ([[0, 0], [1, 0]], "shade here")], start=1):
        note(client, piece, kind="remark", points=points, wish=wish)
        answer = client.get(f"/api/pieces/{piece['id']}/remarks/{number}/edit")
        if number > 2:
            said(answer, 422)
            continue
        change = answer.json()
        assert (change["name"], change["act"]) == (wish.split()[0], "put in")
        assert bool(change["widths"]) == (points is line) and change["points"] == points
        piece = edit(client, piece, **change)
        assert piece["recipe"]["touch_ups"][-1]["part"] == change["part"]
    said(client.get(f"/api/pieces/{piece['id']}/remarks/99/edit"), 404)
    said(client.get(f"/api/pieces/{piece['id']}/remarks/0/edit"), 404, 422)


def test_the_last_verdict_of_the_piece_and_of_each_look_counts(client: TestClient) -> None:
    piece = edit(client, new_piece(client), kind="add_look", name="night")
    for verdict, look in (("changes wanted", "piece"), ("approved", "k1"), ("approved", "piece")):
        events = note(client, piece, kind="verdict", verdict=verdict, look=look).json()
    held = [Happened.model_validate(e) for e in events]
    assert [last_verdict(held[:k]) and last_verdict(held[:k]).verdict for k in (0, 1, 3)] == [
        None, "changes wanted", "approved"]
    assert last_verdict(held, "k1").verdict == "approved" and last_verdict(held, "k2") is None


@pytest.mark.parametrize(("event", "told"), [
    (PIN | {"points": []}, "points"), (PIN | {"look": "k9"}, "look"),
    (PIN | {"wish": "magic"}, "wish"), (PIN | {"text": "x" * 2001}, "text"),
    (PIN | {"points": [[float(10**9), 5]]}, "points"),
    ({"kind": "resolution", "remark": 5}, "remark is not there"),
    ({"kind": "verdict", "verdict": "so so"}, "verdict")])
def test_what_is_said_of_nothing_is_refused(client: TestClient, event: dict[str, Any],
                                            told: str) -> None:
    piece = new_piece(client)
    assert told in said(note(client, piece, **event))
    assert client.get(f"/api/pieces/{piece['id']}/events").json() == []


def test_the_sheet_comes_as_pdf_also_without_a_remark(client: TestClient) -> None:
    piece = new_piece(client)
    for events in ([], [PIN, PIN | {"changes": 1}, {"kind": "verdict", "verdict": "approved"}]):
        for event in events:
            assert note(client, piece, **event).status_code == 201
        job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                           json={"format": "review pdf"}).json())
        assert job["state"] == "done" and job["file_name"].endswith("-review.pdf"), job
        assert client.get(f"/api/jobs/{job['id']}/file").content.startswith(b"%PDF")


def test_each_remark_is_shown_then_and_now() -> None:
    """Crops are pixels of the two states, with a ring; the whole picture has a number at each."""
    deriver, before = a_piece()
    now = apply(before, SetBackground(colour="#204060"))
    held = [Happened(number=k, at="2026-03-04T10:00:00Z", event=EVENT.validate_python(e))
            for k, e in enumerate((PIN | {"points": [[20, 20]]},
                                   PIN | {"points": [[300, 300], [360, 420]], "text":
                                          "the sleeve should stand off " * 6},
                                   {"kind": "resolution", "remark": 1}), start=1)]
    asked: list[int] = []

    def then(changes: int) -> Any:
        asked.append(changes)
        return before

    first, rows = review_pages(deriver, now, "Kite", remarks(held), None, then)
    assert asked == [0, 0]
    assert "2 remarks, 1 of them open" in [i.text for i in first.items if isinstance(i, Text)]
    pictures = [i for i in rows.items if isinstance(i, Picture)]
    assert len(pictures) == 4
    for picture, colour in zip(pictures[:2], (before.background, "#204060"), strict=True):
        corner = "#" + "".join(f"{v:02x}" for v in picture.pixels[-1, 0])
        assert corner == colour
    texts = [i.text for i in rows.items if isinstance(i, Text)]
    assert "1  look here, settled" in texts and "2  look here" in texts
    assert " ".join(t for t in texts if "sleeve" in t or "stand" in t).count("sleeve") == 6
    for page in (first, rows):
        assert page_to_pixels(page, 40).std() > 5  # it can be drawn
    (whole,) = (i for i in first.items if isinstance(i, Picture))
    plain = deriver.picture(now, View.whole(*now.size, max(whole.pixels.shape[:2])))
    moved = (whole.pixels != plain).any(axis=2)
    ys, xs = np.nonzero(moved)
    assert moved[20, 20] and moved[300, 300] and xs.max() < 400 and ys.max() < 440
