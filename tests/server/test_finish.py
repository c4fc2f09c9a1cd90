"""Finish layers over HTTP: offered, laid on, previewed, told, delivered, kept."""

import io
import json
import sqlite3
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image
from skimage.color import deltaE_ciede2000, rgb2lab

from tests.drawings import bust_ink, links_ink, png, transparent
from tests.server.steps import edit, finished, import_file, new_piece, said
from tests.server.test_layered import delivered
from wardrobe.core.composite.modes import MODES
from wardrobe.core.finish.planes import PLANES
from wardrobe.core.finish.textures import TEXTURES
from wardrobe.core.layers.operators import OPERATORS
from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings

VIEW = {"x": 0, "y": 0, "width": 480, "height": 480, "scale": 1}
TINT = {"name": "tint", "paint": {"kind": "colour", "colour": "#3050a0"}, "mode": "multiply",
        "strength": 0.5, "scope": "figure"}
SKY = {"name": "sky", "scope": "ground", "paint": {
    "kind": "gradient", "ends": [[0, 0], [0, 480]], "stops": [
        {"at": 0, "colour": "#205080"}, {"at": 1, "colour": "#f0e0c0"}]}}


def pixels(data: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)


def picture(client: TestClient, piece: dict[str, Any], **query: Any) -> np.ndarray:
    answer = client.get(f"/api/pieces/{piece['id']}/picture", params={**VIEW, **query})
    assert answer.status_code == 200
    return pixels(answer.content)


@pytest.mark.parametrize("ink", [bust_ink, links_ink])
def test_ready_finishes_are_offered_for_any_piece(client: TestClient, ink: Any) -> None:
    """Each can be laid on as it is; a piece without a single part has them, too."""
    job = import_file(client, png(transparent(ink())))
    piece = client.get(f"/api/pieces/{job['piece']}").json()
    offered = client.get(f"/api/pieces/{piece['id']}/finishes").json()
    moods = [f["key"] for f in offered if f["mood"]]
    assert moods == ["late sun", "lamp at night", "storybook paper", "stage light", "ember"]
    assert {"broken up", "close under", "focus"} <= {f["key"] for f in offered}
    bare = picture(client, piece)
    for finish in offered:
        assert len(finish["why"]) > 20
        add = {"kind": "add_finish", "layers": finish["layers"]}
        done = edit(client, piece, **add) if not finish["focus"] else edit(
            client, piece, kind="several",
            edits=[{"kind": "set_focus", "places": finish["focus"]}, add])
        assert np.abs(picture(client, done) - bare).mean() > (4 if finish["mood"] else 0.01)
        piece = client.post(f"/api/pieces/{piece['id']}/undo",
                            json={"seen": done["revision"]}).json()
        assert piece["recipe"]["finish"] == []
        assert np.array_equal(picture(client, piece), bare)
    for part in piece["recipe"]["parts"]:
        piece = edit(client, piece, kind="remove_part", part=part["id"])
    left = client.get(f"/api/pieces/{piece['id']}/finishes").json()
    assert [f["key"] for f in left if f["mood"]] == moods


def test_a_preview_is_what_the_edit_gives(client: TestClient) -> None:
    piece = new_piece(client)
    change = {"kind": "add_finish", "layers": [SKY, TINT]}
    before = picture(client, piece)
    shown = client.post(f"/api/pieces/{piece['id']}/preview",
                        json={"edit": change, "view": VIEW, "kind": "picture", "draft": False})
    assert np.array_equal(picture(client, piece), before)  # nothing was changed
    after = edit(client, piece, **change)
    assert np.array_equal(pixels(shown.content), picture(client, after))
    assert [f["id"] for f in after["recipe"]["finish"]] == ["f1", "f2"]


def test_modes_are_compared_on_the_picture(client: TestClient) -> None:
    """Each mode's step and clipping are those of the picture that it gives, and the pictures
    beside each other are those pictures."""
    piece = edit(client, new_piece(client), kind="add_finish", layers=[
        SKY, {**TINT, "paint": {"kind": "colour", "colour": "#e08030"}, "strength": 1.0}])
    url = f"/api/pieces/{piece['id']}/modes/f2"
    answer = client.get(url)
    seen = {m["mode"]: m for m in answer.json()}
    assert list(seen) == list(MODES)
    again = client.get(url, headers={"if-none-match": answer.headers["etag"]})
    assert again.status_code == 304
    small = {"width": 480, "height": 480, "scale": 200 / 480, "x": 0, "y": 0}
    strip = pixels(client.get(f"{url}/picture", params={"edge": 200}).content)
    assert strip.shape == (200 * len(MODES), 200, 3)
    for k, mode in enumerate(MODES):
        piece = edit(client, piece, kind="change_finish", layer="f2", to={
            **TINT, "paint": {"kind": "colour", "colour": "#e08030"}, "strength": 1.0,
            "mode": mode})
        assert np.array_equal(picture(client, piece, **small), strip[200 * k:200 * (k + 1)]), mode
    assert seen["normal"]["clipped"] == 0 and seen["normal"]["step"] > 10
    # Adding light, or burning it in, runs out of range; W3C's formulas say where.
    assert seen["plus-lighter"]["clipped"] > 0.2 and seen["plus-lighter"]["place"]
    assert seen["soft-light"]["clipped"] < 0.05
    x, y = (int(v) for v in seen["plus-lighter"]["place"])
    lit = picture(client, edit(client, piece, kind="change_finish", layer="f2", to={
        **TINT, "paint": {"kind": "colour", "colour": "#e08030"}, "strength": 1.0,
        "mode": "plus-lighter"}))
    assert lit[y, x].max() == 255
    gone = client.get(f"/api/pieces/{piece['id']}/modes/f77")
    said(gone, 409, 422)


@pytest.mark.parametrize(("name", "off"), [("shade", False), ("light", True)])
def test_a_pass_is_compared_in_each_mode(client: TestClient, name: str, off: bool) -> None:
    """As it would be laid, also if it is switched off; its step is that of scikit-image's
    CIEDE2000 between the pictures without and with it."""
    piece = new_piece(client)
    passes = piece["recipe"]["passes"]
    without = {**passes, "off": [name]}
    piece = edit(client, piece, kind="set_passes", passes=without if off else passes)
    url = f"/api/pieces/{piece['id']}/modes/{name}"
    seen = {m["mode"]: m for m in client.get(url).json()}
    assert list(seen) == list(MODES)
    small = {"width": 480, "height": 480, "scale": 320 / 480, "x": 0, "y": 0}
    strip = pixels(client.get(f"{url}/picture", params={"edge": 320}).content)
    below = picture(client, edit(client, piece, kind="set_passes", passes=without), **small)
    piece = client.get(f"/api/pieces/{piece['id']}").json()
    for k, mode in enumerate(MODES):
        piece = edit(client, piece, kind="set_passes", passes={
            **passes, "off": [], "modes": {name: mode}})
        laid = picture(client, piece, **small)
        assert np.array_equal(laid, strip[320 * k:320 * (k + 1)]), mode
        moved = (laid != below).any(axis=-1)
        steps = deltaE_ciede2000(*(rgb2lab(p[moved] / 255) for p in (below, laid)))
        full = steps[steps >= steps.max() / 2] if len(steps) else np.zeros(1)
        assert seen[mode]["step"] == pytest.approx(float(np.median(full)), abs=0.06), mode
    answer = client.get(f"/api/pieces/{piece['id']}/modes/varnish")
    said(answer, 422)


def test_scenery_is_made_claimed_and_given_the_rest_of_the_ground(client: TestClient) -> None:
    piece = new_piece(client)
    refused = client.post(f"/api/pieces/{piece['id']}/share-ground",
                          json={"seen": piece["revision"]})
    assert "no scenery" in said(refused, 409, 422)
    piece = edit(client, piece, kind="add_part", name="sky", base="#88aacc", scenery="sky")
    sky = piece["recipe"]["parts"][-1]["id"]
    piece = client.post(f"/api/pieces/{piece['id']}/gestures", json={
        "seen": piece["revision"], "gesture": "split", "stroke": [[4, 400], [476, 410]],
        "part": sky}).json()
    piece = edit(client, piece, kind="claim_areas", to=sky, strokes=[[[20, 20]]])
    areas = client.get(f"/api/pieces/{piece['id']}/cut").json()["areas"]
    assert any(a["ground"] and a["part"] is None for a in areas)
    done = client.post(f"/api/pieces/{piece['id']}/share-ground",
                       json={"seen": piece["revision"]}).json()
    areas = client.get(f"/api/pieces/{done['id']}/cut").json()
    assert all(a["part"] == sky for a in areas["areas"] if a["ground"])
    assert areas["silhouette_pixels"] < 480 * 480 * 0.7  # scenery is no part of it
    assert tuple(picture(client, done)[470, 10]) == (0x88, 0xAA, 0xCC)
    _, data = delivered(client, done["id"], format="png", clear_ground=True)
    alone = np.asarray(Image.open(io.BytesIO(data)))
    assert alone[10, 10, 3] == 0 == alone[470, 10, 3]
    undone = client.post(f"/api/pieces/{done['id']}/undo", json={"seen": done["revision"]}).json()
    assert undone["recipe"] == piece["recipe"]


def test_etags_change_when_and_only_when_pixels_may(client: TestClient) -> None:
    def etag(piece: dict[str, Any], **query: Any) -> str:
        answer = client.get(f"/api/pieces/{piece['id']}/picture", params={**VIEW, **query})
        return str(answer.headers["etag"])

    piece = new_piece(client)
    bare, bases = etag(piece), etag(piece, kind="bases")
    on = edit(client, piece, kind="add_finish", layers=[TINT])
    assert etag(on) != bare and etag(on, kind="bases") == bases
    renamed = edit(client, on, kind="change_finish", layer="f1", to={**TINT, "visible": False})
    assert etag(renamed) == bare
    empty = edit(client, renamed, kind="remove_finish", layers=["f1"])
    assert etag(empty) == bare
    same = client.get(f"/api/pieces/{piece['id']}/picture", params=VIEW,
                      headers={"if-none-match": bare})
    assert same.status_code == 304 and not same.content


def test_the_screens_are_told_what_can_be_done(client: TestClient) -> None:
    """Labels and bounds of every operation and texture, and their keys as enums."""
    meta = client.get("/api/meta").json()
    assert {o["key"] for o in meta["operators"]} == set(OPERATORS)
    assert meta["textures"] == {t.key: t.label for t in TEXTURES.values()}
    assert meta["planes"] == {p.key: p.label for p in PLANES.values()}
    blur = next(o for o in meta["operators"] if o["key"] == "blur")
    assert blur["settings"][0]["unit"] == "px" and blur["settings"][0]["low"] == 0
    schemas = client.get("/api/openapi.json").json()["components"]["schemas"]
    assert set(schemas["Operation"]["properties"]["kind"]["enum"]) == set(OPERATORS)
    assert set(schemas["TextureUse"]["properties"]["key"]["enum"]) == set(TEXTURES)


@pytest.mark.parametrize("wrong", [
    {"paint": {"kind": "colour", "colour": "no colour"}}, {"mode": "sparkle"}, {"strength": 1.2},
    {"strength": float("nan")}, {"scope": "the moon"}, {"name": ""}, {"name": "a/b"},
    {"operations": [{"kind": "blur", "amounts": {"by": 1e9}}]},
    {"operations": [{"kind": "blur", "amounts": {"far": 3}}]},
    {"operations": [{"kind": "melt"}]}, {"operations": [{"kind": "invert"}] * 7},
    {"shape": {"kind": "given off", "parts": [], "reach": 9, "height": 3}},
    {"shape": {"kind": "given off", "parts": ["p1"], "reach": 0, "height": 3}},
    {"shape": {"kind": "contact", "width": 0}}, {"focus": "somewhere"},
    {"shape": {"kind": "sparks", "at": [5, 5], "radius": 9, "count": 9_999, "size": 3}},
    {"paint": {"kind": "form", "way": "down", "stops": [
        {"at": 0, "colour": "#ffffff"}, {"at": 1, "colour": "#000000"}]}},
    {"texture": {"key": "velvet"}}, {"texture": {"key": "grain", "size": 0}},
    {"shape": {"kind": "spots", "strokes": [{"points": [[1, 1], [2, 2]]}]}},
    {"shape": {"kind": "spots", "strokes": [{"points": [[1, 1]], "widths": [1, 2]}]}},
    {"shape": {"kind": "pass", "name": "moonlight"}},
    {"paint": {"kind": "gradient", "ends": [[0, 0], [0, 9]], "stops": [
        {"at": 1, "colour": "#ffffff"}, {"at": 0, "colour": "#000000"}]}},
    {"paint": {"kind": "gradient", "ends": [[0, 0], [0, 9]],
               "stops": [{"at": 0, "colour": "#ffffff"}]}},
    {"paint": {"kind": "pattern", "at": [5, 5], "pattern": {"picture": {
        "asset": "e" * 64, "width": 8, "height": 8}}}}])
def test_what_does_not_fit_is_refused_and_changes_nothing(client: TestClient,
                                                          wrong: dict[str, Any]) -> None:
    piece = new_piece(client)
    body = json.dumps({"seen": piece["revision"], "edit": {
        "kind": "add_finish", "layers": [{**TINT, **wrong}]}})
    answer = client.post(f"/api/pieces/{piece['id']}/edits", content=body,
                         headers={"content-type": "application/json"})
    said(answer, 422)
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


def test_degenerate_layers_still_give_a_picture(client: TestClient) -> None:
    """Ends in one place, a spot beside the picture, parts that are gone, everything turned off."""
    piece = new_piece(client)
    point = [[100, 100], [100, 100]]
    odd = [{**SKY, "paint": {**SKY["paint"], "ends": point}},
           {**SKY, "paint": {**SKY["paint"], "ends": point, "round": True}},
           {**TINT, "shape": {"kind": "spots", "strokes": [{"points": [[9e5, 9e5]],
                                                            "widths": [2000]}]}},
           {**TINT, "shape": {"kind": "spots", "strokes": []}},
           {**TINT, "scope": "parts", "parts": ["p77"]}, {**TINT, "scope": "parts", "parts": []},
           {**TINT, "shape": {"kind": "parts", "parts": ["p77"]}},
           {**TINT, "operations": [{"kind": "blur", "amounts": {"by": 400}},
                                   {"kind": "offset", "amounts": {"dx": -400, "dy": 400}}]},
           {**TINT, "shape": {"kind": "pass", "name": "rim", "outside": True}},
           {**TINT, "shape": {"kind": "given off", "parts": ["p77"], "reach": 50, "height": 0}},
           {**TINT, "shape": {"kind": "given off", "parts": ["p1"], "reach": 20_000, "height": 0}},
           {**TINT, "shape": {"kind": "sparks", "at": [-9e5, 9e5], "radius": 1, "size": 200}},
           {**TINT, "focus": "there"}, {**TINT, "strength": 0}]
    bare = picture(client, piece)
    for layer in odd:
        done = edit(client, piece, kind="add_finish", layers=[layer])
        assert picture(client, done).shape == bare.shape
        assert client.get(f"/api/pieces/{piece['id']}/stack").status_code == 200
        piece = edit(client, done, kind="remove_finish",
                     layers=[f["id"] for f in done["recipe"]["finish"]])
    assert np.array_equal(picture(client, piece), bare)


def test_every_flat_file_shows_it_and_the_figure_alone_has_no_ground(client: TestClient) -> None:
    piece = edit(client, new_piece(client), kind="add_finish", layers=[
        SKY, TINT, {**TINT, "name": "haze", "scope": "everything", "mode": "screen"}])
    shown = picture(client, piece)
    for form in ("png", "tiff"):
        _, data = delivered(client, piece["id"], format=form)
        assert np.array_equal(pixels(data), shown)
    _, data = delivered(client, piece["id"], format="png", clear_ground=True)
    alone = np.asarray(Image.open(io.BytesIO(data))).astype(int)
    assert alone[2, 2, 3] == 0
    whole = alone[..., 3] == 255
    assert whole.mean() > 0.2 and np.abs(alone[..., :3] - shown)[whole].max() <= 1


def test_it_travels_in_an_archive_and_looks_have_their_own(client: TestClient) -> None:
    piece = edit(client, new_piece(client), kind="add_finish", layers=[SKY])
    piece = edit(client, piece, kind="add_look", name="night")
    piece = edit(client, piece, kind="add_finish", layers=[TINT], targets=["k1"])
    assert [f["name"] for f in piece["recipe"]["finish"]] == ["sky"]
    assert [f["name"] for f in piece["recipe"]["looks"][0]["finish"]] == ["sky", "tint"]
    night = picture(client, piece, look="k1")
    assert not np.array_equal(night, picture(client, piece))
    _, data = delivered(client, piece["id"], format="archive")
    job = finished(client, client.post("/api/pieces/restore",
                                       files={"file": ("a.zip", data)}).json())
    copy = client.get(f"/api/pieces/{job['piece']}").json()
    assert copy["recipe"] == piece["recipe"]
    assert np.array_equal(picture(client, copy, look="k1"), night)
    undone = client.post(f"/api/pieces/{copy['id']}/undo", json={"seen": copy["revision"]}).json()
    assert undone["recipe"]["looks"][0]["finish"] is None


def test_pieces_of_the_version_before_open_and_say_today(settings: Settings) -> None:
    """Rows as they were stored before there was a finish: read, edited, undone."""
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        piece = edit(client, new_piece(client), kind="set_background", colour="#112233")
    base = sqlite3.connect(settings.data_dir / "wardrobe.sqlite3")
    for row, text in base.execute("SELECT id, recipe FROM history").fetchall():
        if text:
            old = json.loads(text) | {"schema_version": 1}
            del old["finish"]
            base.execute("UPDATE history SET recipe=? WHERE id=?", (json.dumps(old), row))
    base.commit()
    base.close()
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        again = client.get(f"/api/pieces/{piece['id']}").json()
        assert again["recipe"] == piece["recipe"] and again["recipe"]["schema_version"] == 3
        done = edit(client, again, kind="add_finish", layers=[TINT])
        assert len(done["recipe"]["finish"]) == 1


def test_lines_are_coloured_told_and_mended(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    bare = picture(client, piece)
    on = edit(client, piece, kind="set_ink", ink={"on": True})
    assert on["rests"]["ink"] != piece["rests"]["ink"]
    for report in ("cut", "gaps", "sheet", "stack"):
        assert (on["rests"][report] == piece["rests"][report]) == (report != "stack")
    assert np.abs(picture(client, on) - bare).max() > 10
    answer = client.get(f"{url}/ink")
    told = answer.json()
    assert told["mended"] is None and told["least"] == 8
    assert {s["beside"] for s in told["stretches"]} >= {"ground"}
    again = client.get(f"{url}/ink", headers={"If-None-Match": answer.headers["etag"]})
    assert again.status_code == 304
    stretch = told["stretches"][0]
    lost = edit(client, on, kind="colour_line", part=stretch["part"], beside=stretch["beside"],
                colour=on["recipe"]["parts"][int(stretch["part"][1:]) - 1]["base"])
    told = client.get(f"{url}/ink").json()
    assert told["stretches"][0]["mend"] and told["mended"]
    edit(client, lost, kind="set_ink", ink=told["mended"])
    assert client.get(f"{url}/ink").json()["mended"] is None
    # Of a piece without parts there is nothing to tell, and nothing goes wrong.
    empty = edit(client, client.get(url).json(), kind="replace_parts", parts=[],
                 claims=[])
    assert client.get(f"{url}/ink").json()["stretches"] == []
    assert picture(client, empty).shape == bare.shape
