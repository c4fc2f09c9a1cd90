"""How a picture lies on a sheet of paper."""

from dataclasses import dataclass

from wardrobe.core.errors import WardrobeError
from wardrobe.core.paper.sizes import MM_PER_INCH

FEWEST_DPI = 200.0  # common practice, no published source: below this, pixels show in print
MARK_LENGTH, MARK_AWAY = 5.0, 3.0  # mm of a crop mark, and from the trimmed edge at the least

Rect = tuple[float, float, float, float]  # x, y, width, height


class NoRoomError(WardrobeError):
    """Nothing is left of the paper within its margins."""

    title = "There is no room on the paper"


@dataclass(frozen=True)
class Paper:
    """A sheet; lengths in mm.

    Attributes
    ----------
    width, height : float
        As it is trimmed.
    margin : float
        Kept free when the picture is fitted.
    bleed : float
        How far the picture goes on beyond the trimmed edge, where it reaches that.
    marks : bool
        Whether marks say where to cut.
    """

    width: float
    height: float
    margin: float = 0.0
    bleed: float = 0.0
    marks: bool = False

    def pixels(self, dpi: int) -> tuple[int, int]:
        """Width and height of the whole sheet in px, at so many to an inch."""
        around = 2 * round(self.slug * dpi / MM_PER_INCH)
        return (round(self.width * dpi / MM_PER_INCH) + around,
                round(self.height * dpi / MM_PER_INCH) + around)

    @property
    def slug(self) -> float:
        """mm on each side beyond the trimmed edge that the whole sheet has."""
        return max(self.bleed, MARK_AWAY) + MARK_LENGTH if self.marks else self.bleed


@dataclass(frozen=True)
class Lying:
    """Where a picture lies on paper.

    Attributes
    ----------
    picture : (x, y, width, height)
        mm from the upper left corner of the trimmed sheet.
    dpi : float
        Pixels of the picture to an inch.
    cut : (left, top, right, bottom)
        Shares of the picture's width and height that the trimmed sheet cuts off.
    """

    picture: Rect
    dpi: float
    cut: tuple[float, float, float, float]


def lie(paper: Paper, size: tuple[int, int], subject: tuple[int, int, int, int] | None = None,
        placed: tuple[float, float, float] | None = None) -> Lying:
    """Lay a picture on paper.

    Parameters
    ----------
    paper : Paper
    size : (int, int)
        Width and height of the picture, px.
    subject : (x, y, width, height), optional
        What of it, in px, is centred and fitted within the margins; all of it without.
    placed : (x, y, width), optional
        mm: where the middle of the subject lies, and how wide the whole picture is; without it
        the subject is centred and as large as the margins let it be.

    Raises
    ------
    NoRoomError
        If the margins leave nothing.
    """
    x, y, w, h = subject or (0, 0, *size)
    if placed is None:
        room = paper.width - 2 * paper.margin, paper.height - 2 * paper.margin
        if min(room) <= 0:
            raise NoRoomError("The margins take all of the paper. Make them smaller.")
        scale = min(room[0] / w, room[1] / h)  # mm a pixel
        middle = paper.width / 2, paper.height / 2
    else:
        scale, middle = placed[2] / size[0], placed[:2]
    left, top = middle[0] - (x + w / 2) * scale, middle[1] - (y + h / 2) * scale
    width, height = size[0] * scale, size[1] * scale
    cut = tuple(min(1.0, max(0.0, beyond / length)) for beyond, length in (
        (-left, width), (-top, height), (left + width - paper.width, width),
        (top + height - paper.height, height)))
    return Lying((left, top, width, height), MM_PER_INCH / scale, (cut[0], cut[1], cut[2], cut[3]))


def crop_marks(paper: Paper) -> list[tuple[float, float, float, float]]:
    """Lines x0, y0, x1, y1 in mm from the upper left corner of the whole sheet: two at each
    corner, outside of the bleed."""
    if not paper.marks:
        return []
    slug, away = paper.slug, max(paper.bleed, MARK_AWAY)
    lines = []
    for x in (slug, slug + paper.width):
        lines += [(x, slug - away - MARK_LENGTH, x, slug - away),
                  (x, slug + paper.height + away, x, slug + paper.height + away + MARK_LENGTH)]
    for y in (slug, slug + paper.height):
        lines += [(slug - away - MARK_LENGTH, y, slug - away, y),
                  (slug + paper.width + away, y, slug + paper.width + away + MARK_LENGTH, y)]
    return lines
