"""Lines and flats of a coloured picture, told apart by what is thin and dark, and what is even."""

import math
from dataclasses import dataclass
from typing import TypeVar, cast

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000, srgb_to_lab
from wardrobe.core.errors import NoLinesError

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Real = NDArray[np.float32]
Labels = NDArray[np.int32]
Pixels = TypeVar("Pixels", Byte, Real)

_SMALL = 1024  # px of the longer edge at which lines are told from afar
_WIDEST = 0.045  # of the longer edge: wider strokes are no lines
_WIDER = 2.0  # times the usual width: dark flats are wider than that
_CORNER = 0.4  # widths squared
_ONE_COLOUR = 0.6  # of the lines, if they are drawn in one colour
# By how much of the lightness beside it a line is darker, and by at least and at most so many L*:
# a thin shade is not.
_DARKER, _LEAST, _MOST_WANTED = 0.33, 7.0, 25.0
_SAME = 9.0  # CIEDE2000: what is so near to the lines' colour is ink, however wide it is
_DARK_LINE = 40.0  # L* up to which that holds
_NIGHT = 45.0  # L* up to which a ground is as dark as lines may be
_SAME_GROUND = 4.0  # CIEDE2000 within it
_EVEN = 7  # of 255: flats differ by less from pixel to pixel
_FEWEST = 9  # px of a region, or of a line
_CLEAR_SHARE = 0.005  # of a picture from which it is transparent


@dataclass(frozen=True)
class Separated:
    """A picture as lines over flats.

    Attributes
    ----------
    ink : ndarray of uint8, shape (height, width)
        Coverage of the lines.
    colour : (int, int, int)
        Of most of them, sRGB.
    regions : ndarray of int32, same shape
        Number of the flat at each pixel, under the lines, too; from 1.
    colours : ndarray of uint8, shape (regions + 1, 3)
        The colour of each, sRGB; row 0 is not used.
    clear : bool
        The ground is transparent; its flats have a colour that nothing else has.
    """

    ink: Byte
    colour: tuple[int, int, int]
    regions: Labels
    colours: Byte
    clear: bool = False


def over_white(rgba: Byte) -> Byte:
    """A picture as it lies on white paper, RGB."""
    return _over(rgba, (255, 255, 255))


def separate(rgba: Byte) -> Separated:
    """Tell the lines of a coloured picture from its flats.

    Lines are what is darker than all that lies around it and no wider than lines are (the
    black-hat of mathematical morphology), and what has their colour; flats are connected where
    the picture is even, so that soft shades stay with their base.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
        sRGB, straight alpha.

    Raises
    ------
    NoLinesError
        If nothing in it is thin and dark, or nothing even.

    References
    ----------
    F. Meyer, "Iterative image transformations for an automatic screening of cervical smears",
    Journal of Histochemistry and Cytochemistry 27 (1), 1979: the top-hat, here of what is dark.
    """
    clear = bool(np.count_nonzero(rgba[..., 3] < 128) > _CLEAR_SHARE * rgba[..., 3].size)
    calm = _calmed(_over(rgba, _unused(rgba)) if clear else over_white(rgba))
    lab = cast(Real, cv2.cvtColor(calm.astype(np.float32) / 255, cv2.COLOR_RGB2LAB))
    night = _dark_ground(calm, lab)
    dark, colour = _lines(calm, lab, night)
    if not dark.any():
        raise NoLinesError("No lines were found in this picture: nothing in it is thin, and darker "
                           "than what lies around it. Pictures with drawn lines can be opened.")
    even = _even(calm) & ~dark
    regions = _regions(even)
    if not regions.any():
        raise NoLinesError("Nothing in this picture is even: it is all lines or texture, without a "
                           "flat between them. Pictures with drawn lines and flats can be opened.")
    colours = _colours(calm, regions)
    nearest = _spread(regions)
    ink = _coverage(lab, dark, colour, nearest, colours, night)
    return Separated(ink, colour, nearest, colours, clear)


def _over(rgba: Byte, colour: tuple[int, int, int]) -> Byte:
    if int(rgba[..., 3].min()) == 255:
        return np.ascontiguousarray(rgba[..., :3])
    alpha = rgba[..., 3:].astype(np.uint16)
    laid = rgba[..., :3] * alpha + np.array(colour, np.uint16) * (255 - alpha)
    found: Byte = ((laid + 127) // 255).astype(np.uint8)
    return found


def _unused(rgba: Byte) -> tuple[int, int, int]:
    """A light colour that is far from all in a picture."""
    seen = np.unique(rgba[rgba[..., 3] > 127][:, :3] >> 4, axis=0).astype(int) << 4
    offered = np.array([[r, g, b] for r in (128, 192, 255) for g in (192, 255)
                        for b in (64, 128, 192, 255)])
    if not len(seen):
        return (255, 255, 255)
    away = np.abs(offered[:, None] - seen[None]).sum(axis=2).min(axis=1)
    r, g, b = offered[int(np.argmax(away))].tolist()
    return r, g, b


def strongest(rgb: Byte) -> Byte:
    """The largest of the channels."""
    red, green, blue = cv2.split(rgb)
    found: Byte = cv2.max(cv2.max(red, green), blue)
    return found


def _calmed(rgb: Byte) -> Byte:
    """Without the noise that lossy files have about edges; a clean picture as it is."""
    step = strongest(cv2.absdiff(rgb[:, 1:], rgb[:, :-1]))
    rough = np.count_nonzero((step > 0) & (step <= 4)) / step.size
    return cv2.bilateralFilter(rgb, 5, 18, 3) if rough > 0.05 else rgb


def _dark_ground(rgb: Byte, lab: Real) -> Mask:
    """The ground, if it is as dark as lines are: these are not darker than it."""
    edge = np.concatenate([rgb[[0, -1]].reshape(-1, 3), rgb[:, [0, -1]].reshape(-1, 3)])
    colour = srgb_to_lab(np.array(_most(edge)) / 255)
    if colour[0] > _NIGHT:
        return np.zeros(rgb.shape[:2], bool)
    alike = (_alike(lab, colour, _SAME_GROUND) & _even(rgb)).astype(np.uint8)
    _, numbers = cv2.connectedComponents(alike, connectivity=4)
    # Also where it is enclosed, but not the lines themselves, if these are as dark.
    ground = np.zeros(int(numbers.max()) + 1, bool)
    deep = cv2.distanceTransform(alike, cv2.DIST_L2, 5) > _WIDEST / 4 * max(alike.shape)
    for place in (numbers[0], numbers[-1], numbers[:, 0], numbers[:, -1], numbers[deep]):
        ground[place] = True
    ground[0] = False
    found: Mask = cv2.dilate(ground[numbers].astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    return found


def _lines(rgb: Byte, lab: Real, night: Mask) -> tuple[Mask, tuple[int, int, int]]:
    """Where lines are, and their colour."""
    lightness = cast(Real, np.where(night, np.float32(100), lab[..., 0]))
    # Small, it is told sooner which colour most lines have and how wide they are.
    scale = min(1.0, _SMALL / max(lightness.shape))
    small_lab, small_rgb = _reduced(lab, scale), _reduced(rgb, scale)
    small = _reduced(lightness, scale).astype(np.float32, copy=False)
    wide = _usual_width(small)
    if wide is None:
        return np.zeros(lightness.shape, bool), (0, 0, 0)
    found = _without_corners(_thin(lightness, _WIDER * wide / scale + 1), wide / scale)
    if not found.any():
        return found, (0, 0, 0)
    thin = _thin(small, _WIDER * wide + 1)
    core = thin & (small <= cv2.erode(small, np.ones((3, 3))) + 0.5)
    colour = _most(small_rgb[core])
    main = srgb_to_lab(np.array(colour) / 255)
    alike = _alike(small_lab, main)
    if main[0] <= _DARK_LINE and np.count_nonzero(core & alike) > _ONE_COLOUR * core.sum():
        found |= _alike(lab, main) & ~night  # solid blacks are of the lines, too
    return found, colour


def _usual_width(lightness: Real) -> float | None:
    """How wide most lines are, px, by their length; None if nothing is thin and dark."""
    widest = _WIDEST * max(lightness.shape)
    widths = 2 * 1.3 ** np.arange(max(1, math.ceil(math.log(max(widest, 2.1) / 2, 1.3))))
    found = np.array([np.count_nonzero(_thin(lightness, float(w) + 1)) for w in widths])
    total = np.cumsum(np.maximum(np.diff(found, prepend=0), 0) / widths)
    return float(widths[np.searchsorted(total, total[-1] / 2)]) if total[-1] > 0 else None


def _reduced(picture: Pixels, scale: float) -> Pixels:
    if scale == 1:
        return picture
    size = [max(1, round(edge * scale)) for edge in picture.shape[1::-1]]
    return cast(Pixels, cv2.resize(picture, size, interpolation=cv2.INTER_AREA))


def _without_corners(thin: Mask, wide: float) -> Mask:
    """Without what no disc fits into because it is a corner of a flat."""
    _, numbers, stats, _ = cv2.connectedComponentsWithStats(thin.astype(np.uint8))
    kept = stats[:, cv2.CC_STAT_AREA] >= max(_FEWEST, _CORNER * wide * wide)
    kept[0] = False
    found: Mask = kept[numbers]
    return found


def _thin(lightness: Real, reach: float) -> Mask:
    """What is much darker than all around it, and so narrow that no disc so wide fits into it."""
    # A large disc from several small ones.
    times = max(1, round(reach / 9))
    size = 2 * max(1, round(reach / times / 2)) + 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    around = cv2.morphologyEx(lightness, cv2.MORPH_CLOSE, kernel, iterations=times)
    found: Mask = around - lightness > _wanted(around)
    return found


def _wanted(beside: Real) -> Real:
    """By how many L* a line is darker than a flat."""
    found: Real = np.clip(_DARKER * beside, _LEAST, _MOST_WANTED)
    return found


def _alike(lab: Real, colour: NDArray[np.float64], most: float = _SAME) -> Mask:
    """Pixels that can hardly be told from a colour."""
    near = np.abs(lab[..., 0] - colour[0]) < 2 * most
    found = np.zeros(lab.shape[:2], bool)
    found[near] = delta_e_2000(lab[near].astype(float), colour) < most
    return found


def _most(values: Byte) -> tuple[int, int, int]:
    """The colour that most of some pixels have, or nearly."""
    cells = values.astype(np.int64) >> 4
    code = cells[:, 0] << 8 | cells[:, 1] << 4 | cells[:, 2]
    mine = values[code == np.bincount(code).argmax()]
    r, g, b = (int(v) for v in np.median(mine, axis=0))
    return r, g, b


def _even(rgb: Byte) -> Mask:
    """Pixels that hardly differ from those around them."""
    kernel = np.ones((3, 3), np.uint8)
    spread = strongest(cv2.subtract(cv2.dilate(rgb, kernel), cv2.erode(rgb, kernel)))
    found: Mask = spread <= _EVEN
    return found


def _regions(even: Mask) -> Labels:
    """Connected even pixels, from 1; specks are left out."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(even.astype(np.uint8),
                                                               connectivity=4)
    kept = stats[:, cv2.CC_STAT_AREA] >= _FEWEST
    kept[0] = False
    number = np.zeros(count, np.int32)
    number[kept] = np.arange(1, np.count_nonzero(kept) + 1)
    found: Labels = number[labels]
    return found


def _colours(rgb: Byte, regions: Labels) -> Byte:
    """Median colour of each region, channel by channel."""
    count = int(regions.max()) + 1
    out = np.zeros((count, 3), np.uint8)
    inside = regions > 0
    which = regions[inside].astype(np.int64)
    half = np.bincount(which, minlength=count) / 2
    for channel in range(3):
        levels = np.bincount(which << 8 | rgb[..., channel][inside], minlength=count << 8)
        out[:, channel] = np.argmax(np.cumsum(levels.reshape(count, 256), axis=1)
                                    >= half[:, None], axis=1)
    return out


def _spread(regions: Labels) -> Labels:
    """The nearest region at every pixel."""
    _, nearest = cv2.distanceTransformWithLabels((regions == 0).astype(np.uint8), cv2.DIST_L2, 5,
                                                 labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(int(nearest.max()) + 1, np.int32)
    table[nearest[regions > 0]] = regions[regions > 0]
    found: Labels = table[nearest]
    return found


def _coverage(lab: Real, dark: Mask, colour: tuple[int, int, int], regions: Labels,
              colours: Byte, night: Mask) -> Byte:
    """How much of each pixel the lines cover: where it lies between its flat and the line."""
    flats = srgb_to_lab(colours / 255)[:, 0].astype(np.float32)
    line = np.float32(srgb_to_lab(np.array(colour) / 255)[0])
    near = cv2.dilate(dark.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    under = flats[regions[near]]
    # A line of another colour is as dark as it gets here.
    local = cv2.erode(np.where(dark, lab[..., 0], 100).astype(np.float32),
                      np.ones((5, 5), np.uint8))[near]
    full = np.maximum(np.minimum(np.maximum(line, local), under - _wanted(under)), 0)
    share = (under - lab[..., 0][near]) / np.maximum(under - full, 1)
    out = np.zeros(dark.shape, np.uint8)
    out[near] = np.rint(255 * np.clip(share, 0, 1))
    if night.any():  # there a line ends where the ground begins
        beside = cv2.erode(flats[regions], np.ones((3, 3), np.uint8)) < _NIGHT
        out[beside & near] = np.where(dark & ~night, 255, 0)[beside & near]
    return out
