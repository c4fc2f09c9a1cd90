"""Findings over HTTP: asked question by question, left as they are, kept apart by look."""

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from skimage.color import deltaE_ciede2000, rgb2lab

from tests.server.steps import edit, new_piece, said
from wardrobe.core.formats.images import decode_image
from wardrobe.recipe.checks import CHECKS, QUESTIONS


def findings(client: TestClient, piece: dict[str, Any], **query: Any) -> list[dict[str, Any]]:
    answer = client.get(f"/api/pieces/{piece['id']}/findings", params=query)
    assert answer.status_code == 200, answer.text
    found: list[dict[str, Any]] = answer.json()
    return found


def note(client: TestClient, piece: dict[str, Any], **event: Any) -> Any:
    return client.post(f"/api/pieces/{piece['id']}/events", json=event)


@pytest.fixture
def piece(client: TestClient) -> dict[str, Any]:
    """A piece without light, whose parts are alike and have numbers for names."""
    made = new_piece(client)
    passes = {**made["recipe"]["passes"], "off": ["shade", "deep shade", "light", "glint"]}
    made = edit(client, made, kind="set_passes", passes=passes)
    for k, part in enumerate(made["recipe"]["parts"]):
        made = edit(client, made, kind="change_part", part=part["id"], name=f"Part {k + 1}",
                    base=("#808080", "#848484", "#7c7c7c")[k])
    return made


def alike(found: list[dict[str, Any]]) -> dict[str, Any]:
    """The first of two parts that run together."""
    return next(f for f in found if f["check"] == "run together")


def test_the_table_of_checks_is_told(client: TestClient) -> None:
    meta = client.get("/api/meta").json()
    assert list(meta["questions"]) == list(QUESTIONS)
    assert [c["key"] for c in meta["checks"]] == list(CHECKS)
    assert {c["limit"]["source"] for c in meta["checks"]} == {"published", "common practice", "own"}


def test_each_question_is_answered_by_itself_and_all_of_them_together(
        client: TestClient, piece: dict[str, Any]) -> None:
    everything = findings(client, piece)
    assert {"run together", "unnamed"} <= {f["check"] for f in everything}
    apart = [f for q in QUESTIONS for f in findings(client, piece, question=q)]
    assert sorted(f["words"] for f in apart) == sorted(f["words"] for f in everything)
    assert client.get(f"/api/pieces/{piece['id']}/findings",
                      params={"question": "taste"}).status_code == 422


def test_a_repair_is_an_edit_that_undo_takes_back(client: TestClient,
                                                  piece: dict[str, Any]) -> None:
    found = alike(findings(client, piece))
    mended = edit(client, piece, **found["repair"]["edit"])
    assert found["ids"] not in [f["ids"] for f in findings(client, mended)
                                if f["check"] == "run together"]
    client.post(f"/api/pieces/{piece['id']}/undo", json={"seen": mended["revision"]})
    assert alike(findings(client, piece)) == found


def test_what_is_dismissed_stays_so_over_a_reload_and_counts_again_when_told(
        client: TestClient, piece: dict[str, Any]) -> None:
    found = alike(findings(client, piece))
    x, y, width, height = found["box"]
    place = [round(x + width / 2, 1), round(y + height / 2, 1)]
    events = note(client, piece, kind="dismissal", check="run together", ids=found["ids"],
                  measured=found["measured"], place=place, reason="twins").json()
    tag = client.get(f"/api/pieces/{piece['id']}/findings").headers["etag"]
    last = findings(client, piece)[-1]
    assert last["check"] == "run together" and last["dismissed"]["reason"] == "twins"
    number = events[-1]["number"]
    assert note(client, piece, kind="reopening", dismissal=number).status_code == 201
    assert client.get(f"/api/pieces/{piece['id']}/findings").headers["etag"] != tag
    assert all(f["dismissed"] is None for f in findings(client, piece))
    told = said(note(client, piece, kind="reopening", dismissal=number), 400, 409, 422)
    assert "counts again already" in told


@pytest.mark.parametrize(("event", "told"), [
    ({"kind": "dismissal", "check": "taste", "measured": 1}, "no check taste"),
    ({"kind": "dismissal", "check": "flat", "measured": 1, "look": "k7"}, "look"),
    ({"kind": "dismissal", "check": "flat", "measured": 1e12}, "measured"),
    ({"kind": "reopening", "dismissal": 4}, "not dismissed"),
])
def test_what_cannot_be_dismissed_is_refused_in_words(
        client: TestClient, piece: dict[str, Any], event: dict[str, Any], told: str) -> None:
    answer = note(client, piece, **event)
    assert answer.status_code in (400, 409, 422) and told in answer.text
    assert client.get(f"/api/pieces/{piece['id']}/events").json() == []


def test_a_look_is_judged_by_itself(client: TestClient, piece: dict[str, Any]) -> None:
    bases = dict(zip((p["id"] for p in piece["recipe"]["parts"]),
                     ("#b03030", "#30508a", "#e0d0a0"), strict=True))
    worn = edit(client, piece, kind="add_look", name="red", bases=bases)
    look = worn["recipe"]["looks"][0]["id"]
    assert "run together" in {f["check"] for f in findings(client, piece)}
    assert "run together" not in {f["check"] for f in findings(client, piece, look=look)}


def test_a_colour_that_differs_from_the_card_is_found_and_set_right(
        client: TestClient, piece: dict[str, Any]) -> None:
    card = [{"name": p["name"], "colour": p["base"]} for p in piece["recipe"]["parts"]]
    who = client.post("/api/characters", json={"name": "Nim", "card": card}).json()
    client.put(f"/api/pieces/{piece['id']}/character", json={"character": who["id"]})
    first = piece["recipe"]["parts"][0]
    moved = edit(client, piece, kind="change_part", part=first["id"], base="#a06050")
    (found,) = (f for f in findings(client, moved) if f["check"] == "drifted")
    one, other = (rgb2lab(np.array([[[int(c[k:k + 2], 16) for k in (1, 3, 5)]]]) / 255)
                  for c in ("#a06050", "#808080"))
    assert found["measured"] == pytest.approx(float(deltaE_ciede2000(one, other)[0, 0]), abs=0.06)
    mended = edit(client, moved, **found["repair"]["edit"])
    assert mended["recipe"]["parts"][0]["base"] == "#808080"


def picture(client: TestClient, piece: dict[str, Any], **query: Any) -> np.ndarray:
    answer = client.get(f"/api/pieces/{piece['id']}/picture", params={
        "width": piece["width"], "height": piece["height"], "scale": 0.5, **query})
    assert answer.status_code == 200, answer.text
    return decode_image(answer.content)[..., :3]


def test_any_two_states_of_a_piece_are_compared(client: TestClient, piece: dict[str, Any]) -> None:
    """The map and the figures follow from the two pictures; CIEDE2000 by scikit-image."""
    red = edit(client, piece, kind="add_look", name="red",
               bases={piece["recipe"]["parts"][0]["id"]: "#b03030"})
    glazed = edit(client, red, kind="add_finish", layers=[{
        "name": "dusk", "paint": {"kind": "colour", "colour": "#a080c0"}, "mode": "multiply"}])
    now = picture(client, glazed)
    assert np.array_equal(picture(client, glazed, side="now"), now)
    before = picture(client, glazed, side="back 1")
    assert np.array_equal(before, picture(client, glazed, side="without f1"))
    assert np.array_equal(picture(client, glazed, side="look k1"),
                          picture(client, glazed, look="k1"))
    assert np.array_equal(picture(client, glazed, side="drawing"),
                          picture(client, glazed, kind="before"))
    answer = client.get(f"/api/pieces/{piece['id']}/difference",
                        params={"side": "back 1", "against": "now"}).json()
    steps = deltaE_ciede2000(rgb2lab(before), rgb2lab(now))
    assert answer["mean"] == pytest.approx(float(steps.mean()), rel=0.05)
    assert answer["most"] == pytest.approx(float(steps.max()), abs=0.6)
    shown = picture(client, glazed, side="back 1", against="now").astype(int).sum(axis=2)
    assert np.corrcoef(shown.ravel(), np.minimum(steps, 40).ravel())[0, 1] > 0.9
    same = client.get(f"/api/pieces/{piece['id']}/difference",
                      params={"side": "now", "against": "back 0"}).json()
    assert same == {"mean": 0, "most": 0, "noticed": 0, "other": 0, "place": []}


@pytest.mark.parametrize("side", [
    "without f9", "look k9", "yesterday", "back -1"])
def test_a_side_that_is_not_there_is_refused(client: TestClient, piece: dict[str, Any],
                                             side: str) -> None:
    answer = client.get(f"/api/pieces/{piece['id']}/difference",
                        params={"side": side, "against": "now"})
    assert answer.status_code == 422, answer.text
    assert answer.json()["detail"]


def test_a_state_of_another_size_cannot_be_laid_over_this_one(client: TestClient,
                                                             piece: dict[str, Any]) -> None:
    cropped = edit(client, piece, kind="set_frame", frame={"turn": 0, "tilt": 0,
                                                           "crop": [10, 10, 400, 420]})
    answer = client.get(f"/api/pieces/{piece['id']}/difference",
                        params={"side": "back 1", "against": "now"})
    assert "480 x 480 px then" in said(answer, 400, 409, 422)
    assert cropped["width"] == 400


def test_maps_are_pictures_of_the_size_that_was_asked_for(client: TestClient,
                                                          piece: dict[str, Any]) -> None:
    seen = {}
    for kind in ("values", "chroma", "attention", "outline"):
        seen[kind] = picture(client, piece, kind=kind)
        assert seen[kind].shape == (240, 240, 3)
        cut = picture(client, piece, kind=kind, x=120, y=120, width=240, height=240, scale=0.5)
        assert np.mean(np.abs(cut.astype(int) - seen[kind][60:180, 60:180])) < 6
    greys = np.unique(seen["values"].reshape(-1, 3), axis=0)
    assert len(greys) <= 7 and (greys == greys[:, :1]).all()
    # Seven equal steps of L*: CIE 15, by scikit-image.
    lightness = rgb2lab(picture(client, piece))[..., 0]
    band = np.clip((lightness * 7 / 100).astype(int), 0, 6)
    levels = np.linspace(12, 243, 7).astype(np.uint8)
    assert np.mean(levels[band] != seen["values"][..., 0]) < 0.001
