"""Coloured boundary lines, on a figure marked up as animation drawings are (common practice)."""

import cv2
import numpy as np

from tests.drawings import png
from wardrobe.core.formats.images import decode_image
from wardrobe.core.lines.hues import find_hues, hue_coverage, same_hue
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.model import Boundary, Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddPart, ClaimAreas, NameBoundary, apply
from wardrobe.recipe.stages import Deriver

BLUE, ORANGE = (60, 120, 235), (245, 150, 40)
WHOLE = View.whole(500, 500)


def marked_up() -> np.ndarray:
    """A black ball with a blue shade edge and an orange light edge, RGB on white."""
    image = np.full((500, 500, 3), 255, np.uint8)
    cv2.ellipse(image, (250, 250), (110, 180), 0, -80, 80, BLUE, 5, cv2.LINE_AA)
    cv2.circle(image, (180, 180), 40, ORANGE, 5, cv2.LINE_AA)
    cv2.circle(image, (250, 250), 180, (0, 0, 0), 8, cv2.LINE_AA)
    return image


def ball(image: np.ndarray) -> tuple[Deriver, Recipe]:
    rgba = decode_image(png(image))
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=500, height=500),
                    light=Light(azimuth=135, height=40))
    recipe = apply(recipe, AddPart(name="ball", base="#cc8844"))
    for x, y in ((250, 300), (395, 250), (180, 180)):
        recipe = apply(recipe, ClaimAreas(to="p1", strokes=(((x, y),),)))
    return deriver, recipe


def test_hues_are_found_and_black_is_none() -> None:
    rgba = decode_image(png(marked_up()))
    found = find_hues(rgba)
    assert len(found) == 2
    for colour in (BLUE, ORANGE):
        near = [h for h in found if np.abs(np.subtract(h.colour, colour)).max() < 40]
        assert len(near) == 1
        lone = np.full((500, 500, 3), 255, np.uint8)  # the same lines without the others
        if colour == ORANGE:
            cv2.circle(lone, (180, 180), 40, ORANGE, 5, cv2.LINE_AA)
        else:
            cv2.ellipse(lone, (250, 250), (110, 180), 0, -80, 80, BLUE, 5, cv2.LINE_AA)
        true = lone.min(axis=2) < 150
        ours = hue_coverage(rgba, near[0]) >= 128
        assert (ours & true).sum() > 0.9 * true.sum()
        assert (ours & true).sum() > 0.8 * ours.sum()
    assert find_hues(decode_image(png(np.repeat(marked_up().min(axis=2, keepdims=True), 3, 2)))) \
        == []
    assert same_hue(359, 3) and not same_hue(20, 80)


def test_tinted_light_is_no_line() -> None:
    y, x = np.mgrid[0:500, 0:500] / 500
    light = 235 / (1 + 1.2 * (x**2 + y**2))
    for tint in ((1, 0.92, 0.72), (1, 0.8, 0.5)):
        paper = (light[..., None] * np.array(tint)).astype(np.uint8)
        photo = cv2.multiply(paper, np.repeat(marked_up().min(axis=2, keepdims=True), 3, 2),
                             scale=1 / 255)
        assert find_hues(decode_image(png(photo))) == []


def test_edges_bound_areas_are_not_printed_and_shape_their_pass() -> None:
    deriver, recipe = ball(marked_up())
    assert len(deriver.hues(recipe)) == 2 and deriver.areas(recipe).count == 4
    before = deriver.ink(recipe)
    for h in deriver.hues(recipe):
        role = "shade edge" if h.colour[2] > h.colour[0] else "light edge"
        recipe = apply(recipe, NameBoundary(boundary=Boundary(hue=h.hue, role=role)))
    ink = deriver.ink(recipe)
    y, x = 250, 360  # on the blue edge
    assert before[y, x] > 90 and ink[y, x - 4:x + 5].max() == 0
    assert ink[250, 430] == 255  # the outline stays
    masks = deriver.masks(recipe, WHOLE)
    parts, shade, light = masks.parts, masks.level("shade"), masks.level("light")
    assert shade[250, 395] == 255 and shade[250, 300] == 0  # the smaller side, and nothing else
    assert light[180, 180] == 255 and light[300, 250] == 0
    on_ball = parts == 1
    assert set(np.unique(shade[on_ball])) == {0, 255}
    # The edge itself is painted by what it divides: its middle is where shade begins.
    edge = np.flatnonzero(np.diff(shade[250, 300:420].astype(int)))
    assert len(edge) >= 1 and abs(300 + edge[0] - 360) <= 3
