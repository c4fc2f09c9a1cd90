"""The Lines step over HTTP: gaps, leaks, settings, frames, the silhouette."""

import io
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.drawings import figure_ink, png, transparent
from tests.server.steps import edit, finished, import_file

INK = figure_ink(960)
INK[592:612, 254:272] = 0  # a gap in the body's outline, at the left


@pytest.fixture
def piece(client: TestClient) -> dict[str, Any]:
    job = import_file(client, png(transparent(INK)))
    assert job["state"] == "done", job
    return client.get(f"/api/pieces/{job['piece']}").json()


def picture(client: TestClient, piece: dict[str, Any], kind: str) -> np.ndarray:
    view = {"width": piece["width"], "height": piece["height"], "scale": 1, "kind": kind}
    answer = client.get(f"/api/pieces/{piece['id']}/picture", params=view)
    return np.asarray(Image.open(io.BytesIO(answer.content)))


def test_a_gap_is_closed_and_the_areas_follow(client: TestClient, piece: dict[str, Any]) -> None:
    address = f"/api/pieces/{piece['id']}"
    assert len(piece["recipe"]["closings"]) == 1, "it comes in closed"
    assert client.get(f"{address}/figure").json()["edit"] is None
    piece = edit(client, piece, kind="remove_closing", index=0)
    report = client.get(f"{address}/gaps").json()
    gap = next(g for g in report["gaps"] if g["group"] == "outline")
    assert report["openings"] == 1 and report["perimeter"].startswith("1 opening")
    leak = client.get(f"{address}/leak", params={"x": 330, "y": 700}).json()
    assert leak["level"] == 0 and leak["width"] == pytest.approx(20, abs=4)

    closed = edit(client, piece, kind="close_gaps", closings=[{"points": gap["curve"]}])
    after = client.get(f"{address}/gaps").json()
    assert after["perimeter"] == "The outline is closed."
    assert client.get(f"{address}/leak", params={"x": 330, "y": 700}).json()["level"] > 0.9
    # Not printed until it is inked.
    assert picture(client, closed, "lines")[602, int(gap["x"])].min() == 255
    inked = edit(client, closed, kind="ink_closing", index=0, inked=True)
    assert picture(client, inked, "lines")[602, int(gap["x"])].max() < 60


def test_a_drawing_without_a_closed_area_comes_in_with_its_gaps_closed(client: TestClient) -> None:
    ink = np.zeros((600, 600), np.uint8)
    y, x = np.mgrid[0:600, 0:600]
    ink[np.abs(np.hypot(x - 300, y - 300) - 200) < 4] = 255
    ink[270:330, 480:520] = 0  # too wide to be bridged
    job = import_file(client, png(transparent(ink)))
    assert job["state"] == "done", job
    made = client.get(f"/api/pieces/{job['piece']}").json()
    assert len(made["recipe"]["closings"]) == 1 and made["can_undo"]
    assert len(client.get(f"/api/pieces/{made['id']}/cut").json()["areas"]) == 2


def test_a_draft_shows_what_the_setting_gives(client: TestClient, piece: dict[str, Any]) -> None:
    lines = {**piece["recipe"]["lines"], "weight": 4}
    wanted = {"edit": {"kind": "set_lines", "lines": lines}, "kind": "lines",
              "view": {"width": 960, "height": 960, "scale": 0.5}}
    answers = [client.post(f"/api/pieces/{piece['id']}/preview", json={**wanted, "draft": draft})
               for draft in (True, False)]
    draft, full = (np.asarray(Image.open(io.BytesIO(a.content))).astype(int) for a in answers)
    plain = picture(client, piece, "lines")[::2, ::2].astype(int)
    assert np.abs(draft - full).mean() < 1.5 < np.abs(plain - full).mean()


def test_the_picture_turns_and_its_size_with_it(client: TestClient, piece: dict[str, Any]) -> None:
    cut = edit(client, piece, kind="set_frame",
               frame={"turn": 0, "tilt": 0, "crop": [100, 40, 600, 800]})
    assert (cut["width"], cut["height"]) == (600, 800)
    turned = edit(client, cut, kind="turn_picture", clockwise=True)
    assert (turned["width"], turned["height"]) == (800, 600)
    before, after = picture(client, cut, "before"), picture(client, turned, "before")
    assert after.shape == (600, 800, 3) and (before is not after)
    refused = client.post(f"/api/pieces/{piece['id']}/edits", json={
        "seen": turned["revision"], "edit": {"kind": "set_frame", "frame": {
            "turn": 0, "tilt": 0, "crop": [9900, 0, 200, 200]}}})
    assert refused.status_code == 422 and "nothing of the drawing" in refused.text.lower()
    # A figure that the edge cut off does not run out into the room that is given there.
    job = import_file(client, png(transparent(figure_ink()[:300])))
    bust = client.get(f"/api/pieces/{job['piece']}").json()
    kept = edit(client, bust, kind="keep_parts")
    before = client.get(f"/api/pieces/{kept['id']}/cut").json()
    wide = client.post(f"/api/pieces/{kept['id']}/room", json={
        "seen": kept["revision"], "left": 20, "top": 0, "right": 30, "bottom": 120}).json()
    assert (wide["width"], wide["height"]) == (530, 420) and wide["recipe"]["closings"]
    after = client.get(f"/api/pieces/{kept['id']}/cut").json()
    assert after["silhouette_pixels"] == pytest.approx(before["silhouette_pixels"], rel=0.02)
    less = client.post(f"/api/pieces/{kept['id']}/room", json={
        "seen": wide["revision"], "left": -20, "top": 0, "right": -30, "bottom": -120}).json()
    assert (less["width"], less["height"]) == (480, 300)
    told = client.post(f"/api/pieces/{kept['id']}/room", json={
        "seen": less["revision"], "left": 90_000, "top": 0, "right": 0, "bottom": 0})
    assert told.status_code == 422 and "at most" in told.json()["detail"]


@pytest.mark.parametrize("growth", [0, 2, 4])
def test_the_silhouette_s_edge_lies_under_the_line(client: TestClient, piece: dict[str, Any],
                                                   growth: float) -> None:
    edit(client, piece, kind="grow_silhouette", growth=growth)
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                       json={"format": "silhouette"}).json())
    assert job["file_name"] == "figure-silhouette.png"
    mask = np.asarray(Image.open(io.BytesIO(client.get(f"/api/jobs/{job['id']}/file").content)))
    assert mask.shape == (960, 960) and set(np.unique(mask)) == {0, 255}
    # From the left into the belt's height: the line's outer edge, then ``growth`` px of it.
    row = 500
    edge = int(np.argmax(INK[row] >= 128))
    assert int(np.argmax(mask[row] > 0)) - edge == growth
    assert mask[100, 60] == 0 and mask[700, 480] == 255
