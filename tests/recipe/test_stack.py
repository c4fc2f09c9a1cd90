"""Every arrangement of a stack gives the picture, and is listed as it is delivered."""

from collections.abc import Sequence
from itertools import product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.drawings import piece
from wardrobe.core.passes.methods import METHODS
from wardrobe.core.stack.arrange import obstacle
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Group, Layer, Node
from wardrobe.core.stack.naming import NamePatternError, Names, check_pattern
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.delivery import Delivery, ExtraLayer
from wardrobe.recipe.document.lighting import GroundShadow, SideLight
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddPart, ChangePart, SetMethod, SetPattern, apply
from wardrobe.recipe.reports.section import stack_section

DERIVER, PLAIN = piece()
SIDE = SideLight(azimuth=0, height=0, colour="#ffddaa", strength=0.5)
LIT = PLAIN.model_copy(update={"light": PLAIN.light.model_copy(update={
    "rim": SIDE, "bounce": SIDE, "ground": GroundShadow()})})
WHOLE = View.whole(480, 480)
EXTRAS = (ExtraLayer(name="dirt", mode="multiply", opacity=0.5, place="in parts"),
          ExtraLayer(name="blush", place="over figure"),
          ExtraLayer(name="clouds", place="behind"), ExtraLayer(name="notes", place="over lines"))
ARRANGEMENTS = list(product(("by part", "by pass", "whole figure"), ("limited", "masked")))
Built = list[tuple[str, str, float, str | None, int, bool]]


def built(nodes: Sequence[Node], depth: int = 0) -> Built:
    """Layers and groups, top to bottom."""
    found: Built = []
    for node in reversed(nodes):
        found.append((node.name, node.mode, round(node.opacity, 5),
                      getattr(node, "clipped_to", None), depth, node.visible))
        if isinstance(node, Group):
            found += built(node.children, depth + 1)
    return found


@pytest.mark.parametrize(("arrangement", "clipping"), ARRANGEMENTS)
@pytest.mark.parametrize("method", METHODS)
def test_every_arrangement_flattens_to_the_picture(method: str, arrangement: str,
                                                   clipping: str) -> None:
    recipe = apply(LIT, AddPart(name="empty"))
    if arrangement != "whole figure":
        recipe = apply(recipe, SetPattern(part="p1", pattern=Pattern(period=20)))
        recipe = apply(recipe, ChangePart(part="p2", visible=False))
    recipe = recipe.model_copy(update={
        "passes": Passes(method=method, over_figure=True),
        "delivery": Delivery(arrangement=arrangement, clipping=clipping, extras=EXTRAS)})
    stack = DERIVER.stack(recipe)
    shown = DERIVER.picture(recipe, WHOLE)
    assert np.abs(flatten(stack)[..., :3].astype(int) - shown).max() <= 1
    listed = stack_section(DERIVER, recipe).lines
    assert built(stack.nodes) == [(line.name, line.mode, round(line.opacity, 5), line.clipped_to,
                                   line.depth, line.visible) for line in listed]
    assert [line.name for line in listed if line.kind == "layer"][::-1] \
        == [layer.name for layer in stack.layers()]
    names = [layer.name.casefold() for layer in stack.layers()]
    assert len(set(names)) == len(names)
    small = DERIVER.stack(recipe, View.whole(480, 480, 120))
    assert built(small.nodes) == built(stack.nodes)


def test_what_is_possible_follows_from_the_method() -> None:
    picked = LIT.model_copy(update={"passes": Passes(method="picked")})
    assert obstacle(DERIVER.figure(LIT), "whole figure") is None
    told = obstacle(DERIVER.figure(picked), "whole figure")
    assert told is not None and "shade" in told
    own = apply(LIT, SetMethod(part="p1", method="picked"))
    assert obstacle(DERIVER.figure(own), "by pass") is None
    assert set(stack_section(DERIVER, own).obstacles) == {"whole figure"}
    # What is not possible is delivered by part.
    asked = own.model_copy(update={"delivery": Delivery(arrangement="whole figure")})
    assert built(DERIVER.stack(asked).nodes) == built(DERIVER.stack(own).nodes)


def test_passes_share_a_group_or_a_layer() -> None:
    by_pass = LIT.model_copy(update={"delivery": Delivery(arrangement="by pass")})
    groups = {n.name: n for n in DERIVER.stack(by_pass).nodes if isinstance(n, Group)}
    assert groups["shade"].mode == "multiply"
    assert {c.name for c in groups["shade"].children} <= {f"{p.name} / shade" for p in LIT.parts}
    whole = LIT.model_copy(update={"delivery": Delivery(arrangement="whole figure")})
    layers = {n.name: n for n in DERIVER.stack(whole).nodes if isinstance(n, Layer)}
    assert layers["figure / shade"].clipped_to == "silhouette / base"


def test_empty_passes_are_left_out_unless_wanted() -> None:
    kept = LIT.model_copy(update={"delivery": Delivery(empties=True)})
    some, more = DERIVER.stack(LIT), DERIVER.stack(kept)
    assert all(layer.alpha.any() for layer in some.layers())
    assert len(list(more.layers())) > len(list(some.layers()))
    assert (flatten(some) == flatten(more)).all()


def test_names_follow_the_pattern() -> None:
    named = LIT.model_copy(update={"delivery": Delivery(names=" {pass} of  {part}",
                                                        numbered=True)})
    layers = [layer.name for layer in DERIVER.stack(named).layers()]
    assert layers[0] == "01 base of background" and "ink of lines" in layers[-1]
    same = LIT.model_copy(update={"delivery": Delivery(names="{pass}")})
    layers = [layer.name for layer in DERIVER.stack(same).layers()]
    assert {"base", "base 2", "shade"} <= set(layers)
    for wrong in ("layer", "{part} {colour}", "{part", "{pass}\x07" + "x" * 200):
        with pytest.raises(NamePatternError):
            check_pattern(wrong)


@given(st.lists(st.sampled_from(["a", "A", "a 2", "b", "B 2", "b"]), max_size=12))
def test_names_are_unique_whatever_their_case(wanted: list[str]) -> None:
    names = Names()
    given_out = [names.unique(name).casefold() for name in wanted]
    assert len(set(given_out)) == len(wanted)
    assert all(got.startswith(name.casefold()) for got, name in zip(given_out, wanted,
                                                                   strict=True))
