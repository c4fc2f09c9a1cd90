"""Parts carried from one drawing to the next: against drawings whose truth is known because they
were made by moving one of them."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage.registration import phase_cross_correlation

from tests.tries import tries
from wardrobe.core.areas.segment import segment
from wardrobe.core.carry import carried
from wardrobe.core.carry.align import align
from wardrobe.core.carry.carried import SURE, Drawing, carry
from wardrobe.core.carry.flow import bend, moved
from wardrobe.core.carry.pairs import overlap
from wardrobe.core.carry.side import FRAME, describe
from wardrobe.core.formats.images import decode_image
from wardrobe.core.trees import load_trees
from wardrobe.demo import walk
from wardrobe.demo.pen import Pen

Byte = NDArray[np.uint8]


def boy(frame: int, edge: int = 800) -> Byte:
    """Coverage of a frame of the demo's walk."""
    rgba = decode_image(walk.draw(frame), long_edge=edge)
    return cv2.multiply(rgba[..., 3], 255 - rgba[..., 0], scale=1 / 255)


def cut(ink: Byte) -> Drawing:
    areas = segment(ink)
    return Drawing(areas, areas.ground, ink)


def truth(drawing: Drawing, frame: int, edge: int = 800) -> NDArray[np.int64]:
    """Part of each area by the places that were drawn, from behind, 0 where none lies."""
    names = [name for name, *_ in walk.PARTS]
    scale = edge / walk.HEIGHT
    found = np.zeros(drawing.areas.count + 1, np.int64)
    for name, (x, y) in walk.figure(Pen(walk.WIDTH, walk.HEIGHT), frame):
        v, u = int(y * scale), int(x * scale)
        if drawing.areas.core[v, u]:
            found[drawing.areas.labels[v, u]] = names.index(name) + 1
    found[drawing.ground] = 0
    return found


ONE = cut(boy(0))
PARTS = truth(ONE, 0)


def turned(ink: Byte, degrees: float, scale: float, dx: float, dy: float) -> tuple[Byte, Byte]:
    """The drawing moved, and the labels of ONE moved with it."""
    h, w = ink.shape
    matrix = cv2.getRotationMatrix2D((w / 2, h / 2), degrees, scale)
    matrix[:, 2] += (dx, dy)
    labels = np.where(ONE.ground[ONE.areas.labels], 0, ONE.areas.labels).astype(np.float32)
    return (cv2.warpAffine(ink, matrix, (w, h), flags=cv2.INTER_LINEAR),
            cv2.warpAffine(labels, matrix, (w, h), flags=cv2.INTER_NEAREST).astype(np.int64))


def right(found: carried.Carried, other: Drawing, labels: NDArray[np.int64]) -> tuple[float, float]:
    """Share of the figure's pixels that have the right part, and of what is sure."""
    where = other.areas.core & (labels > 0)
    here, true = found.part[other.areas.labels[where]], PARTS[labels[where]]
    sure = found.chance[other.areas.labels[where]] >= SURE
    return float((here == true).mean()), float((here == true)[sure].mean())


@settings(max_examples=tries(4, 8), deadline=None)
@given(degrees=st.floats(-20, 20), scale=st.floats(0.8, 1.1), dx=st.floats(-60, 60),
       dy=st.floats(-60, 60), mirrored=st.booleans())
def test_a_drawing_moved_as_a_whole_keeps_its_parts(degrees: float, scale: float, dx: float,
                                                    dy: float, mirrored: bool) -> None:
    ink, labels = turned(boy(0), degrees, scale, dx, dy)
    if mirrored:
        ink, labels = np.ascontiguousarray(ink[:, ::-1]), labels[:, ::-1]
    other = cut(ink)
    all_right, sure_right = right(carry(ONE, PARTS, other), other, labels)
    assert all_right > 0.96 and sure_right > 0.98


@pytest.mark.parametrize("frame", [1, 4, 7])
def test_frames_of_a_walk_get_the_parts_of_the_first(frame: int) -> None:
    """Limbs move, hide each other and come out again."""
    other = cut(boy(frame))
    found = carry(ONE, PARTS, other)
    true = truth(other, frame)
    known = np.flatnonzero(true)
    pixels = other.areas.pixels[known]
    hit = found.part[known] == true[known]
    assert (hit * pixels).sum() / pixels.sum() > 0.94
    sure = found.chance[known] >= SURE
    assert (hit * pixels)[sure].sum() / pixels[sure].sum() > 0.98
    assert pixels[sure].sum() / pixels.sum() > 0.6


def test_lines_of_another_weight_and_a_figure_that_the_frame_cuts_off() -> None:
    ink, labels = turned(boy(0), 0, 1, 0, 0)
    heavier = cv2.dilate(ink, np.ones((3, 3), np.uint8))[:560]
    other = cut(np.ascontiguousarray(heavier))
    found = carry(ONE, PARTS, other)
    where = other.areas.core & (labels[:560] > 0)
    hit = found.part[other.areas.labels[where]] == PARTS[labels[:560][where]]
    assert hit.mean() > 0.9


def test_another_drawing_altogether_is_not_sure() -> None:
    ink = np.zeros((700, 700), np.uint8)
    for k in range(5):
        cv2.rectangle(ink, (80 + 110 * k, 120 + 60 * (k % 2)), (170 + 110 * k, 560), 255, 5)
    other = cut(ink)
    found = carry(ONE, PARTS, other)
    figure = ~other.ground
    figure[0] = False
    assert (found.chance[figure] >= SURE).mean() < 0.35


@settings(max_examples=tries(4, 10), deadline=None)
@given(dx=st.integers(-30, 30), dy=st.integers(-30, 30))
def test_alignment_is_that_of_a_reference(dx: int, dy: int) -> None:
    """Shifts against scikit-image's phase correlation of the same squares."""
    ink, _ = turned(boy(0), 0, 1, dx, dy)
    one, other = describe(*ONE), describe(*cut(ink))
    matrix = align(one, other).matrix
    shift, *_ = phase_cross_correlation(one.felt[..., 0], other.felt[..., 0])
    assert np.abs(matrix[:, 2] - shift[::-1]).max() < 4
    assert abs(np.hypot(matrix[0, 0], matrix[1, 0]) - 1) < 0.09


def test_bending_undoes_a_known_bend() -> None:
    side = describe(*ONE)
    y, x = np.indices((FRAME, FRAME), np.float32)
    bump = 5 * np.exp(-((x - 88)**2 + (y - 88)**2) / 900)
    there = cv2.remap(side.felt, x + bump, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    weights = np.array([1.2, 0.8, 0.4], np.float32)
    still = moved(np.eye(2, 3))
    field = bend(side.felt, there, still, weights)

    def off(f: NDArray[np.float32]) -> float:
        pulled = cv2.remap(side.felt, f[..., 0], f[..., 1], cv2.INTER_LINEAR)
        return float(np.abs(pulled - there)[60:116, 60:116].mean())

    assert off(field) < 0.35 * off(still)
    assert np.abs(field[88, 80:96, 0] - (x + bump)[88, 80:96]).mean() < 2


def test_overlap_counts_every_pixel_once() -> None:
    side = describe(*ONE)
    counts = overlap(side, side, moved(np.eye(2, 3)))
    assert counts.sum() == FRAME**2
    assert (counts == np.diag(np.diag(counts))).all()


def test_strokes_travel_with_the_figure() -> None:
    ink, _ = turned(boy(0), 12, 0.92, 30, -20)
    other = cut(ink)
    found = carry(ONE, PARTS, other)
    h, w = ink.shape
    matrix = cv2.getRotationMatrix2D((w / 2, h / 2), 12, 0.92)
    matrix[:, 2] += (30, -20)
    seeds = ONE.areas.seeds[1:][~ONE.ground[1:]].astype(np.float64)
    there, off = found.travel(seeds)
    true = seeds @ matrix[:, :2].T + matrix[:, 2]
    assert np.median(np.linalg.norm(there - true, axis=1)) < 6
    assert np.median(off) < 0.02
    _, far = found.travel(np.array([[5000.0, 5000.0]]))
    assert far[0] > 1


def test_the_same_every_time() -> None:
    other = cut(boy(3))
    one, two = carry(ONE, PARTS, other), carry(ONE, PARTS, other)
    assert (one.part == two.part).all() and (one.chance == two.chance).all()
    assert len(load_trees(Path(carried.__file__).with_name("carry.npz"))) == carried.ROUNDS + 1
