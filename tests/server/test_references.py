"""Pictures beside a piece: pinned, noted, shared, taken away; in archives, and nowhere else."""

from typing import Any

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.drawings import png
from tests.server.steps import edit, finished, new_piece, said
from wardrobe.core.formats.images import decode_image
from wardrobe.server.studio import Studio

NOISE = np.random.default_rng(5).integers(0, 256, (300, 500, 3)).astype(np.uint8)


def pinned(client: TestClient, piece: dict[str, Any], **more: Any) -> list[dict[str, Any]]:
    picture = client.post("/api/pieces/pictures", files={"file": ("a.png", png(NOISE))}).json()
    answer = note(client, piece, kind="reference", picture=picture, name="a.png", **more)
    assert answer.status_code == 201, answer.text
    return kept(client, piece)


def note(client: TestClient, piece: dict[str, Any], **event: Any) -> Any:
    return client.post(f"/api/pieces/{piece['id']}/events", json=event)


def kept(client: TestClient, piece: dict[str, Any]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"/api/pieces/{piece['id']}/references").json()
    return found


def picture(client: TestClient, piece: dict[str, Any], number: int, **query: Any) -> np.ndarray:
    answer = client.get(f"/api/pieces/{piece['id']}/references/{number}/picture", params=query)
    assert answer.status_code == 200, answer.text
    return decode_image(answer.content)[..., :3]


def test_a_reference_is_kept_as_it_came_and_touches_nothing_of_the_piece(
        client: TestClient) -> None:
    piece = new_piece(client)
    view = f"/api/pieces/{piece['id']}/picture?width=99&height=99"
    before = client.get(view).headers["etag"]
    (reference,) = pinned(client, piece, note="the light")
    assert (reference["width"], reference["height"], reference["note"]) == (500, 300, "the light")
    assert np.array_equal(picture(client, piece, reference["number"]), NOISE)
    small = picture(client, piece, reference["number"], edge=100)
    assert small.shape == (60, 100, 3)
    assert abs(float(small.mean()) - float(NOISE.mean())) < 1
    assert client.get(view).headers["etag"] == before
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


def test_notes_change_and_what_is_taken_away_stays_on_record(client: TestClient) -> None:
    piece = new_piece(client)
    pinned(client, piece)
    number = kept(client, piece)[0]["number"]
    note(client, piece, kind="reference_note", reference=number, note="hands", shared=True)
    assert kept(client, piece)[0]["note"] == "hands" and kept(client, piece)[0]["shared"]
    note(client, piece, kind="reference_gone", reference=number)
    assert kept(client, piece) == []
    assert np.array_equal(picture(client, piece, number), NOISE)  # an archive may still show it
    for event in ({"kind": "reference_gone"}, {"kind": "reference_note", "note": "x"}):
        assert "not there" in said(note(client, piece, reference=number, **event))


def test_what_is_shared_lies_beside_the_other_pieces_of_the_character(client: TestClient) -> None:
    one, other, third = new_piece(client), new_piece(client), new_piece(client)
    who = client.post("/api/characters", json={"name": "Nim", "card": []}).json()
    for piece in (one, other):
        client.put(f"/api/pieces/{piece['id']}/character", json={"character": who["id"]})
    pinned(client, one, note="only here")
    pinned(client, one, note="everywhere", shared=True)
    assert [r["note"] for r in kept(client, one)] == ["only here", "everywhere"]
    (there,) = kept(client, other)
    assert (there["note"], there["piece"]) == ("everywhere", one["id"])
    assert kept(client, third) == []


def test_references_go_along_in_the_archive_and_not_into_any_other_file(
        client: TestClient) -> None:
    piece = edit(client, new_piece(client), kind="set_background", colour="#203040")
    pinned(client, piece, note="palette")

    def file(form: str) -> bytes:
        job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                           json={"format": form}).json())
        return client.get(f"/api/jobs/{job['id']}/file").content

    plain = new_piece(client)
    assert len(file("ora")) > 0 and b"palette" not in file("ora")
    archive = file("archive")
    client.delete(f"/api/pieces/{piece['id']}")
    job = finished(client, client.post("/api/pieces/restore", files={
        "file": ("piece.zip", archive)}).json())
    assert job["state"] == "done", job
    restored = {"id": job["piece"]}
    (reference,) = kept(client, restored)
    assert reference["note"] == "palette"
    assert np.array_equal(picture(client, restored, reference["number"]), NOISE)
    assert kept(client, plain) == []


@pytest.mark.parametrize(("event", "told"), [
    ({"picture": {"asset": "0" * 64, "width": 5, "height": 5}}, "choose it again"),
    ({"picture": {"asset": "../x", "width": 5, "height": 5}}, "asset"),
    ({"picture": None}, "picture")])
def test_a_picture_that_is_not_there_cannot_be_pinned(client: TestClient, event: dict[str, Any],
                                                      told: str) -> None:
    piece = new_piece(client)
    assert told in said(note(client, piece, kind="reference", **event))
    assert kept(client, piece) == []
    assert client.get(f"/api/pieces/{piece['id']}/references/1/picture").status_code == 404
    answer = note(client, piece, kind="answer", look="piece", date="2026-03-04")
    assert answer.status_code == 201  # an event, but no reference
    assert client.get(f"/api/pieces/{piece['id']}/references/1/picture").status_code == 404


def test_pictures_of_references_are_not_swept(client: TestClient) -> None:
    piece = new_piece(client)
    pinned(client, piece)
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    asset = studio.reference(piece["id"], kept(client, piece)[0]["number"]).picture.asset
    assert asset in studio.pieces.assets_in_use()


def test_a_reference_stands_against_the_piece_as_large_as_it_fits(client: TestClient) -> None:
    """480 x 480 px: 300 x 500 px lie in it at .96, grey above and below."""
    piece = new_piece(client)
    pinned(client, piece)
    at, query = f"/api/pieces/{piece['id']}", {"width": 480, "height": 480}
    answer = client.get(f"{at}/picture", params=query | {"side": "reference 1"})
    assert answer.status_code == 200, answer.text
    seen = decode_image(answer.content)[..., :3]
    assert (seen[:95] == 127).all() and (seen[-95:] == 127).all()
    inside = cv2.resize(NOISE, (480, 288), interpolation=cv2.INTER_AREA).astype(int)
    assert np.corrcoef(seen[96:384].ravel(), inside.ravel())[0, 1] > 0.95
    told = client.get(f"{at}/difference", params={"side": "reference 1", "against": "now"}).json()
    assert told["mean"] > 5
    said(client.get(f"{at}/difference", params={"side": "reference 7", "against": "now"}), 404)
