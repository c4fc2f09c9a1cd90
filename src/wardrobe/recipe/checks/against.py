"""Does it hold on its ground? The figure against what lies behind it."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.islands import enclosed, islands
from wardrobe.core.checks.outline import lost_stretches
from wardrobe.core.colour import (
    delta_e_2000,
    oklch_to_srgb,
    srgb_to_lab,
    srgb_to_oklch,
    to_bytes,
    to_hex,
)
from wardrobe.recipe.checks.finding import Check, Desk, Found, Limit, Noticed, Repair
from wardrobe.recipe.checks.seen import (
    PictureSeen,
    box_around,
    box_of,
    line_of,
    picture_seen,
)
from wardrobe.recipe.document.finish import FinishDraft, PlainColour, Spots, SpotStroke
from wardrobe.recipe.edits import AddFinish
from wardrobe.recipe.reports.finishes.lay_out import blur
from wardrobe.recipe.stages.stage import Get, Stage

Float = NDArray[np.float64]

LOST = 7.0  # CIEDE2000: less than the faintest shade
_STRETCH = 0.06  # of the outline
_WIDE = 0.05  # of the longer edge: how far the ground is changed around a stretch
_REPAIRED = 2.0  # times the limit
_HOT_SHARE = 0.02  # of the figure: larger holes are seen as ground
_HOT = 60.0  # L* above what lies around
_RING = 6  # px around a hole
_TREND = 10.0  # L* from top to bottom


@dataclass(frozen=True, eq=False)
class LostOutline(Stage[Found]):
    """Stretches of the outline along which figure and ground look alike."""

    seen: PictureSeen

    def make(self, get: Get) -> Found:
        seen = get(self.seen)
        stretches, _ = lost_stretches(seen.lab, seen.figure, LOST, least=_STRETCH)
        found = []
        for s in stretches:
            x, y = s.points.T
            found.append(Noticed(
                "place", (), round(s.step, 1),
                f"Along {100 * s.share:.0f} % of the outline the figure is {s.step:.1f} ΔE from "
                f"its ground (L* {s.inside:.0f} on {s.outside:.0f}).",
                round(min(1.0, s.share * 2 * (1 - s.step / LOST / 2)), 3),
                box_around(x - 0.5, y - 0.5, seen.scale), (line_of(s.points, seen.scale),)))
        return Found.of(found)


def _set_off(desk: Desk, noticed: Noticed) -> Repair | None:
    """The ground along the stretch lighter or darker, whichever is farther from the figure."""
    seen = desk.deriver.store(picture_seen(desk))
    points = np.array(noticed.marks[0]) * seen.scale
    x = np.clip(points[:, 0].astype(int), 0, seen.figure.shape[1] - 1)
    y = np.clip(points[:, 1].astype(int), 0, seen.figure.shape[0] - 1)
    near = np.zeros(seen.figure.shape, np.uint8)
    near[y, x] = 1
    near = cv2.dilate(near, np.ones((13, 13), np.uint8))
    inside = seen.lab[(near > 0) & seen.figure].astype(float)
    ground = (near > 0) & ~seen.figure
    if not len(inside) or not ground.any():
        return None
    here = np.median(seen.bare[ground].astype(float), axis=0) / 255
    lch = srgb_to_oklch(here)
    best: tuple[float, Float] | None = None
    for shift in (s * k / 50 for k in range(2, 35) for s in (-1, 1)):
        if not 0.08 <= lch[0] + shift <= 0.99:
            continue
        colour = np.array(to_bytes(oklch_to_srgb([lch[0] + shift, lch[1], lch[2]]))) / 255
        told = delta_e_2000(inside, srgb_to_lab(colour))
        if np.percentile(told, 15) >= _REPAIRED * LOST:
            best = shift, colour
            break
    if best is None:
        return None
    wide = round(_WIDE * max(desk.recipe.size), 1)
    layer = FinishDraft(
        name="ground set off", paint=PlainColour(colour=to_hex(to_bytes(best[1]))),
        shape=Spots(strokes=(SpotStroke(points=noticed.marks[0],
                                        widths=(2 * wide,) * len(noticed.marks[0])),)),
        operations=(blur(round(wide / 4, 1)),), scope="ground")
    return Repair(f"{'Lighten' if best[0] > 0 else 'Darken'} the ground there",
                  AddFinish(layers=(layer,)))


@dataclass(frozen=True, eq=False)
class HotGround(Stage[Found]):
    """Small bright holes of ground between darker shapes."""

    seen: PictureSeen

    def make(self, get: Get) -> Found:
        seen, found = get(self.seen), []
        total = max(1, int(np.count_nonzero(seen.figure)))
        ground = enclosed(~seen.figure)
        pieces, numbers = islands(ground, 4)
        for piece in pieces:
            if not 4 <= piece.pixels < _HOT_SHARE * total:
                continue
            x, y, w, h = piece.box
            cut = np.s_[max(0, y - _RING):y + h + _RING, max(0, x - _RING):x + w + _RING]
            mine = numbers[cut] == piece.number
            ring = cv2.dilate(mine.astype(np.uint8), np.ones((2 * _RING + 1,) * 2, np.uint8)) > 0
            beside = seen.lab[cut][ring & seen.figure[cut]]
            if not len(beside):
                continue
            bright = float(seen.lab[cut][mine][:, 0].mean())
            dark = float(beside[:, 0].mean())
            if bright - dark > _HOT:
                box = box_of(numbers == piece.number, seen.scale)
                found.append(Noticed(
                    "place", (), round(bright - dark, 0),
                    f"A hole of {100 * piece.pixels / total:.1f} % of the figure is "
                    f"{bright - dark:.0f} L* brighter than what lies around it.",
                    round(min(1.0, 0.3 + (bright - dark) / 200), 3), box,
                    (((round(piece.middle[0] / seen.scale, 1),
                       round(piece.middle[1] / seen.scale, 1)),),)))
        return Found.of(found)


def _knocked_back(desk: Desk, noticed: Noticed) -> Repair | None:
    if noticed.box is None:
        return None
    seen = desk.deriver.store(picture_seen(desk))
    x, y, width, height = noticed.box
    cut = np.s_[int(y * seen.scale):int((y + height) * seen.scale) + 1,
                int(x * seen.scale):int((x + width) * seen.scale) + 1]
    hole = ~seen.figure[cut]
    if not hole.any():
        return None
    colour = np.median(seen.bare[cut][hole].astype(float), axis=0) / 255
    lightness, chroma, hue = srgb_to_oklch(colour)
    wanted = srgb_to_lab(colour)[0] - (noticed.measured - 0.6 * _HOT)
    for shift in np.arange(0.0, lightness, 0.01):
        darker = to_bytes(oklch_to_srgb([lightness - shift, chroma, hue]))
        if srgb_to_lab(np.array(darker) / 255)[0] <= wanted:
            break
    wide = max(width, height) * 1.5
    layer = FinishDraft(
        name="hole knocked back", paint=PlainColour(colour=to_hex(darker)),
        shape=Spots(strokes=(SpotStroke(points=((x + width / 2, y + height / 2),),
                                        widths=(round(wide, 1),)),)), scope="ground")
    return Repair("Knock it back", AddFinish(layers=(layer,)))


@dataclass(frozen=True, eq=False)
class SameTrend(Stage[Found]):
    """Values of the ground that run as those of the figure do."""

    seen: PictureSeen

    def make(self, get: Get) -> Found:
        seen = get(self.seen)
        figure = _trend(seen.lab[..., 0], seen.figure)
        ground = _trend(seen.lab[..., 0], ~seen.figure)
        if figure * ground <= 0 or min(abs(figure), abs(ground)) < _TREND:
            return Found(())
        way = "darker" if figure < 0 else "lighter"
        return Found((Noticed(
            "piece", (), round(min(abs(figure), abs(ground)), 1),
            f"From top to bottom both become {way}, the figure by {abs(figure):.0f} L* and the "
            f"ground by {abs(ground):.0f}.", 0.35),))


def _trend(lightness: NDArray[np.float32], where: NDArray[np.bool_]) -> float:
    """Change of L* over the height of something, by least squares."""
    y, _ = np.nonzero(where)
    if len(y) < 50 or np.ptp(y) < 10:
        return 0.0
    slope = float(np.polyfit(y.astype(float), lightness[where].astype(float), 1)[0])
    return slope * float(np.ptp(y))


_CP = "common practice, no published source"

AGAINST: tuple[Check, ...] = (
    Check("lost outline", "ground", "The figure melts into its ground",
          "Where both sides of the outline are alike, the silhouette is lost.",
          Limit(LOST, "ΔE", "own", "less than the faintest shade from its base"),
          lambda desk: LostOutline(picture_seen(desk)), _set_off),
    Check("hot ground", "ground", "A bright hole of ground",
          "Paper that shows between dark shapes is the first thing that is seen.",
          Limit(_HOT, "L*", "common practice", _CP),
          lambda desk: HotGround(picture_seen(desk)), _knocked_back),
    Check("same trend", "ground", "Ground and figure run the same way",
          "Values of the ground that run against the figure’s set it off all along.",
          Limit(_TREND, "L*", "common practice", _CP),
          lambda desk: SameTrend(picture_seen(desk))),
)
