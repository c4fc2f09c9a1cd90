"""A pass that is added as one entry is drawn, settled, composited, seen, delivered and told."""

from dataclasses import replace

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.drawings import piece
from wardrobe.core.colour import from_hex
from wardrobe.core.light.shapes import tone
from wardrobe.core.masks.settle import rules_of
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.methods import METHODS
from wardrobe.core.passes.methods.rules import Column, Rules
from wardrobe.core.passes.table import PASSES, Pass, Rule
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.document.look import Look
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.sheet import colour_sheet
from wardrobe.recipe.stages import Deriver

MIST = "mist"
TINT = (40, 160, 220)


@pytest.fixture
def with_mist(monkeypatch: pytest.MonkeyPatch) -> None:
    """A pass over the lit half of the shade's own ball, by a method of its own."""
    def coat(base: Rgb, rules: Rules) -> Coat:
        plain = METHODS["one shade"].coat(base, rules)
        return replace(plain, layers=(*plain.layers, PassLayer(MIST, "hard-light", MIST, TINT,
                                                               0.5)))

    monkeypatch.setitem(PASSES, MIST, Pass(
        MIST, "Mist", tone(0.75), rules=(Rule("without", ("shade", "deep shade"), 3),)))
    monkeypatch.setitem(METHODS, "misty", replace(
        METHODS["one shade"], key="misty", coat=coat,
        columns=(*METHODS["one shade"].columns, Column(MIST, "hard-light"))))


@pytest.mark.usefixtures("with_mist")
def test_a_pass_is_one_entry() -> None:
    warm, recipe = piece()
    deriver = Deriver(warm.store.load)
    misty = recipe.model_copy(update={
        "passes": recipe.passes.model_copy(update={"method": "misty"}),
        "looks": (Look(id="k1", name="blue", bases={"p1": "#3355aa"}),)})
    view = View.whole(480, 480)
    masks = deriver.masks(misty, view)
    mist, shade = masks.level(MIST), masks.level("shade")
    assert (mist == 255).mean() > 0.05 and (mist[shade == 255] == 0).all()
    assert MIST not in deriver.masks(recipe, view).keys
    # In the picture: W3C's hard-light over the base, where nothing else lies.
    picture, bare = deriver.picture(misty, view), deriver.picture(recipe, view)
    inside = (mist == 255) & (masks.ink == 0) & (masks.parts == 1) & \
        (masks.level("light") == 0)
    b, s = np.array(from_hex(misty.parts[0].base)) / 255, np.array(TINT) / 255
    laid = np.where(s <= 0.5, 2 * b * s, 1 - 2 * (1 - b) * (1 - s))
    assert np.abs(picture[inside] - 255 * (b + 0.5 * (laid - b))).max() <= 0.5 + 1e-6
    assert np.array_equal(picture[mist == 0], bare[mist == 0])
    # On the sheet, in looks, in the stack, among the columns.
    cell = next(c for c in colour_sheet(misty).rows[0].cells if c.name == MIST)
    assert np.abs(np.array(from_hex(cell.colour)) - 255 * (b + 0.5 * (laid - b))).max() <= 0.5001
    assert MIST in {c.name for c in colour_sheet(misty).columns}
    blue = deriver.picture(deriver.worn(misty, misty.looks[0]), view)
    assert (blue != picture).any(axis=2)[inside].all()
    stack = deriver.stack(misty)
    assert any(layer.name.endswith(MIST) for layer in stack.layers())
    assert np.abs(flatten(stack).astype(int)[..., :3] - picture).max() <= 1


@pytest.mark.usefixtures("with_mist")
def test_rules_keep_their_turns() -> None:
    keys = ("shade", "light", MIST, "rim")
    steps = rules_of(keys).tolist()
    assert [row[1] for row in steps] == [3, 1, 2]  # the rim first, then what keeps to the shade
    assert rules_of((MIST,)).tolist() == []  # without a shade there is nothing to keep out of


@pytest.mark.usefixtures("with_mist")
def test_the_screens_are_told(client: TestClient) -> None:
    told = client.get("/api/meta").json()
    assert told["passes"][MIST] == "Mist" and "misty" in {m["key"] for m in told["methods"]}
