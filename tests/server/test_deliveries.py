"""Whatever is delivered of a piece and its looks shows what the screen shows.

Files are read by Pillow, pyora, tifffile or zipfile, none of which wrote them.
"""

import io
import json
import zipfile
from collections.abc import Iterator
from typing import Any

import numpy as np
import pyora
import pytest
import tifffile
from fastapi.testclient import TestClient
from numpy.typing import NDArray
from PIL import Image

from tests.server.steps import edit, finished, new_piece
from tests.server.test_layered import delivered
from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings

SIZE = 480
LOOKS = ("piece", "k1", "k2")
Pixels = NDArray[np.uint8]


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    settings = Settings(data_dir=tmp_path_factory.mktemp("data"))
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        yield client


@pytest.fixture(scope="module")
def piece(client: TestClient) -> dict[str, Any]:
    """A piece with a pattern, a halo of light over all, and looks that differ in all they can."""
    made = new_piece(client)
    made = edit(client, made, kind="set_pattern", part="p2",
                pattern={"motif": "stripes", "colour": "#2f6f5f"})
    made = edit(client, made, kind="add_finish", layers=[{
        "name": "glow", "paint": {"kind": "colour", "colour": "#ffcc66"}, "mode": "screen",
        "strength": 0.3, "shape": {"kind": "pass", "name": "shade"}}])
    made = edit(client, made, kind="add_look", name="Red coat", like="piece")
    made = edit(client, made, kind="change_part", part="p1", base="#aa3322", targets=["k1"])
    made = edit(client, made, kind="add_look", name="Night", like="piece")
    made = edit(client, made, kind="set_background", colour="#101830", targets=["k2"])
    light = made["recipe"]["light"] | {"azimuth": 40.0, "height": 20.0}
    return edit(client, made, kind="move_light", light=light, targets=["k2"])


def on_screen(client: TestClient, number: int, look: str = "piece") -> Pixels:
    query = {"width": SIZE, "height": SIZE, "scale": 1} | (
        {} if look == "piece" else {"look": look})
    answer = client.get(f"/api/pieces/{number}/picture", params=query)
    assert answer.status_code == 200, answer.text
    return rgb(answer.content)


def rgb(data: bytes) -> Pixels:
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def away(a: Pixels, b: Pixels) -> int:
    assert a.shape == b.shape
    return int(np.abs(a.astype(int) - b).max())


@pytest.mark.parametrize("form", ["png", "tiff", "webp", "ora"])
def test_each_look_leaves_as_it_is_seen(client: TestClient, piece: dict[str, Any],
                                        form: str) -> None:
    number = piece["id"]
    seen = {look: on_screen(client, number, look) for look in LOOKS}
    assert min(away(seen["piece"], seen[look]) for look in LOOKS[1:]) > 60
    name, data = delivered(client, number, format=form, looks=list(LOOKS))
    assert name == "figure-looks.zip"
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.testzip() is None
        files = archive.namelist()
        assert [n.split(".")[0] for n in files] == ["01-the-piece", "02-red-coat", "03-night"]
        for look, inside in zip(LOOKS, files, strict=True):
            held = archive.read(inside)
            if form != "ora":
                assert away(rgb(held), seen[look]) == 0, look
                continue
            project = pyora.Project.load(io.BytesIO(held))
            composed = project.get_image_data(use_original=False).convert("RGB")
            assert away(np.asarray(composed), seen[look]) <= 1, look
            merged = zipfile.ZipFile(io.BytesIO(held)).read("mergedimage.png")
            assert away(rgb(merged), seen[look]) <= 1, look


def test_layers_one_by_one_are_the_stack_that_is_shown(client: TestClient,
                                                       piece: dict[str, Any]) -> None:
    number = piece["id"]
    lines = [line for line in client.get(f"/api/pieces/{number}/stack").json()["lines"]
             if line["kind"] == "layer"]
    name, data = delivered(client, number, format="layers")
    assert name == "figure-layers.zip"
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        manifest = json.loads(archive.read(next(n for n in archive.namelist() if ".json" in n)))
        pictures = [n for n in archive.namelist() if n.startswith("layers/")]
        assert away(rgb(archive.read("picture.png")), on_screen(client, number)) == 0
        assert len(pictures) == len(lines)
        sizes = {Image.open(io.BytesIO(archive.read(n))).size for n in pictures}
        assert all(width <= SIZE and height <= SIZE for width, height in sizes)
    told = json.dumps(manifest)
    assert all(json.dumps(line["name"]) in told for line in lines)
    name, data = delivered(client, number, format="tiff pages")
    assert name == "figure-layers.tif"
    with tifffile.TiffFile(io.BytesIO(data)) as file:
        assert len(file.pages) >= len(lines)


def test_what_is_told_of_a_piece_beside_its_picture(client: TestClient,
                                                    piece: dict[str, Any]) -> None:
    number, seen = piece["id"], on_screen(client, piece["id"])
    name, data = delivered(client, number, format="silhouette")
    mask = np.asarray(Image.open(io.BytesIO(data)))
    mask = mask[..., -1] if mask.ndim == 3 else mask
    ground = tuple(bytes.fromhex(piece["recipe"]["background"][1:]))
    bare = (seen == ground).all(axis=-1)
    assert name == "figure-silhouette.png"
    assert bare[mask == 0].mean() > 0.95 and not bare[mask == 255].any()
    for form, suffix in (("process png", "png"), ("process webp", "webp")):
        name, data = delivered(client, number, format=form)
        film = Image.open(io.BytesIO(data))
        film.seek(film.n_frames - 1)
        assert name == f"figure-stages.{suffix}" and film.n_frames >= 4
        assert away(np.asarray(film.convert("RGB")), seen) == 0  # it ends with the picture
    name, data = delivered(client, number, format="process strip")
    assert name == "figure-stages.png" and rgb(data).shape[1] > 4 * SIZE


def test_sheets_show_every_colour_and_every_look(client: TestClient,
                                                 piece: dict[str, Any]) -> None:
    number = piece["id"]
    sheet = client.get(f"/api/pieces/{number}/sheet").json()
    name, data = delivered(client, number, format="colours png")
    there = {tuple(c) for c in np.unique(rgb(data).reshape(-1, 3), axis=0).tolist()}
    for row in sheet["rows"]:
        for cell in row["cells"]:
            if cell["mark"] != "not drawn":
                assert tuple(bytes.fromhex(cell["colour"][1:])) in there, (row["part"], cell)
    assert name == "figure-colours.png"
    name, data = delivered(client, number, format="contact png", sheet={"dpi": 200})
    there = {tuple(c) for c in np.unique(rgb(data).reshape(-1, 3), axis=0).tolist()}
    for colour in ("#aa3322", "#101830"):  # what two of the looks differ in
        assert tuple(bytes.fromhex(colour[1:])) in there, colour
    for form, name in (("colours pdf", "figure-colours.pdf"), ("contact pdf", "figure-looks.pdf")):
        told, data = delivered(client, number, format=form)
        assert told == name and data.startswith(b"%PDF-1.") and data.rstrip().endswith(b"%%EOF")


def test_an_archive_is_the_whole_piece(client: TestClient, piece: dict[str, Any]) -> None:
    name, data = delivered(client, piece["id"], format="archive")
    assert name == "figure-archive.zip"
    job = finished(client, client.post("/api/pieces/restore", files={"file": (name, data)}).json())
    assert job["state"] == "done", job
    again = client.get(f"/api/pieces/{job['piece']}").json()
    assert again["recipe"] == piece["recipe"] and again["rests"] == piece["rests"]
    for look in LOOKS:
        assert away(on_screen(client, again["id"], look),
                    on_screen(client, piece["id"], look)) == 0
