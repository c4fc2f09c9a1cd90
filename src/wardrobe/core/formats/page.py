"""Pages of text, swatches and pictures, drawn the same way as PDF and as PNG.

Places are in points (1/72 inch) from the upper left corner.
"""

import io
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from wardrobe.core.formats.png import encode_png
from wardrobe.core.formats.profile import srgb_profile

Byte = NDArray[np.uint8]
POINTS = 72  # to the inch
_FONTS = Path(__file__).parent / "fonts"
_FACES = {False: "InstrumentSans-Regular", True: "InstrumentSans-SemiBold"}
INK, QUIET, RULE = "#1b1b1b", "#5c5c5c", "#c4c4c4"


@dataclass(frozen=True)
class Text:
    """A line of text; ``y`` is its baseline. Longer than ``width`` it ends in an ellipsis."""

    x: float
    y: float
    text: str
    size: float = 9
    bold: bool = False
    colour: str = INK
    width: float | None = None


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
    return float(_font(100, bold).getlength(text)) * size / 100


def fitted(item: Text) -> str:
    """The text as far as there is room for it."""
    text = item.text
    if item.width is None or text_width(text, item.size, item.bold) <= item.width:
        return text
    while text and text_width(f"{text}…", item.size, item.bold) > item.width:
        text = text[:-1]
    return f"{text.rstrip()}…"


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
    for face in _FACES.values():
        if face not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(face, _FONTS / f"{face}.ttf"))
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
                canvas.setFont(_FACES[item.bold], item.size)
                canvas.drawString(item.x, bottom, fitted(item))
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
            draw.text((item.x * k, item.y * k), fitted(item), item.colour,
                      _font(item.size * k, item.bold), anchor="ls")
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


@lru_cache(maxsize=32)
def _font(size: float, bold: bool) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(_FONTS / f"{_FACES[bold]}.ttf", size)
