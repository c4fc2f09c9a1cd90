"""The files that a piece can be delivered as: one table entry each."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.flat import FlatFormat, encode_flat, resized
from wardrobe.core.formats.layer_files import write_layer_files
from wardrobe.core.formats.layered_pdf import write_layered_pdf
from wardrobe.core.formats.layered_svg import Curves, write_layered_svg
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.page import page_to_png, pages_to_pdf, stacked
from wardrobe.core.formats.png import encode_png
from wardrobe.core.formats.tiff import write_tiff
from wardrobe.core.formats.video import Film, write_film
from wardrobe.core.layers.layer import INK
from wardrobe.core.stack.model import Stack
from wardrobe.core.stack.plan import planned_layers
from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import Edit, dressed
from wardrobe.recipe.events import Happened, last_verdict, remarks
from wardrobe.recipe.exchange.handout.colour_sheet import sheet_pages, sheet_pdf
from wardrobe.recipe.exchange.handout.contact_sheet import MOST_LOOKS, Sheet, contact_pages
from wardrobe.recipe.exchange.handout.lesson import lesson_pages
from wardrobe.recipe.exchange.handout.outlines import outlines_svg
from wardrobe.recipe.exchange.handout.print_sheet import SheetFormat, write_sheet
from wardrobe.recipe.exchange.handout.process import (
    process_animation,
    process_pictures,
    process_strip,
)
from wardrobe.recipe.exchange.handout.replay import ReplayWish, replay
from wardrobe.recipe.exchange.handout.review_sheet import review_pages
from wardrobe.recipe.exchange.handout.stickers import (
    StickerFormat,
    figure_alone,
    lay_stickers,
    write_stickers,
)
from wardrobe.recipe.reports.looks import report_looks
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.press import press_of
from wardrobe.server.schemas.delivery import (
    ContactSheet,
    CurvesWish,
    DeliveryRequest,
    Format,
    ReplayLayout,
    StickerLayout,
)

Byte = NDArray[np.uint8]

_SHEET_DPI = 200
_PROCESS_EDGE = 1200
_REPLAY_EDGE = 1080


class Report(Protocol):
    """Says how far something is; raises if it has been cancelled."""

    def __call__(self, progress: float, doing: str | None = None) -> None: ...


@dataclass(frozen=True)
class Order:
    """What is wanted of which piece.

    Attributes
    ----------
    original : callable
        Gives the bytes of the file that the drawing came in.
    events : tuple of Happened
        What was said of it.
    then : callable
        The piece after so many changes.
    history : callable
        What it began with, and all changes.
    """

    deriver: Deriver
    recipe: Recipe
    title: str
    request: DeliveryRequest
    report: Report
    original: Callable[[], bytes]
    events: tuple[Happened, ...] = ()
    then: Callable[[int], Recipe] | None = None
    history: Callable[[], tuple[Recipe, tuple[Edit, ...]]] | None = None

    @property
    def dpi(self) -> int:
        """Resolution that the file says it has."""
        return self.recipe.delivery.dpi

    def picture(self) -> Byte:
        """The flat picture at full size."""
        self.report(0.05, "Composing the picture")
        return self.deriver.picture(self.recipe, View.whole(*self.recipe.size))

    def stack(self) -> Stack:
        """The stack at full size."""
        self.report(0.1, "Building layers")
        return self.deriver.stack(self.recipe, on_progress=lambda share: self.report(
            0.1 + 0.3 * share))

    def written(self, doing: str) -> Callable[[float], None]:
        """Report on a file being written."""
        self.report(0.4, doing)
        return lambda share: self.report(0.4 + 0.6 * share)


@dataclass(frozen=True)
class Deliverable:
    """A kind of file.

    Attributes
    ----------
    label, hint : str
        On the screen.
    group : str
        Files that are chosen from together.
    suffix, media : str
    write : callable
        Called with the path to write and the order.
    options : tuple of str
        Fields of the request that it heeds.
    ending : str
        Of the file's name, before the suffix.
    """

    label: str
    hint: str
    group: str
    suffix: str
    media: str
    write: Callable[[Path, Order], None]
    options: tuple[str, ...] = ()
    ending: str = ""


def _openraster(path: Path, order: Order) -> None:
    picture, stack = order.picture(), order.stack()
    write_openraster(path, stack, picture, order.dpi, order.written("Writing OpenRaster"))


def _layer_files(path: Path, order: Order) -> None:
    picture, stack = order.picture(), order.stack()
    write_layer_files(path, stack, picture, order.dpi, order.written("Writing layers"))


def _tiff_pages(path: Path, order: Order) -> None:
    picture, stack = order.picture(), order.stack()
    write_tiff(path, stack, picture, order.dpi, order.written("Writing pages"))


def _limited(order: Order) -> Order:
    """The same, clipped by layers that end where their base ends: no operators are needed."""
    delivery = order.recipe.delivery.model_copy(update={"clipping": "limited"})
    return replace(order, recipe=order.recipe.model_copy(update={"delivery": delivery}))


def _layered_pdf(path: Path, order: Order) -> None:
    stack = _limited(order).stack()
    write_layered_pdf(path, stack, order.title, order.dpi, order.written("Writing the PDF"))


def _layered_svg(path: Path, order: Order) -> None:
    order = _limited(order)
    stack, wanted = order.stack(), order.request.curves or CurvesWish()
    hard = order.recipe.lines.edge != "smooth"
    exact = {layer.name for layer in stack.layers()} if hard else \
        set() if wanted.lines else _lines(order)
    write_layered_svg(path, stack, order.title, order.dpi, Curves(wanted.tolerance, exact),
                      order.written("Writing curves"))


def _lines(order: Order) -> set[str]:
    """Names of the layers that are ink."""
    return {layer.name for layer in planned_layers(order.deriver.plan(order.recipe))
            if layer.content in ("line", "clipped")
            or (layer.over is not None and layer.over.shape == INK)}


def _flat(form: FlatFormat) -> Callable[[Path, Order], None]:
    def write(path: Path, order: Order) -> None:
        request = order.request
        picture = figure_alone(order.deriver, order.recipe) if request.clear_ground \
            else order.picture()
        if request.long_edge:
            order.report(0.6, "Scaling")
            picture = resized(picture, request.long_edge)
        order.report(0.7, "Writing the picture")
        path.write_bytes(encode_flat(picture, form, order.dpi, request.quality))
    return write


def _silhouette_mask(path: Path, order: Order) -> None:
    order.report(0.2, "Growing the silhouette")
    path.write_bytes(encode_png(order.deriver.silhouette(order.recipe), 3, order.dpi))


def _outlines(path: Path, order: Order) -> None:
    path.write_bytes(outlines_svg(order.deriver, order.recipe, order.original()))


def _colours_pdf(path: Path, order: Order) -> None:
    path.write_bytes(sheet_pdf(order.deriver, order.recipe, order.title))


def _colours_png(path: Path, order: Order) -> None:
    page = sheet_pages(order.deriver, order.recipe, order.title, None)[0]
    path.write_bytes(page_to_png(page, _SHEET_DPI))


def _process(form: str) -> Callable[[Path, Order], None]:
    def write(path: Path, order: Order) -> None:
        order.report(0.05, "Drawing the stages")
        edge = order.request.long_edge or _PROCESS_EDGE
        stages = process_pictures(order.deriver, order.recipe, edge,
                                  lambda share: order.report(0.05 + 0.5 * share))
        order.report(0.6, "Writing the file")
        path.write_bytes(encode_png(process_strip(stages), 3) if form == "strip"
                         else process_animation(stages, form))
    return write


def _contact(form: str) -> Callable[[Path, Order], None]:
    def write(path: Path, order: Order) -> None:
        order.report(0.05, "Drawing the looks")
        wanted, recipe = order.request.sheet or ContactSheet(), order.recipe
        report = report_looks(order.deriver, recipe)
        chosen = [(line.name, dressed(recipe, line.id)) for line in report.looks
                  if (line.id in order.request.looks if order.request.looks
                      else not line.retired)][:MOST_LOOKS]
        sheet = Sheet(wanted.size, wanted.landscape, wanted.columns, wanted.swatches,
                      wanted.approval)
        pages = contact_pages(order.deriver, chosen or [(order.title, recipe)], order.title,
                              report.areas, sheet,
                              lambda share: order.report(0.05 + 0.8 * share))
        order.report(0.9, "Writing the file")
        path.write_bytes(pages_to_pdf(pages, f"{order.title}, looks") if form == "pdf"
                         else page_to_png(stacked(pages), wanted.dpi))
    return write


def _review(path: Path, order: Order) -> None:
    order.report(0.05, "Drawing the remarks")
    pages = review_pages(order.deriver, order.recipe, order.title, remarks(order.events),
                         last_verdict(order.events), order.then or (lambda _: order.recipe),
                         lambda share: order.report(0.05 + 0.85 * share))
    order.report(0.9, "Writing the file")
    path.write_bytes(pages_to_pdf(pages, f"{order.title}, review"))


def _lesson(path: Path, order: Order) -> None:
    order.report(0.05, "Drawing pass by pass")
    pages = lesson_pages(order.deriver, order.recipe, order.title,
                         lambda share: order.report(0.05 + 0.85 * share))
    order.report(0.9, "Writing the file")
    path.write_bytes(pages_to_pdf(pages, f"{order.title}, pass by pass"))


def _replay(form: Film) -> Callable[[Path, Order], None]:
    def write(path: Path, order: Order) -> None:
        wanted = order.request.replay or ReplayLayout()
        wish = ReplayWish(wanted.seconds, wanted.fps, order.request.long_edge or _REPLAY_EDGE,
                          wanted.hold, wanted.captions)
        order.report(0.02, "Reading the history")
        first, edits = order.history() if order.history else (order.recipe, ())
        order.report(0.05, "Drawing it again, change by change")
        write_film(path, form, replay(order.deriver, first, edits, wish,
                                      lambda share: order.report(0.05 + 0.93 * share)), wish.fps)
    return write


def _sheet(form: SheetFormat, inks: bool) -> Callable[[Path, Order], None]:
    def write(path: Path, order: Order) -> None:
        press = press_of(order.recipe.delivery.press, order.deriver.store.load) if inks else None
        write_sheet(path, order.deriver, order.recipe, form, order.title, press, order.report,
                    order.request.quality or 92)
    return write


def _stickers(form: StickerFormat) -> Callable[[Path, Order], None]:
    def write(path: Path, order: Order) -> None:
        wish = (order.request.stickers or StickerLayout()).wish()
        looks = order.request.looks or (PIECE, *(k.id for k in order.recipe.looks
                                                 if not k.retired))
        delivery = order.recipe.delivery
        figures = (figure_alone(order.deriver, dressed(order.recipe, look)) for look in looks)
        made = lay_stickers(figures, len(looks), delivery.paper.paper(), delivery.dpi, wish,
                            lambda share: order.report(0.9 * share, "Laying figures out"))
        order.report(0.92, "Writing the file")
        write_stickers(path, made, form, delivery.paper.paper(), order.title, delivery.dpi,
                       press_of(delivery.press, order.deriver.store.load))
    return write


DELIVERABLES: dict[Format, Deliverable] = {
    "ora": Deliverable("OpenRaster", "Every layer, named and clipped, with modes and opacities.",
                       "layered", "ora", "image/openraster", _openraster),
    "layers": Deliverable("Layers as PNG", "One PNG a layer, and a list of them (JSON), in a "
                          "ZIP.", "layered", "zip", "application/zip", _layer_files,
                          ending="layers"),
    "tiff pages": Deliverable("TIFF with pages", "The picture, then every layer as a page. TIFF "
                              "has no blend modes; pages say theirs in words.", "layered", "tif",
                              "image/tiff", _tiff_pages, ending="layers"),
    "layered pdf": Deliverable("PDF with layers", "Layers that a reader switches on and off, in "
                               "their modes; for showing.", "layered", "pdf", "application/pdf",
                               _layered_pdf, ending="layers"),
    "layered svg": Deliverable("SVG with layers", "Parts and passes as curves, in their modes; "
                               "what is soft, and the lines, as pictures.", "layered", "svg",
                               "image/svg+xml", _layered_svg, ("curves",), "layers"),
    "png": Deliverable("PNG", "For the screen; nothing is lost.", "flat", "png", "image/png",
                       _flat("png"), ("long_edge", "clear_ground")),
    "tiff": Deliverable("TIFF", "For print shops.", "flat", "tif", "image/tiff", _flat("tiff"),
                        ("long_edge", "clear_ground")),
    "webp": Deliverable("WebP", "Small, for the web.", "flat", "webp", "image/webp",
                        _flat("webp"), ("long_edge", "clear_ground", "quality")),
    "jpeg": Deliverable("JPEG", "For mail and places that take nothing else; edges lose a little.",
                        "flat", "jpg", "image/jpeg", _flat("jpeg"), ("long_edge", "quality")),
    "sheet pdf": Deliverable("PDF for print", "The sheet in the inks of the press, after PDF/X-4: "
                             "boxes, bleed, marks, output intent.", "sheet", "pdf",
                             "application/pdf", _sheet("pdf", True), ending="print"),
    "sheet tiff": Deliverable("TIFF for print", "The sheet in the inks of the press, with its "
                              "profile.", "sheet", "tif", "image/tiff", _sheet("tiff", True),
                              ending="print"),
    "sheet png": Deliverable("PNG", "The sheet for the screen, sRGB.", "sheet", "png",
                             "image/png", _sheet("png", False), ending="sheet"),
    "sheet jpeg": Deliverable("JPEG", "The same, small.", "sheet", "jpg", "image/jpeg",
                              _sheet("jpeg", False), ("quality",), "sheet"),
    "stickers pdf": Deliverable("Stickers, PDF", "Every look's figure on one sheet, each on a "
                                "border, with lines to cut along.", "stickers", "pdf",
                                "application/pdf", _stickers("stickers pdf"),
                                ("stickers", "looks"), "stickers"),
    "stickers png": Deliverable("Stickers, PNG", "The same for the screen, without the lines.",
                                "stickers", "png", "image/png", _stickers("stickers png"),
                                ("stickers", "looks"), "stickers"),
    "cut lines": Deliverable("Cut lines, SVG", "The lines by themselves, at true size.",
                             "stickers", "svg", "image/svg+xml", _stickers("cut lines"),
                             ("stickers", "looks"), "cut-lines"),
    "silhouette": Deliverable("Silhouette", "White where the figure is, PNG.", "flat", "png",
                              "image/png", _silhouette_mask, ending="silhouette"),
    "outlines": Deliverable("Outlines, SVG", "The drawing as it came, framed, with closings that "
                            "are inked.", "flat", "svg", "image/svg+xml", _outlines,
                            ending="lines"),
    "colours pdf": Deliverable("Colour sheet, PDF", "Every part's colours with their hex, A4.",
                               "beside", "pdf", "application/pdf", _colours_pdf,
                               ending="colours"),
    "colours png": Deliverable("Colour sheet, PNG", "The same on one page, to keep beside the "
                               "drawing.", "beside", "png", "image/png", _colours_png,
                               ending="colours"),
    "contact pdf": Deliverable("Contact sheet, PDF", "The looks with their names and colours.",
                               "looks", "pdf", "application/pdf", _contact("pdf"),
                               ("sheet", "looks"), "looks"),
    "contact png": Deliverable("Contact sheet, PNG", "The same as one picture.", "looks", "png",
                               "image/png", _contact("png"), ("sheet", "looks"), "looks"),
    "review pdf": Deliverable("Review, PDF", "The picture with what was said of it, each remark "
                              "then and now.", "beside", "pdf", "application/pdf", _review,
                              ending="review"),
    "lesson pdf": Deliverable("Pass by pass, PDF", "Every pass as it is laid on, with why: to "
                              "teach from.", "beside", "pdf", "application/pdf", _lesson,
                              ending="pass-by-pass"),
    "replay mp4": Deliverable("Replay, MP4", "The piece from its first change to its last, as a "
                              "film.", "replay", "mp4", "video/mp4", _replay("mp4"),
                              ("long_edge", "replay"), "replay"),
    "replay webm": Deliverable("Replay, WebM", "The same in an open format.", "replay", "webm",
                               "video/webm", _replay("webm"), ("long_edge", "replay"), "replay"),
    "replay webp": Deliverable("Replay, animated WebP", "The same as a picture that moves.",
                               "replay", "webp", "image/webp", _replay("webp"),
                               ("long_edge", "replay"), "replay"),
    "process strip": Deliverable("Stages, side by side", "Lines, flats, shade, light, finish in "
                                 "one PNG.", "beside", "png", "image/png", _process("strip"),
                                 ("long_edge",), "stages"),
    "process png": Deliverable("Stages, animated PNG", "One after the other.", "beside", "png",
                               "image/png", _process("png"), ("long_edge",), "stages"),
    "process webp": Deliverable("Stages, animated WebP", "The same, smaller.", "beside", "webp",
                                "image/webp", _process("webp"), ("long_edge",), "stages"),
}
