"""Pages of text in any script, swatches and pictures, drawn the same way as PDF and as PNG.

Places are in points (1/72 inch) from the upper left corner.
"""

import io
import unicodedata
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from wardrobe.core.formats.faces import Face
from wardrobe.core.formats.png import encode_png
from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.formats.setting import Run, is_backwards, outline_of, set_in_runs, width_of

Byte = NDArray[np.uint8]
POINTS = 72  # to the inch
_UNSEEN = 3  # text that is neither filled nor stroked (ISO 32000-1, table 106)
INK, QUIET, RULE = "#1b1b1b", "#5c5c5c", "#c4c4c4"


@dataclass(frozen=True)
class Text:
    """A line of text in any script; ``y`` is its baseline, ``x`` where it begins, or with
    ``ends`` where it ends. Longer than ``width`` it ends in an ellipsis."""

    x: float
    y: float
    text: str
    size: float = 9
    bold: bool = False
    colour: str = INK
    width: float | None = None
    ends: bool = False


@dataclass(frozen=True)
class Box:
    """A rectangle, filled, outlined or both."""

    x: float
    y: float
    width: float
    height: float
    fill: str | None = None
    line: str | None = RULE


@dataclass(frozen=True, eq=False)
class Picture:
    """Pixels, shape (h, w, 3), scaled into a rectangle."""

    x: float
    y: float
    width: float
    height: float
    pixels: Byte


Item = Text | Box | Picture


@dataclass
class Page:
    """A page and what is on it."""

    width: float
    height: float
    items: list[Item] = field(default_factory=list)


def text_width(text: str, size: float, bold: bool = False) -> float:
    """Points that a line of text takes."""
    return width_of(text, bold) * size


def fitted(item: Text) -> str:
    """The text as far as there is room for it."""
    text = item.text
    if item.width is None or text_width(text, item.size, item.bold) <= item.width:
        return text
    while text and text_width(f"{text}…", item.size, item.bold) > item.width:
        text = text[:-1]
    while text and unicodedata.category(text[-1])[0] in "MC":  # nothing that lacks its letter
        text = text[:-1]
    return f"{text.rstrip()}…"


def mirrored(page: Page) -> Page:
    """The page for those who read from right to left: what stood left stands right."""
    def turned(item: Item) -> Item:
        if isinstance(item, Text):
            return replace(item, x=page.width - item.x, ends=not item.ends)
        return replace(item, x=page.width - item.x - item.width)

    return Page(page.width, page.height, [turned(item) for item in page.items])


def from_right(texts: Iterable[str]) -> bool:
    """Whether most texts are read from right to left."""
    ways = [is_backwards(text) for text in texts if any(c.isalpha() for c in text)]
    return 2 * sum(ways) > len(ways)


def broken(text: str, width: float, size: float) -> list[str]:
    """A text in lines that fit a width, points; a word that is longer has one of its own."""
    lines: list[str] = []
    for word in text.split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and text_width(longer, size) <= width:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines


def pages_to_pdf(pages: Sequence[Page], title: str) -> bytes:
    """A PDF; equal pages give equal bytes."""
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1, pageCompression=1)
    canvas.setTitle(title)
    canvas.setCreator("Wardrobe")
    for page in pages:
        canvas.setPageSize((page.width, page.height))
        for item in page.items:
            bottom = page.height - item.y
            if isinstance(item, Text):
                canvas.setFillColor(item.colour)
                _write(canvas, item, bottom)
            elif isinstance(item, Box):
                if item.fill:
                    canvas.setFillColor(item.fill)
                canvas.setLineWidth(0.5)
                canvas.setStrokeColor(item.line or INK)
                canvas.rect(item.x, bottom - item.height, item.width, item.height,
                            stroke=int(item.line is not None), fill=int(item.fill is not None))
            else:
                canvas.drawImage(ImageReader(Image.fromarray(item.pixels)), item.x,
                                 bottom - item.height, item.width, item.height)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def page_to_pixels(page: Page, dpi: float) -> Byte:
    """A page as pixels, shape (h, w, 3)."""
    k = dpi / POINTS
    image = Image.new("RGB", (round(page.width * k), round(page.height * k)), "white")
    draw = ImageDraw.Draw(image)
    for item in page.items:
        if isinstance(item, Text):
            _draw(draw, item, k)
        elif isinstance(item, Box):
            corners = (round(item.x * k), round(item.y * k), round((item.x + item.width) * k) - 1,
                       round((item.y + item.height) * k) - 1)
            draw.rectangle(corners, item.fill, item.line, max(1, round(k / 2)))
        else:
            size = round(item.width * k), round(item.height * k)
            image.paste(Image.fromarray(item.pixels).resize(size, Image.Resampling.LANCZOS),
                        (round(item.x * k), round(item.y * k)))
    return np.asarray(image)


def stacked(pages: Sequence[Page]) -> Page:
    """Pages below each other as one long page."""
    whole = Page(max(p.width for p in pages), sum(p.height for p in pages))
    top = 0.0
    for page in pages:
        whole.items += [replace(item, y=item.y + top) for item in page.items]
        top += page.height
    return whole


def page_to_png(page: Page, dpi: int) -> bytes:
    """A page as PNG."""
    return encode_png(page_to_pixels(page, dpi), 3, dpi, srgb_profile())


def _placed(item: Text) -> Iterator[tuple[float, Run]]:
    """The runs of a line, each with its left end, points."""
    runs = set_in_runs(fitted(item), item.bold)
    x = item.x - item.ends * item.size * sum(run.width for run in runs)
    for run in runs:
        yield x, run
        x += item.size * run.width


def _draw(draw: ImageDraw.ImageDraw, item: Text, k: float) -> None:
    for x, run in _placed(item):
        draw.text((x * k, item.y * k), run.text, item.colour, _font(run.face, item.size * k),
                  anchor="ls", direction="rtl" if run.backwards else "ltr")


def _write(canvas: Canvas, item: Text, baseline: float) -> None:
    """Text as text; what is joined or moved as outlines, with its letters behind them unseen, so
    that it is found and copied."""
    for x, run in _placed(item):
        known = _registered(run.face)
        if known and run.plain:
            canvas.setFont(run.face.name, item.size)
            canvas.drawString(x, baseline, run.text)
            continue
        path = canvas.beginPath()
        for glyph in run.glyphs:
            left, up = x + glyph.x * item.size, baseline + glyph.y * item.size
            for what, points in outline_of(run.face, glyph.number):
                at = [c for px, py in points for c in (left + px * item.size,
                                                       up + py * item.size)]
                {"move": path.moveTo, "line": path.lineTo, "curve": path.curveTo,
                 "close": path.close}[what](*at)
        canvas.drawPath(path, stroke=0, fill=1)
        if known:
            canvas.saveState()  # the mode outlives the text
            unseen = canvas.beginText(x, baseline)
            unseen.setTextRenderMode(_UNSEEN)
            unseen.setFont(run.face.name, item.size)
            unseen.textOut(run.text)
            canvas.drawText(unseen)
            canvas.restoreState()


_in_pdf: set[Face] = set()


def _registered(face: Face) -> bool:
    """Whether a PDF can hold a face as a font."""
    if not face.outlined:
        return False
    if face not in _in_pdf:
        font = TTFont(face.name, face.path, shapable=False)
        # Two weights that name themselves alike would be taken for each other.
        font.face.name = face.name.encode()
        pdfmetrics.registerFont(font)
        _in_pdf.add(face)
    return True


@lru_cache(maxsize=64)
def _font(face: Face, size: float) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(face.path, size, face.index)
