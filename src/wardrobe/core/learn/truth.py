"""What is in shade, in light, or in shadow on solids whose surface is known."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.learn.scenes import SIZE, Scene, lines_of
from wardrobe.core.learn.solids import Seen, in_shadow, look_at
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import SHADE_SHARE

Asked = Literal["shade", "cast", "highlight"]
Mask = NDArray[np.bool_]

SMALL = 4.0  # picture px to a px where many lights are tried
# Share of a ball that shines, by material: as the passes have it; 0 where nothing does.
SHINY = {"leather": 0.05, "metal": 0.10, "glass": 0.04, "matte cloth": 0.0, "skin": 0.0}
_RIM = 0.55  # cosine from which a second light lifts the shade


@dataclass(frozen=True, eq=False)
class View:
    """A scene as it is seen at a scale, with what an answer may lie on.

    Attributes
    ----------
    scene : Scene
    seen : Seen
    ink : ndarray of uint8, shape (height, width)
    """

    scene: Scene
    seen: Seen
    ink: NDArray[np.uint8]

    @property
    def things(self) -> Mask:
        """Where solids are seen, free of ink."""
        found: Mask = (self.seen.parts > 0) & (self.ink < 128)
        return found


@lru_cache(maxsize=64)
def view_of(scene: Scene, scale: float = 1.0) -> View:
    """A scene at a scale: picture pixels to a pixel."""
    seen = look_at(scene.solids, SIZE, scale)
    return View(scene, seen, lines_of(seen))


def turns_away(view: View, light: KeyLight) -> Mask:
    """Where the form turns from the light: N.L is below the value under which the usual share of
    a ball lies (J. H. Lambert, "Photometria", 1760)."""
    vector = light.vector().astype(float)
    start = ball_quantile(float(vector[2]), SHADE_SHARE)
    found: Mask = (view.seen.parts > 0) & (view.seen.normals @ vector < start)
    return found


def truth_of(view: View, asked: Asked, light: KeyLight) -> tuple[Mask, Mask]:
    """What is to be drawn, and where it is asked.

    Parameters
    ----------
    view : View
    asked : str
        ``shade``: all that the light does not reach, shadows included; ``cast``: shadows that one
        thing throws on another or on the floor; ``highlight``: what mirrors the light.
    light : KeyLight

    Returns
    -------
    truth, where : ndarray of bool
        Pixels outside ``where`` do not count.
    """
    things = view.things
    if asked == "highlight":
        return shines(view, light) & things, things
    away = turns_away(view, light)
    shadow = in_shadow(view.seen, light.vector().astype(float)) \
        if len(view.scene.solids) > 1 or asked == "cast" else np.zeros_like(away)
    floor = (view.seen.solids > 0) & (view.seen.parts == 0)
    if asked == "cast":
        where = (things & ~away) | floor
        return shadow & where, where
    truth = ((away | shadow) & things) | (shadow & floor)
    if view.scene.rim is not None:
        lifted = view.seen.normals @ view.scene.rim.vector().astype(float) > _RIM
        truth &= ~(lifted & things)
    return truth, things | floor


def shines(view: View, light: KeyLight) -> Mask:
    """Where a surface mirrors the light to the viewer, as much as its material does."""
    half = light.halfway().astype(float)
    shine = view.seen.normals @ half
    found = np.zeros(view.seen.parts.shape, bool)
    for part, material in enumerate(view.scene.materials, start=1):
        share = SHINY[material]
        if share:
            found |= (view.seen.parts == part) & (
                shine > ball_quantile(float(half[2]), 1 - share))
    return found


