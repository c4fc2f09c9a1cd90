"""Borders that no line covers, in pictures smaller than the drawing."""

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from wardrobe.core.layers.borders import bare_borders, smoothed
from wardrobe.core.layers.origin import Origin


def drawing(seed: int, side: int = 420) -> tuple[np.ndarray, np.ndarray]:
    """Areas with smooth borders, and the part of each: some areas share one."""
    dice = np.random.default_rng(seed)
    noise = cv2.GaussianBlur(dice.standard_normal((side, side)).astype(np.float32), (0, 0), 24)
    levels = np.quantile(noise, [0.2, 0.45, 0.7])
    labels = (1 + np.digitize(noise, levels)).astype(np.uint16)
    return labels, np.array([0, *dice.permutation([1, 2, 2, 3])], np.uint16)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10**6), st.sampled_from([0.5, 0.25, 0.2]))
def test_a_smaller_view_is_the_whole_reduced(seed: int, scale: float) -> None:
    """Against OpenCV's mean over the area of each pixel of the picture at full size: plain
    colours, smooth borders between two parts; to what 16 places in a pixel can tell."""
    labels, row_of_area = drawing(seed)
    dice = np.random.default_rng(seed + 1)
    colours = dice.integers(0, 256, (4, 3)).astype(np.uint8)
    full = colours[row_of_area[labels]]
    step = round(1 / scale)
    middle = labels[step // 2::step, step // 2::step]
    rows = row_of_area[middle]
    found = smoothed(colours[rows], bare_borders(rows, np.zeros(rows.shape, np.uint8), labels,
                                                 row_of_area, Origin(0, 0, scale)))
    wanted = cv2.resize(full, rows.shape[::-1], interpolation=cv2.INTER_AREA).astype(int)
    off = np.abs(found.astype(int) - wanted).max(axis=2)
    jagged = np.abs(colours[rows].astype(int) - wanted).max(axis=2)
    reach = float(np.ptp(colours.astype(int), axis=0).max())
    assert np.quantile(off, 0.99) <= 0.15 * reach + 1
    assert off.mean() < 0.35 * jagged.mean() + 0.2
    # Away from borders nothing changes.
    same = cv2.erode((jagged == 0).astype(np.uint8), np.ones((5, 5))) > 0
    assert np.array_equal(found[same], colours[rows][same])


@settings(max_examples=15, deadline=None)
@given(st.integers(0, 10**6), st.integers(0, 60), st.integers(0, 60))
def test_a_tile_is_that_of_the_whole(seed: int, x: int, y: int) -> None:
    labels, row_of_area = drawing(seed)
    colours = np.random.default_rng(seed).integers(0, 256, (4, 3)).astype(np.uint8)
    rows = row_of_area[labels[1::2, 1::2]]
    ink = np.zeros(rows.shape, np.uint8)
    ink[40:60] = 255
    whole = smoothed(colours[rows], bare_borders(rows, ink, labels, row_of_area,
                                                 Origin(0, 0, 0.5)))
    assert np.array_equal(whole[41:59], colours[rows][41:59])  # lines cover what is under them
    box = np.s_[y:y + 90, x:x + 100]
    tile = smoothed(colours[rows][box], bare_borders(rows[box], ink[box], labels, row_of_area,
                                                     Origin(x, y, 0.5)))
    assert np.array_equal(tile[1:-1, 1:-1], whole[box][1:-1, 1:-1])
