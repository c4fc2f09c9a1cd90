"""Hatching, second drawings and blacks over the API: what is refused, and that nothing is lost."""

import io

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.drawings import on_white, png
from tests.hatched import ball, hatch_over, plain_ink
from tests.server.steps import edit, import_file, said

HATCHED = hatch_over(plain_ink(), ball(), (35.0, 110.0), 30.0, 4)


@pytest.fixture
def hatched(client: TestClient) -> dict:
    job = import_file(client, png(on_white(HATCHED)))
    assert job["state"] == "done", job
    assert job["seen"] == 3
    # What was seen on the way are small pictures of one shape: lines, areas, the first picture.
    shapes = set()
    for number in (1, 2, 3):
        answer = client.get(f"/api/jobs/{job['id']}/seen/{number}")
        assert answer.headers["content-type"] == "image/png"
        width, height = Image.open(io.BytesIO(answer.content)).size
        shapes.add(round(width / height, 2))
    assert shapes == {1.0}
    said(client.get(f"/api/jobs/{job['id']}/seen/4"), 404)
    return client.get(f"/api/pieces/{job['piece']}").json()


def _areas(client: TestClient, piece: dict) -> int:
    return client.get(f"/api/pieces/{piece['id']}/cut").json()["lines"]["areas"]


def test_a_family_is_told_and_decided(client: TestClient, hatched: dict) -> None:
    report = client.get(f"/api/pieces/{hatched['id']}/hatching").json()
    (family,) = report["families"]
    assert not family["bounds"] and family["strokes"] > 10 and family["shade"]
    few = _areas(client, hatched)
    every = edit(client, hatched, kind="set_hatching", hatching=[])
    assert _areas(client, every) > few + 20
    undone = client.post(f"/api/pieces/{hatched['id']}/undo",
                         json={"seen": every["revision"]}).json()
    assert _areas(client, undone) == few
    # A stale change is refused, and what is there stays.
    answer = client.post(f"/api/pieces/{hatched['id']}/edits", json={
        "seen": hatched["revision"] - 1, "edit": {"kind": "set_hatching", "hatching": []}})
    assert answer.status_code == 409
    assert _areas(client, undone) == few


@pytest.mark.parametrize("hatching", [
    [{"places": []}], [{"places": [[1, 2, 3]]}], [{"places": [["a", 2]]}],
    [{"places": [[1e9, 0]]}], [{"places": [[0, 0]]}] * 1001])
def test_bad_places_are_refused(client: TestClient, hatched: dict, hatching: list) -> None:
    said(client.post(f"/api/pieces/{hatched['id']}/edits", json={
        "seen": hatched["revision"], "edit": {"kind": "set_hatching", "hatching": hatching}}))
    assert client.get(f"/api/pieces/{hatched['id']}").json()["revision"] == hatched["revision"]


def test_a_second_drawing_comes_in_goes_out_and_must_lie_on_the_first(
        client: TestClient, hatched: dict) -> None:
    def store(image: np.ndarray) -> dict:
        answer = client.post("/api/pieces/pictures",
                             files={"file": ("b.png", png(on_white(image)), "image/png")})
        assert answer.status_code == 201
        return answer.json()

    strokes = hatch_over(np.zeros_like(HATCHED), ball(), (80.0,), 25.0, 4)
    few = _areas(client, hatched)
    both = edit(client, hatched, kind="set_details", details=store(strokes))
    assert _areas(client, both) == few
    half = edit(client, both, kind="set_details",
                details=store(cv2.resize(strokes, None, fx=0.5, fy=0.5)))
    picture = client.get(f"/api/pieces/{hatched['id']}/picture",
                         params={"kind": "lines", "width": 700, "height": 700}).content
    shown = np.array(Image.open(io.BytesIO(picture)).convert("L"))
    assert (shown[strokes >= 250] < 128).mean() > 0.9
    said(client.post(f"/api/pieces/{hatched['id']}/edits", json={
        "seen": half["revision"], "edit": {
            "kind": "set_details", "details": store(cv2.resize(strokes, (700, 300)))}}), 422)
    gone = {"asset": "e" * 64, "width": 700, "height": 700}
    said(client.post(f"/api/pieces/{hatched['id']}/edits", json={
        "seen": half["revision"], "edit": {"kind": "set_details", "details": gone}}), 422)
    none = edit(client, half, kind="set_details", details=None)
    assert none["recipe"]["details"] is None


def test_why_areas_are_together_is_told_and_each_split_is_one_change(
        client: TestClient, hatched: dict) -> None:
    piece = hatched
    joins = client.get(f"/api/pieces/{piece['id']}/joins").json()
    assert joins and all(j["areas"] > 1 and j["reason"] for j in joins)
    for _ in range(3):
        joins = [j for j in client.get(f"/api/pieces/{piece['id']}/joins").json() if j["split"]]
        if not joins:
            break
        before = len(piece["recipe"]["parts"])
        piece = edit(client, piece, **joins[0]["split"])
        assert len(piece["recipe"]["parts"]) == before + 1
        assert client.get(f"/api/pieces/{piece['id']}/cut").json()["unclaimed"] == 0
