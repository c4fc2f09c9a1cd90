"""Looks over HTTP: the rail, proposals, deliveries, outfits."""

import io
import zipfile
from typing import Any

import numpy as np
import pyora
from fastapi.testclient import TestClient
from PIL import Image

from tests.server.steps import edit, finished, new_piece


def pixels(answer: Any) -> np.ndarray:
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)))


def dressed_piece(client: TestClient) -> dict[str, Any]:
    piece = new_piece(client)
    piece = edit(client, piece, kind="add_look", name="Red coat", bases={"p1": "#aa3322"})
    return edit(client, piece, kind="add_look", name="Blue / night", like="k1",
                bases={"p1": "#2233aa"}, background="#101830")


def test_the_rail_is_the_pictures_of_all_looks(client: TestClient) -> None:
    piece = dressed_piece(client)
    url = f"/api/pieces/{piece['id']}"
    rail = pixels(client.get(f"{url}/rail", params={"edge": 240}))
    assert rail.shape == (720, 240, 3)
    for k, look in enumerate(("piece", "k1", "k2")):
        one = pixels(client.get(f"{url}/picture", params={
            "width": 480, "height": 480, "scale": 0.5, "look": look}))
        assert (rail[240 * k:240 * (k + 1)] == one).all()
    tried = client.post(f"{url}/rail", json={"edge": 240, "looks": [
        {"start": "k1", "bases": {"p1": "#2233aa"}}, {"start": "piece"}]})
    assert pixels(tried).shape == (480, 240, 3) and (pixels(tried)[240:] == rail[:240]).all()
    report = client.get(f"{url}/looks").json()
    assert [line["name"] for line in report["looks"]] == ["The piece", "Red coat", "Blue / night"]
    before = client.post(f"{url}/preview", json={
        "edit": {"kind": "change_part", "targets": ["k1"], "part": "p1",
                 "base": "#2233aa"}, "look": "k1",
        "view": {"width": 480, "height": 480, "scale": 0.5}})
    assert (pixels(before) == pixels(tried)[:240]).all()
    assert client.get(f"{url}/picture", params={
        "width": 9, "height": 9, "look": "k9"}).status_code == 422


def test_proposals_over_http(client: TestClient) -> None:
    piece = dressed_piece(client)
    url = f"/api/pieces/{piece['id']}/look-proposals"
    found = client.post(url, json={"kind": "harmony", "scheme": "triad", "locked": ["p2"]}).json()
    assert len(found) == 6 and all("p2" not in p["bases"] for p in found)
    assert client.post(url, json={"kind": "harmony", "scheme": "square"}).status_code == 422
    locked = [p["id"] for p in piece["recipe"]["parts"]]
    refused = client.post(url, json={"kind": "few", "locked": locked})
    assert refused.status_code == 422 and "unlock" in refused.json()["detail"]


def test_looks_are_delivered_one_or_all(client: TestClient) -> None:
    piece = dressed_piece(client)

    def delivered(**wanted: Any) -> tuple[str, bytes]:
        job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                           json=wanted).json())
        assert job["state"] == "done", job
        return job["file_name"], client.get(f"/api/jobs/{job['id']}/file").content

    name, data = delivered(format="png", looks=["k2"])
    flat = np.asarray(Image.open(io.BytesIO(data)))
    assert name == "figure-blue--night.png" and tuple(flat[2, 2]) == (0x10, 0x18, 0x30)
    name, data = delivered(format="ora", looks=["piece", "k1", "k2"])
    assert name == "figure-looks.zip"
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.namelist() == ["01-the-piece.ora", "02-red-coat.ora", "03-blue--night.ora"]
        theirs = np.asarray(pyora.Project.load(io.BytesIO(archive.read(
            "03-blue--night.ora"))).get_image_data(use_original=False).convert("RGB"))
    assert np.abs(theirs.astype(int) - flat).max() <= 1
    name, data = delivered(format="contact pdf", sheet={"approval": True})
    assert name == "figure-looks.pdf" and data.startswith(b"%PDF")
    _, data = delivered(format="contact png", looks=["k1"], sheet={"size": "A3", "dpi": 96})
    assert Image.open(io.BytesIO(data)).size == (1588, 1123)


def test_an_outfit_is_worn_by_another_piece(client: TestClient) -> None:
    piece = dressed_piece(client)
    made = client.post("/api/characters", json={"name": "Nela", "from_piece": piece["id"]}).json()
    kept = client.post(f"/api/characters/{made['id']}/outfits", json={
        "piece": piece["id"], "look": "k1", "name": "Red coat"}).json()
    assert kept["outfits"][0]["colours"]["part 1"] == "#aa3322"
    other = new_piece(client)
    other = edit(client, other, kind="change_part", part="p2", name="cape")
    client.put(f"/api/pieces/{other['id']}/character", json={"character": made["id"]})
    done = client.post(f"/api/pieces/{other['id']}/wear-outfit", json={
        "seen": other["revision"], "outfit": "Red coat"}).json()
    assert done["missing"] == ["part 2"]
    assert done["piece"]["recipe"]["looks"][0]["bases"] == {"p1": "#aa3322"}
    assert client.post(f"/api/pieces/{other['id']}/wear-outfit", json={
        "seen": done["piece"]["revision"], "outfit": "Green"}).status_code == 404
    gone = client.delete(f"/api/characters/{made['id']}/outfits/Red coat").json()
    assert gone["outfits"] == []


def test_an_outfit_keeps_its_finish(client: TestClient) -> None:
    """A look with a finish goes onto the card and is hung on another piece of the character, in
    the place of what that piece has; undo takes all of it."""
    piece = dressed_piece(client)
    tint = {"name": "dusk", "paint": {"kind": "colour", "colour": "#304080"}, "mode": "multiply",
            "scope": "parts", "parts": ["p1"], "operations": [
                {"kind": "blur", "amounts": {"by": 5}}]}
    piece = edit(client, piece, kind="add_finish", layers=[tint], targets=["k1"])
    made = client.post("/api/characters", json={"name": "Nela", "from_piece": piece["id"]}).json()
    kept = client.post(f"/api/characters/{made['id']}/outfits", json={
        "piece": piece["id"], "look": "k1", "name": "Dusk"}).json()
    assert [f["name"] for f in kept["outfits"][0]["finish"]["layers"]] == ["dusk"]
    other = edit(client, new_piece(client), kind="add_finish", layers=[
        {"name": "haze", "paint": {"kind": "colour", "colour": "#ffffff"}, "strength": 0.1}])
    client.put(f"/api/pieces/{other['id']}/character", json={"character": made["id"]})
    done = client.post(f"/api/pieces/{other['id']}/wear-outfit", json={
        "seen": other["revision"], "outfit": "Dusk"}).json()["piece"]
    look = done["recipe"]["looks"][-1]
    assert [f["name"] for f in look["finish"]] == ["dusk"]
    assert look["finish"][0]["parts"] == ["p1"]
    assert [f["name"] for f in done["recipe"]["finish"]] == ["haze"]
    blur = look["finish"][0]["operations"][0]["amounts"]["by"]
    assert abs(blur - 5) < 0.01  # the figures are as large as each other
    undone = client.post(f"/api/pieces/{done['id']}/undo", json={"seen": done["revision"]}).json()
    assert undone["recipe"]["looks"] == []
