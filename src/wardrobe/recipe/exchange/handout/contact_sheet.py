"""Looks on pages: to show, and to be ticked and sent back."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from wardrobe.core.formats.page import (
    QUIET,
    Box,
    Item,
    Page,
    Picture,
    Text,
    from_right,
    mirrored,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.reports.rail import rail_pictures
from wardrobe.recipe.stages import Deriver

MOST_LOOKS = 24
PageSize = Literal["A4", "A3", "Letter"]
SIZES: dict[PageSize, tuple[float, float]] = {
    "A4": (595.0, 842.0), "A3": (842.0, 1191.0), "Letter": (612.0, 792.0)}  # points

_MARGIN, _GAP, _HEAD = 34.0, 14.0, 40.0
_SWATCH, _LINE, _LIST = 11.0, 13.0, 84.0
_PICTURE_DPI = 220
_SMALLEST = 110.0  # points of a picture's longer edge: less goes on to another page


@dataclass(frozen=True)
class Sheet:
    """How a contact sheet is laid out.

    Attributes
    ----------
    size : str
    landscape : bool
    columns : int
        Looks beside each other; 0 as fits best.
    swatches : int
        Parts whose colours stand below each look, the largest first.
    approval : bool
        With a box to tick and room for notes.
    """

    size: PageSize = "A4"
    landscape: bool = True
    columns: int = 0
    swatches: int = 8
    approval: bool = False


def contact_pages(deriver: Deriver, looks: Sequence[tuple[str, Recipe]], title: str,
                  areas: dict[str, float], sheet: Sheet,
                  on_progress: Callable[[float], None] = lambda share: None) -> list[Page]:
    """Pages of looks; from right to left if their names are.

    Parameters
    ----------
    deriver : Deriver
    looks : sequence of (str, Recipe)
        Names, and the piece as it is in each.
    title : str
    areas : dict of str to float
        Share of the figure, by part.
    sheet : Sheet
    on_progress : callable
        Called with a share 0..1; may raise to cancel.
    """
    width, height = SIZES[sheet.size]
    if sheet.landscape:
        width, height = height, width
    wide, high = looks[0][1].size
    room = width - 2 * _MARGIN, height - 2 * _MARGIN - _HEAD
    columns, rows, scale = _grid(len(looks), room, (wide, high), sheet)
    cell = (room[0] - (columns - 1) * _GAP) / columns
    below = _text_height(sheet, cell)
    edge = round(max(wide, high) * scale * _PICTURE_DPI / 72)
    biggest = sorted(areas, key=lambda part: -areas[part])[:sheet.swatches]
    pages: list[Page] = []
    for first in range(0, len(looks), rows * columns):
        here = looks[first:first + rows * columns]
        on_progress(first / len(looks))
        pictures = rail_pictures(deriver, [recipe for _, recipe in here], edge)
        page = Page(width, height, [Text(_MARGIN, _MARGIN + 16, title, 17, True,
                                         width=width - 2 * _MARGIN)])
        for k, ((name, recipe), picture) in enumerate(zip(here, pictures, strict=True)):
            x = _MARGIN + k % columns * (cell + _GAP)
            y = _MARGIN + _HEAD + k // columns * (high * scale + below + _GAP)
            left = x + (cell - wide * scale) / 2
            page.items.append(Picture(left, y, wide * scale, high * scale, picture))
            page.items += _caption(f"{first + k + 1}  {name}", recipe, biggest, sheet, x,
                                   y + high * scale, cell)
        pages.append(page)
    backwards = from_right([title, *(name for name, _ in looks)])
    return [mirrored(page) for page in pages] if backwards else pages


def _grid(count: int, room: tuple[float, float], size: tuple[int, int],
          sheet: Sheet) -> tuple[int, int, float]:
    """Columns, rows on a page, and points per pixel: on one page if pictures stay large enough."""
    def scale(columns: int, rows: int) -> float:
        cell = (room[0] - (columns - 1) * _GAP) / columns
        tall = (room[1] - (rows - 1) * _GAP) / rows - _text_height(sheet, cell)
        return min(cell / size[0], tall / size[1])

    choices = [sheet.columns] if sheet.columns else range(1, count + 1)
    columns = max(choices, key=lambda c: scale(c, math.ceil(count / c)))
    rows = math.ceil(count / columns)
    while rows > 1 and max(size) * scale(columns, rows) < _SMALLEST:
        rows -= 1
    return columns, rows, scale(columns, rows)


def _lists(width: float) -> int:
    """Lists of swatches side by side, so that name and hex have room."""
    return max(1, int(width // _LIST))


def _text_height(sheet: Sheet, width: float) -> float:
    lines = math.ceil(sheet.swatches / _lists(width))
    return 22 + lines * _LINE + (34 if sheet.approval else 0)


def _caption(name: str, recipe: Recipe, parts: list[str], sheet: Sheet, x: float, y: float,
             width: float) -> Iterator[Item]:
    """Name, swatches with their hex, and a box to tick."""
    yield Text(x, y + 13, name, 9.5, True, width=width)
    by_id = {p.id: p for p in recipe.parts}
    lists = _lists(width)
    half = width / lists
    for k, part in enumerate(parts):
        left, top = x + k % lists * half, y + 20 + k // lists * _LINE
        yield Box(left, top, _SWATCH, _SWATCH - 1, by_id[part].base)
        yield Text(left + _SWATCH + 3, top + 8, f"{by_id[part].name} {by_id[part].base}", 6.5,
                   colour=QUIET, width=half - _SWATCH - 8)
    if sheet.approval:
        top = y + 24 + math.ceil(len(parts) / lists) * _LINE
        yield Box(x, top, 12, 12, None, "#1b1b1b")
        yield Text(x + 18, top + 9, "chosen", 8)
        yield Text(x + 56, top + 9, "notes", 8, colour=QUIET)
        yield Box(x + 80, top + 10, max(10.0, width - 80), 0.4, None)
        yield Box(x, top + 26, width, 0.4, None)
