"""One drawing laid on another, against motions that are known."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from PIL import Image

from tests.drawings import figure_ink, links_ink, transparent
from tests.tries import tries
from wardrobe.core.areas.carry import changes, fallen_together, owners_before, strokes_apart
from wardrobe.core.areas.segment import segment
from wardrobe.core.lines.frame import lay
from wardrobe.core.lines.register import register

Byte = NDArray[np.uint8]
Matrix = NDArray[np.float64]


def scene(seed: int, size: int = 700, thick: int = 5) -> Byte:
    """A drawing made up of curves that no other seed has."""
    dice = np.random.default_rng(seed)
    ink = np.zeros((size, size), np.uint8)
    for _ in range(9):
        at = tuple(dice.integers(size // 5, size * 4 // 5, 2).tolist())
        axes = tuple(dice.integers(size // 25, size // 5, 2).tolist())
        start = int(dice.integers(0, 120))
        cv2.ellipse(ink, at, axes, int(dice.integers(180)), start, start + 240, 255, thick,
                    cv2.LINE_AA)
    for _ in range(3):
        cv2.polylines(ink, [dice.integers(size // 6, size * 5 // 6, (4, 2)).astype(np.int32)],
                      False, 255, thick, cv2.LINE_AA)
    return ink


def similarity(turn: float, scale: float, shift: tuple[float, float],
               about: tuple[float, float]) -> Matrix:
    """Degrees clockwise as it is seen, y down."""
    c, s = np.cos(np.radians(turn)) * scale, np.sin(np.radians(turn)) * scale
    linear = np.array([[c, -s], [s, c]])
    return np.column_stack([linear, np.array(about) - linear @ about + shift])


def drawn_moved(ink: Byte, matrix: Matrix, size: tuple[int, int] | None = None) -> Byte:
    """The same drawing at another place, by Pillow: it maps back, pixel centres at halves."""
    back = np.linalg.inv(np.vstack([matrix, [0, 0, 1]]))[:2]
    moved = Image.fromarray(ink).transform(size or ink.shape[::-1], Image.Transform.AFFINE,
                                           back.ravel().tolist(), Image.Resampling.BICUBIC)
    return np.asarray(moved)


def off(found: Matrix, truth: Matrix, ink: Byte) -> float:
    """px by which lines lie beside where they belong, root mean square."""
    ys, xs = np.nonzero(ink > 128)
    there = np.stack([xs, ys], 1)[::31] + 0.5
    moved = there @ truth[:, :2].T + truth[:, 2]
    again = moved @ found[:, :2].T + found[:, 2]
    return float(np.sqrt(((again - there) ** 2).sum(axis=1).mean()))


@pytest.mark.parametrize("seed", range(tries(8, 24)))
def test_a_drawing_that_was_moved_is_laid_where_it_was(seed):
    dice = np.random.default_rng(seed)
    turn, scale, shift = dice.uniform(-3, 3), dice.uniform(0.96, 1.04), dice.uniform(-60, 60, 2)
    ink, truth = scene(seed), similarity(turn, scale, tuple(shift), (350, 350))
    again, redrawn = ink.copy(), seed % 2
    if redrawn:  # of what is in the middle, where most lines are
        x, y = dice.integers(180, 300, 2)
        again[y:y + 200, x:x + 200] = scene(seed + 1)[y:y + 200, x:x + 200]
    found = register(drawn_moved(again, truth), ink)
    assert off(found.matrix, truth, ink) < (1.5 if redrawn else 0.8)
    assert found.agreement > (0.5 if redrawn else 0.9)
    assert found.scale == pytest.approx(1 / scale, abs=0.005)
    assert found.clockwise == pytest.approx(-turn, abs=0.3)


@pytest.mark.parametrize(("turn", "scale"), [(180, 1.0), (90, 1.0), (-40, 0.5), (4, 2.0)])
def test_turned_round_or_scanned_at_another_size_it_is_found_as_well(turn, scale):
    ink = scene(7)
    side = round(700 * max(scale, 1)) + 200
    truth = similarity(turn, scale, (side / 2 - 350, side / 2 - 350), (350, 350))
    found = register(drawn_moved(ink, truth, (side, side)), ink)
    assert off(found.matrix, truth, ink) < 1.5


@pytest.mark.parametrize("seed", range(tries(4, 12)))
def test_lines_that_have_nothing_to_do_with_each_other_hardly_agree(seed):
    assert register(scene(seed), scene(seed + 100)).agreement < 0.3


def test_without_lines_nothing_agrees():
    empty = np.zeros((90, 120), np.uint8)
    assert register(empty, scene(1)).agreement == register(scene(1), empty).agreement == 0


@pytest.mark.parametrize(("dx", "dy"), [(0, 0), (-60, 41), (33, 60), (-7, -1)])
def test_a_shift_by_whole_pixels_is_one_and_changes_no_pixel(dx, dy):
    ink = figure_ink()
    moved = np.zeros((640, 640), np.uint8)
    moved[80 + dy:560 + dy, 80 + dx:560 + dx] = ink
    found = register(moved, ink)
    assert found.matrix.tolist() == [[1, 0, -80 - dx], [0, 1, -80 - dy]]
    assert lay(transparent(moved), found.matrix, (480, 480)).tolist() == transparent(ink).tolist()


@pytest.mark.parametrize("scale", [0.4, 0.97, 1.3])
def test_laid_it_looks_as_pillow_draws_it(scale):
    ink = cv2.GaussianBlur(scene(3), (0, 0), 3 / scale)
    matrix = similarity(11, scale, (20, -8), (350, 350))
    ours = lay(transparent(ink), matrix, (700, 700))[..., 3].astype(float)
    wide = ink if scale > 0.5 else cv2.GaussianBlur(ink, (0, 0), 0.5 / scale)
    theirs = drawn_moved(wide, matrix, (700, 700)).astype(float)
    assert np.abs(ours - theirs).mean() < 0.6
    assert np.abs(ours - theirs).max() < 16


def test_around_what_is_laid_the_paper_goes_on_and_colours_do_not_bleed_out_of_nothing():
    paper = np.full((60, 80, 4), (230, 220, 200, 255), np.uint8)
    paper[20:30, 20:60] = (20, 10, 10, 255)
    sheet = lay(paper, np.array([[1, 0, 30.0], [0, 1, 25.5]]), (160, 140))
    assert (sheet[:10, :, :3] == (230, 220, 200)).all()
    assert (sheet[..., 3] == 255).all()
    clear = np.zeros((60, 80, 4), np.uint8)  # black where nothing is
    clear[20:40, 20:60] = (240, 30, 30, 255)
    edge = lay(clear, np.array([[1, 0, 10.5], [0, 1, 10.5]]), (100, 80))
    seen = edge[edge[..., 3] > 8]
    assert (abs(seen[:, :3].astype(int) - (240, 30, 30)) <= 2).all()


# ---- What keeps its owner ----

@pytest.fixture(scope="module")
def cut():
    """The cut of a body with links and sleeves, and an owner for each area."""
    ink = links_ink()
    areas = segment(ink)
    owner = (np.arange(areas.count + 1) % 7).astype(np.uint16)
    return ink, areas, owner


def test_areas_that_stay_have_the_owner_they_had(cut):
    _, areas, owner = cut
    assert owners_before(areas, owner[areas.labels])[1:].tolist() == owner[1:].tolist()
    assert changes(owner[areas.labels], owner[areas.labels], areas.core, 0) == []


def test_what_changes_hands_is_told_with_its_place_and_a_line_that_moved_is_not():
    before = np.ones((200, 300), np.uint16)
    before[:, 150:] = 2
    after = before.copy()
    after[:, 147:150] = 2       # a line that moved by 3 px
    after[50:90, 200:260] = 1
    after[120:150, 20:40] = 5
    found = changes(before, after, np.ones(before.shape, bool), 8)
    assert [(c.box, c.before, c.after, c.pixels) for c in found] == [
        ((200, 50, 60, 40), 2, 1, 2400), ((20, 120, 20, 30), 1, 5, 600)]
    for change in found:
        x, y, w, h = change.box
        assert abs(change.place[1] - (y + h / 2)) <= 1 or abs(change.place[0] - (x + w / 2)) <= 1
    nothing = changes(before, after, np.zeros(before.shape, bool), 8)
    assert nothing == []


def test_an_open_line_is_told_from_one_that_was_taken_away():
    ink = np.zeros((300, 400), np.uint8)
    cv2.rectangle(ink, (40, 40), (360, 260), 255, 6)
    whole = ink.copy()
    cv2.line(whole, (200, 40), (200, 260), 255, 6)
    owners = np.zeros(ink.shape, np.uint16)
    owners[40:260, 40:200], owners[40:260, 200:360] = 1, 2
    opened = whole.copy()
    opened[110:190, 190:210] = 0        # a third of the line between them
    areas = segment(opened)
    assert areas.labels[150, 100] == areas.labels[150, 300]
    (places,) = fallen_together(areas, owners, opened)
    assert sorted(int(owners[int(y), int(x)]) for x, y in places) == [1, 2]
    assert fallen_together(segment(ink), owners * 0 + 1, ink) == []
    gone = ink.copy()                    # the box stays, what parted it is gone on two of its sides
    cv2.rectangle(gone, (40, 40), (360, 260), 0, 6)
    cv2.circle(gone, (200, 150), 140, 255, 6)
    assert fallen_together(segment(gone), owners, gone) == []


def test_lines_that_are_in_one_drawing_only_are_boxed():
    ink, more = figure_ink(), figure_ink()
    cv2.line(more, (20, 20), (80, 60), 255, 6)
    cv2.line(more, (30, 420), (60, 470), 255, 6)
    found = strokes_apart(more, ink, 6)
    assert len(found) == 2
    (x, y, w, h), pixels = found[0]
    assert x <= 20 and y <= 20 and x + w >= 80 and y + h >= 60
    assert pixels == pytest.approx(6 * np.hypot(60, 40), rel=0.25)
    assert strokes_apart(ink, more, 6) == []
    thicker = cv2.dilate(ink, np.ones((3, 3), np.uint8))
    assert strokes_apart(thicker, ink, 6) == []
