"""What a picture has besides its flats: laid over a piece, the piece is the picture."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.flats.separate import strongest
from wardrobe.recipe.document.finish import FinishDraft, LaidPattern
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import Pattern, PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddFinish
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]

_ACROSS = 3  # px about an edge
_SEEN = 1  # of 255: smaller differences are not worth a layer


@dataclass(frozen=True)
class Left:
    """The difference between a picture and a piece, as factors and as what is added.

    Attributes
    ----------
    darker : ndarray of uint8, shape (height, width, 3), or None
        To be laid on multiply.
    lighter : ndarray of uint8, same shape, or None
        To be laid on top of it on plus-lighter.
    """

    darker: Byte | None
    lighter: Byte | None


def what_is_left(deriver: Deriver, recipe: Recipe, rgb: Byte) -> Left:
    """What has to be laid over a piece for it to be a picture.

    Factors and sums rather than the picture itself, so that the piece's own colours still count:
    a base that is changed is seen with all that was painted on it.
    """
    have = deriver.picture(recipe, View.whole(*recipe.size))
    # Levels are few: each pair is worked out once.
    levels = np.arange(256)
    factors = np.where(levels + _SEEN < levels[:, None],
                       255 * levels // np.maximum(levels[:, None], 1), 255).astype(np.uint8)
    products = ((levels[:, None] * levels + 127) // 255).astype(np.uint8)
    # Alike across edges, so that a reduced picture, a mean of products, is the product of means.
    factor = cv2.erode(_looked_up(factors, have, rgb), np.ones((2 * _ACROSS + 1,) * 2, np.uint8))
    added = cv2.subtract(rgb, _looked_up(products, have, factor))
    added[strongest(added) <= _SEEN] = 0
    return Left(factor if (factor < 255).any() else None, added if added.any() else None)


def _looked_up(table: Byte, one: Byte, other: Byte) -> Byte:
    found: Byte = np.take(table.ravel(), one.astype(np.uint16) << 8 | other)
    return found


def laid_over(darker: PlacedPicture | None, lighter: PlacedPicture | None) -> AddFinish | None:
    """The layers that what is left is laid by."""
    layers = tuple(_layer(name, picture, mode) for name, picture, mode in (
        ("darker as painted", darker, "multiply"), ("lighter as painted", lighter, "plus-lighter"))
        if picture)
    return AddFinish(layers=layers) if layers else None


def _layer(name: str, picture: PlacedPicture, mode: str) -> FinishDraft:
    whole = Pattern(picture=picture, period=float(max(picture.width, picture.height)),
                    follow=False)
    return FinishDraft(name=name, mode=mode, over_lines=True, paint=LaidPattern(
        at=(picture.width / 2, picture.height / 2), pattern=whole))
