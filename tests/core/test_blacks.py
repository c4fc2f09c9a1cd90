"""Solid blacks are told from lines; their rim lies where it is needed and nowhere else."""

import cv2
import numpy as np

from tests.drawings import figure_ink, piece
from wardrobe.core.lines.blacks import halo, solid_blacks
from wardrobe.core.lines.width import line_width
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.document.model import Halo
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import SetHalo, apply
from wardrobe.recipe.reports.section import stack_section


def inked() -> np.ndarray:
    """The figure with a solid black cap, and two black shoes that touch."""
    ink = figure_ink()
    cv2.ellipse(ink, (240, 70), (50, 22), 0, 0, 360, 255, -1, cv2.LINE_AA)
    cv2.circle(ink, (203, 375), 26, 255, -1, cv2.LINE_AA)
    cv2.circle(ink, (256, 375), 26, 255, -1, cv2.LINE_AA)
    return ink


def test_solids_are_found_with_their_place_and_lines_are_not() -> None:
    assert solid_blacks(figure_ink(), line_width(figure_ink())).solids == []
    found = solid_blacks(inked(), line_width(inked()))
    cap, *shoes = sorted(found.solids, key=lambda s: s.y)
    assert abs(cap.x - 240) < 20 and abs(cap.y - 70) < 3
    assert abs(cap.pixels / (np.pi * 50 * 22) - 1) < 0.2
    assert len(shoes) == 2
    for x, shoe in zip((203, 256), sorted(shoes, key=lambda s: s.x), strict=True):
        assert abs(shoe.x - x) < 6 and abs(shoe.y - 375) < 6


def test_the_rim_lies_beside_dark_and_between_blacks() -> None:
    blacks = solid_blacks(inked(), line_width(inked()))
    nowhere = np.zeros(inked().shape, bool)
    between = halo(blacks, nowhere, 4)
    assert between[375, 229:232].max() == 255 and between[375, 190] == 0
    assert np.count_nonzero(between[:200]) == 0  # nothing dark beside the cap
    beside = halo(blacks, ~nowhere, 4)
    column = beside[75:120, 240] >= 128  # below the cap: a band of 4 px from its edge
    assert column.sum() == 4 and (beside[blacks.labels == 1] == 0).all()
    assert halo(blacks, ~nowhere, 0).max() == 0


def test_the_halo_is_a_layer_and_the_picture_has_it() -> None:
    deriver, recipe = piece(inked())
    recipe = apply(recipe.model_copy(update={"background": "#101018", "parts": tuple(
        p.model_copy(update={"base": "#151520"}) for p in recipe.parts)}),
        SetHalo(halo=Halo(width=3, colour="#ffeecc")))
    picture = deriver.picture(recipe, View.whole(480, 480))
    stack = deriver.stack(recipe)
    assert np.abs(flatten(stack)[..., :3].astype(int) - picture).max() <= 1
    assert stack.nodes[-1].name == stack_section(deriver, recipe).lines[0].name \
        == "finish / halo"
    assert (picture == (255, 238, 204)).all(axis=2).sum() > 200
