"""Why a place of the picture is in shade or in light: what the shapes were drawn by, in words."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.light.cast import caster_at
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import SHADE_SHARE, Rig, lifts_of, shade_starts
from wardrobe.core.light.subject import Subject
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.lighting import TouchUp
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver

_AROUND = 4  # px of the view around the place


@dataclass(frozen=True)
class Reason:
    """A pass at a place.

    Attributes
    ----------
    name : str
    here : bool
        Whether it is drawn there.
    because : str
    """

    name: str
    here: bool
    because: str


@dataclass(frozen=True)
class Why:
    """What can be said of a place.

    Attributes
    ----------
    part : str or None
        None on the ground.
    turned : float or None
        Degrees between the guessed surface and the light.
    begins : float or None
        Degrees at which shade begins on this part.
    reasons : tuple of Reason
    """

    part: str | None
    turned: float | None
    begins: float | None
    reasons: tuple[Reason, ...]


def why(deriver: Deriver, recipe: Recipe, x: float, y: float) -> Why:
    """Say why a place looks as it does.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    x, y : float
        Picture pixels.
    """
    width, height = recipe.size
    px, py = min(max(0, int(x)), width - 1), min(max(0, int(y)), height - 1)
    left, top = max(0, px - _AROUND), max(0, py - _AROUND)
    view = View(left, top, min(width, px + _AROUND + 1) - left,
                min(height, py + _AROUND + 1) - top)
    masks = deriver.masks(recipe, view)
    at = py - top, px - left
    row = int(masks.parts[at])
    if not row:
        return Why(None, None, None, ())
    place = _Place.of(deriver, recipe, px, py)
    reasons = tuple(Reason(name, bool(masks.level(name)[at] > 127),
                           _by_hand(recipe, name, row, (px + 0.5, py + 0.5))
                           or place.because(name, bool(masks.level(name)[at] > 127)))
                    for name in masks.keys if PASSES[name].shape is not None)
    return Why(recipe.parts[row - 1].id, *place.angles, reasons)


@dataclass(frozen=True, eq=False)
class _Place:
    """The form at a place, the lights, and what throws its shadow there."""

    recipe: Recipe
    subject: Subject
    rig: Rig
    spot: tuple[int, int]
    caster: str | None

    @classmethod
    def of(cls, deriver: Deriver, recipe: Recipe, x: int, y: int) -> "_Place":
        stage = deriver.stages(recipe).shapes()
        subject = deriver.store(stage.posed)
        form, owners = subject.form, subject.part_of_form
        depth = stage.order.depth(form, owners)
        subject = replace(subject, form=replace(form, depth=depth))
        rig = stage.lamps.rig(owners)
        spot = _on_grid(form, x, y)
        by = caster_at(subject.form.labels, subject.form.depth, lifts_of(subject, rig), rig.key,
                       spot)
        name = recipe.parts[int(owners[by]) - 1].name if by and owners[by] else None
        return cls(recipe, subject, rig, spot, name)

    @property
    def normal(self) -> NDArray[np.float32]:
        """Of the guessed form."""
        found: NDArray[np.float32] = self.subject.form.normals[self.spot]
        return found

    @property
    def label(self) -> int:
        """Number of the form."""
        return int(self.subject.form.labels[self.spot])

    @property
    def angles(self) -> tuple[float | None, float | None]:
        """Degrees to the light, and those at which shade begins."""
        if not self.label:
            return None, None
        starts = shade_starts(self.subject, self.rig, SHADE_SHARE)
        return (_degrees(float(self.normal @ self.rig.key.vector())),
                _degrees(float(starts[self.label])))

    def because(self, name: str, here: bool) -> str:
        """Why a pass is drawn here, or is not."""
        turned, begins = self.angles
        if turned is None or begins is None:
            return "No form was guessed here."
        if name in ("shade", "deep shade"):
            return self._shade(name, here, turned, begins)
        if name in ("light", "glint", "rim", "bounce"):
            return self._light(name, here)
        return f"It turns {turned:.0f}° from the light. {PASSES[name].why}"

    def _shade(self, name: str, here: bool, turned: float, begins: float) -> str:
        if not here:
            if turned > begins:
                return "The place turns from the light, but small shapes are joined into simple " \
                       "ones." if name == "shade" else \
                    f"It turns {turned:.0f}° from the light: not far enough for a second shade."
            return f"It faces the light at {turned:.0f}°; shade begins at {begins:.0f}°."
        if self.subject.lids[self.spot]:
            return "The upper lid shades the eye, wherever the light is."
        if turned > begins:
            more = f" {self.caster.capitalize()} stands before it as well." if self.caster else ""
            return f"It turns {turned:.0f}° from the light; shade begins at {begins:.0f}°.{more}"
        if self.caster:
            return f"In the shadow of {self.caster}: it stands between this place and the light."
        return f"It faces the light at {turned:.0f}°, but small shapes are joined into simple ones."

    def _light(self, name: str, here: bool) -> str:
        material = self.subject.materials[self.label]
        own = {"rim": self.rig.rim, "bounce": self.rig.bounce}
        if name in own:
            return self._lamp(name, own[name], here)
        apart = _degrees(float(self.normal @ self.rig.key.halfway()))
        said = f"Its surface stands {apart:.0f}° from halfway between the light and you"
        if here:
            return f"It mirrors the light: {said[0].lower()}{said[1:]}."
        return f"{said}: {material.label.lower()} mirrors the light only where it is nearer."

    def _lamp(self, name: str, lamp: KeyLight | None, here: bool) -> str:
        if lamp is None:
            return "This light is off."
        turned = _degrees(float(self.normal @ lamp.vector()))
        what = "The light from behind catches the outline" if name == "rim" else \
            "Light comes back from the ground to what turns to it"
        return f"{what}: it faces that light at {turned:.0f}°." if here else \
            f"It faces that light at {turned:.0f}°" + (
                ", or lies too far inside the outline." if name == "rim" else ": not enough.")


def _degrees(cosine: float) -> float:
    return round(float(np.degrees(np.arccos(np.clip(cosine, -1, 1)))), 1)


def _on_grid(form: Form, x: int, y: int) -> tuple[int, int]:
    grid = form.grid
    row, column = (int((v + 0.5 - start) * grid.scale) for v, start in ((y, grid.y), (x, grid.x)))
    return (min(max(0, row), grid.shape[0] - 1), min(max(0, column), grid.shape[1] - 1))


def _by_hand(recipe: Recipe, name: str, row: int, place: tuple[float, float]) -> str | None:
    """What the last touch-up says that reaches a place."""
    part = recipe.parts[row - 1].id
    for touch in reversed(list(_reaching(recipe, name, place))):
        if touch.part in (None, part):
            return {"put in": "Put in by hand.", "take out": "Taken out by hand.",
                    "soften": "Softened by hand."}[touch.act]
    return None


def _reaching(recipe: Recipe, name: str, place: tuple[float, float]) -> Iterator[TouchUp]:
    for touch in recipe.touch_ups:
        if touch.name != name:
            continue
        points = np.array(touch.points, np.float32)
        if touch.widths:
            away = np.hypot(*(points - np.array(place, np.float32)).T)
            if (away <= np.array(touch.widths) / 2).any():
                yield touch
        elif cv2.pointPolygonTest(points, place, False) >= 0:
            yield touch
