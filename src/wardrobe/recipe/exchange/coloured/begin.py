"""Begin a piece from a coloured picture: its lines, its parts, its shade, and what is left."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import reduce
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.colour import srgb_to_oklch, to_hex
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.flats.bare import bare_borders
from wardrobe.core.flats.grouped import TONES, Grouped, group_flats
from wardrobe.core.flats.separate import Separated
from wardrobe.core.geometry.outline import outlines_of
from wardrobe.core.people.find import find_person
from wardrobe.core.stack.naming import Names
from wardrobe.core.words.colours import colour_words
from wardrobe.recipe.document.colouring import Passes, Wash
from wardrobe.recipe.document.lighting import MAX_TOUCH_POINTS, MAX_TOUCH_UPS
from wardrobe.recipe.document.model import MAX_CLOSINGS, MAX_PARTS, Claim, Closing, Part, Recipe
from wardrobe.recipe.edits import (
    CloseGaps,
    Edit,
    MoveLight,
    ReplaceParts,
    SetBackground,
    SetPasses,
    Several,
    SingleEdit,
    TouchUpPass,
    apply,
)
from wardrobe.recipe.exchange.coloured.left import Left, what_is_left
from wardrobe.recipe.exchange.layered.begin import spots_of
from wardrobe.recipe.reports.light import light_of_shade
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Progress = Callable[[float, str], None]

_LEAST = 24  # px: smaller shades are not worth a touch-up


@dataclass(frozen=True)
class Opened:
    """A piece that looks like the picture.

    Attributes
    ----------
    edits : tuple of Edit
        From the lines to its parts, colours, light and shade.
    left : Left
        What the picture has besides: laid over it, the piece is the picture.
    """

    edits: tuple[Edit, ...]
    left: Left


def lines_picture(found: Separated) -> Byte:
    """The lines of a picture, RGBA, as the drawing of a piece."""
    return np.dstack([np.broadcast_to(np.array(found.colour, np.uint8), (*found.ink.shape, 3)),
                      found.ink])


def open_coloured(deriver: Deriver, recipe: Recipe, rgb: Byte, found: Separated,
                  report: Progress = lambda done, doing: None) -> Opened:
    """Tell what a coloured picture is made of.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
        Of the picture's lines, as :func:`lines_picture` gives them, and nothing else.
    rgb : ndarray of uint8, shape (height, width, 3)
        The picture, over white where it is transparent.
    found : Separated
        Of it.
    report : callable
        Is told how far it is, 0..1, and at what.
    """
    report(0.1, "Telling flats from shades")
    grouped = group_flats(found, MAX_PARTS)
    parts = grouped.part[found.regions]
    ground = _rgb(grouped.colours[0, 0]) if grouped.has[0, 0] and not found.clear \
        else (255, 255, 255)
    edits: list[Edit] = [SetBackground(colour=to_hex(ground))]
    borders = bare_borders(parts, found.ink)[:MAX_CLOSINGS]
    if borders:
        edits.append(CloseGaps(closings=tuple(
            Closing(points=tuple(map(tuple, line.round(2).tolist()))) for line in borders)))
    now = reduce(apply, edits, recipe)
    report(0.25, "Cutting areas")
    edits += _colours(deriver, now, parts, grouped)
    now = reduce(apply, edits, recipe)
    if now.parts and grouped.has[1:, 1:].any():
        report(0.45, "Reading the light")
        edits += _shade(deriver, now, found, grouped)
        now = reduce(apply, edits, recipe)
    report(0.8, "Keeping what is left")
    return Opened(tuple(edits), what_is_left(deriver, now, rgb))


def _rgb(colour: NDArray[Any]) -> tuple[int, int, int]:
    r, g, b = (int(v) for v in colour)
    return r, g, b


def _colours(deriver: Deriver, recipe: Recipe, parts: NDArray[np.int64],
             grouped: Grouped) -> list[Edit]:
    """A part for each colour of the figure, and what passes there are."""
    has = [bool(grouped.has[1:, tone].any()) for tone in range(len(TONES))]
    passes = Passes(method="one shade", off=("deep shade", "glint", *(
        name for tone, name in enumerate(TONES) if tone and not has[tone])))
    if has[1]:
        passes = passes.model_copy(update={"shade": _shade_for_all(grouped)})
    if has[2]:
        passes = passes.model_copy(update={"light": _light_for_all(grouped)})
    try:
        areas = deriver.areas(recipe)
    except NoClosedAreaError:
        return [SetPasses(passes=passes)]
    count = len(grouped.colours)
    free = areas.core
    covered = np.bincount(areas.labels[free].astype(np.int64) * count + parts[free],
                          minlength=(areas.count + 1) * count).reshape(-1, count)
    most = covered.argmax(axis=1)
    most[0] = 0
    person = find_person(areas, deriver.coverage(recipe))
    skin = int(most[person.skin[0]]) if person else 0
    if skin and not _like_skin(grouped.colours[skin, 0]):  # a beard may lie where the cheek is
        skin = 0
    names, made, claims = Names(), [], []
    for number in range(1, count):
        mine = np.flatnonzero(most == number)
        if not len(mine):
            continue
        of_skin = number == skin
        base = _rgb(grouped.colours[number, 0] if grouped.has[number, 0]
                    else grouped.colours[number, 1])
        made.append(Part(id=f"p{number}", base=to_hex(base),
                         name=names.unique("skin" if of_skin else colour_words(base)),
                         material="skin" if of_skin else "matte cloth"))
        claims.append(Claim(to=f"p{number}", strokes=spots_of(areas, mine)))
    ground = np.flatnonzero((most == 0) & ~areas.ground & (np.arange(areas.count + 1) > 0))
    if len(ground):
        claims.append(Claim(to="ground", strokes=spots_of(areas, ground)))
    return [SetPasses(passes=passes), ReplaceParts(parts=tuple(made), claims=tuple(claims))]


def _shade_for_all(grouped: Grouped) -> Wash:
    """The colour that, multiplied on the bases, comes nearest to their shades: it goes along with
    a base that is changed, and what a part's own shade has besides is left over."""
    both = grouped.has[1:, 0] & grouped.has[1:, 1]
    base, shade = (grouped.colours[1:, tone][both].astype(float) for tone in (0, 1))
    if not len(base):
        return Passes().shade
    middle = np.median(shade / np.maximum(base, 1), axis=0)
    return Wash(colour=to_hex(_rgb(np.clip(255 * middle + 0.5, 0, 255))), strength=1.0)


def _light_for_all(grouped: Grouped) -> Wash:
    """The colour that, screened on the bases, comes nearest to their lights."""
    both = grouped.has[1:, 0] & grouped.has[1:, 2]
    base, light = (grouped.colours[1:, tone][both].astype(float) for tone in (0, 2))
    if not len(base):
        return Passes().light
    middle = np.median(1 - (255 - light) / np.maximum(255 - base, 1), axis=0)
    return Wash(colour=to_hex(_rgb(np.clip(255 * middle + 0.5, 0, 255))), strength=1.0)


def _like_skin(colour: Byte) -> bool:
    lightness, chroma, hue = srgb_to_oklch(colour / 255)
    return bool(20 < hue < 85 and 0.02 < chroma < 0.15 and lightness > 0.25)


def _shade(deriver: Deriver, recipe: Recipe, found: Separated, grouped: Grouped) -> list[Edit]:
    """The light that the shades tell of, and their shapes as touch-ups."""
    tones, of_pixel = grouped.tone[found.regions], grouped.part[found.regions]
    light = light_of_shade(deriver, recipe, tones == 1)
    edits: list[SingleEdit] = [] if light is None else [
        MoveLight(light=recipe.light.model_copy(update={"azimuth": round(light, 1)}))]
    height, width = tones.shape
    whole = ((-1.0, -1.0), (width + 1.0, -1.0), (width + 1.0, height + 1.0), (-1.0, height + 1.0))
    masks: list[tuple[str, str, NDArray[np.bool_], tuple[int, int]]] = []
    for tone, name in enumerate(TONES):
        if tone == 0 or name in recipe.passes.off:
            continue
        edits.append(TouchUpPass(name=name, act="take out", points=whole))
        boxes = ndimage.find_objects(np.where(tones == tone, of_pixel, 0))
        for part in recipe.parts:
            number = int(part.id[1:])
            box = boxes[number - 1] if number <= len(boxes) else None
            if box is not None and grouped.has[number, tone]:
                masks.append((name, part.id, (of_pixel[box] == number) & (tones[box] == tone),
                              (box[1].start, box[0].start)))
    least = _least_of([mask for *_, mask, _ in masks],
                      MAX_TOUCH_UPS - len(edits) - len(recipe.touch_ups))
    points = MAX_TOUCH_POINTS - 2 * len(whole)
    for pass_key, part_id, mask, corner in masks:
        for outline in outlines_of(mask, least, corner):
            points -= len(outline)
            if points >= 0:
                edits.append(TouchUpPass(name=pass_key, act="put in", part=part_id,
                                         points=tuple(map(tuple, outline.round(2).tolist()))))
    return [Several(edits=tuple(edits))]


def _least_of(masks: list[NDArray[np.bool_]], room: int) -> int:
    """Pixels from which there are no more pieces than there is room for."""
    sizes = np.concatenate([np.zeros(0, np.int64), *(
        cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=4)[2]
        [1:, cv2.CC_STAT_AREA] for mask in masks)])
    if len(sizes) <= room:
        return _LEAST
    return max(_LEAST, int(np.sort(sizes)[-room]) + 1)
