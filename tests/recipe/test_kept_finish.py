"""Finish layers that go along with a character: laid out on another figure as on the first."""

import random

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import figure_ink, piece
from tests.recipe.test_finish import draft_of
from tests.tries import tries
from wardrobe.recipe.document.finish import (
    FinishDraft,
    GivenOff,
    LaidPattern,
    OfParts,
    PlainColour,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddFinish, ChangePart, apply
from wardrobe.recipe.exchange.kept_finish import HIGH, KeptFinish, kept, worn_finish
from wardrobe.recipe.reports.finishes.lay_out import Ground

DERIVER, PLAIN = piece()
LARGE_DERIVER, LARGE = piece(figure_ink(960))


def carried(recipe: Recipe, large: bool) -> Recipe:
    """The finish of a piece on the same drawing, or on it at twice its size."""
    finish = kept(recipe, Ground.of(DERIVER, recipe))
    assert finish is not None
    again = KeptFinish.model_validate_json(finish.model_dump_json())  # as a card holds it
    deriver, other = (LARGE_DERIVER, LARGE) if large else (DERIVER, PLAIN)
    layers = worn_finish(again, other, Ground.of(deriver, other))
    for layer in layers:  # within all bounds
        FinishDraft.model_validate_json(layer.model_dump_json())
    return apply(other, AddFinish(layers=layers))


@settings(max_examples=tries(8, 20))
@given(st.integers(0, 2**32), st.booleans())
def test_layers_look_alike_on_the_figure_at_any_size(seed: int, large: bool) -> None:
    """On the drawing itself as before; at twice the size twice as large: reduced by OpenCV's
    mean over areas it is the same picture, but for textures, whose grain is not."""
    dice = random.Random(seed)
    drafts = [draft_of(dice, k).model_copy(update={"texture": None, "focus": "as it is"})
              for k in range(dice.randrange(1, 4))]
    recipe = apply(PLAIN, AddFinish(layers=tuple(drafts)))
    other = carried(recipe, large)
    wanted = DERIVER.picture(recipe, View.whole(480, 480)).astype(int)
    if large:
        whole = LARGE_DERIVER.picture(other, View.whole(960, 960))
        found = cv2.resize(whole, (480, 480), interpolation=cv2.INTER_AREA).astype(int)
        bare = cv2.resize(LARGE_DERIVER.picture(LARGE, View.whole(960, 960)), (480, 480),
                          interpolation=cv2.INTER_AREA).astype(int)
        # Where the two drawings differ without any finish, lines among it, nothing is told.
        alike = (np.abs(bare - DERIVER.picture(PLAIN, View.whole(480, 480))) <= 2).all(axis=2)
        alike = cv2.erode(alike.astype(np.uint8), np.ones((9, 9))) > 0
    else:
        found = DERIVER.picture(other, View.whole(480, 480)).astype(int)
        alike = np.ones((480, 480), bool)
    off = np.abs(found - wanted).max(axis=2)[alike]
    assert alike.mean() > 0.3
    assert np.quantile(off, 0.9) <= (14 if large else 3)
    assert off.mean() < (6 if large else 1.5)


def test_parts_are_told_by_name_and_what_has_none_left_stays_behind() -> None:
    red = PlainColour(colour="#ff0000")
    recipe = apply(PLAIN, AddFinish(layers=(
        FinishDraft(name="all", paint=red), FinishDraft(name="p1", paint=red, scope="parts",
                                                        parts=("p1", "p2")),
        FinishDraft(name="of p1", paint=red, shape=OfParts(parts=("p1",))),
        FinishDraft(name="from p2", paint=red, shape=GivenOff(parts=("p2",), reach=50, height=9)),
        FinishDraft(name="figure", paint=red, shape=OfParts()),
        FinishDraft(name="print", paint=LaidPattern(at=(10, 10), pattern=Pattern(picture=None))))))
    finish = kept(recipe, Ground.of(DERIVER, recipe))
    assert finish is not None
    renamed = apply(apply(PLAIN, ChangePart(part="p1", name="other")),
                    ChangePart(part="p3", name=PLAIN.parts[0].name))
    worn = {layer.name: layer for layer in worn_finish(finish, renamed,
                                                       Ground.of(DERIVER, renamed))}
    assert set(worn) == {"all", "p1", "of p1", "from p2", "figure", "print"}
    assert set(worn["p1"].parts) == {"p3", "p2"}
    shape = worn["of p1"].shape
    assert isinstance(shape, OfParts) and shape.parts == ("p3",)
    none = PLAIN.model_copy(update={"parts": PLAIN.parts[2:]})
    left = {layer.name for layer in worn_finish(finish, none, Ground.of(DERIVER, PLAIN))}
    assert left == {"all", "figure", "print"}
    assert kept(PLAIN, Ground.of(DERIVER, PLAIN)) is None


def test_layers_are_kept_in_units_of_the_figure() -> None:
    """Its top in the middle is the origin, its foot 1000 below."""
    g = Ground.of(DERIVER, PLAIN)
    x, _ = g.middle
    at = FinishDraft(name="a", paint=LaidPattern(at=(x, g.bottom), pattern=Pattern(period=40)))
    finish = kept(apply(PLAIN, AddFinish(layers=(at,))), g)
    assert finish is not None
    paint = finish.layers[0].paint
    assert isinstance(paint, LaidPattern) and isinstance(paint, Frozen)
    assert np.allclose(paint.at, (0, HIGH), atol=0.02)
    assert np.isclose(paint.pattern.period, 40 * HIGH / (g.bottom - g.top), rtol=1e-3)
