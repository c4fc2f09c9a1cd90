"""The fast picture, the delivered stack and the sheet give the same pixels."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import piece
from wardrobe.core.colour import from_hex
from wardrobe.core.pattern.motifs import MOTIFS
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Group
from wardrobe.recipe.edits import AddPart, apply
from wardrobe.recipe.model import Light, Passes, Pattern, Recipe, Wash
from wardrobe.recipe.outline import stack_outline
from wardrobe.recipe.table import colour_sheet
from wardrobe.recipe.view import View

WHOLE = View.whole(480, 480)
DERIVER, RECIPE = piece()

hexes = st.integers(0, 0xFFFFFF).map(lambda v: f"#{v:06x}")
washes = st.builds(Wash, colour=hexes, strength=st.floats(0, 1).map(lambda v: round(v, 3)))


patterns = st.none() | st.builds(
    Pattern, motif=st.sampled_from(sorted(MOTIFS)), colour=hexes,
    share=st.floats(0.1, 0.9), period=st.floats(6, 200), angle=st.floats(-180, 180),
    dx=st.floats(-50, 50), follow=st.booleans(), strength=st.floats(0, 1))


@st.composite
def recipes(draw: st.DrawFn) -> Recipe:
    """The test figure in other colours and another light."""
    parts = tuple(p.model_copy(update={"base": draw(hexes), "pattern": draw(patterns)})
                  for p in RECIPE.parts)
    return RECIPE.model_copy(update={
        "parts": parts, "background": draw(hexes),
        "passes": Passes(shade=draw(washes), light=draw(washes)),
        "light": Light(azimuth=draw(st.integers(0, 359)), height=draw(st.integers(-20, 90))),
        "lines": RECIPE.lines.model_copy(update={"colour": draw(hexes)}),
    })


@settings(max_examples=15, deadline=None)
@given(recipes())
def test_flattening_the_stack_gives_the_picture(recipe: Recipe) -> None:
    flat = flatten(DERIVER.stack(recipe))
    assert (flat[..., 3] == 255).all()
    picture = DERIVER.picture(recipe, WHOLE)
    assert np.abs(flat[..., :3].astype(int) - picture).max() <= 1


@settings(max_examples=15, deadline=None)
@given(recipes())
def test_the_sheet_shows_the_colours_of_the_picture_exactly(recipe: Recipe) -> None:
    plain = tuple(p.model_copy(update={"pattern": None}) for p in recipe.parts)
    recipe = recipe.model_copy(update={"parts": plain})
    parts, shade, light, ink = DERIVER.masks(recipe, WHOLE)
    picture = DERIVER.picture(recipe, WHOLE)
    for number, row in enumerate(colour_sheet(recipe), start=1):
        inside = (parts == number) & (ink == 0)
        for name, where in (("base", inside & (shade == 0) & (light == 0)),
                            ("shade", inside & (shade == 255) & (light == 0)),
                            ("light", inside & (shade == 0) & (light == 255))):
            assert (picture[where] == from_hex(getattr(row, name))).all(), name


def test_a_crop_is_a_piece_of_the_whole() -> None:
    whole = DERIVER.picture(RECIPE, WHOLE)
    crop = DERIVER.picture(RECIPE, View(101, 57, 200, 180, 1.0))
    assert (crop == whole[57:237, 101:301]).all()


def test_every_part_has_shade_and_light() -> None:
    parts, shade, light, _ = DERIVER.masks(RECIPE, WHOLE)
    for number in range(1, len(RECIPE.parts) + 1):
        inside = parts == number
        assert 0.1 < (shade[inside] > 127).mean() < 0.75
        assert (light[inside] > 127).any()


def test_the_listed_stack_is_the_one_delivered() -> None:
    empty = apply(RECIPE, AddPart(name="empty"))
    built: list[tuple[str, str, float, str | None, int]] = []
    for node in reversed(DERIVER.stack(empty).nodes):
        built.append((node.name, node.mode, round(node.opacity, 5),
                      getattr(node, "clipped_to", None), 0))
        if isinstance(node, Group):
            built += [(c.name, c.mode, round(c.opacity, 5), getattr(c, "clipped_to", None), 1)
                      for c in reversed(node.children)]
    listed = [(line.name, line.mode, round(line.opacity, 5), line.clipped_to, line.depth)
              for line in stack_outline(empty)]
    assert listed == built
    assert all(" / " in name for name, *_, depth in built if depth)




def test_a_draft_shows_nearly_the_same_shapes() -> None:
    for masks in zip(DERIVER.masks(RECIPE, WHOLE), DERIVER.masks(RECIPE, WHOLE, draft=True),
                     strict=True):
        assert ((masks[0] > 127) != (masks[1] > 127)).mean() < 0.02


@pytest.mark.parametrize("edge", [64, 200])
def test_small_views_keep_the_picture(edge: int) -> None:
    small = DERIVER.picture(RECIPE, View.whole(480, 480, edge))
    assert small.shape == (edge, edge, 3)
    whole = DERIVER.picture(RECIPE, WHOLE)
    assert np.abs(small.mean((0, 1)) - whole.mean((0, 1))).max() < 3
