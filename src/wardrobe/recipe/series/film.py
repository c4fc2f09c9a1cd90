"""The pictures of a series one after the other, as frames."""

from collections.abc import Callable, Iterator, Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]


def frames(deriver: Deriver, pictures: Sequence[tuple[Callable[[], Recipe], int]],
           long_edge: int | None,
           report: Callable[[float], None] = lambda share: None) -> Iterator[tuple[Byte, int]]:
    """Frames of one size, even both ways, each with how long it stays.

    Parameters
    ----------
    pictures : sequence of (callable, int)
        Gives the recipe; for how many frames it stays.
    long_edge : int or None
        px; None is that of the first picture. Pictures of other shapes lie in the middle, on
        their own ground.
    """
    size: tuple[int, int] | None = None
    for k, (read, hold) in enumerate(pictures):
        recipe = read()
        scale = 1.0 if long_edge is None else min(1.0, long_edge / max(recipe.size))
        if size is None:
            width, height = (max(2, 2 * round(v * scale / 2)) for v in recipe.size)
            size = width, height
        fit = min(size[0] / recipe.size[0], size[1] / recipe.size[1], 1.0)
        picture = deriver.picture(recipe, View.whole(*recipe.size, max(1, round(
            fit * max(recipe.size)))))
        yield _fitted(picture, size), hold
        report((k + 1) / len(pictures))


def _fitted(picture: Byte, size: tuple[int, int]) -> Byte:
    """A picture in the middle of a frame, which its edge's colour fills."""
    width, height = size
    if picture.shape[1] > width or picture.shape[0] > height:
        fit = min(width / picture.shape[1], height / picture.shape[0])
        picture = cv2.resize(picture, (max(1, int(picture.shape[1] * fit)),
                                       max(1, int(picture.shape[0] * fit))),
                             interpolation=cv2.INTER_AREA)
    if picture.shape[:2] == (height, width):
        return picture
    top, left = (height - picture.shape[0]) // 2, (width - picture.shape[1]) // 2
    ground = tuple(int(v) for v in picture[0, 0])
    found: Byte = cv2.copyMakeBorder(
        picture, top, height - picture.shape[0] - top, left, width - picture.shape[1] - left,
        cv2.BORDER_CONSTANT, value=ground)
    return found
