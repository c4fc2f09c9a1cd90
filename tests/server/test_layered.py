"""Layered files, templates, archives and next pieces over HTTP."""

import io
import zipfile
from dataclasses import replace
from datetime import timedelta
from typing import Any

import numpy as np
import pyora
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.server.steps import edit, finished, new_piece
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Layer, Stack, Tint, mapped
from wardrobe.server.app import create_app
from wardrobe.server.db.models import now
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio


def delivered(client: TestClient, piece: int, **wanted: Any) -> tuple[str, bytes]:
    job = finished(client, client.post(f"/api/pieces/{piece}/deliveries", json=wanted).json())
    assert job["state"] == "done", job
    answer = client.get(f"/api/jobs/{job['id']}/file")
    assert answer.status_code == 200
    return job["file_name"], answer.content


def taken_in(client: TestClient, data: bytes, **fields: str) -> dict[str, Any]:
    answer = client.post("/api/layered", files={"file": ("a.ora", data)},
                         data={"title": "back"} | fields)
    assert answer.status_code == 202, answer.text
    return finished(client, answer.json())


def as_file(stack: Stack) -> bytes:
    out = io.BytesIO()
    write_openraster(out, stack, flatten(stack))
    return out.getvalue()


def untidy(data: bytes) -> bytes:
    """The file with a nameless layer, a pass that reaches too far, and a coloured base."""
    stack = read_openraster(io.BytesIO(data)).stack
    whole = Tint(np.full((480, 480), 255, np.uint8), (150, 120, 170))

    def change(layer: Layer) -> Layer:
        if layer.name == "part 1 / shade":
            return replace(layer, paint=whole, x=0, y=0)
        if layer.name == "part 2 / base":
            return replace(layer, paint=Tint(layer.alpha, (200, 40, 60)))
        return replace(layer, name="Layer 3") if layer.name == "part 3 / base" else layer

    return as_file(mapped(stack, change))


def test_flat_files_can_be_scaled_and_without_their_ground(client: TestClient) -> None:
    piece = new_piece(client)
    _, data = delivered(client, piece["id"], format="png", long_edge=240, clear_ground=True)
    image = np.asarray(Image.open(io.BytesIO(data)))
    assert image.shape == (240, 240, 4)
    assert image[2, 2, 3] == 0 and image[150, 120, 3] == 255
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                       json={"format": "outlines"}).json())
    assert job["state"] == "failed" and "came in as pixels" in job["problem"]["detail"]
    assert client.post(f"/api/pieces/{piece['id']}/deliveries",
                       json={"format": "png", "long_edge": 3}).status_code == 422


def test_the_stack_is_shown_checked_and_lit_up(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}/stack"
    changed = edit(client, piece, kind="set_delivery",
                   delivery={"arrangement": "by pass", "names": "{pass}: {part}"})
    section = client.get(url).json()
    assert [c["key"] for c in section["columns"]] == [p["id"] for p in changed["recipe"]["parts"]]
    layers = [line for line in section["lines"] if line["kind"] == "layer"]
    assert "base: part 1" in {line["name"] for line in layers}
    assert client.get(f"{url}/findings").json() == []
    base = next(line for line in layers if line["name"] == "base: part 1")
    lit = np.asarray(Image.open(io.BytesIO(client.get(f"{url}/layers/{base['index']}").content)))
    assert lit.shape == (480, 480) and set(np.unique(lit)) == {0, 255}
    assert client.get(f"{url}/layers/999").status_code == 404
    refused = client.post(f"/api/pieces/{piece['id']}/edits", json={
        "seen": changed["revision"],
        "edit": {"kind": "set_delivery", "delivery": {"names": "no words"}}})
    assert refused.status_code == 422 and "{part}" in refused.json()["detail"]


def test_a_file_comes_back_is_repaired_and_taken_over(
        client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    came = untidy(delivered(client, piece["id"], format="ora")[1])
    job = taken_in(client, came, piece=str(piece["id"]))
    number = job["layered"]
    file = client.get(f"/api/layered/{number}").json()
    assert (file["width"], file["piece"], file["notes"]) == (480, piece["id"], [])
    assert any(line["clipped_to"] for line in file["section"]["lines"])
    shown = np.asarray(Image.open(io.BytesIO(client.get(
        f"/api/layered/{number}/picture", params={"width": 480, "height": 480}).content)))
    theirs = np.asarray(pyora.Project.load(io.BytesIO(came)).get_image_data(
        use_original=False).convert("RGB")).astype(int)
    assert np.abs(shown - theirs).max() <= 1

    findings = client.get(f"/api/layered/{number}/findings").json()
    assert {"unnamed", "not-clipped", "outside-silhouette"} <= {f["code"] for f in findings}
    repair = client.post(f"/api/layered/{number}/repairs",
                         json={"findings": [k for k, f in enumerate(findings) if f["repair"]]})
    mended = finished(client, repair.json())["layered"]
    assert client.get(f"/api/layered/{mended}").json()["made_from"] == number
    assert client.get(f"/api/layered/{mended}/findings").json() == []
    assert client.get(f"/api/layered/{number}/file").content == came
    assert {f["id"] for f in client.get(f"/api/layered?piece={piece['id']}").json()} \
        == {number, mended}
    late = client.post(f"/api/layered/{number}/repairs", json={"findings": [400]})
    assert finished(client, late.json())["state"] == "failed"

    told = client.post(f"/api/layered/{mended}/matches", json={"piece": piece["id"]}).json()
    differing = {(r["match"]["part"], r["match"]["kind"]) for r in told
                 if r["put_in"] or r["colour"]}
    assert differing == {("p1", "pass"), ("p2", "base")}
    wrong = [r["match"] for r in told if r["match"]["name"] == "shade"][:1]
    asked = client.post(f"/api/layered/{mended}/matches", json={
        "piece": piece["id"], "matches": [wrong[0] | {"part": None, "kind": "other"}]}).json()
    assert asked[0]["how"] == "by hand" and asked[0]["put_in"] == 0
    body = {"piece": piece["id"], "seen": piece["revision"],
            "matches": [r["match"] for r in told]}
    job = finished(client, client.post(f"/api/layered/{mended}/take-over", json=body).json())
    done = job["answer"]
    # A base, and the colour that a shade was painted in.
    assert done["touch_ups"] >= 1 and done["colours"] == 2
    assert any("is #c8283c now" in change for change in done["changes"])
    after = client.get(url).json()
    assert after["recipe"]["parts"][1]["base"] == "#c8283c" and after["recipe"]["touch_ups"]
    assert client.post(f"/api/layered/{mended}/take-over", json=body).status_code == 409
    undone = client.post(f"{url}/undo", json={"seen": after["revision"]}).json()
    assert undone["recipe"] == piece["recipe"]  # all of it was one change
    assert client.delete(f"/api/layered/{number}").status_code == 204
    assert client.get(f"/api/layered/{number}").status_code == 404
    assert client.get(f"/api/layered/{mended}").json()["made_from"] is None
    # Removing can be undone, for a month.
    assert client.post(f"/api/layered/{number}/put-back").status_code == 204
    assert client.get(f"/api/layered/{mended}").json()["made_from"] == number
    assert client.get(f"/api/layered/{number}/file").content == came
    client.delete(f"/api/layered/{number}")
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    studio.layered.forget_removed()
    assert client.post(f"/api/layered/{number}/put-back").status_code == 204
    client.delete(f"/api/layered/{number}")
    with monkeypatch.context() as later:
        later.setattr("wardrobe.server.layered.now", lambda: now() + timedelta(days=31))
        studio.layered.forget_removed()
    gone = client.post(f"/api/layered/{number}/put-back")
    assert gone.status_code == 404 and "too long ago" in gone.json()["detail"]


def test_a_piece_begins_from_a_file(client: TestClient) -> None:
    piece = new_piece(client)
    job = taken_in(client, delivered(client, piece["id"], format="ora")[1])
    begun = finished(client, client.post(f"/api/layered/{job['layered']}/piece").json())
    assert begun["state"] == "done", begun
    other = client.get(f"/api/pieces/{begun['piece']}").json()
    assert [(p["name"], p["base"]) for p in other["recipe"]["parts"]] \
        == [(p["name"], p["base"]) for p in piece["recipe"]["parts"]]
    assert client.get(f"/api/layered/{job['layered']}").json()["piece"] == begun["piece"]


def test_files_that_cannot_be_read_are_refused_and_nothing_is_kept(client: TestClient) -> None:
    bare = io.BytesIO()
    with zipfile.ZipFile(bare, "w") as made:
        made.writestr("mimetype", "image/openraster")
    for data, says in ((b"no zip at all", "not an OpenRaster file"), (bare.getvalue(), "lacks")):
        job = taken_in(client, data)
        assert job["state"] == "failed" and says in job["problem"]["detail"]
    restored = client.post("/api/pieces/restore", files={"file": ("a.zip", bare.getvalue())})
    assert finished(client, restored.json())["state"] == "failed"
    assert client.get("/api/layered").json() == [] and client.get("/api/pieces").json() == []


def test_a_piece_moves_to_another_machine(client: TestClient, settings: Settings) -> None:
    piece = new_piece(client)
    piece = edit(client, piece, kind="set_background", colour="#223344")
    client.post(f"/api/pieces/{piece['id']}/sittings", json={"step": "light", "minutes": 1.5})
    made = client.post("/api/characters", json={"name": "Nela", "from_piece": piece["id"]}).json()
    client.put(f"/api/pieces/{piece['id']}/character", json={"character": made["id"]})
    piece = edit(client, piece, kind="add_look", name="Red coat")
    look = piece["recipe"]["looks"][0]["id"]
    made = client.post(f"/api/characters/{made['id']}/outfits", json={
        "piece": piece["id"], "look": look, "name": "Red coat"}).json()
    _, data = delivered(client, piece["id"], format="archive")
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert {"piece.json", "recipe.json", "renders/picture.png", "renders/stack.ora"} \
            <= set(archive.namelist())
    elsewhere = settings.model_copy(update={"data_dir": settings.data_dir.parent / "other"})
    with TestClient(create_app(elsewhere), base_url="http://127.0.0.1") as other:
        job = finished(other, other.post("/api/pieces/restore",
                                         files={"file": ("a.zip", data)}).json())
        assert job["state"] == "done", job
        back = other.get(f"/api/pieces/{job['piece']}").json()
        assert back["recipe"] == piece["recipe"] and back["can_undo"]
        assert back["spent_minutes"] == pytest.approx({"light": 1.5})
        whose = other.get(f"/api/pieces/{job['piece']}/character").json()["character"]
        assert (whose["name"], whose["card"]) == ("Nela", made["card"])
        assert whose["outfits"] == made["outfits"] and made["outfits"]
        undone = other.post(f"/api/pieces/{job['piece']}/undo",
                            json={"seen": back["revision"]}).json()
        assert piece["recipe"]["looks"] and not undone["recipe"]["looks"]


def test_templates_and_the_next_piece(client: TestClient) -> None:
    piece = new_piece(client)
    piece = edit(client, piece, kind="set_delivery", delivery={
        "arrangement": "by pass", "extras": [{"name": "dirt", "mode": "multiply"}]})
    piece = edit(client, piece, kind="move_light", light={"azimuth": 40, "height": 20, "pairs": [
        {"caster": "p1", "receiver": "p2", "length": 0}]})
    saved = client.post("/api/stack-templates", json={"name": "cel", "piece": piece["id"]}).json()
    assert saved["delivery"]["extras"][0]["name"] == "dirt"
    again = client.post("/api/stack-templates", json={"name": "cel", "piece": piece["id"]}).json()
    assert again["id"] == saved["id"] and len(client.get("/api/stack-templates").json()) == 1
    made = client.post("/api/characters", json={"name": "Nela", "from_piece": piece["id"]}).json()
    client.put(f"/api/pieces/{piece['id']}/character", json={"character": made["id"]})

    source = client.get(f"/api/pieces/{piece['id']}/picture",
                        params={"width": 480, "height": 480, "kind": "lines"}).content
    answer = client.post("/api/pieces", files={"file": ("b.png", source)}, data={
        "title": "Next", "like": str(piece["id"]), "planned_minutes": "7"})
    job = finished(client, answer.json())
    following = client.get(f"/api/pieces/{job['piece']}").json()
    for what in ("passes", "delivery", "background"):
        assert following["recipe"][what] == piece["recipe"][what]
    assert following["recipe"]["light"]["azimuth"] == 40
    assert following["recipe"]["light"]["pairs"] == []
    assert following["recipe"]["source"] != piece["recipe"]["source"]
    assert client.get(f"/api/pieces/{job['piece']}/character").json()["character"]["name"] == "Nela"
    assert client.delete(f"/api/stack-templates/{saved['id']}").status_code == 204
    assert client.delete(f"/api/stack-templates/{saved['id']}").status_code == 404


def test_layers_that_were_added_elsewhere_come_home_and_leave_again(client: TestClient) -> None:
    piece = new_piece(client)
    stack = read_openraster(io.BytesIO(delivered(client, piece["id"], format="ora")[1])).stack
    soft = np.zeros((200, 240), np.uint8)
    soft[40:160, 30:200] = 120
    veil = Layer("evening veil", Tint(soft, (60, 40, 120)), 90, 120, "multiply", 0.8)
    file = taken_in(client, as_file(Stack(stack.width, stack.height, [*stack.nodes, veil])))
    url = f"/api/layered/{file['layered']}"
    told = client.post(f"{url}/matches", json={"piece": piece["id"]}).json()
    added = [r["match"]["index"] for r in told if r["added"]]
    assert added == [len(told) - 1]
    body = {"piece": piece["id"], "seen": piece["revision"], "added": added,
            "matches": [r["match"] for r in told]}
    done = finished(client, client.post(f"{url}/take-over", json=body).json())["answer"]
    assert (done["layers"], done["touch_ups"], done["colours"], done["left"]) == (1, 0, 0, 0), \
        done["notes"]
    wanted = flatten(Stack(stack.width, stack.height, [*stack.nodes, veil]))[..., :3].astype(int)
    png = delivered(client, piece["id"], format="png")[1]
    seen = np.asarray(Image.open(io.BytesIO(png)).convert("RGB"))
    assert np.abs(seen - wanted).max() <= 1
    again = read_openraster(io.BytesIO(delivered(client, piece["id"], format="ora")[1])).stack
    assert any("evening veil" in layer.name for layer in again.layers())
    # The same file brings nothing twice; said to be a shade by hand, it is none of the new ones.
    now = client.get(f"/api/pieces/{piece['id']}").json()
    body["seen"] = now["revision"]
    twice = finished(client, client.post(f"{url}/take-over", json=body).json())["answer"]
    assert twice["layers"] == twice["left"] == 0 and twice["changes"] == []
    by_hand = {**told[-1]["match"], "kind": "pass", "name": "shade",
               "part": now["recipe"]["parts"][0]["id"]}
    (answer,) = client.post(f"{url}/matches", json={"piece": piece["id"],
                                                    "matches": [by_hand]}).json()
    assert not answer["added"] and answer["put_in"] > 0
    # Undone, the piece is as it was.
    back = client.post(f"/api/pieces/{piece['id']}/undo", json={"seen": now["revision"]}).json()
    assert back["recipe"]["finish"] == []
