"""One rule for pictures and reports: what the browser holds is not sent again."""

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.drawings import figure_ink, on_white, png
from tests.server.steps import edit, finished, new_piece
from tests.server.test_layered import delivered, taken_in

# Query that a route needs, and what stands in its path.
NEEDED: dict[str, dict[str, Any]] = {
    "/api/pieces/{piece_id}/picture": {"width": 480, "height": 480, "scale": 0.5},
    "/api/layered/{file_id}/picture": {"width": 480, "height": 480, "scale": 0.5},
    "/api/learn/lessons/{key}/{level}/{seed}/{which}/picture": {
        "width": 480, "height": 480, "scale": 0.5}}


@pytest.fixture
def places(client: TestClient) -> dict[str, Any]:
    piece = edit(client, new_piece(client), kind="add_finish", layers=[
        {"name": "tint", "paint": {"kind": "colour", "colour": "#3050a0"}, "mode": "multiply"}])
    _, data = delivered(client, piece["id"], format="ora")
    layered = taken_in(client, data)
    picture = client.post("/api/pieces/pictures", files={"file": ("a.png", png(
        np.zeros((40, 50, 3), np.uint8)))}).json()
    events = client.post(f"/api/pieces/{piece['id']}/events",
                         json={"kind": "reference", "picture": picture}).json()
    series = client.post("/api/series", json={"title": "Tides"}).json()
    job = client.post(f"/api/series/{series['id']}/pages", data={"title": "Page 1"},
                      files={"file": ("a.png", png(on_white(figure_ink())))}).json()
    assert finished(client, job)["state"] == "done"
    return {"page_id": 1, "piece_id": piece["id"], "file_id": layered["layered"], "index": 2,
            "layer": "f1", "number": events[-1]["number"], "key": "box", "level": 2, "seed": 7,
            "which": "given"}


def kept_answers(client: TestClient) -> list[str]:
    paths = client.get("/api/openapi.json").json()["paths"]
    return sorted(path for path, ways in paths.items()
                  if "304" in ways.get("get", {}).get("responses", {}))


def test_every_answer_that_can_be_kept_says_when_it_is_the_same(
        client: TestClient, places: dict[str, Any]) -> None:
    """RFC 9110, sections 13.1.2 and 15.4.5: weak comparison, lists of tags, the asterisk."""
    found = kept_answers(client)
    assert len(found) >= 21
    for path in found:
        url, query = path.format(**places), NEEDED.get(path, {})
        first = client.get(url, params=query)
        assert first.status_code == 200, (path, first.text)
        kind = first.headers["content-type"]
        told = first.content.startswith(b"\x89PNG") if kind == "image/png" else \
            isinstance(first.json(), list | dict) and kind == "application/json"
        assert told, path
        tag = first.headers["etag"]
        assert tag.startswith('"') and tag.isascii()
        assert first.headers["cache-control"] == "no-cache"
        for held in (tag, f"W/{tag}", f'"other", {tag}', "*"):
            same = client.get(url, params=query, headers={"if-none-match": held})
            assert same.status_code == 304 and not same.content, (path, held)
            assert same.headers["etag"] == tag
        for held in ('"other"', tag[:-2] + '"', "", '""'):
            again = client.get(url, params=query, headers={"if-none-match": held})
            assert again.status_code == 200 and again.content == first.content, (path, held)


def test_a_change_of_colour_changes_pictures_and_nothing_of_the_cut(
        client: TestClient, places: dict[str, Any]) -> None:
    def tags() -> dict[str, str]:
        return {path: client.get(path.format(**places), params=NEEDED.get(path, {})).headers["etag"]
                for path in kept_answers(client)}

    piece = client.get(f"/api/pieces/{places['piece_id']}").json()
    if piece["recipe"]["proposed"]:
        piece = edit(client, piece, kind="keep_parts")
    before = tags()
    edit(client, piece, kind="change_part", part="p1", base="#884422")
    after = tags()
    changed = {path for path in before if before[path] != after[path]}
    assert {path.removeprefix("/api/pieces/{piece_id}/") for path in changed} == {
        "picture", "card", "rail", "stack", "stack/layers/{index}", "sheet", "neighbours", "joins",
        "palettes", "looks", "light", "ink", "finishes", "modes/{layer}", "findings",
        "hues", "unprintable"}
    edit(client, client.get(f"/api/pieces/{places['piece_id']}").json(), kind="change_part",
         part="p1", base=piece["recipe"]["parts"][0]["base"])
    assert tags() == before
