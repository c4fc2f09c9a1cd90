"""A piece on its sheet of paper, as a file for print or the screen."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Literal

import numpy as np
import pyvips
import tifffile
from numpy.typing import NDArray
from zlib_ng import zlib_ng

from wardrobe.core.colour import from_hex
from wardrobe.core.formats.png import write_png
from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.paper.layout import lie
from wardrobe.core.paper.sheet import BAND, KERNELS, Filter, Sheet, lay_out
from wardrobe.core.press.inks import Press, to_inks
from wardrobe.core.press.pdf import Bands, write_print_pdf
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.paper import PaperSetup
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.paper import subject_of
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Report = Callable[[float, str | None], None]
SheetFormat = Literal["pdf", "tiff", "png", "jpeg"]

_FULL_COLOUR = 90  # quality from which colours keep their resolution
_WHITE = (255, 255, 255)


def sheet_of(deriver: Deriver, recipe: Recipe, marks: bool = True) -> Sheet:
    """The sheet of a piece at the resolution that its files have."""
    setup = recipe.delivery.paper
    paper = setup.paper() if marks else replace(setup.paper(), marks=False)
    placed = setup.placed
    lying = lie(paper, recipe.size, subject_of(deriver, recipe),
                (placed.x, placed.y, placed.width) if placed else None)
    picture = deriver.picture(recipe, View.whole(*recipe.size))
    around = from_hex(recipe.background) if setup.around == "ground" else _WHITE
    return lay_out(picture, paper, lying, recipe.delivery.dpi, around, _kernel(setup))


def _kernel(setup: PaperSetup) -> Filter:
    return next(k for k in KERNELS if k == setup.kernel)


def write_sheet(path: Path, deriver: Deriver, recipe: Recipe, form: SheetFormat, title: str,
                press: Press | None, report: Report, quality: int = 92) -> None:
    """Write the sheet of a piece; with a press, PDF and TIFF are for its inks.

    Parameters
    ----------
    path : Path
    form : {"pdf", "tiff", "png", "jpeg"}
    press : Press or None
    report : callable
        Told shares of 1; raises if it is cancelled.
    quality : int, 1..100
        Of a JPEG.
    """
    report(0.05, "Composing the picture")
    sheet = sheet_of(deriver, recipe, marks=form != "pdf")
    report(0.2, "Laying out the sheet")

    def bands() -> Iterator[Byte]:
        done = 0
        for rows in sheet.bands():
            yield to_inks(rows, press) if press else rows
            done += len(rows)
            report(0.2 + 0.78 * done / sheet.height, "Writing the sheet")

    if form == "pdf":
        pixels = Bands(bands(), sheet.width, sheet.height, 4 if press else 3)
        write_print_pdf(path, pixels, recipe.delivery.paper.paper(), title,
                        press.profile if press else None)
    elif form == "tiff":
        _tiff(path, sheet, bands(), press)
    else:
        png = path if form == "png" else path.with_suffix(".whole.png")
        try:
            write_png(png, bands(), sheet.width, sheet.height, sheet.dpi, srgb_profile())
            if form == "jpeg":
                _as_jpeg(png, path, quality)
        finally:
            if form == "jpeg":
                png.unlink(missing_ok=True)


def _tiff(path: Path, sheet: Sheet, bands: Iterator[Byte], press: Press | None) -> None:
    """TIFF 6.0, section 16 for inks: PhotometricInterpretation is separated."""
    strips = (zlib_ng.compress(np.ascontiguousarray(rows), 3) for rows in bands)
    with tifffile.TiffWriter(path) as tiff:
        tiff.write(strips, shape=(sheet.height, sheet.width, 4 if press else 3), dtype=np.uint8,
                   photometric="separated" if press else "rgb", rowsperstrip=BAND,
                   compression=8, metadata=None, software=False, resolutionunit="INCH",
                   resolution=(sheet.dpi, sheet.dpi),
                   iccprofile=press.profile.data if press else srgb_profile())


def _as_jpeg(png: Path, path: Path, quality: int) -> None:
    """A PNG as JPEG, read and written a few rows at a time by libvips."""
    image = pyvips.Image.new_from_file(str(png), access="sequential")
    image.jpegsave(str(path), Q=quality, optimize_coding=True,
                   subsample_mode="off" if quality >= _FULL_COLOUR else "on")
