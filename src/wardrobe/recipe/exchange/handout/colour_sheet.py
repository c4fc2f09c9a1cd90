"""The colour sheet as pages, to keep beside the drawing."""

from collections.abc import Iterator

from wardrobe.core.formats.page import (
    INK,
    QUIET,
    Box,
    Item,
    Page,
    Picture,
    Text,
    from_right,
    mirrored,
    pages_to_pdf,
)
from wardrobe.core.passes.methods import METHODS
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.sheet import BASE, Sheet, SheetRow, colour_sheet
from wardrobe.recipe.stages import Deriver

A4 = (595.0, 842.0)  # points
_MARGIN = 40.0
_NAMES = 104.0  # width of the part names
_ROW, _WIDEST = 36.0, 74.0
_PICTURE = 190.0  # height of the picture
_PICTURE_EDGE = 900  # px that it is drawn at


def sheet_pages(deriver: Deriver, recipe: Recipe, title: str,
                height: float | None = A4[1]) -> list[Page]:
    """Pages with the picture, the lights, and every part's colours with their hex; from right to
    left if its names are.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    title : str
    height : float or None
        Of a page, points; None for one page as long as it needs to be.
    """
    sheet = colour_sheet(recipe)
    width = A4[0]
    columns = _columns(sheet)
    cell = min(_WIDEST, (width - 2 * _MARGIN - _NAMES) / max(1, len(columns)))
    page = Page(width, height or 0, list(_head(deriver, recipe, title, columns, width)))
    pages, y = [page], _MARGIN + _PICTURE + 40
    page.items += _labels(columns, cell, y)
    for row in sheet.rows:
        if height is not None and y + _ROW > height - _MARGIN:
            page = Page(width, height)
            pages.append(page)
            y = _MARGIN + 14
            page.items += _labels(columns, cell, y)
        page.items += _row(recipe, row, columns, cell, y)
        y += _ROW
    if height is None:
        page.height = y + _MARGIN
    backwards = from_right([title, *(p.name for p in recipe.parts)])
    return [mirrored(p) for p in pages] if backwards else pages


def sheet_pdf(deriver: Deriver, recipe: Recipe, title: str) -> bytes:
    """The colour sheet as a PDF of A4 pages."""
    return pages_to_pdf(sheet_pages(deriver, recipe, title), f"{title}, colours")


def _columns(sheet: Sheet) -> list[str]:
    """Passes that any part shows, in the order they are laid on."""
    seen = {cell.name for row in sheet.rows for cell in row.cells if cell.mark != "not drawn"}
    return [name for name in (BASE, *PASSES) if name in seen]


def _head(deriver: Deriver, recipe: Recipe, title: str, columns: list[str],
          width: float) -> Iterator[Item]:
    picture = deriver.picture(recipe, View.whole(*recipe.size, _PICTURE_EDGE))
    high, wide = picture.shape[:2]
    scale = min(_PICTURE / high, (width - 2 * _MARGIN) * 0.45 / wide)
    left = width - _MARGIN - wide * scale
    yield Picture(left, _MARGIN, wide * scale, high * scale, picture)
    room = left - _MARGIN - 16
    yield Text(_MARGIN, _MARGIN + 18, title, 19, True, width=room)
    light, passes = recipe.light, recipe.passes
    yield Text(_MARGIN, _MARGIN + 36, METHODS[passes.method].label, 10, colour=QUIET, width=room)
    y = _MARGIN + 62
    named = [("Key light", light.colour), ("Ambient", light.ambient),
             ("Background", recipe.background), ("Lines", recipe.lines.colour)]
    named += [(name, side.colour) for name, side in (("Rim", light.rim), ("Bounce", light.bounce))
              if side]
    for name, colour in named:
        yield Box(_MARGIN, y - 9, 22, 12, colour)
        yield Text(_MARGIN + 30, y, name, 9)
        yield Text(_MARGIN + 100, y, colour, 9, colour=QUIET)
        y += 17
    yield Text(_MARGIN, y + 6, f"Key light from {light.azimuth % 360:.0f}°, {light.height:.0f}° "
               "above the picture", 9, colour=QUIET, width=room)


def _labels(columns: list[str], cell: float, y: float) -> Iterator[Item]:
    for k, name in enumerate(columns):
        label = PASSES[name].label if name in PASSES else "Base"
        yield Text(_MARGIN + _NAMES + k * cell, y - 5, label, 8, True, INK, cell - 4)


def _row(recipe: Recipe, row: SheetRow, columns: list[str], cell: float,
         y: float) -> Iterator[Item]:
    name = next(p.name for p in recipe.parts if p.id == row.part)
    yield Text(_MARGIN, y + 14, name, 9, True, width=_NAMES - 8)
    cells = {c.name: c for c in row.cells if c.mark != "not drawn"}
    for k, key in enumerate(columns):
        if key in cells:
            x = _MARGIN + _NAMES + k * cell
            yield Box(x, y, cell - 6, 18, cells[key].colour)
            yield Text(x, y + 27, cells[key].colour, 7, colour=QUIET, width=cell - 4)
