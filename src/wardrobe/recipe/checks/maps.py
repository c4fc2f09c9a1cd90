"""Maps over the picture: what the checks measure, to be looked at."""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.outline import lost_stretches
from wardrobe.core.checks.seen import lab_of
from wardrobe.core.checks.wheel import HueWheel, hue_wheel
from wardrobe.core.colour import oklch_to_srgb
from wardrobe.recipe.checks.against import LOST
from wardrobe.recipe.checks.eye import Attention, attention_of, focus_plane
from wardrobe.recipe.checks.finding import Desk
from wardrobe.recipe.checks.seen import PictureSeen, picture_seen
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.picture import Picture
from wardrobe.recipe.stages.press import Proofed
from wardrobe.recipe.stages.stage import Get, Stage
from wardrobe.recipe.stages.views import picture_stage

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

BANDS = 7  # of values
_PUREST = 90.0  # CIELAB chroma that is shown as the purest
_FULL = 0.3  # of attention
_FAR = 20.0  # CIEDE2000 from which an outline surely holds
_QUIET = 0.35  # how much of the picture is seen under the outline


@dataclass(frozen=True, eq=False)
class ValueBands(Stage[Byte], keep="nowhere"):
    """The picture in seven values, by L*."""

    picture: Picture

    def make(self, get: Get) -> Byte:
        lightness = lab_of(get(self.picture))[..., 0]
        band = np.clip((lightness * BANDS / 100).astype(int), 0, BANDS - 1)
        greys = np.linspace(12, 243, BANDS).astype(np.uint8)
        return np.repeat(greys[band][..., None], 3, axis=2)


@dataclass(frozen=True, eq=False)
class ChromaMap(Stage[Byte], keep="nowhere"):
    """How pure each colour is: grey to its own hue at full strength."""

    picture: Picture

    def make(self, get: Get) -> Byte:
        lab = lab_of(get(self.picture))
        chroma = np.hypot(lab[..., 1], lab[..., 2]) / _PUREST
        hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
        ramp = 255 * oklch_to_srgb(np.column_stack([
            np.full(360, 0.74), np.full(360, 0.16), np.arange(360)]))
        share = np.clip(chroma, 0, 1)[..., None]
        found: Byte = (38 * (1 - share) + ramp[hue.astype(int) % 360] * share + 0.5).astype(
            np.uint8)
        return found


@dataclass(frozen=True, eq=False)
class AttentionMap(Stage[Byte], keep="nowhere"):
    """What draws the eye: dark where nothing does, the focus with a ring around it."""

    drawn: Attention
    focus: tuple[tuple[float, float, float], ...]
    scale: float
    view: View

    def make(self, get: Get) -> Byte:
        drawn = get(self.drawn)
        strength = np.clip(drawn / max(_FULL, float(drawn.max())), 0, 1)
        stops = np.array([[18, 18, 24], [62, 44, 110], [176, 62, 96], [250, 170, 80],
                          [255, 250, 220]], float)
        at = np.linspace(0, 1, len(stops))
        found = np.stack([np.interp(strength, at, stops[:, c]) for c in range(3)], axis=2)
        if self.focus:
            ring = focus_plane(drawn.shape, self.focus, self.scale)
            found[np.abs(ring - 0.97) < 0.02] = (255, 255, 255)
        return _in_view((found + 0.5).astype(np.uint8), self.scale, self.view)


@dataclass(frozen=True, eq=False)
class OutlineMap(Stage[Byte], keep="nowhere"):
    """The outline by how far the figure stands off its ground."""

    seen: PictureSeen
    picture: Picture
    scale: float
    view: View

    def make(self, get: Get) -> Byte:
        seen = get(self.seen)
        _, places = lost_stretches(seen.lab, seen.figure, LOST)
        picture = get(self.picture)
        grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
        found = np.repeat((grey * _QUIET + 128 * (1 - _QUIET))[..., None], 3, axis=2)
        found = np.ascontiguousarray(found.astype(np.uint8))
        size = max(1, round(self.view.scale / self.scale))
        for x, y, step in places.tolist():
            far = min(1.0, step / _FAR)
            colour = (236, 66, 92) if step < LOST else \
                (int(250 - 180 * far), int(196 - 10 * far), int(90 + 100 * far))
            centre = (round(((x + 0.5) / self.scale - self.view.x) * self.view.scale),
                      round(((y + 0.5) / self.scale - self.view.y) * self.view.scale))
            cv2.circle(found, centre, size * (3 if step < LOST else 1), colour, -1, cv2.LINE_AA)
        return found


@dataclass(frozen=True, eq=False)
class Hues(Stage[HueWheel]):
    """The colours of the picture on the hue wheel, without the lines."""

    seen: PictureSeen

    def make(self, get: Get) -> HueWheel:
        seen = get(self.seen)
        return hue_wheel(seen.bare, seen.lab)


def hues_of(desk: Desk) -> HueWheel:
    """The colours of a piece on the hue wheel."""
    return desk.deriver.store(Hues(picture_seen(desk)))


def _in_view(picture: Byte, scale: float, view: View) -> Byte:
    """A small whole picture cut and scaled to a view."""
    height, width = view.shape
    matrix = np.array([[view.scale / scale, 0, -view.x * view.scale],
                       [0, view.scale / scale, -view.y * view.scale]])
    return cv2.warpAffine(picture, matrix, (width, height), flags=cv2.INTER_LINEAR,
                          borderMode=cv2.BORDER_REPLICATE)


def _attention(desk: Desk, view: View) -> Stage[Byte]:
    return AttentionMap(attention_of(desk), tuple((*f.at, f.radius) for f in desk.recipe.focus),
                        picture_seen(desk).view.scale, view)


def _outline(desk: Desk, view: View) -> Stage[Byte]:
    seen = picture_seen(desk)
    return OutlineMap(seen, desk.graph.picture(view), seen.view.scale, view)


MAPS: dict[str, Callable[[Desk, View], Stage[Byte]]] = {
    "values": lambda desk, view: ValueBands(desk.graph.picture(view)),
    "chroma": lambda desk, view: ChromaMap(desk.graph.picture(view)),
    "attention": _attention,
    "outline": _outline,
    "proof": lambda desk, view: Proofed(desk.graph.picture(view), desk.recipe.delivery.press,
                                        False),
    "unprintable": lambda desk, view: Proofed(desk.graph.picture(view),
                                              desk.recipe.delivery.press, True),
}


def any_picture(deriver: Deriver, recipe: Recipe, kind: str, view: View,
                draft: bool = False) -> Stage[Byte]:
    """What gives one kind of picture, maps included; see :func:`picture_stage`."""
    if kind in MAPS:
        return MAPS[kind](Desk(deriver, recipe), view)
    return picture_stage(deriver, recipe, kind, view, draft)
