"""Where an area of a drawing runs together of what was apart: a line was left open."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas import recut
from wardrobe.core.areas.carry import Point, fallen_together
from wardrobe.core.carry.carried import Carried, Drawing, carry
from wardrobe.core.lines.gaps import Closures

_LEAST_KNOWN = 0.6  # mean chance of the figure's parts
LEAST_AGREEMENT = 0.55  # of the figures as wholes, for a leak to be told from another pose


def leaks(found: Carried, other: Drawing) -> list[list[Point]]:
    """Areas of the second drawing that hold several parts of the first, apart but for a gap.

    Parameters
    ----------
    found : Carried
    other : Drawing
        The second one, as it was matched.

    Returns
    -------
    list of lists of (x, y)
        For each such area places that each should get their share of it.
    """
    if found.agreement < LEAST_AGREEMENT:
        return []
    height, width = other.areas.labels.shape
    owners = cv2.warpAffine(found.origin, found.other_to_square, (width, height),
                            flags=cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP).astype(np.uint16)
    return fallen_together(other.areas, owners, other.ink)


def shared_out(drawing: Drawing, places: list[list[Point]], closures: Closures) -> Drawing:
    """The drawing with each such area shared out; its pieces are ground or not, as it was."""
    areas = drawing.areas
    for points in places:
        areas = recut.divide(areas, points, closures)
    was = drawing.areas.labels[areas.seeds[:, 1], areas.seeds[:, 0]]
    ground = drawing.ground[was]
    ground[0] = False
    return Drawing(areas, ground, drawing.ink)


def surer(before: Carried, cut: Drawing, after: Carried, mended: Drawing) -> bool:
    """Whether the parts of the figure are known better than before, and well enough for a cut
    to be changed by them."""
    return _known(after, mended) >= max(_known(before, cut), _LEAST_KNOWN)


def _known(found: Carried, drawing: Drawing) -> float:
    figure = (found.part > 0) | ~drawing.ground
    figure[0] = False
    pixels = drawing.areas.pixels[figure]
    return float((found.chance[figure] * pixels).sum() / max(1, pixels.sum()))


def carry_and_mend(one: Drawing, parts: NDArray[np.int64], other: Drawing,
                   closures: Closures) -> tuple[Carried, Drawing]:
    """Carry parts over, share out what ran together, and carry over again where that helps.

    Parameters
    ----------
    one, parts, other
        As for :func:`~wardrobe.core.carry.carried.carry`.
    closures : Closures
        Where lines of the second drawing may be missing.
    """
    found = carry(one, parts, other)
    places = leaks(found, other)
    if not places:
        return found, other
    mended = shared_out(other, places, closures)
    again = carry(one, parts, mended)
    return (again, mended) if surer(found, other, again, mended) else (found, other)
