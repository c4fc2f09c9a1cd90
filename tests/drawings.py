"""Small line drawings made for the tests."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.derive import Deriver
from wardrobe.recipe.edits import apply
from wardrobe.recipe.model import Recipe, Source
from wardrobe.recipe.part_proposal import suggest_parts

Byte = NDArray[np.uint8]


def figure_ink(size: int = 480) -> Byte:
    """A head, a body with a sleeve, and a hole that shows the ground; uint8 coverage."""
    ink = np.zeros((size, size), np.uint8)
    k, thick = size / 480, max(2, round(6 * size / 480))

    def pt(x: float, y: float) -> tuple[int, int]:
        return round(x * k), round(y * k)

    cv2.ellipse(ink, pt(240, 300), pt(110, 130), 0, 0, 360, 255, thick, cv2.LINE_AA)
    cv2.circle(ink, pt(240, 110), round(70 * k), 0, -1)
    cv2.circle(ink, pt(240, 110), round(70 * k), 255, thick, cv2.LINE_AA)
    cv2.line(ink, pt(135, 280), pt(345, 280), 255, thick, cv2.LINE_AA)
    cv2.ellipse(ink, pt(360, 300), pt(60, 80), 0, -120, 120, 255, thick, cv2.LINE_AA)
    return ink


def transparent(ink: Byte) -> Byte:
    """Black ink on nothing, RGBA."""
    rgba = np.zeros((*ink.shape, 4), np.uint8)
    rgba[..., 3] = ink
    return rgba


def on_white(ink: Byte) -> Byte:
    """Black ink on white, RGB."""
    return np.repeat(255 - ink[..., None], 3, axis=2)


def png(image: Byte) -> bytes:
    """Encode with OpenCV (which wants BGR)."""
    if image.ndim == 3:
        image = image[..., [2, 1, 0, 3][: image.shape[2]]]
    return cv2.imencode(".png", image)[1].tobytes()


def piece(ink: Byte | None = None) -> tuple[Deriver, Recipe]:
    """A deriver and a recipe with suggested parts."""
    rgba = transparent(figure_ink() if ink is None else ink)
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=rgba.shape[1], height=rgba.shape[0]))
    return deriver, apply(recipe, suggest_parts(deriver.areas(recipe)))
