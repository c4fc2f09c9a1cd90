"""Characters, cards, name sets and gestures over HTTP."""

import io
import json

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.server.steps import edit, new_piece


def test_a_card_goes_from_one_piece_to_another_and_out_and_in_again(client: TestClient) -> None:
    first, second = new_piece(client), new_piece(client)
    part = first["recipe"]["parts"][0]
    first = edit(client, first, kind="change_part", part=part["id"], base="#446688")
    made = client.post("/api/characters", json={"name": "Ödön “Tam”", "from_piece": first["id"]})
    assert made.status_code == 201
    character = made.json()
    assert character["pieces"] == [first["id"]]

    url = f"/api/pieces/{second['id']}"
    given = client.put(f"{url}/character", json={"character": character["id"]}).json()
    line = next(row for row in given["lines"] if row["name"] == part["name"])
    assert line["card"] == "#446688" and line["step"] > 1
    worn = client.post(f"{url}/wear-card", json={"seen": second["revision"]}).json()
    assert worn["recipe"]["parts"][0]["base"] == "#446688"
    assert client.post(f"{url}/undo", json={"seen": worn["revision"]}).json()["recipe"] \
        == second["recipe"]

    for form in ("json", "csv"):
        out = client.get(f"/api/characters/{character['id']}/card.{form}")
        assert "card." + form in out.headers["content-disposition"]
        back = client.post("/api/characters/import", files={"file": (f"c.{form}", out.content)},
                           data={"name": f"again {form}"})
        assert back.json()["card"] == character["card"]
    assert len(client.get("/api/characters").json()) == 3
    # Deleting a character leaves its pieces as they are.
    assert client.delete(f"/api/characters/{character['id']}").status_code == 204
    assert client.get(f"{url}/character").json() == {"character": None, "lines": []}


@pytest.mark.parametrize("data", [b"\xff\xfe\x00", b"{", b"a;b", b"[" * 100_000,
                                  b"x" * (2**20 + 2)])
def test_a_bad_card_file_changes_nothing(client: TestClient, data: bytes) -> None:
    answer = client.post("/api/characters/import", files={"file": ("c.json", data)},
                         data={"name": "x"})
    assert answer.status_code == 422 and answer.json()["detail"]
    assert client.get("/api/characters").json() == []


def test_shades_are_kept_on_the_card_and_drift_is_shown(client: TestClient) -> None:
    first, second = new_piece(client), new_piece(client)
    part = first["recipe"]["parts"][0]
    first = edit(client, first, kind="set_pass", name="shade",
                 wash={"colour": "#7090c0", "strength": 0.6})
    first = edit(client, first, kind="choose_colours", part=part["id"], own={"light": "#ffeecc"})
    made = client.post("/api/characters", json={"name": "Bo", "from_piece": first["id"]}).json()
    assert made["washes"]["shade"] == {"colour": "#7090c0", "strength": 0.6}
    url = f"/api/pieces/{second['id']}"
    lines = client.put(f"{url}/character", json={"character": made["id"]}).json()["lines"]
    drift = {p["name"]: p for p in lines[0]["passes"]}
    assert lines[0]["step"] == 0 and drift["shade"]["step"] > 1 and drift["light"]["step"] > 1

    for shades in ("washes", "per part"):
        worn = client.post(f"{url}/wear-card", json={"seen": second["revision"],
                                                     "shades": shades}).json()
        second = worn
        lines = client.get(f"{url}/character").json()["lines"]
        left = [p["step"] for line in lines for p in line["passes"]]
        assert max(left[:1]) < 0.6 if shades == "washes" else max(left) == 0
    assert worn["recipe"]["parts"][0]["own"]["light"] == "#ffeecc"
    # Out as tokens and in again, washes and all.
    out = client.get(f"/api/characters/{made['id']}/card.json")
    back = client.post("/api/characters/import", files={"file": ("c.json", out.content)},
                       data={"name": "again"}).json()
    assert back["card"] == made["card"] and back["washes"] == made["washes"]


@pytest.mark.parametrize("change", [
    {"kind": "set_passes", "passes": {"method": "guess"}},
    {"kind": "set_passes", "passes": {"amounts": {"darker": 3}}},
    {"kind": "choose_colours", "part": "p1", "own": {"sparkle": "#fff"}},
    {"kind": "choose_colours", "part": "p1", "own": {"shade": "reddish"}},
    {"kind": "nudge_colour", "part": "p1", "name": "shade", "to": "sideways"},
    {"kind": "set_method", "part": "p99", "method": "picked"}])
def test_a_bad_colour_edit_is_refused_and_changes_nothing(
        client: TestClient, change: dict[str, object]) -> None:
    piece = new_piece(client)
    answer = client.post(f"/api/pieces/{piece['id']}/edits",
                         json={"seen": piece["revision"], "edit": change})
    assert answer.status_code in (409, 422) and answer.json()["detail"]
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


def test_names_are_kept_as_sets(client: TestClient) -> None:
    names = [{"name": "cape"}, {"name": "clasp", "material": "metal", "parent": "cape"}]
    for _ in range(2):
        saved = client.post("/api/name-sets", json={"name": "heralds", "parts": names})
        assert saved.status_code == 201
    kept = client.get("/api/name-sets").json()
    assert [(s["name"], len(s["parts"])) for s in kept] == [("heralds", 2)]
    piece = edit(client, new_piece(client), kind="add_parts", parts=kept[0]["parts"])
    assert piece["recipe"]["parts"][-1]["parent"] == piece["recipe"]["parts"][-2]["id"]
    assert client.delete(f"/api/name-sets/{kept[0]['id']}").status_code == 204
    assert client.get("/api/name-sets").json() == []


def test_a_gesture_is_one_change_and_a_stale_one_is_refused(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    before = client.get(f"{url}/cut").json()
    body = {"seen": piece["revision"], "gesture": "split", "stroke": [[240, 50], [240, 170]]}
    after = client.post(f"{url}/gestures", json=body)
    assert after.status_code == 200, after.text
    assert len(client.get(f"{url}/cut").json()["areas"]) == len(before["areas"]) + 1
    complete = client.get(f"{url}/completeness").json()
    assert complete["claimed"] == complete["silhouette"] and complete["bleed"] == 0
    assert client.post(f"{url}/gestures", json=body).status_code == 409
    nothing = body | {"seen": after.json()["revision"], "stroke": [[240, 100], [242, 100]]}
    refused = client.post(f"{url}/gestures", json=nothing)
    assert refused.status_code == 422 and "parts no area" in refused.json()["detail"]
    undone = client.post(f"{url}/undo", json={"seen": after.json()["revision"]}).json()
    assert undone["recipe"] == piece["recipe"]


def test_parts_are_a_proposal_until_they_are_kept(client: TestClient) -> None:
    piece = new_piece(client)
    url, head = f"/api/pieces/{piece['id']}", [[[240, 110]]]
    assert piece["recipe"]["proposed"]
    full = client.post(f"{url}/suggest-parts", json={"seen": piece["revision"]})
    assert full.status_code == 422
    bare = edit(client, piece, kind="claim_areas", to="none", strokes=head)
    assert not bare["recipe"]["proposed"]
    again = client.post(f"{url}/suggest-parts", json={"seen": bare["revision"]}).json()
    assert again["recipe"]["proposed"]
    assert [p["id"] for p in again["recipe"]["parts"]][:-1] \
        == [p["id"] for p in piece["recipe"]["parts"]]
    assert client.get(f"{url}/cut").json()["unclaimed"] == 0
    piece = again
    assert not edit(client, piece, kind="keep_parts")["recipe"]["proposed"]


def test_what_is_unclaimed_stands_out(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"

    def alarms(kind: str) -> int:
        data = client.get(f"{url}/picture", params={"width": 480, "height": 480, "kind": kind})
        rgb = np.asarray(Image.open(io.BytesIO(data.content))).astype(int)
        return int((np.abs(rgb - [255, 92, 158]).sum(axis=2) < 30).sum())

    assert alarms("unclaimed") == alarms("faults") == 0
    edit(client, piece, kind="claim_areas", to="none", strokes=[[[240, 110]]])
    head = json.loads(client.get(f"{url}/cut").text)
    pixels = next(a["pixels"] for a in head["areas"] if a["part"] is None and not a["ground"])
    assert 0.7 * pixels < alarms("unclaimed") < pixels
    assert alarms("faults") > 0.7 * pixels
