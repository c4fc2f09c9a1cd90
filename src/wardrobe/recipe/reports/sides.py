"""Any two states of a piece side by side: what each looks like, and how far they are apart."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.kinds import kinds
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.layers.operators import Blur
from wardrobe.core.shades.steps import NOTICED, TWO_COLOURS
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import Pattern, PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import EditRefusedError, dressed
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.finish_paint import PatternImage
from wardrobe.recipe.stages.lines import Decoded
from wardrobe.recipe.stages.stage import Get, Stage
from wardrobe.recipe.stages.views import picture_stage

Byte = NDArray[np.uint8]
Float = NDArray[np.float64]

# The piece now, its drawing, a look, some changes ago, without one finish layer, a reference.
Side = Annotated[str, Field(
    pattern=r"^(now|drawing|look k[0-9]{1,6}|back [0-9]{1,5}|without f[0-9]{1,6}"
            r"|reference [0-9]{1,6})$")]
_BESIDE = 127  # grey around a reference of another shape
EDGE = 900  # px of the longer edge at which two sides are measured
# Shown by CIEDE2000: nothing, noticed, another colour, far.
_AT = (0.0, NOTICED, TWO_COLOURS, 15.0, 40.0)
_SHOWN = ((24, 24, 26), (52, 62, 120), (176, 62, 110), (246, 168, 84), (255, 250, 222))


@dataclass(frozen=True)
class Held:
    """What sides are looked up in.

    Attributes
    ----------
    back : callable
        The piece so many changes ago.
    pinned : callable
        The picture of a reference, by its number.
    """

    back: Callable[[int], Recipe]
    pinned: Callable[[int], PlacedPicture]


@dataclass(frozen=True, eq=False)
class OnGrey(Stage[Byte], keep="nowhere"):
    """A placed picture on grey."""

    image: PatternImage

    def make(self, get: Get) -> Byte:
        pixels = get(self.image).astype(np.uint16)
        alpha = pixels[..., 3:]
        found: Byte = ((pixels[..., :3] * alpha + _BESIDE * (255 - alpha) + 127) // 255).astype(
            np.uint8)
        return found


def _fitted(picture: PlacedPicture, recipe: Recipe, view: View) -> OnGrey:
    """A reference as large as it fits into the picture, in its middle."""
    width, height = recipe.size
    scale = min(width / picture.width, height / picture.height)
    whole = Pattern(picture=picture, period=max(2.0, scale * max(picture.width, picture.height)),
                    follow=False)
    return OnGrey(PatternImage(whole, (width / 2, height / 2), Decoded(picture.asset), Blur(0.0),
                               view, view))


def side_picture(deriver: Deriver, recipe: Recipe, side: str, view: View,
                 held: Held) -> Stage[Byte]:
    """What one side looks like.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
        The piece as it is.
    side : str
        As in ``Side``.
    view : View
    held : Held

    Raises
    ------
    EditRefusedError
        If the look or layer is not there, or the picture had another size then.
    """
    what, _, which = side.partition(" ")
    kind = "picture"
    if what == "drawing":
        kind = "before"
    elif what == "look":
        recipe = dressed(recipe, which)
    elif what == "back":
        then = held.back(int(which))
        if then.size != recipe.size:
            raise EditRefusedError(f"The picture was {then.size[0]} x {then.size[1]} px then; "
                                   "compare with what came after its frame was changed.")
        recipe = then
    elif what == "without":
        if all(layer.id != which for layer in recipe.finish):
            raise EditRefusedError("The layer is no longer there.")
        recipe = recipe.model_copy(update={
            "finish": tuple(layer for layer in recipe.finish if layer.id != which)})
    elif what == "reference":
        return _fitted(held.pinned(int(which)), recipe, view)
    return picture_stage(deriver, recipe, kind, view)


def steps_between(one: Byte, other: Byte) -> Float:
    """CIEDE2000 of every pixel of two pictures; each pair of colours is worked out once.

    Parameters
    ----------
    one, other : ndarray of uint8, shape (height, width, 3)

    Returns
    -------
    ndarray of float64, shape (height, width)
    """
    found = np.zeros(one.shape[:2])
    differ = (one != other).any(axis=2)
    pairs, back = kinds(np.concatenate([one[differ], other[differ]], axis=1))
    lab = srgb_to_lab(pairs.reshape(-1, 2, 3) / 255)
    found[differ] = delta_e_2000(lab[:, 0], lab[:, 1])[back]
    return found


@dataclass(frozen=True, eq=False)
class DifferenceMap(Stage[Byte], keep="nowhere"):
    """How far two pictures are apart, pixel by pixel."""

    one: Stage[Byte]
    other: Stage[Byte]

    def make(self, get: Get) -> Byte:
        steps = steps_between(get(self.one), get(self.other))
        shown = np.stack([np.interp(steps, _AT, channel) for channel in np.array(_SHOWN).T],
                         axis=2)
        return (shown + 0.5).astype(np.uint8)


@dataclass(frozen=True)
class Difference:
    """How far two sides are apart.

    Attributes
    ----------
    mean, most : float
        CIEDE2000, over the picture.
    noticed, other : float, 0..1
        Share of the picture that differs noticeably, and that has another colour.
    place : tuple of float
        Around what is noticed: x, y, width, height, picture pixels; empty if nothing is.
    """

    mean: float
    most: float
    noticed: float
    other: float
    place: tuple[float, ...]


def measure_difference(deriver: Deriver, recipe: Recipe, one: str, other: str,
                       held: Held) -> Difference:
    """Measure how far two sides are apart."""
    view = View.whole(*recipe.size, EDGE)
    a, b = (deriver.store(side_picture(deriver, recipe, side, view, held))
            for side in (one, other))
    steps = steps_between(a, b)
    noticed = steps >= NOTICED
    place: tuple[float, ...] = ()
    if noticed.any():
        x, y, w, h = cv2.boundingRect(noticed.astype(np.uint8))
        place = (round(x / view.scale, 1), round(y / view.scale, 1), round(w / view.scale, 1),
                 round(h / view.scale, 1))
    return Difference(round(float(steps.mean()), 2), round(float(steps.max(initial=0.0)), 1),
                      round(float(noticed.mean()), 4),
                      round(float((steps >= TWO_COLOURS).mean()), 4), place)
