"""Pieces over HTTP: import, edit, undo, two tabs, restarts, bad files."""

import io

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.drawings import figure_ink, on_white, png
from tests.server.steps import edit, finished, import_file, new_piece
from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings


def picture(client: TestClient, piece_id: int, **query: object) -> np.ndarray:
    answer = client.get(f"/api/pieces/{piece_id}/picture",
                        params={"width": 480, "height": 480} | query)
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)))


def test_an_import_is_coloured_and_its_parts_can_be_undone(client: TestClient) -> None:
    piece = new_piece(client)
    assert len(piece["recipe"]["parts"]) >= 3 and piece["can_undo"]
    assert len(np.unique(picture(client, piece["id"]).reshape(-1, 3), axis=0)) > 20
    bare = client.post(f"/api/pieces/{piece['id']}/undo", json={"seen": piece["revision"]}).json()
    assert bare["recipe"]["parts"] == [] and bare["can_redo"]
    cut = client.get(f"/api/pieces/{piece['id']}/cut").json()
    assert cut["unclaimed"] >= 3 and cut["silhouette_pixels"] == 0
    assert picture(client, piece["id"]).shape == (480, 480, 3)


def test_history_survives_a_restart(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        piece = new_piece(client)
        first = edit(client, piece, kind="set_background", colour="#102030")
        second = edit(client, first, kind="set_background", colour="#405060")
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        url = f"/api/pieces/{piece['id']}"
        assert client.get(url).json() == second
        undone = client.post(f"{url}/undo", json={"seen": second["revision"]}).json()
        assert undone["recipe"] == first["recipe"]
        redone = client.post(f"{url}/redo", json={"seen": undone["revision"]}).json()
        assert redone["recipe"] == second["recipe"] and not redone["can_redo"]
        assert tuple(picture(client, piece["id"])[2, 2]) == (0x40, 0x50, 0x60)


def test_a_stale_edit_gets_409_and_changes_nothing(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    mine = edit(client, piece, kind="set_background", colour="#111111")
    for path, body in (("edits", {"edit": {"kind": "set_background", "colour": "#222222"}}),
                       ("undo", {}), ("redo", {})):
        late = client.post(f"{url}/{path}", json={"seen": piece["revision"]} | body)
        assert late.status_code == 409
        assert late.headers["content-type"] == "application/problem+json"
        assert "refreshed" in late.json()["detail"]
    assert client.get(url).json() == mine
    # A number once given is never given again, even after undo and another edit.
    undone = client.post(f"{url}/undo", json={"seen": mine["revision"]}).json()
    again = edit(client, undone, kind="set_background", colour="#333333")
    assert len({piece["revision"], mine["revision"], undone["revision"], again["revision"]}) == 4


def test_edits_refused_say_why(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}/edits"
    taken = {"kind": "add_part", "name": piece["recipe"]["parts"][0]["name"].upper()}
    answer = client.post(url, json={"seen": piece["revision"], "edit": taken})
    assert answer.status_code == 422 and "already" in answer.json()["detail"]
    nameless = client.post(url, json={"seen": piece["revision"],
                                      "edit": {"kind": "add_part", "name": "a/b"}})
    assert nameless.status_code == 422 and "cannot hold" in nameless.json()["detail"]
    assert client.get("/api/pieces/999").status_code == 404


@pytest.mark.parametrize(("image", "status"), [
    (np.zeros((1, 1, 3), np.uint8), 413),
    (np.full((200, 200, 3), 255, np.uint8), 422),
    (np.zeros((200, 200, 3), np.uint8), 422),
    (cv2.line(np.full((200, 200, 3), 255, np.uint8), (20, 100), (180, 90), (0, 0, 0), 5), 422),
])
def test_pictures_without_line_art_leave_nothing_behind(client: TestClient, image: np.ndarray,
                                                        status: int) -> None:
    job = import_file(client, png(image))
    assert (job["state"], job["problem"]["status"]) == ("failed", status)
    assert len(job["problem"]["detail"]) > 20
    assert client.get("/api/pieces").json() == []


def test_damaged_and_oversized_files(client: TestClient) -> None:
    whole = png(on_white(figure_ink()))
    assert import_file(client, whole[:300])["problem"]["status"] == 415
    assert import_file(client, b"GIF89a not a picture")["problem"]["status"] == 415
    for size in (2_000_001, 4_000_000):  # just over, and refused before it is read
        big = client.post("/api/pieces", files={"file": ("a.png", b"\0" * size)},
                          data={"title": "Big"})
        assert big.status_code == 413
    nameless = client.post("/api/pieces", files={"file": ("a.png", whole)}, data={"title": "  "})
    assert nameless.status_code == 422
    assert new_piece(client)["id"] >= 1  # the server is alive


def test_a_cancelled_import_leaves_nothing(client: TestClient) -> None:
    answer = client.post("/api/pieces", files={"file": ("a.png", png(on_white(figure_ink(2400))))},
                         data={"title": "Stop"})
    client.delete(f"/api/jobs/{answer.json()['id']}")
    assert finished(client, answer.json())["state"] == "cancelled"
    assert client.get("/api/pieces").json() == []


def test_preview_shows_an_edit_without_making_it(client: TestClient) -> None:
    piece = new_piece(client)
    body = {"edit": {"kind": "set_background", "colour": "#00ff00"},
            "view": {"width": 480, "height": 480}}
    answer = client.post(f"/api/pieces/{piece['id']}/preview", json=body)
    assert tuple(np.asarray(Image.open(io.BytesIO(answer.content)))[1, 1]) == (0, 255, 0)
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


def test_deliveries_equal_the_picture(client: TestClient) -> None:
    piece = new_piece(client)
    whole = picture(client, piece["id"])
    for form in ("png", "ora"):
        job = client.post(f"/api/pieces/{piece['id']}/deliveries", json={"format": form}).json()
        job = finished(client, job)
        assert job["state"] == "done" and job["file_name"] == f"figure.{form}"
        answer = client.get(f"/api/jobs/{job['id']}/file")
        assert f'filename="figure.{form}"' in answer.headers["content-disposition"]
        if form == "png":
            assert (np.asarray(Image.open(io.BytesIO(answer.content))) == whole).all()


def test_the_area_map_names_every_area(client: TestClient) -> None:
    piece = new_piece(client)
    answer = client.get(f"/api/pieces/{piece['id']}/areas.png")
    packed = np.asarray(Image.open(io.BytesIO(answer.content))).astype(int)
    numbers = packed[..., 0] + 256 * packed[..., 1]
    cut = client.get(f"/api/pieces/{piece['id']}/cut").json()
    assert set(np.unique(numbers)) <= {a["area"] for a in cut["areas"]}
    for area in cut["areas"]:
        assert numbers[int(area["y"]), int(area["x"])] == area["area"]
