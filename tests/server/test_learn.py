"""Lessons over HTTP: given, answered, kept, and out as CSV."""

import csv
import io
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.server.steps import edit, new_piece
from wardrobe.core.geometry.outline import outlines_of
from wardrobe.core.learn.course import COURSE, SKILLS
from wardrobe.core.learn.lessons import question_of
from wardrobe.core.learn.truth import truth_of, view_of
from wardrobe.core.light.rig import KeyLight


def outlines(mask: np.ndarray) -> list[dict[str, Any]]:
    return [{"stroke": {"points": outline.tolist()}} for outline in outlines_of(mask, 1)]


def answered(client: TestClient, lesson: dict[str, Any], **answer: Any) -> dict[str, Any]:
    reply = client.post(f"/api/learn/lessons/{lesson['key']}/{lesson['level']}/{lesson['seed']}"
                        "/answers", json=answer)
    assert reply.status_code == 200, reply.text
    found: dict[str, Any] = reply.json()
    return found


def right_answer(lesson: dict[str, Any]) -> dict[str, Any]:
    question = question_of(lesson["key"], lesson["level"], lesson["seed"])
    asked, scene = COURSE[lesson["key"]].asked, question.scene
    if lesson["ask"] == "draw":
        assert asked and scene
        return {"strokes": outlines(truth_of(view_of(scene), asked, scene.light)[0])}
    if lesson["ask"] == "light":
        assert scene
        return {"light": {"azimuth": scene.light.azimuth, "height": scene.light.height}}
    if lesson["ask"] == "colour":
        return {"colour": question.colour}
    if lesson["ask"] == "order":
        return {"order": question.answer}
    return {"choice": question.answer[0]}


@pytest.mark.parametrize("key", COURSE)
def test_every_lesson_is_given_seen_and_answered(client: TestClient, key: str) -> None:
    lesson = client.get(f"/api/learn/lessons/{key}").json()
    assert lesson["level"] == 1 and lesson["key"] == key
    again = client.get(f"/api/learn/lessons/{key}").json()
    assert again["seed"] != lesson["seed"]  # made anew each time
    same = client.get(f"/api/learn/lessons/{key}",
                      params={"level": 1, "seed": lesson["seed"]}).json()
    assert same == lesson
    url = f"/api/learn/lessons/{key}/1/{lesson['seed']}"
    for which in ("given", "solved"):
        view = {"width": lesson["width"], "height": lesson["height"]}
        picture = client.get(f"{url}/{which}/picture", params=view)
        assert Image.open(io.BytesIO(picture.content)).size == (lesson["width"], lesson["height"])
        held = client.get(f"{url}/{which}/picture", params=view,
                          headers={"If-None-Match": picture.headers["etag"]})
        assert held.status_code == 304 and held.content == b""
    result = answered(client, lesson, **right_answer(lesson))
    assert result["passed"] and result["score"] >= 98, result
    assert result["level"] == 2 and result["said"]
    # What it is answered by is told if something else comes.
    wrong = client.post(f"{url}/answers", json={"order": [0, 1, 2, 3, 4, 5]}
                        if lesson["ask"] != "order" else {"choice": 0})
    assert wrong.status_code == 422 and "is answered by" in wrong.json()["detail"]


def test_answers_are_kept_summed_up_and_written_out(client: TestClient) -> None:
    course = client.get("/api/learn/course").json()
    assert [s["key"] for s in course["skills"]] == [*SKILLS, "own"] and course["answered"] == 0
    assert course["following"] == "ball" and course["skills"][0]["off"] is None
    lesson = client.get("/api/learn/lessons/ball").json()
    question = question_of("ball", lesson["level"], lesson["seed"])
    assert question.scene
    light = KeyLight(question.scene.light.azimuth + 20, question.scene.light.height)
    drawn = truth_of(view_of(question.scene), "shade", light)[0]
    result = answered(client, lesson, strokes=outlines(drawn))
    assert result["figures"]["azimuth"] == pytest.approx(20, abs=3)
    assert any("further counter-clockwise" in said for said in result["said"])
    assert result["right_light"]["azimuth"] == question.scene.light.azimuth
    assert {p["missing"] for p in result["pieces"]} == {True, False}
    empty = answered(client, lesson, strokes=[])
    assert empty["score"] == 0 and not empty["passed"] and empty["level"] == result["level"]
    pen = [{"stroke": {"points": [[200, 200], [400, 420]], "widths": [20, 30]}, "erases": False}]
    assert 0 <= answered(client, lesson, strokes=pen)["score"] < 20

    course = client.get("/api/learn/course").json()
    turning = course["skills"][0]
    assert course["answered"] == 3 and len(turning["scores"]) == 3
    assert turning["lessons"][0] == {"key": "ball", "label": "Ball", "ask": "draw", "answered": 3,
                                     "best": result["score"]}
    assert course["following"] != "ball"
    progress = client.get("/api/learn/progress").json()
    assert [p["score"] for p in progress] == turning["scores"]
    sheet = client.get("/api/learn/progress.csv")
    assert "attachment" in sheet.headers["content-disposition"]
    rows = list(csv.DictReader(io.StringIO(sheet.text)))
    assert [float(r["score"]) for r in rows] == turning["scores"]
    assert float(rows[0]["azimuth"]) == pytest.approx(result["figures"]["azimuth"])
    assert rows[1]["azimuth"] == ""


@pytest.mark.parametrize("body", [
    {}, {"choice": 1, "order": [0, 1, 2, 3, 4, 5]}, {"order": [0, 0, 1, 2, 3, 4]},
    {"strokes": [{"stroke": {"points": [[1, 2]], "widths": []}}]}, {"colour": "blue"},
    {"strokes": [{"stroke": {"points": [[1e300, 2], [3, 4], [5, 6]], "widths": []}}]}])
def test_bad_answers_are_refused_and_not_kept(client: TestClient, body: dict[str, Any]) -> None:
    reply = client.post("/api/learn/lessons/ball/1/5/answers", json=body)
    assert reply.status_code == 422
    assert client.get("/api/learn/progress").json() == []
    for url in ("/api/learn/lessons/nonsense", "/api/learn/lessons/ball?level=11",
                "/api/learn/lessons/ball/1/-4/given/picture?width=9&height=9"):
        assert client.get(url).status_code == 422


def test_a_piece_says_why_and_is_practised_on(client: TestClient) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    found = client.get(f"{url}/why", params={"x": 240, "y": 355}).json()
    part = found["part"]
    assert part in [p["id"] for p in piece["recipe"]["parts"]] and found["begins"] > 0
    assert {"shade"} <= {r["name"] for r in found["reasons"]}
    assert client.get(f"{url}/why", params={"x": 3, "y": 3}).json()["part"] is None
    assert client.get(f"{url}/why", params={"x": -3, "y": 3}).status_code == 422
    ring = [[160, 300], [320, 300], [320, 340], [160, 340]]
    body = {"seen": piece["revision"], "part": part, "name": "shade",
            "strokes": [{"stroke": {"points": ring}}]}
    told = client.post(f"{url}/practice", json=body).json()
    assert told["score"] < 90 and told["said"] and told["edit"]["kind"] == "several"
    after = edit(client, piece, **told["edit"])
    assert {t["part"] for t in after["recipe"]["touch_ups"]} == {part}
    course = client.get("/api/learn/course").json()
    assert course["skills"][-1]["label"] == "Your own pieces"
    assert course["skills"][-1]["scores"] == [told["score"]] and course["following"] == "ball"
    same = client.post(f"{url}/practice", json={**body, "seen": after["revision"]}).json()
    assert same["score"] > 95
    assert client.post(f"{url}/practice", json=body).status_code == 409
    gone = client.post(f"{url}/practice", json={**body, "seen": after["revision"], "part": "p77"})
    assert gone.status_code == 422
