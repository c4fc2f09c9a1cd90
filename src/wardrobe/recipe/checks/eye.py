"""Where does the eye go? What draws it, against where it should go."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.attention import Draw, attention, rivals
from wardrobe.core.checks.islands import islands
from wardrobe.core.checks.seen import Seen, lab_of
from wardrobe.core.colour import decode
from wardrobe.core.passes.table import LIT
from wardrobe.recipe.checks.finding import Check, Desk, Found, Limit, Noticed, Repair
from wardrobe.recipe.checks.seen import (
    MASKS_EDGE,
    PictureSeen,
    dots,
    ids_of,
    picture_seen,
    view_of,
)
from wardrobe.recipe.document.finish import FinishDraft, PlainColour, Spots, SpotStroke
from wardrobe.recipe.document.model import ground_rows
from wardrobe.recipe.edits import AddFinish, RemoveTouchUps, SetForm
from wardrobe.recipe.reports.finishes.lay_out import blur
from wardrobe.recipe.stages.cut import Cut
from wardrobe.recipe.stages.picture import DrawnMasks
from wardrobe.recipe.stages.stage import Get, Stage

Real = NDArray[np.float32]
Place = tuple[float, float, float]

_RIVAL = 1.0  # times what is in the focus
_APART = 0.06  # of the longer edge: rivals nearer to each other are one
_MOST_RIVALS = 5
_PURE = 1.25  # times the strongest chroma in the focus
_LEAST_CHROMA = 35.0  # CIELAB: duller colours draw nobody
_DETAIL = 1.5  # times the detail in the focus
_GLEAMS = 24  # islands of light on a figure
_CP = "common practice, no published source"
_PELI = ("E. Peli, “Contrast in complex images”, JOSA A 7 (10), 1990, for the contrast of bands; "
         "how they are added up is our own")


@dataclass(frozen=True, eq=False)
class Attention(Stage[Real]):
    """How strongly each place of the picture draws the eye."""

    seen: PictureSeen

    def make(self, get: Get) -> Real:
        whole = get(self.seen).whole
        return attention(lab_of(whole), luminance_of(whole))


def luminance_of(picture: NDArray[np.uint8]) -> Real:
    """Relative luminance, linear, 0..1 (IEC 61966-2-1)."""
    linear = decode(np.arange(256) / 255)[picture]
    found: Real = (linear @ np.array([0.2126, 0.7152, 0.0722])).astype(np.float32)
    return found


def focus_plane(shape: tuple[int, ...], places: tuple[Place, ...], scale: float) -> Real:
    """1 where the eye should go, falling to 0 at twice the radius."""
    y, x = np.mgrid[:shape[0], :shape[1]] + 0.5
    plane = np.zeros(shape[:2], np.float32)
    for px, py, radius in places:
        away = np.hypot(x - px * scale, y - py * scale) / max(1.0, radius * scale)
        plane = np.maximum(plane, np.clip(2 - away, 0, 1).astype(np.float32))
    return plane


@dataclass(frozen=True, eq=False)
class Rivals(Stage[Found]):
    """Places away from the focus that draw the eye more."""

    seen: PictureSeen
    drawn: Attention
    focus: tuple[Place, ...]

    def make(self, get: Get) -> Found:
        if not self.focus:
            return Found(())
        seen, drawn = get(self.seen), get(self.drawn)
        edge = max(drawn.shape)
        found = rivals(drawn, focus_plane(drawn.shape, self.focus, seen.scale), _RIVAL,
                       _APART * edge)
        reach = _APART * edge / seen.scale

        def told(k: int, d: Draw) -> Noticed:
            x, y = d.x / seen.scale, d.y / seen.scale
            return Noticed("place", (), round(d.strength, 2),
                           f"This place draws the eye {d.strength:.1f} times as much as what is in "
                           "the focus.", round(min(1.0, 0.4 + (d.strength - 1) / 2) - 0.01 * k, 3),
                           (round(x - reach, 1), round(y - reach, 1), round(2 * reach, 1),
                            round(2 * reach, 1)), (((round(x, 1), round(y, 1)),),))

        return Found.of([told(k, d) for k, d in enumerate(found[:_MOST_RIVALS])])


def _subdued(desk: Desk, noticed: Noticed) -> Repair | None:
    """The colours there drawn towards their mean, as far as is needed."""
    seen = desk.deriver.store(picture_seen(desk))
    (x, y), = noticed.marks[0]
    reach = _APART * max(desk.recipe.size)
    return Repair("Subdue it", AddFinish(layers=(_towards_mean(
        seen, x, y, reach, min(0.85, 1.25 * (1 - 0.9 * _RIVAL / noticed.measured) + 0.15)),)))


def _towards_mean(seen: Seen, x: float, y: float, reach: float, strength: float) -> FinishDraft:
    row, column = int(y * seen.scale), int(x * seen.scale)
    far = max(3, int(reach * seen.scale))
    around = seen.whole[max(0, row - far):row + far, max(0, column - far):column + far]
    mean = around.reshape(-1, 3).mean(axis=0)
    colour = "#" + "".join(f"{int(v + 0.5):02x}" for v in mean)
    return FinishDraft(
        name="subdued", paint=PlainColour(colour=colour), over_lines=True,
        shape=Spots(strokes=(SpotStroke(points=((round(x, 1), round(y, 1)),),
                                        widths=(round(2.4 * reach, 1),)),)),
        operations=(blur(round(0.35 * reach, 1)),), strength=round(strength, 2))


@dataclass(frozen=True, eq=False)
class PurestAway(Stage[Found]):
    """The purest colour of the picture, if it lies away from the focus."""

    seen: PictureSeen
    ids: tuple[str, ...]
    focus: tuple[Place, ...]

    def make(self, get: Get) -> Found:
        if not self.focus:
            return Found(())
        seen = get(self.seen)
        chroma, focus, inside = _purest(seen, self.focus)
        away = np.where(focus < 0.05, chroma, 0)
        y, x = np.unravel_index(int(np.argmax(away)), away.shape)
        most = float(away[y, x])
        if most < _LEAST_CHROMA or most < _PURE * inside:
            return Found(())
        row = int(seen.parts[y, x])
        place = (round((float(x) + 0.5) / seen.scale, 1), round((float(y) + 0.5) / seen.scale, 1))
        return Found((Noticed(
            "part", (self.ids[row],) if row else (), round(most, 0),
            ("{0}" if row else "The ground") + f" has a chroma of {most:.0f}; in the focus it is "
            f"{inside:.0f} at most.", 0.5, None, ((place,),)),))


def _purest(seen: Seen, places: tuple[Place, ...]) -> tuple[Real, Real, float]:
    """Chroma of the picture, the focus, and the strongest chroma in it."""
    chroma: Real = cv2.GaussianBlur(np.hypot(seen.lab[..., 1], seen.lab[..., 2]), (0, 0),
                                    max(seen.figure.shape) / 70)
    focus = focus_plane(chroma.shape, places, seen.scale)
    return chroma, focus, float(chroma[focus > 0.5].max(initial=0.0))


def _duller(desk: Desk, noticed: Noticed) -> Repair | None:
    if not noticed.ids:
        return None
    _, _, inside = _purest(desk.deriver.store(picture_seen(desk)), _focus(desk))
    strength = min(0.95, 1 - 0.9 * max(_LEAST_CHROMA, _PURE * inside) / noticed.measured + 0.05)
    name = next(p.name for p in desk.recipe.parts if p.id == noticed.ids[0])
    layer = FinishDraft(name=f"{name} duller", paint=PlainColour(colour="#808080"),
                        mode="saturation", strength=round(strength, 2), scope="parts",
                        parts=noticed.ids)
    return Repair(f"Make {name} duller", AddFinish(layers=(layer,)))


@dataclass(frozen=True, eq=False)
class DetailAway(Stage[Found]):
    """More drawing far from the focus than in it."""

    seen: PictureSeen
    focus: tuple[Place, ...]

    def make(self, get: Get) -> Found:
        if not self.focus:
            return Found(())
        seen = get(self.seen)
        edge = max(seen.figure.shape)
        ink = cv2.GaussianBlur(seen.ink.astype(np.float32) / 255, (0, 0), edge / 36)
        focus = focus_plane(ink.shape, self.focus, seen.scale)
        inside = float(ink[focus > 0.5].max(initial=0.0))
        away = np.where(focus < 0.05, ink, 0)
        y, x = np.unravel_index(int(np.argmax(away)), away.shape)
        most = float(away[y, x])
        if most < 0.12 or most < _DETAIL * inside:
            return Found(())
        place = (round((float(x) + 0.5) / seen.scale, 1), round((float(y) + 0.5) / seen.scale, 1))
        return Found((Noticed(
            "place", (), round(most / max(inside, 0.01), 1),
            f"Lines cover {100 * most:.0f} % here; in the focus {100 * inside:.0f} % at most.",
            0.35, None, ((place,),)),))


@dataclass(frozen=True, eq=False)
class ManyGleams(Stage[Found]):
    """Highlights in so many places that none of them counts."""

    masks: DrawnMasks
    areas: Cut
    ids: tuple[str, ...]
    around: frozenset[int]
    scale: float

    def make(self, get: Get) -> Found:
        masks = get(self.masks)
        keys = [k for k in LIT if k in masks.keys]
        if not keys:
            return Found(())
        lit = np.any([masks.level(k) > 127 for k in keys], axis=0) \
            & ~np.isin(masks.parts, list(self.around))
        pieces, _ = islands(lit)
        pieces = [p for p in pieces if p.pixels > 3]
        if len(pieces) <= _GLEAMS:
            return Found(())
        x, y = np.array([p.middle for p in pieces]).T
        rows = masks.parts[np.clip(y.astype(int), 0, lit.shape[0] - 1),
                           np.clip(x.astype(int), 0, lit.shape[1] - 1)]
        most = int(np.argmax(np.bincount(rows, minlength=len(self.ids))))
        return Found((Noticed(
            "part", (self.ids[most],), float(len(pieces)),
            f"{len(pieces)} highlights on the figure, {int(np.count_nonzero(rows == most))} of "
            "them on {0}.", min(1.0, 0.3 + len(pieces) / 120), None, dots(x, y, self.scale)),))


def _fewer_gleams(desk: Desk, noticed: Noticed) -> Repair | None:
    part = next(p for p in desk.recipe.parts if p.id == noticed.ids[0])
    drawn = tuple(t.id for t in desk.recipe.touch_ups
                  if t.name in LIT and t.act == "put in" and t.part in (None, part.id))
    if drawn:
        return Repair("Take back the highlights that were drawn", RemoveTouchUps(ids=drawn))
    return Repair(f"No highlights on {part.name}", SetForm(
        part=part.id, form=part.form.model_copy(update={"highlight": 0.0})))


def _focus(desk: Desk) -> tuple[Place, ...]:
    return tuple((*f.at, f.radius) for f in desk.recipe.focus)


def attention_of(desk: Desk) -> Attention:
    """What draws the eye in a piece."""
    return Attention(picture_seen(desk))


def _many_gleams(desk: Desk) -> Stage[Found]:
    view = view_of(desk, MASKS_EDGE)
    return ManyGleams(desk.graph.masks(view), desk.graph.areas, ids_of(desk.recipe),
                      ground_rows(desk.recipe.parts), view.scale)


EYE: tuple[Check, ...] = (
    Check("rival", "eye", "A place competes with the focus",
          "The eye goes where contrast is; if that is not where it should go, the picture is "
          "about something else.",
          Limit(_RIVAL, "times the focus", "published", _PELI),
          lambda desk: Rivals(picture_seen(desk), attention_of(desk), _focus(desk)), _subdued),
    Check("purest away", "eye", "The purest colour is elsewhere",
          "The strongest saturation belongs where the eye should go.",
          Limit(_PURE, "times the focus", "common practice", _CP),
          lambda desk: PurestAway(picture_seen(desk), ids_of(desk.recipe), _focus(desk)), _duller),
    Check("detail away", "eye", "Most drawing is elsewhere",
          "Dense lines hold the eye; far from the focus they hold it there.",
          Limit(_DETAIL, "times the focus", "common practice", _CP),
          lambda desk: DetailAway(picture_seen(desk), _focus(desk))),
    Check("many gleams", "eye", "Many highlights",
          "Highlights scatter the eye; a few, on what is bright or wet, carry the most.",
          Limit(_GLEAMS, "highlights", "common practice", _CP), _many_gleams, _fewer_gleams),
)
