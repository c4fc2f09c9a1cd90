"""How far two sides of a border are apart, along the whole border."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.seen import Byte
from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.kinds import kinds
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.looks.vision import VISIONS, seen_with

Int = NDArray[np.int64]
Float = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Across:
    """Places along borders between labels.

    Attributes
    ----------
    one, other : ndarray of int64, shape (n,)
        Labels on the two sides, the smaller first.
    y, x : ndarray of int64, shape (n,)
        Where.
    step, lightness : ndarray of float64, shape (n,)
        CIEDE2000 between the sides, and their difference of L*.
    seen_with : dict of str to ndarray of float64, shape (n,)
        CIEDE2000 for a colour-vision deficiency, by its key.
    """

    one: Int
    other: Int
    y: Int
    x: Int
    step: Float
    lightness: Float
    seen_with: dict[str, Float]


def steps_across(picture: Byte, labels: NDArray[np.integer], reach: int = 2) -> Across:
    """Compare what lies a little to either side of each place of a border.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)
        sRGB.
    labels : ndarray of int, shape (height, width)
    reach : int
        How far to either side, px; nearer where a label is narrower than that.
    """
    height, width = labels.shape
    found: list[tuple[Int, ...]] = []
    for dy, dx in ((0, 1), (1, 0)):
        first = labels[:height - dy, :width - dx]
        second = labels[dy:, dx:]
        y, x = np.nonzero(first != second)
        ay, ax = _inwards(labels, y, x, -dy, -dx, reach)
        by, bx = _inwards(labels, y + dy, x + dx, dy, dx, reach)
        found.append((y, x, ay * width + ax, by * width + bx))
    y, x, a, b = (np.concatenate(column) for column in zip(*found, strict=True))
    flat = labels.ravel().astype(np.int64)
    swap = flat[a] > flat[b]
    a, b = np.where(swap, b, a), np.where(swap, a, b)
    colours = picture.reshape(-1, 3)
    # Few pairs of colours occur, however long the borders are.
    pairs = np.concatenate([colours[a], colours[b]], axis=1)
    occurring, back = kinds(pairs)
    sides = occurring.reshape(-1, 2, 3) / 255
    lab = srgb_to_lab(sides)
    told = {key: _apart(srgb_to_lab(np.clip(seen_with(sides, key), 0, 1)))[back]
            for key in VISIONS}
    return Across(flat[a], flat[b], y, x, _apart(lab)[back],
                  (lab[:, 1, 0] - lab[:, 0, 0])[back], told)


def _apart(lab: Float) -> Float:
    return delta_e_2000(lab[:, 0], lab[:, 1])


def _inwards(labels: NDArray[np.integer], y: Int, x: Int, dy: int, dx: int,
             reach: int) -> tuple[Int, Int]:
    """From places straight on for as long as the label stays the same, at most ``reach``."""
    height, width = labels.shape
    here = labels[y, x]
    at_y, at_x, going = y.copy(), x.copy(), np.ones(len(y), bool)
    for _ in range(reach):
        next_y, next_x = at_y + dy, at_x + dx
        going &= (next_y >= 0) & (next_x >= 0) & (next_y < height) & (next_x < width)
        going[going] = labels[next_y[going], next_x[going]] == here[going]
        at_y[going], at_x[going] = next_y[going], next_x[going]
    return at_y, at_x
