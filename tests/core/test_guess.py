"""What looks like the figure to the network: where it looks, and what it says of plain cases."""

from concurrent.futures import ThreadPoolExecutor

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from tests.tries import tries
from wardrobe.core.ground.guess import guess
from wardrobe.core.ground.seen import SIDE, seen, window_of

Byte = NDArray[np.uint8]


def _shapes(seed: int, size: int = 400) -> Byte:
    """Rings, arcs and lines about the middle of some paper."""
    rng = np.random.default_rng(seed)
    ink = np.zeros((size, size), np.uint8)
    for _ in range(rng.integers(1, 6)):
        x, y = rng.integers(150, 250, 2).tolist()
        a, b = rng.integers(10, 90, 2).tolist()
        start, turn = rng.integers(0, 360, 2).tolist()
        cv2.ellipse(ink, (x, y), (a, b), turn, start, start + int(rng.integers(90, 361)), 255,
                    int(rng.integers(2, 12)), cv2.LINE_AA)
    return ink


def _ink(coverage: Byte) -> Byte:
    return (coverage >= 96).astype(np.uint8)


@settings(max_examples=tries(10, 60))
@given(st.integers(0, 10**6), st.integers(-40, 40), st.integers(-40, 40))
def test_it_does_not_matter_where_on_its_paper_a_drawing_stands(seed: int, dx: int,
                                                                dy: int) -> None:
    one = _shapes(seed)
    two = np.roll(one, (dy, dx), (0, 1))
    first, second = seen(one, _ink(one)), seen(two, _ink(two))
    assert second[1].left - first[1].left == dx and second[1].top - first[1].top == dy
    assert np.array_equal(first[0][:4], second[0][:4])
    if not first[0][4].any() and not second[0][4].any():  # both squares lie within the picture
        here, there = guess(one, _ink(one)), guess(two, _ink(two))
        inner = np.s_[120:280, 120:280]
        assert np.array_equal(np.roll(here, (dy, dx), (0, 1))[inner], there[inner])


@settings(max_examples=tries(10, 60))
@given(st.integers(0, 10**6), st.integers(0, 30), st.integers(0, 30), st.integers(0, 30),
       st.integers(0, 30))
def test_its_window_holds_the_drawing_and_tells_where_the_picture_ends(
        seed: int, left: int, top: int, right: int, below: int) -> None:
    whole = _ink(_shapes(seed))
    ys, xs = np.nonzero(whole)
    ink = whole[max(0, ys.min() - top):ys.max() + 1 + below,
                max(0, xs.min() - left):xs.max() + 1 + right]
    window = window_of(ink)
    cut = window.cut(ink, 7)
    assert (cut == 1).sum() == ink.sum(), "no ink is lost"
    rows, columns = np.mgrid[:window.side, :window.side] + np.array(
        [window.top, window.left])[:, None, None]
    beyond = (rows < 0) | (columns < 0) | (rows >= ink.shape[0]) | (columns >= ink.shape[1])
    assert np.array_equal(cut == 7, beyond)
    laid = window.lay(cut.astype(np.float32), ink.shape, 9.0)
    known = laid != 9.0
    assert np.array_equal(laid[known], ink[known]) and ink[~known].sum() == 0


@pytest.mark.parametrize("line", [4, 9, 16])
@pytest.mark.parametrize("broken", [False, True])
def test_plain_figures_look_like_figures(line: int, broken: bool) -> None:
    """A person of ovals and limbs, whole or with two breaks in the outline: common practice, no
    published source, is that the outline is closed at once."""
    ink, true = np.zeros((512, 512), np.uint8), np.zeros((512, 512), np.uint8)
    body = np.array([[206, 190], [306, 190], [330, 330], [300, 460], [262, 460], [256, 360],
                     [250, 460], [212, 460], [182, 330]])
    for image, how in ((ink, line), (true, -1)):
        value = 255 if image is ink else 1
        cv2.ellipse(image, (256, 110), (55, 66), 0, 0, 360, value, how, cv2.LINE_AA)
    cv2.polylines(ink, [body], True, 255, line, cv2.LINE_AA)
    cv2.fillPoly(true, [body], 1)
    if broken:
        for x, y in ((318, 260), (198, 262)):
            cv2.circle(ink, (x, y), 2 * line, 0, -1)
    free = ink < 96
    figure = guess(ink, _ink(ink)) > 0
    shared, union = (figure & (true > 0))[free].sum(), (figure | (true > 0))[free].sum()
    assert shared / union > 0.85


def test_several_may_ask_at_once() -> None:
    """The network is one for all threads: each gets the answer to its own question."""
    inks = [_shapes(seed) for seed in range(6)]
    alone = [guess(ink, _ink(ink)) for ink in inks]
    with ThreadPoolExecutor(6) as pool:
        together = list(pool.map(lambda ink: guess(ink, _ink(ink)), inks * 3))
    assert all(np.array_equal(a, b) for a, b in zip(alone * 3, together, strict=True))
    assert alone[0].shape == inks[0].shape and SIDE == 128
