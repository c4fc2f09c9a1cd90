"""The sheet that is printed, band by band, so that its size costs no memory."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from wardrobe.core.errors import ImageLimitError
from wardrobe.core.paper.layout import Lying, Paper, crop_marks
from wardrobe.core.paper.sizes import MM_PER_INCH

Byte = NDArray[np.uint8]
Filter = Literal["smooth", "crisp", "hard"]

# How pixels of the sheet are made from those of the picture, by Pillow, when it becomes larger and
# smaller: linearly, or by Hamming's window over one lobe of the sinc, neither of them anywhere
# negative, so that no halos lie along lines (Hamming's would make edges uneven in a picture that
# becomes larger); Lanczos with three lobes is sharper, with faint halos; the nearest pixel keeps
# hard edges hard.
KERNELS: dict[Filter, tuple[Image.Resampling, Image.Resampling]] = {
    "smooth": (Image.Resampling.BILINEAR, Image.Resampling.HAMMING),
    "crisp": (Image.Resampling.LANCZOS,) * 2, "hard": (Image.Resampling.NEAREST,) * 2}
MOST_PIXELS = 400_000_000
_LONGEST = 65_000  # px of an edge
BAND = 256  # rows
_MARK = 0.25 / 72 * MM_PER_INCH  # mm: a quarter of a point
_WHITE = 255

Cut = tuple[int, int, int, int]  # left, top, right, bottom, px of the sheet


@dataclass(frozen=True, eq=False)
class Sheet:
    """A sheet whose pixels are made when they are asked for.

    Attributes
    ----------
    width, height : int
        Of the whole sheet with its bleed and marks, px.
    dpi : int
    inner : (left, top, right, bottom)
        Within the bleed.
    picture : (left, top, right, bottom)
        Where the picture lies; it may reach beyond the sheet.
    marks : tuple of (left, top, right, bottom)
    """

    width: int
    height: int
    dpi: int
    inner: Cut
    picture: Cut
    marks: tuple[Cut, ...]
    around: tuple[int, int, int]
    image: Image.Image
    kernel: Filter

    def bands(self) -> Iterator[Byte]:
        """Rows from the top, RGB, at most 256 at a time."""
        for top in range(0, self.height, BAND):
            yield self._rows(top, min(BAND, self.height - top))

    def whole(self) -> Byte:
        """All of it, shape (height, width, 3)."""
        return np.concatenate(list(self.bands()))

    def _rows(self, top: int, count: int) -> Byte:
        out = np.full((count, self.width, 3), _WHITE, np.uint8)
        place = _meet(self.inner, (0, top, self.width, top + count))
        if place:
            left, first, right, last = place
            out[first - top:last - top, left:right] = self.around
            seen = _meet(self.picture, place)
            if seen:
                left, first, right, last = seen
                out[first - top:last - top, left:right] = self._resampled(seen)
        for mark in self.marks:
            black = _meet(mark, (0, top, self.width, top + count))
            if black:
                out[black[1] - top:black[3] - top, black[0]:black[2]] = 0
        return out

    def _resampled(self, place: Cut) -> Byte:
        x0, y0, x1, y1 = self.picture
        across, down = self.image.width / (x1 - x0), self.image.height / (y1 - y0)
        box = ((place[0] - x0) * across, (place[1] - y0) * down,
               min(self.image.width, (place[2] - x0) * across),
               min(self.image.height, (place[3] - y0) * down))
        size = place[2] - place[0], place[3] - place[1]
        larger, smaller = KERNELS[self.kernel]
        return np.asarray(self.image.resize(size, smaller if across > 1 else larger, box))


def _meet(one: Cut, other: Cut) -> Cut | None:
    """What two rectangles have in common."""
    left, top = max(one[0], other[0]), max(one[1], other[1])
    right, bottom = min(one[2], other[2]), min(one[3], other[3])
    return (left, top, right, bottom) if left < right and top < bottom else None


def lay_out(picture: Byte, paper: Paper, lying: Lying, dpi: int, around: tuple[int, int, int],
            kernel: Filter = "smooth") -> Sheet:
    """The sheet with a picture on it.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)
    paper : Paper
    lying : Lying
    dpi : int
        Pixels of the sheet to an inch.
    around : (int, int, int)
        Colour where the sheet goes on beyond the picture; what lies beyond the bleed is white.
    kernel : str
        Of KERNELS.

    Raises
    ------
    ImageLimitError
        If the sheet would have too many pixels.
    """
    def px(mm: float) -> int:
        return round(mm * dpi / MM_PER_INCH)

    bleed, slug = px(paper.bleed), px(paper.slug)
    size = paper.pixels(dpi)
    if max(size) > _LONGEST or size[0] * size[1] > MOST_PIXELS:
        raise ImageLimitError(
            f"At {dpi} dpi this sheet would have {size[0]} × {size[1]} px; at most "
            f"{MOST_PIXELS // 1_000_000} million are written. Choose fewer dpi or a smaller sheet.")
    x, y, w, h = lying.picture
    left, top = px(x) + slug, px(y) + slug
    thick = max(1, px(_MARK))
    marks = []
    for x0, y0, x1, y1 in crop_marks(paper):
        a, b = px(x0), px(y0)
        if x0 == x1:
            marks.append((a - thick // 2, b, a - thick // 2 + thick, px(y1)))
        else:
            marks.append((a, b - thick // 2, px(x1), b - thick // 2 + thick))
    return Sheet(*size, dpi, (slug - bleed, slug - bleed, size[0] - slug + bleed,
                              size[1] - slug + bleed),
                 (left, top, left + max(1, px(x + w) - px(x)), top + max(1, px(y + h) - px(y))),
                 tuple(marks), around, Image.fromarray(np.ascontiguousarray(picture)), kernel)
