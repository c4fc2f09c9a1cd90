"""Is there one light? Shade, glints and other lamps against the key light."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.islands import Island, islands
from wardrobe.core.light.audit import ASTRAY, CLEAR
from wardrobe.core.passes.table import PASSES
from wardrobe.core.words.parts import usual_role
from wardrobe.recipe.checks.eyes import EYES, drawn_there, to_light
from wardrobe.recipe.checks.finding import Check, Desk, Found, Limit, Noticed, Repair
from wardrobe.recipe.checks.seen import MASKS_EDGE, ids_of, view_of
from wardrobe.recipe.document.lighting import SideLight
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import MoveLight, RemoveTouchUps
from wardrobe.recipe.reports.light import AuditedLight, audited_light, touch_ups_elsewhere
from wardrobe.recipe.stages.cut import Assigned, Cut
from wardrobe.recipe.stages.form import AnyForm, Order, casting
from wardrobe.recipe.stages.picture import DrawnMasks
from wardrobe.recipe.stages.stage import Get, Stage

Mask = NDArray[np.bool_]
Float = NDArray[np.float64]

_BY_KEY = 40.0  # degrees: a rim so close to the key light adds nothing
_BOUNCED = 60.0  # degrees: bounced light comes from where the key light goes
_TOWARDS = 0.35  # cosine from which a shadow points towards the light
_THROWN = 0.2  # of what lies around a shadow is what throws it
_LEAST = 0.0008  # of the picture: smaller shapes are not judged


@dataclass(frozen=True, eq=False)
class LitFromElsewhere(Stage[Found]):
    """Parts whose shade says that their light comes from elsewhere."""

    audit: AuditedLight
    eyes: frozenset[str]  # the lid shades them, wherever the light is

    def make(self, get: Get) -> Found:
        return Found.of([
            Noticed("part", (p.part,), round(abs(p.away), 0),
                    f"The shade of {{0}} is lit from {p.azimuth:.0f}°, {abs(p.away):.0f}° away "
                    "from the light.", round(min(1.0, 0.5 + p.clear / 2), 3),
                    None, (((round(p.x, 1), round(p.y, 1)),),))
            for p in get(self.audit) if p.astray and p.part not in self.eyes])


def _without_touch_ups(desk: Desk, noticed: Noticed) -> Repair | None:
    part = noticed.ids[0]
    ids = tuple(t.id for t in desk.recipe.touch_ups if t.part == part and PASSES[t.name].dark)
    return Repair("Take back what was drawn into its shade", RemoveTouchUps(ids=ids)) \
        if ids else None


@dataclass(frozen=True, eq=False)
class MadeForAnotherLight(Stage[Found]):
    """Touch-ups that were made while the light stood elsewhere."""

    recipe: Recipe

    def make(self, get: Get) -> Found:
        ids = set(touch_ups_elsewhere(self.recipe))
        strokes = tuple(t.points for t in self.recipe.touch_ups if t.id in ids)
        if not ids:
            return Found(())
        said = "One touch-up was" if len(ids) == 1 else f"{len(ids)} touch-ups were"
        return Found((Noticed("piece", (), len(ids), f"{said} made for another light.", 0.6,
                              None, strokes),))


def _taken_back(desk: Desk, noticed: Noticed) -> Repair | None:
    return Repair("Take them back", RemoveTouchUps(ids=tuple(touch_ups_elsewhere(desk.recipe))))


@dataclass(frozen=True, eq=False)
class FallsToTheLight(Stage[Found]):
    """Shade put in by hand that lies, from what throws it, on the light's side."""

    touched: DrawnMasks
    untouched: DrawnMasks
    form: AnyForm
    assigned: Assigned
    order: Order
    ids: tuple[str, ...]
    azimuth: float
    areas: Cut
    scale: float

    def make(self, get: Get) -> Found:
        masks = get(self.touched)
        if not self.touched.touches or "shade" not in masks.keys:
            return Found(())
        added = (masks.level("shade") > 127) & (get(self.untouched).level("shade") <= 127)
        throws = casting(get(self.form), get(self.assigned), self.order)
        toward = to_light(self.azimuth)
        reach = max(2, round(1.5 * get(self.areas).line_width * self.scale))
        found = []
        for row in np.unique(masks.parts[added]).tolist():
            pieces, numbers = islands(added & (masks.parts == row))
            for piece in pieces:
                if piece.pixels < _LEAST * added.size:
                    continue
                front = self._thrown_by(masks.parts, numbers, piece,
                                        [a for a, b in throws if b == row], reach)
                if front is None:
                    continue
                caster, at = front
                away = np.array(piece.middle) - at
                cosine = float(away @ toward / max(1e-6, float(np.hypot(*away))))
                if cosine > _TOWARDS:
                    x, y, w, h = (v / self.scale for v in piece.box)
                    found.append(Noticed(
                        "border", (self.ids[caster], self.ids[row]),
                        round(float(np.degrees(np.arccos(np.clip(cosine, -1, 1)))), 0),
                        "What {0} throws on {1} falls towards the light.",
                        round(min(1.0, 0.5 + 20 * piece.pixels / added.size), 3),
                        (round(x, 1), round(y, 1), round(w, 1), round(h, 1))))
        return Found.of(found)

    def _thrown_by(self, parts: NDArray[np.uint16], numbers: NDArray[np.int32], piece: Island,
                   fronts: list[int], reach: int) -> tuple[int, Float] | None:
        """The part in front that a piece of shade touches most, and where."""
        x, y, w, h = piece.box
        cut = np.s_[max(0, y - reach):y + h + reach, max(0, x - reach):x + w + reach]
        near = cv2.dilate((numbers[cut] == piece.number).astype(np.uint8),
                          np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)) > 0
        around = np.count_nonzero(near & (numbers[cut] != piece.number))
        best: tuple[int, int, Float] | None = None
        for front in fronts:
            ys, xs = np.nonzero(near & (parts[cut] == front))
            if len(ys) > _THROWN * around and (best is None or len(ys) > best[0]):
                corner = np.array([cut[1].start, cut[0].start])
                best = len(ys), front, np.array([xs.mean(), ys.mean()]) + corner
        return None if best is None else best[1:]


def _falls(desk: Desk) -> Stage[Found]:
    g, view = desk.graph, view_of(desk, MASKS_EDGE)
    masks = g.masks(view)
    return FallsToTheLight(masks, replace(masks, touches=()), g.form, g.assigned, g.order,
                           ids_of(desk.recipe), desk.recipe.light.azimuth,
                           g.areas, view.scale)


def _not_put_in(desk: Desk, noticed: Noticed) -> Repair | None:
    ids = tuple(t.id for t in drawn_there(desk, noticed, ("shade", "deep shade"))
                if t.act == "put in")
    return Repair("Take that shade back", RemoveTouchUps(ids=ids)) if ids else None


@dataclass(frozen=True, eq=False)
class LampsAstray(Stage[Found]):
    """Rim and bounced light against the key light."""

    recipe: Recipe
    lamp: str

    def make(self, get: Get) -> Found:
        light = self.recipe.light
        side: SideLight | None = getattr(light, self.lamp)
        if side is None or self.lamp in self.recipe.passes.off:
            return Found(())
        apart = abs((side.azimuth - light.azimuth + 180) % 360 - 180)
        words = {"rim": f"The rim light comes from {apart:.0f}° beside the key light.",
                 "bounce": f"Bounced light comes from {apart:.0f}° beside the key light."}
        least = _BY_KEY if self.lamp == "rim" else _BOUNCED
        if apart >= least:
            return Found(())
        return Found((Noticed("pass", (self.lamp,), round(apart, 0), words[self.lamp], 0.5),))


def _across_from_key(desk: Desk, noticed: Noticed) -> Repair | None:
    light, lamp = desk.recipe.light, noticed.ids[0]
    side: SideLight = getattr(light, lamp)
    turned = side.model_copy(update={"azimuth": (light.azimuth + 180) % 360})
    return Repair("Turn it to the other side",
                  MoveLight(light=light.model_copy(update={lamp: turned})))


_CP = "common practice, no published source"

LIGHT: tuple[Check, ...] = (
    Check("lit from elsewhere", "light", "A part is lit from elsewhere",
          "One light holds a picture together; a part that has another looks pasted in.",
          Limit(ASTRAY, "°", "own", f"where the shade tells it with a certainty of {CLEAR:g}"),
          lambda desk: LitFromElsewhere(audited_light(desk.graph), frozenset(
              p.id for p in desk.recipe.parts if usual_role(p.name))), _without_touch_ups),
    Check("another light", "light", "Drawn for another light",
          "What was put in or taken out by hand stays where it is when the light moves.",
          Limit(12.0, "°", "own", "how far the light may move before shapes no longer fit"),
          lambda desk: MadeForAnotherLight(desk.recipe.only("light", "touch_ups")),
          _taken_back),
    Check("falls to the light", "light", "A shadow falls towards the light",
          "A cast shadow lies on the far side of what throws it.",
          Limit(69.0, "°", "own", "from the direction to the light"), _falls, _not_put_in),
    *EYES,
    Check("rim by key", "light", "The rim is on the key’s side",
          "A rim light parts the dark side from its ground; on the lit side it adds nothing.",
          Limit(_BY_KEY, "°", "common practice", _CP),
          lambda desk: LampsAstray(desk.recipe.only("light", "passes"), "rim"),
          _across_from_key),
    Check("bounce by key", "light", "Bounced light comes from the key’s side",
          "Light bounces off what the key light falls on, back into the shade.",
          Limit(_BOUNCED, "°", "common practice", _CP),
          lambda desk: LampsAstray(desk.recipe.only("light", "passes"), "bounce"),
          _across_from_key),
)
