"""Figures on one sheet, each on a border, with lines to cut along."""

import io
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from wardrobe.core.errors import ImageLimitError
from wardrobe.core.formats.flat import resized
from wardrobe.core.formats.png import encode_png
from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.paper.layout import Paper, Rect
from wardrobe.core.paper.several import pack, sticker
from wardrobe.core.paper.sheet import BAND
from wardrobe.core.paper.sizes import MM_PER_INCH
from wardrobe.core.press.inks import Press, to_inks
from wardrobe.core.press.pdf import Bands, write_print_pdf
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Stack
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import EditRefusedError
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.views import without_ground

Byte = NDArray[np.uint8]
Points = NDArray[np.float64]
StickerFormat = Literal["stickers pdf", "stickers png", "cut lines"]

MOST_ON_SHEET = 200
_MOST_PIXELS = 150_000_000
_BYTES_PER_PIXEL = 8


@dataclass(frozen=True)
class StickerWish:
    """How stickers are laid out: mm of border around each and of gap between two, the longest
    edge of any, and how often each is there."""

    border: float = 3.0
    gap: float = 4.0
    largest: float = 1000.0
    copies: int = 1


def room_for(paper: Paper, dpi: int) -> int:
    """Bytes that a sheet of stickers takes while it is laid out."""
    wide, high = paper.pixels(dpi)
    return _BYTES_PER_PIXEL * min(_MOST_PIXELS, wide * high)


@dataclass(frozen=True, eq=False)
class StickerSheet:
    """A sheet of stickers: its pixels, RGB, within the bleed, and the lines to cut along, in mm
    from the trimmed corner."""

    pixels: Byte
    cut: list[Points]


def figure_alone(deriver: Deriver, recipe: Recipe) -> Byte:
    """The picture without its ground, RGBA."""
    recipe = without_ground(recipe)
    stack = deriver.stack(recipe)
    silhouette = next(n.name for n in deriver.plan(recipe) if getattr(n, "content", "") == "figure")
    # Whatever lies under the parts belongs to the ground.
    first = next((k for k, node in enumerate(stack.nodes) if node.name == silhouette), 0)
    return flatten(Stack(stack.width, stack.height, stack.nodes[first:]))


def lay_stickers(figures: Iterable[Byte], count: int, paper: Paper, dpi: int, wish: StickerWish,
                 report: Callable[[float], None] = lambda share: None) -> StickerSheet:
    """Lay figures out on a sheet.

    Parameters
    ----------
    figures : iterable of ndarray of uint8, shape (h, w, 4)
    count : int
        How many there are.
    paper : Paper
    dpi : int
    wish : StickerWish
    report : callable
        Told shares of 1; may raise to cancel.
    """
    wide, high = replace(paper, marks=False).pixels(dpi)
    if wide * high > _MOST_PIXELS:
        raise ImageLimitError(f"At {dpi} dpi this sheet would have {wide} × {high} px; at most "
                              f"{_MOST_PIXELS // 1_000_000} million are laid out at once. Choose "
                              "fewer dpi or a smaller sheet.")
    if count * wish.copies > MOST_ON_SHEET:
        raise EditRefusedError(f"At most {MOST_ON_SHEET} lie on one sheet; these would be "
                               f"{count * wish.copies}.")
    # How large each will be is known when all are: until then they are packed.
    packed: list[tuple[int, int, bytes]] = []
    for k, figure in enumerate(figures):
        x, y, w, h = cv2.boundingRect(np.ascontiguousarray(figure[..., 3]))
        if w and h:
            packed.append((w, h, encode_png(np.ascontiguousarray(figure[y:y + h, x:x + w]))))
        report(0.6 * (k + 1) / count)
    if not packed:
        raise EditRefusedError("There is no figure to lay out.")
    inner = replace(paper, margin=paper.margin + wish.border)
    places = pack(inner, [(w, h) for w, h, _ in packed for _ in range(wish.copies)],
                  wish.gap + 2 * wish.border, wish.largest)
    return _drawn([png for *_, png in packed], places, paper, dpi, wish, (wide, high),
                  lambda share: report(0.6 + 0.4 * share))


def _drawn(packed: Sequence[bytes], places: Sequence[Rect], paper: Paper, dpi: int,
           wish: StickerWish, size: tuple[int, int],
           report: Callable[[float], None]) -> StickerSheet:
    def px(mm: float) -> int:
        return round(mm * dpi / MM_PER_INCH)

    sheet = np.full((size[1], size[0], 3), 255, np.uint8)
    lines: list[Points] = []
    grown = max(1, px(wish.border))
    for k, (x, y, w, h) in enumerate(places):
        if k % wish.copies == 0:  # copies are alike, and follow each other
            figure = np.asarray(Image.open(io.BytesIO(packed[k // wish.copies])))
            made = sticker(resized(figure, max(1, px(max(w, h)))), grown)
        left, top = px(x + paper.bleed) - grown - 2, px(y + paper.bleed) - grown - 2
        height, width = made.rgba.shape[:2]
        y0, x0 = max(0, top), max(0, left)
        there = sheet[y0:top + height, x0:left + width]
        own = made.rgba[y0 - top:y0 - top + len(there), x0 - left:x0 - left + there.shape[1]]
        alpha = own[..., 3:].astype(np.uint16)
        there[:] = (own[..., :3] * alpha + there * (255 - alpha) + 127) // 255
        corner = np.array([left, top]) - px(paper.bleed)
        lines += [(curves + corner) * MM_PER_INCH / dpi for curves in made.cut]
        report((k + 1) / len(places))
    return StickerSheet(sheet, lines)


def write_stickers(path: Path, made: StickerSheet, form: StickerFormat, paper: Paper, title: str,
                   dpi: int, press: Press) -> None:
    """Write a sheet of stickers, or the lines to cut along by themselves."""
    height, width = made.pixels.shape[:2]
    if form == "cut lines":
        path.write_text(cut_svg(made.cut, paper), encoding="utf-8")
    elif form == "stickers png":
        path.write_bytes(encode_png(made.pixels, 3, dpi, srgb_profile()))
    else:
        rows = (to_inks(made.pixels[top:top + BAND], press) for top in range(0, height, BAND))
        write_print_pdf(path, Bands(rows, width, height, 4), paper, title, press.profile, made.cut)


def cut_svg(cut: Sequence[Points], paper: Paper) -> str:
    """The lines as SVG as large as the trimmed sheet, one path each."""
    paths = "\n".join(f'<path d="{_d(curves)}"/>' for curves in cut)
    return ('<?xml version="1.0" encoding="UTF-8"?>\n'
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{paper.width:g}mm" '
            f'height="{paper.height:g}mm" viewBox="0 0 {paper.width:g} {paper.height:g}">\n'
            '<title>Cut lines</title>\n'
            f'<g fill="none" stroke="#000000" stroke-width="0.1">\n{paths}\n</g>\n</svg>\n')


def _d(curves: Points) -> str:
    start = f"M{curves[0, 0, 0]:.3f} {curves[0, 0, 1]:.3f}"
    return start + "".join(" C" + " ".join(f"{v:.3f}" for v in c[1:].ravel()) for c in curves) \
        + " Z"
