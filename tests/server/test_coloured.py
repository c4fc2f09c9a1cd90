"""A coloured picture comes in as it is: over HTTP, with its parts, and undone one by one."""

import io
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.drawings import figure_ink, png, transparent
from tests.figures import figure
from tests.server.steps import finished, new_piece
from wardrobe.recipe.document.view import View


def bring_in(client: TestClient, data: bytes, **form: Any) -> dict[str, Any]:
    answer = client.post("/api/pieces", files={"file": ("a.png", data)},
                         data={"title": "From elsewhere", "coloured": "true"} | form)
    assert answer.status_code == 202, answer.text
    return finished(client, answer.json())


def as_it_looks(seed: int = 2) -> np.ndarray:
    planted = figure(seed)
    return planted.deriver.picture(planted.recipe, View.whole(*planted.recipe.size))


def picture(client: TestClient, piece: int, **query: object) -> np.ndarray:
    answer = client.get(f"/api/pieces/{piece}/picture",
                        params={"width": 600, "height": 840} | query)
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB")).astype(int)


def test_it_looks_as_it_came_and_is_judged_changed_delivered_and_undone(
        client: TestClient) -> None:
    rgb = as_it_looks()
    job = bring_in(client, png(rgb))
    assert job["state"] == "done" and job["seen"] == 3, job
    at = f"/api/pieces/{job['piece']}"
    assert np.abs(picture(client, job["piece"]) - rgb).max() <= 2
    piece = client.get(at).json()
    assert len(piece["recipe"]["parts"]) >= 8
    assert [f["mode"] for f in piece["recipe"]["finish"]] == ["multiply", "plus-lighter"]
    assert client.get(f"{at}/findings").status_code == 200
    # The archive holds what is laid over it; what comes back is the same picture.
    made = finished(client, client.post(f"{at}/deliveries", json={"format": "archive"}).json())
    assert made["state"] == "done", made
    file = client.get(f"/api/jobs/{made['id']}/file")
    back = finished(client, client.post("/api/pieces/restore",
                                        files={"file": ("a.zip", file.content)}).json())
    assert np.array_equal(picture(client, back["piece"]), picture(client, job["piece"]))
    # Each step of it is an edit.
    bare = client.post(f"{at}/undo", json={"seen": piece["revision"]}).json()
    assert bare["recipe"]["finish"] == [] and bare["recipe"]["parts"]
    while bare["can_undo"]:
        bare = client.post(f"{at}/undo", json={"seen": bare["revision"]}).json()
    assert bare["recipe"]["parts"] == [] == bare["recipe"]["touch_ups"]


def test_a_transparent_ground_is_white_paper(client: TestClient) -> None:
    planted = figure(2)
    rgb = as_it_looks()
    clear = (planted.deriver.parts_map(planted.recipe) == 0) \
        & (planted.deriver.coverage(planted.recipe) == 0)
    rgba = np.dstack([rgb, np.where(clear, 0, 255).astype(np.uint8)])
    job = bring_in(client, png(rgba))
    assert job["state"] == "done", job
    piece = client.get(f"/api/pieces/{job['piece']}").json()
    assert piece["recipe"]["background"] == "#ffffff"
    seen = picture(client, job["piece"])
    assert (seen[clear] >= 253).all()
    assert np.abs(seen - rgb)[~clear].max() <= 2


@pytest.mark.parametrize("shape", ["plain", "tiny"])
def test_what_has_no_lines_is_refused_and_nothing_is_kept(client: TestClient, shape: str) -> None:
    rgb = np.full((64, 64, 3), (200, 120, 60), np.uint8)
    if shape == "tiny":
        rgb = rgb[:20, :20]
    job = bring_in(client, png(rgb))
    assert job["state"] == "failed"
    assert ("No lines were found" if shape == "plain" else "px") in job["problem"]["detail"]
    assert client.get("/api/pieces").json() == []


def test_line_art_without_colour_comes_in_this_way_too(client: TestClient) -> None:
    """White areas on white: parts of one colour, which can be told apart afterwards."""
    ink = figure_ink()
    plain = np.repeat(255 - ink[..., None], 3, axis=2)
    job = bring_in(client, png(plain))
    assert job["state"] == "done", job
    assert np.abs(picture(client, job["piece"], width=480, height=480) - plain).max() <= 2


def test_a_drawing_still_comes_in_as_one(client: TestClient) -> None:
    assert new_piece(client)["recipe"]["finish"] == []
    job = bring_in(client, png(transparent(figure_ink())), coloured="false")
    assert client.get(f"/api/pieces/{job['piece']}").json()["recipe"]["finish"] == []
