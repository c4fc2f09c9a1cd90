"""Palettes on the shelf: kept, replaced, worn by any piece, taken off."""

from functools import reduce
from itertools import permutations
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.color import deltaE_ciede2000, rgb2lab

from tests.drawings import piece as drawn_piece
from tests.server.steps import edit, new_piece, said
from wardrobe.core.colour import from_hex, to_hex
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.edits import apply
from wardrobe.recipe.reports.dressing import dressed_in

COLOURS = st.tuples(*(st.integers(0, 255),) * 3).map(to_hex)


def colour(name: str, value: str) -> dict[str, str]:
    return {"name": name, "colour": value}


def keep(client: TestClient, name: str, *colours: dict[str, str]) -> Any:
    return client.post("/api/palettes", json={"name": name, "colours": colours})


def test_a_palette_is_kept_replaced_and_taken_off(client: TestClient) -> None:
    assert client.get("/api/palettes").json() == []
    first = keep(client, "Evening", colour("coat", "#203040"))
    assert first.status_code == 201
    keep(client, "Dawn", colour("coat", "#f0c0a0"))
    again = keep(client, "Evening", colour("coat", "#102030"), colour("hat", "#aa2200")).json()
    assert again["id"] == first.json()["id"] and len(again["colours"]) == 2
    assert [p["name"] for p in client.get("/api/palettes").json()] == ["Dawn", "Evening"]
    assert client.delete(f"/api/palettes/{again['id']}").status_code == 204
    said(client.delete(f"/api/palettes/{again['id']}"), 404)
    assert [p["name"] for p in client.get("/api/palettes").json()] == ["Dawn"]


@pytest.mark.parametrize("body", [
    {"name": "", "colours": [colour("a", "#000000")]}, {"name": "x", "colours": []},
    {"name": "x", "colours": [colour("a", "red")]},
    {"name": "x", "colours": [colour("", "#000000")]},
    {"name": "x", "colours": [colour("a", "#000000")] * 65}])
def test_what_is_no_palette_is_refused_and_the_shelf_stays(client: TestClient,
                                                           body: dict[str, Any]) -> None:
    said(client.post("/api/palettes", json=body))
    assert client.get("/api/palettes").json() == []


def test_any_piece_is_dressed_in_it_and_undo_takes_it_off(client: TestClient) -> None:
    piece = new_piece(client)
    first = piece["recipe"]["parts"][0]["name"]
    palette = keep(client, "Evening", colour(first.upper(), "#123456"), colour("x", "#c08040"),
                   colour("y", "#406030")).json()
    change = client.get(f"/api/pieces/{piece['id']}/dressed-in/{palette['id']}").json()
    dressed = edit(client, piece, **change)
    bases = [p["base"] for p in dressed["recipe"]["parts"]]
    assert bases[0] == "#123456" and set(bases) <= {"#123456", "#c08040", "#406030"}
    undone = client.post(f"/api/pieces/{piece['id']}/undo",
                         json={"seen": dressed["revision"]}).json()
    assert undone["recipe"] == piece["recipe"]
    said(client.get(f"/api/pieces/{piece['id']}/dressed-in/99"), 404)
    while undone["can_undo"]:
        undone = client.post(f"/api/pieces/{piece['id']}/undo",
                             json={"seen": undone["revision"]}).json()
    said(client.get(f"/api/pieces/{piece['id']}/dressed-in/{palette['id']}"), 422)


@settings(max_examples=40, deadline=None)
@given(bases=st.lists(COLOURS, min_size=1, max_size=5),
       offered=st.lists(COLOURS, min_size=1, max_size=5, unique=True))
def test_colours_are_shared_out_so_that_least_changes(bases: list[str], offered: list[str]) -> None:
    """Against all ways there are, by CIEDE2000 of scikit-image."""
    recipe = bare().model_copy(update={"parts": tuple(
        Part(id=f"p{k}", name=f"n{k}", base=b) for k, b in enumerate(bases, start=1))})
    worn = [p.base for p in reduce(apply, [dressed_in(recipe, [
        (f"c{k}", c) for k, c in enumerate(offered)])], recipe).parts]
    times = -(-len(bases) // len(offered))
    assert max(worn.count(c) for c in offered) <= times
    have, may = (rgb2lab(np.array([[from_hex(c) for c in found]], np.uint8))[0]
                 for found in (bases, offered))
    steps = deltaE_ciede2000(have[:, None], may[None])
    if len(offered) * times <= 7:
        best = min(sum(steps[k, c] for k, c in enumerate(way)) for way in permutations(
            [c for c in range(len(offered)) for _ in range(times)], len(bases)))
        now = sum(steps[k, offered.index(c)] for k, c in enumerate(worn))
        assert now == pytest.approx(best, abs=0.02)


def bare() -> Recipe:
    return drawn_piece()[1].model_copy(update={"claims": ()})
