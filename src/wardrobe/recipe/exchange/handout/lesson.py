"""How a picture was made, pass by pass and explained: pages to teach from."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.page import QUIET, Box, Item, Page, Picture, Text, broken
from wardrobe.core.passes.methods import METHODS
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.sheet import BASE, Sheet, colour_sheet
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.views import draw, upto

Byte = NDArray[np.uint8]
Report = Callable[[float], None]

_WIDTH, _HEIGHT, _MARGIN = 595.0, 842.0, 40.0  # points, A4
_EDGE = 900  # px
_ROWS = 3  # a page
_SWATCHES = 14
_CLOSE, _CLOSE_PX, _LEAST_CLOSE = 0.22, 480, 60.0  # of the longer edge, px, points


@dataclass(frozen=True)
class Chapter:
    """A stage: what it is called, how it looks, and what is said of it."""

    name: str
    kind: str
    recipe: Recipe
    lines: tuple[str, ...]
    column: str | None = None


def lesson_pages(deriver: Deriver, recipe: Recipe, title: str,
                 on_progress: Report = lambda share: None) -> list[Page]:
    """Pages with each stage of a picture: as it looks, how it is laid, and why.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    title : str
    on_progress : callable
        Called with a share 0..1; may raise to cancel.
    """
    sheet = colour_sheet(recipe)
    chapters = list(_chapters(recipe, sheet))
    high = (_HEIGHT - 2 * _MARGIN - 40) / _ROWS
    pages: list[Page] = []
    before: Byte | None = None
    for k, chapter in enumerate(chapters):
        on_progress(k / len(chapters))
        if k % _ROWS == 0:
            pages.append(Page(_WIDTH, _HEIGHT, [
                Text(_MARGIN, _MARGIN + 14, title if k == 0 else f"{title}, continued", 16, True,
                     width=_WIDTH - 2 * _MARGIN)]))
        pixels = draw(deriver, chapter.recipe, chapter.kind, View.whole(*recipe.size, _EDGE))
        pages[-1].items += _row(deriver, chapter, sheet, k + 1, pixels, before,
                                _MARGIN + 40 + (k % _ROWS) * high, high - 16)
        before = pixels
    return pages


def _chapters(recipe: Recipe, sheet: Sheet) -> Iterator[Chapter]:
    method = METHODS[recipe.passes.method]
    figure = [p for p in recipe.parts if not p.scenery]
    yield Chapter("Lines", "lines", recipe, (
        "Closed lines first: one gap, and a fill floods the ground.",
        f"{len(recipe.closings)} gaps were closed." if recipe.closings else ""))
    yield Chapter("Flats", "bases", recipe, (
        f"{len(figure)} parts, each in its own colour as it is without any light.",
        "Colour runs under the lines, so that no edge shows paper."), BASE)
    for column in sheet.columns:
        if column.name not in PASSES or not column.on or not _seen(sheet, column.name):
            continue
        entry = PASSES[column.name]
        how = f"Laid in {column.mode}" + (f" at {column.opacity:.0%}" if column.opacity else "")
        yield Chapter(entry.label, "picture", upto(recipe, column.name), (
            entry.why, f"{how}: {method.label.lower()}."), column.name)
    if recipe.finish:
        names = [f.name for f in recipe.finish if f.visible]
        yield Chapter("Finish", "picture", recipe, (
            "What ties it together, above everything and each on a layer of its own:",
            f"{', '.join(names[:6])}{' …' if len(names) > 6 else ''}."))


def _seen(sheet: Sheet, name: str) -> bool:
    return any(c.name == name and c.mark != "not drawn" for r in sheet.rows for c in r.cells)


def _row(deriver: Deriver, chapter: Chapter, sheet: Sheet, number: int, pixels: Byte,
         before: Byte | None, top: float, high: float) -> Iterator[Item]:
    room = (_WIDTH - 2 * _MARGIN) * 0.5
    scale = min(room / pixels.shape[1], high / pixels.shape[0])
    wide, tall = pixels.shape[1] * scale, pixels.shape[0] * scale
    yield Picture(_MARGIN, top, wide, tall, pixels)
    close = min(room - wide - 8, tall)
    if close >= _LEAST_CLOSE and before is not None and chapter.column != BASE:
        yield Picture(_MARGIN + wide + 8, top, close, close,
                      draw(deriver, chapter.recipe, chapter.kind,
                           _most_changed(before, pixels, chapter.recipe)))
    left = _MARGIN + room + 16
    width = _WIDTH - _MARGIN - left
    yield Text(left, top + 14, f"{number}  {chapter.name}", 14, True, width=width)
    y = top + 36
    for said in filter(None, chapter.lines):
        for line in broken(said, width, 10):
            yield Text(left, y, line, 10, width=width)
            y += 14
        y += 4
    if chapter.column:
        yield from _swatches(sheet, chapter.column, left, y + 4, width, top + high)


def _most_changed(before: Byte, after: Byte, recipe: Recipe) -> View:
    """A square around where a stage changes most, so that its edges are seen."""
    change = cv2.absdiff(before, after).sum(axis=2).astype(np.float32)
    # A bell, not a box: what changes is to lie in the middle of the square.
    near = cv2.GaussianBlur(change, (0, 0), _CLOSE * max(change.shape) / 5,
                            borderType=cv2.BORDER_CONSTANT)
    y, x = np.unravel_index(int(np.argmax(near)), near.shape)
    scale = max(recipe.size) / max(change.shape)
    edge = min(round(_CLOSE * max(recipe.size)), *recipe.size)
    left, top = (min(max(0, round(int(at) * scale - edge / 2)), most - edge)
                 for at, most in zip((x, y), recipe.size, strict=True))
    return View(left, top, edge, edge, min(1.0, _CLOSE_PX / edge))


def _swatches(sheet: Sheet, column: str, left: float, top: float, width: float,
              bottom: float) -> Iterator[Item]:
    """What is seen in a pass on each part, the most different from its base first."""
    cells = [(c.step, c.colour) for r in sheet.rows for c in r.cells
             if c.name == column and c.mark != "not drawn"]
    colours = list(dict.fromkeys(c for _, c in sorted(cells, key=lambda s: -s[0])))[:_SWATCHES]
    edge = 24.0
    across = max(1, int(width // (edge + 4)))
    for k, colour in enumerate(colours):
        y = top + (k // across) * (edge + 4)
        if y + edge > bottom:
            return
        yield Box(left + (k % across) * (edge + 4), y, edge, edge, colour)
    if column != BASE and cells:
        steps = sorted(s for s, _ in cells)
        y = top + ((len(colours) - 1) // across + 1) * (edge + 4) + 10
        if y < bottom:
            yield Text(left, y, f"{steps[0]:.0f} to {steps[-1]:.0f} from the base, CIEDE2000", 8.5,
                       colour=QUIET, width=width)
