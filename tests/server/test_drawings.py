"""A corrected drawing comes to a piece by an upload, and goes into it by an edit."""

import time
from typing import Any

import cv2
import numpy as np
from fastapi.testclient import TestClient

from tests.core.test_register import drawn_moved, scene, similarity
from tests.drawings import figure_ink, png, transparent
from tests.server.steps import edit, finished, new_piece, said
from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings

INK = figure_ink()
MOVED = drawn_moved(INK, similarity(2, 1.02, (14, -9), (240, 240)))


def bring(client: TestClient, piece: dict[str, Any], data: bytes) -> dict[str, Any]:
    answer = client.post(f"/api/pieces/{piece['id']}/drawings", files={"file": ("b.png", data)})
    assert answer.status_code == 202, answer.text
    return finished(client, answer.json())


def lines(client: TestClient, piece: dict[str, Any]) -> np.ndarray:
    answer = client.get(f"/api/pieces/{piece['id']}/picture", params={
        "kind": "lines", "x": 0, "y": 0, "width": 480, "height": 480, "scale": 1})
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_GRAYSCALE)


def test_it_is_offered_taken_undone_and_gone_back_to(client: TestClient) -> None:
    piece = new_piece(client)
    before = lines(client, piece)
    job = bring(client, piece, png(transparent(MOVED)))
    assert (job["state"], job["kind"], job["piece"]) == ("done", "drawing", piece["id"])
    offer = job["answer"]
    assert offer["kept"] > 0.99 and offer["sure"] and not offer["changed"]
    assert abs(offer["clockwise"] + 2) < 0.2 and abs(offer["scale"] - 1 / 1.02) < 0.004
    assert job["seen"] == 1 and client.get(f"/api/jobs/{job['id']}/seen/1").status_code == 200
    # Nothing is changed by the offer.
    assert client.get(f"/api/pieces/{piece['id']}").json()["revision"] == piece["revision"]

    taken = edit(client, piece, **offer["edit"])
    assert taken["recipe"]["source"]["number"] == 2
    # The same lines at the same place, but for having been drawn twice.
    assert np.abs(lines(client, taken).astype(int) - before).mean() < 3
    remarked = edit(client, taken, kind="remark_drawing", number=2, remark="scanned again")
    back = edit(client, remarked, kind="use_drawing", number=1)
    assert (lines(client, back) == before).all()
    assert [d["remark"] for d in back["recipe"]["other_drawings"]] == ["scanned again"]
    assert "no such version" in said(client.post(f"/api/pieces/{piece['id']}/edits", json={
        "seen": back["revision"], "edit": {"kind": "use_drawing", "number": 9}}))
    for _ in range(3):
        now = client.post(f"/api/pieces/{piece['id']}/undo",
                          json={"seen": back["revision"]}).json()
        back = now
    assert now["recipe"] == piece["recipe"]


def test_what_cannot_be_laid_under_it_is_told_and_changes_nothing(client: TestClient) -> None:
    piece = new_piece(client)
    another = bring(client, piece, png(transparent(scene(4, 480))))
    assert another["state"] == "failed" and another["answer"] is None
    assert another["problem"]["title"] == "This is another drawing"
    assert "of its lines lie on those of the piece" in another["problem"]["detail"]
    noise = bring(client, piece, b"GIF89a" + bytes(200))
    assert noise["state"] == "failed" and noise["problem"]["status"] == 415
    blank = bring(client, piece, png(np.full((300, 300, 3), 255, np.uint8)))
    assert blank["state"] == "failed" and "no lines" in blank["problem"]["detail"]
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece
    said(client.post("/api/pieces/99/drawings", files={"file": ("b.png", b"x")}), 404)
    gone = {"kind": "put_drawing", "asset": "9" * 64}
    said(client.post(f"/api/pieces/{piece['id']}/edits",
                     json={"seen": piece["revision"], "edit": gone}))
    mirrored = {"kind": "put_drawing", "asset": piece["recipe"]["source"]["asset"],
                "laid": {"width": 480, "height": 480, "matrix": [[-1, 0, 0], [0, 1, 0]]}}
    said(client.post(f"/api/pieces/{piece['id']}/edits",
                     json={"seen": piece["revision"], "edit": mirrored}))


def test_an_offer_outlasts_the_server_and_the_piece_that_it_was_made_for(
        settings: Settings) -> None:
    def serving() -> TestClient:
        return TestClient(create_app(settings), base_url="http://127.0.0.1")

    with serving() as client:
        piece = new_piece(client)
        job = bring(client, piece, png(transparent(MOVED)))
    with serving() as client:
        again = client.get(f"/api/jobs/{job['id']}").json()
        assert again["answer"] == job["answer"]
        # A part that has gone since is told; nothing is half done.
        empty = edit(client, piece, kind="replace_parts", parts=[], claims=[])
        offer = again["answer"]["edit"]
        offer["edits"].append({"kind": "claim_areas", "to": "p1", "strokes": [[[9, 9]]]})
        assert "no longer there" in said(client.post(f"/api/pieces/{piece['id']}/edits", json={
            "seen": empty["revision"], "edit": offer}))
        assert client.get(f"/api/pieces/{piece['id']}").json() == empty


def test_it_can_be_cancelled(client: TestClient) -> None:
    piece = new_piece(client)
    large = cv2.resize(INK, (2400, 2400), interpolation=cv2.INTER_CUBIC)
    answer = client.post(f"/api/pieces/{piece['id']}/drawings",
                         files={"file": ("b.png", png(transparent(large)))}).json()
    time.sleep(0.1)
    assert client.delete(f"/api/jobs/{answer['id']}").status_code == 204
    done = finished(client, answer)
    assert done["state"] == "cancelled" and done["answer"] is None
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece
