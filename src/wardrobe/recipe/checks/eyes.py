"""Do both eyes look at one thing, in one light? Glints and irises."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.islands import Island, islands
from wardrobe.core.words.parts import usual_role
from wardrobe.recipe.checks.finding import Check, Desk, Found, Limit, Noticed, Repair
from wardrobe.recipe.checks.seen import MASKS_EDGE, view_of
from wardrobe.recipe.document.lighting import TouchUp
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import RemoveTouchUps
from wardrobe.recipe.stages.picture import DrawnMasks, PartsSeen
from wardrobe.recipe.stages.stage import Get, Stage

Mask = NDArray[np.bool_]
Float = NDArray[np.float64]

_ASIDE = 0.15  # of an eye's reach: glints nearer to its middle have no side
_UNLIKE = 0.7  # of an eye's reach: glints so far apart in their eyes are unlike
_GAZE = 0.12  # of an eye's width: irises farther apart in their eyes look elsewhere
_PUPIL = 0.3  # larger than the other, in its eye
_LEAST_EYE = 0.0003  # of the picture


def drawn_there(desk: Desk, noticed: Noticed, names: tuple[str, ...]) -> list[TouchUp]:
    """Touch-ups of some passes whose strokes come into the place."""
    if noticed.box is None:
        return []
    x, y, width, height = noticed.box
    margin = 0.01 * max(desk.recipe.size)

    def within(touch: TouchUp) -> bool:
        points = np.array(touch.points)
        inside = (points[:, 0] > x - margin) & (points[:, 0] < x + width + margin) \
            & (points[:, 1] > y - margin) & (points[:, 1] < y + height + margin)
        return bool(inside.mean() > 0.5)

    return [t for t in desk.recipe.touch_ups if t.name in names and within(t)]


def _two_eyes(parts: NDArray[np.uint16], whites: tuple[int, ...],
              irises: tuple[int, ...]) -> list[tuple[Island, Mask, Mask]]:
    """The two largest eyes that have an iris: each, where it is, and where its iris is."""
    near = cv2.dilate(np.isin(parts, [*whites, *irises]).astype(np.uint8),
                      np.ones((5, 5), np.uint8)) > 0
    pieces, numbers = islands(near)
    large = sorted((p for p in pieces if p.pixels > _LEAST_EYE * near.size),
                   key=lambda p: -p.pixels)[:2]
    found = [(p, numbers == p.number) for p in large]
    irises_at = np.isin(parts, list(irises))
    return [(p, mine, mine & irises_at) for p, mine in found if (mine & irises_at).any()]


@dataclass(frozen=True)
class _Eye:
    """An eye, and where its glint lies from its middle, in reaches of the iris."""

    box: tuple[float, float, float, float]
    glint: Float | None


@dataclass(frozen=True, eq=False)
class GlintsAstray(Stage[Found]):
    """Glints in two eyes: on the light's side, and alike."""

    masks: DrawnMasks
    whites: tuple[int, ...]
    irises: tuple[int, ...]
    azimuth: float
    scale: float

    def make(self, get: Get) -> Found:
        masks = get(self.masks)
        name = next((k for k in ("glint", "light") if k in masks.keys), None)
        if name is None or not self.irises:
            return Found(())
        eyes = self._eyes(masks.parts, masks.level(name) > 127)
        toward, found = to_light(self.azimuth), []
        for eye in eyes:
            if eye.glint is not None and float(eye.glint @ toward) < -_ASIDE:
                found.append(Noticed("place", (), round(float(-eye.glint @ toward), 2),
                                     "A glint lies on the side of the eye that is away from the "
                                     "light.", 0.8, eye.box))
        if len(eyes) == 2 and not found:
            one, other = (eye.glint for eye in eyes)
            lone = (one is None) != (other is None)
            apart = 1.0 if lone else 0.0 if one is None or other is None else \
                float(np.hypot(*(one - other)))
            if apart > _UNLIKE:
                words = "Only one eye has a glint." if lone else \
                    "The glints of the two eyes lie in different places."
                place = eyes[0 if one is None or not lone else 1]
                found.append(Noticed("place", (), round(apart, 2), words, 0.7, place.box))
        return Found.of(found)

    def _eyes(self, parts: NDArray[np.uint16], glint: Mask) -> list[_Eye]:
        eyes = []
        for piece, mine, iris in _two_eyes(parts, self.whites, self.irises):
            ys, xs = np.nonzero(iris)
            middle, reach = np.array([xs.mean(), ys.mean()]), max(1.0, (len(xs) / np.pi) ** 0.5)
            gy, gx = np.nonzero(mine & glint)
            at = None if len(gx) < 0.01 * len(xs) else \
                (np.array([gx.mean(), gy.mean()]) - middle) / reach
            x, y, w, h = (round(v / self.scale, 1) for v in piece.box)
            eyes.append(_Eye((x, y, w, h), at))
        return eyes


@dataclass(frozen=True, eq=False)
class GazeApart(Stage[Found]):
    """Irises of two eyes: as large, and in the same place of their whites."""

    parts: PartsSeen
    whites: tuple[int, ...]
    irises: tuple[int, ...]
    scale: float

    def make(self, get: Get) -> Found:
        parts = get(self.parts)
        if not self.whites or not self.irises:
            return Found(())
        told = []
        for piece, _, iris in _two_eyes(parts, self.whites, self.irises):
            ys, xs = np.nonzero(iris)
            x, y, w, h = piece.box
            told.append((((xs.mean() + 0.5 - x) / w - 0.5), ((ys.mean() + 0.5 - y) / h - 0.5),
                         (len(xs) / (w * h)) ** 0.5, piece.box))
        if len(told) < 2:
            return Found(())
        (ax, ay, a, box), (bx, by, b, other) = told
        apart = float(np.hypot(ax - bx, ay - by))
        size = max(a, b) / min(a, b) - 1
        if apart <= _GAZE and size <= _PUPIL:
            return Found(())
        words = f"The irises lie {100 * apart:.0f} % of an eye apart in their eyes." \
            if apart > _GAZE else \
            f"One iris is {100 * size:.0f} % larger in its eye than the other."
        left, top = min(box[0], other[0]), min(box[1], other[1])
        wide = max(box[0] + box[2], other[0] + other[2]) - left
        high = max(box[1] + box[3], other[1] + other[3]) - top
        place = (round(left / self.scale, 1), round(top / self.scale, 1),
                 round(wide / self.scale, 1), round(high / self.scale, 1))
        return Found((Noticed("place", (), round(max(apart, size), 2), words, 0.6, place),))


def _gaze(desk: Desk) -> Stage[Found]:
    whites, irises = _eye_rows(desk.recipe)
    view = view_of(desk, MASKS_EDGE)
    return GazeApart(desk.graph.parts_seen(view), whites, irises, view.scale)


def _eye_rows(recipe: Recipe) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Rows of the whites of eyes, and of irises."""
    roles = [usual_role(p.name) for p in recipe.parts]
    whites, irises = (tuple(k for k, r in enumerate(roles, start=1) if r == role)
                      for role in ("eye white", "iris"))
    return whites, irises


def _glints(desk: Desk) -> Stage[Found]:
    whites, irises = _eye_rows(desk.recipe)
    view = view_of(desk, MASKS_EDGE)
    return GlintsAstray(desk.graph.masks(view), whites, irises, desk.recipe.light.azimuth,
                        view.scale)


def _glints_as_lit(desk: Desk, noticed: Noticed) -> Repair | None:
    ids = tuple(t.id for t in drawn_there(desk, noticed, ("glint", "light")))
    return Repair("Let the light draw the glint", RemoveTouchUps(ids=ids)) if ids else None


def to_light(azimuth: float) -> Float:
    """Unit vector to the light, y down."""
    turn = np.radians(azimuth)
    return np.array([np.cos(turn), -np.sin(turn)])


_CP = "common practice, no published source"

EYES: tuple[Check, ...] = (
    Check("glints", "light", "Glints disagree",
          "Both glints lie on the light’s side; otherwise the eyes look at different rooms.",
          Limit(_ASIDE, "reaches of the iris", "common practice", _CP), _glints, _glints_as_lit),
    Check("gaze", "light", "The eyes look apart",
          "Two irises in different places of their eyes, or of different sizes, look at two "
          "things; on purpose it is a squint.",
          Limit(100 * _GAZE, "% of an eye", "common practice", _CP), _gaze),
)
