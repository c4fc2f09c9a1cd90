"""How a piece lies on its paper, and which of its colours the press cannot print."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.paper.layout import FEWEST_DPI, lie
from wardrobe.core.passes.table import PASSES
from wardrobe.core.press.gamut import SEEN, printed
from wardrobe.core.press.inks import Press
from wardrobe.core.press.unprintable import out_of_reach
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.sheet import BASE, colour_sheet
from wardrobe.recipe.stages import Deriver

EDGE = 900  # px of the picture that is looked at
FINISHED = "as finished"
_LEAST = 0.01  # of a part


@dataclass(frozen=True)
class OnPaper:
    """A piece on its paper.

    Attributes
    ----------
    picture : (x, y, width, height)
        mm from the upper left corner of the trimmed sheet.
    subject : (x, y, width, height)
        What is centred, px of the picture.
    dpi : float
        Pixels of the picture to an inch.
    fewest : float
        Fewer are said to be too few.
    cut : (left, top, right, bottom)
        Shares of the picture that the sheet cuts off.
    beyond_safe : (left, top, right, bottom)
        mm by which what is centred reaches beyond the safe area.
    pixels : (int, int)
        Of the sheet that is written.
    """

    picture: tuple[float, ...]
    subject: tuple[int, ...]
    dpi: float
    fewest: float
    cut: tuple[float, ...]
    beyond_safe: tuple[float, ...]
    pixels: tuple[int, ...]


def on_paper(deriver: Deriver, recipe: Recipe) -> OnPaper:
    """How a piece lies on its paper."""
    setup, size = recipe.delivery.paper, recipe.size
    subject = subject_of(deriver, recipe)
    placed = setup.placed
    lying = lie(setup.paper(), size, subject,
                (placed.x, placed.y, placed.width) if placed else None)
    x, y, width, _ = lying.picture
    scale = width / size[0]
    left, top = x + subject[0] * scale, y + subject[1] * scale
    right, bottom = left + subject[2] * scale, top + subject[3] * scale
    beyond = (setup.safe - left, setup.safe - top, right - (setup.width - setup.safe),
              bottom - (setup.height - setup.safe))
    return OnPaper(lying.picture, subject, lying.dpi, FEWEST_DPI, lying.cut,
                   tuple(max(0.0, mm) for mm in beyond),
                   setup.paper().pixels(recipe.delivery.dpi))


def subject_of(deriver: Deriver, recipe: Recipe) -> tuple[int, int, int, int]:
    """What is centred on the paper: x, y, width, height, px."""
    whole = (0, 0, *recipe.size)
    if recipe.delivery.paper.subject == "picture":
        return whole
    x, y, w, h = cv2.boundingRect(deriver.silhouette(recipe))
    return (x, y, w, h) if w else whole


@dataclass(frozen=True)
class Unprintable:
    """A colour of the piece that cannot be printed.

    Attributes
    ----------
    part : str
        Id; empty for the ground.
    name, seen_in : str
        Of the part, and of the pass.
    base : bool
        Whether it is the part's base colour.
    wanted, printed, nearest : str
        ``#rrggbb``: as it is, as it is printed, and the nearest that can be.
    distance, least : float
        CIEDE2000 to these two.
    inks : (float, float, float, float)
        Percent of cyan, magenta, yellow and black for the nearest.
    """

    part: str
    name: str
    seen_in: str
    base: bool
    wanted: str
    printed: str
    distance: float
    nearest: str
    least: float
    inks: tuple[float, ...]


def unprintable(deriver: Deriver, recipe: Recipe, press: Press) -> list[Unprintable]:
    """Colours that the press cannot print, the farthest first: those of the sheet, and for parts
    without any what the finished picture shows most of that is out of reach."""
    names = {p.id: p.name for p in recipe.parts}
    found = [("", "ground", BASE, recipe.background)]
    found += [(row.part, names[row.part], cell.name, cell.colour)
              for row in colour_sheet(recipe).rows for cell in row.cells
              if cell.mark != "not drawn"]
    told = _lines(found, press)
    listed = {line.part for line in told}
    finished = [(part, names.get(part, "ground"), FINISHED, colour)
                for part, colour in _seen(deriver, recipe, press) if part not in listed]
    return sorted([*told, *_lines(finished, press)], key=lambda u: -u.least)


def _lines(found: Sequence[tuple[str, str, str, str]], press: Press) -> list[Unprintable]:
    """Those that cannot be printed, of colours with their part, its name, and the pass."""
    told = printed([from_hex(colour) for *_, colour in found], press)
    return [Unprintable(part, name,
                        PASSES[seen_in].label if seen_in in PASSES else seen_in, seen_in == BASE,
                        colour, to_hex(p.printed), round(p.distance, 2), to_hex(p.nearest),
                        round(p.least, 2), p.inks)
            for (part, name, seen_in, colour), p in zip(found, told, strict=True)
            if p.least > SEEN]


def _seen(deriver: Deriver, recipe: Recipe, press: Press) -> Iterator[tuple[str, str]]:
    """For each part, and the ground, what is out of reach and seen most of it."""
    view = View.whole(*recipe.size, EDGE)
    picture, rows = deriver.picture(recipe, view), deriver.store(
        deriver.stages(recipe).parts_seen(view))
    off = out_of_reach(picture, press)
    for row, part in enumerate(["", *(p.id for p in recipe.parts)]):
        mine = rows == row
        there = picture[mine & off]
        if len(there) > _LEAST * max(1, int(mine.sum())):
            colours, counts = np.unique(there, axis=0, return_counts=True)
            yield part, to_hex(colours[counts.argmax()])
