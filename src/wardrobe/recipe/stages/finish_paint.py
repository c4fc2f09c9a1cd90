"""What layers that finish a picture are painted with, where it is no plain colour."""

from dataclasses import dataclass

import cv2
import numpy as np

from wardrobe.core.finish.along_form import WAYS, turned_to
from wardrobe.core.layers.gradient import ramp_of
from wardrobe.core.layers.layer import RAMP, Gradient
from wardrobe.core.layers.operators import Blur
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.parallel import each
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.finish_shapes import inside, on_form
from wardrobe.recipe.stages.form import AnyForm
from wardrobe.recipe.stages.lines import Byte, Decoded
from wardrobe.recipe.stages.picture import Sample
from wardrobe.recipe.stages.prints import Ground, draw_pattern
from wardrobe.recipe.stages.stage import Get, Stage


@dataclass(frozen=True, eq=False)
class PatternImage(Stage[Byte]):
    """A pattern or placed picture over a view, straight alpha.

    Attributes
    ----------
    pattern : Pattern
    at : (float, float)
        Its middle.
    picture : Decoded or None
    blur : Blur
    wide : View
        Larger than the view by what the blur reaches.
    view : View
    """

    pattern: Pattern
    at: tuple[float, float]
    picture: Decoded | None
    blur: Blur
    wide: View
    view: View

    def make(self, get: Get) -> Byte:
        ground, wide = Ground(self.at, None, np.zeros(1, bool)), self.wide
        sharp = draw_pattern(self.pattern, ground, get(self.picture) if self.picture else None,
                             (wide.x, wide.y), wide.scale, wide.shape)
        if self.blur.sigma <= 0:
            return sharp
        corner = round(wide.y * wide.scale), round(wide.x * wide.scale)
        # What is clear has no colour to give: colours are weighed by their cover.
        alpha = sharp[..., 3]
        planes = [cv2.multiply(np.ascontiguousarray(sharp[..., c]), alpha, scale=1 / 255)
                  for c in range(3)]
        box = inside(self.view, wide, alpha.shape)
        *colours, cover = each(lambda plane: self.blur.apply(plane, corner)[box],
                               [*planes, np.ascontiguousarray(alpha)])
        share = np.maximum(cover, 1).astype(np.float32) / 255
        pixels = [np.minimum(255, np.rint(c / share)).astype(np.uint8) for c in colours]
        return np.stack([*pixels, cover], axis=-1)


@dataclass(frozen=True, eq=False)
class FormImage(Stage[Byte], keep="nowhere"):
    """Colours by how far the form turns to something, straight alpha; clear without a form."""

    sample: Sample
    form: AnyForm
    way: str
    key: KeyLight
    ramp: Gradient
    view: View

    def make(self, get: Get) -> Byte:
        form, labels = get(self.form), get(self.sample).labels
        turned = on_form(turned_to(form.normals, WAYS[self.way], self.key), form, labels,
                         self.view)
        levels = np.rint(np.arange(256) * ((RAMP - 1) / 255)).astype(int)
        pixels = ramp_of(self.ramp)[levels][turned]
        pixels[form.form_of_area[labels] == 0] = 0
        return pixels


@dataclass(frozen=True, eq=False)
class OpaqueImage(Stage[Byte], keep="nowhere"):
    """An image whose alpha is in the plane that it is laid by."""

    image: PatternImage | FormImage

    def make(self, get: Get) -> Byte:
        pixels = get(self.image).copy()
        pixels[..., 3] = 255
        return pixels
