"""What must hold of carrying over whatever the drawings are: it does not depend on how areas are
numbered, on the size of the paper, or on which way round a mirror is held."""

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt

from tests.core.test_carry import ONE, PARTS, boy, cut
from tests.tries import tries
from wardrobe.core.areas.segment import Areas
from wardrobe.core.carry.align import align
from wardrobe.core.carry.carried import Drawing, carry
from wardrobe.core.carry.flow import moved
from wardrobe.core.carry.leaks import LEAST_AGREEMENT, carry_and_mend, leaks, shared_out, surer
from wardrobe.core.carry.pairs import by_neighbours, by_place, by_shape, placed
from wardrobe.core.carry.side import FIT, FRAME, PATCH, TURNS, describe
from wardrobe.core.lines.gaps import find_closures

OTHER = cut(boy(2))
FOUND = carry(ONE, PARTS, OTHER)
SIDE, THERE = describe(*ONE), describe(*OTHER)


def renumbered(drawing: Drawing, dice: np.random.Generator) -> tuple[Drawing, NDArray[np.int64]]:
    """The same cut with its areas numbered otherwise; and the new number of each."""
    areas = drawing.areas
    new = np.concatenate([[0], 1 + dice.permutation(areas.count)])
    old = np.argsort(new)
    changed = Areas(new[areas.labels].astype(np.uint16), areas.core, areas.pixels[old],
                    areas.seeds[old], areas.inner_radius[old], areas.ground[old],
                    areas.line_width, areas.specks)
    return Drawing(changed, drawing.ground[old], drawing.ink), new


@pytest.mark.parametrize("seed", range(3))
def test_numbers_of_areas_do_not_matter(seed: int) -> None:
    again, new = renumbered(OTHER, np.random.default_rng(seed))
    found = carry(ONE, PARTS, again)
    numbers = np.arange(1, OTHER.areas.count + 1)
    same = found.part[new[numbers]] == FOUND.part[numbers]
    # Codes are drawn by chance for rows: what is hardly known may fall the other way.
    clear = FOUND.chance[numbers] > 0.75
    assert same[clear].all()
    assert np.abs(found.chance[new[numbers]] - FOUND.chance[numbers])[clear].max() < 0.25


def test_the_size_of_the_picture_does_not_matter() -> None:
    large = cut(boy(2, 1600))
    found = carry(ONE, PARTS, large)
    seeds = OTHER.areas.seeds[1:]
    there = large.areas.labels[2 * seeds[:, 1], 2 * seeds[:, 0]]
    figure = ~OTHER.ground[1:] & (OTHER.areas.pixels[1:] > 150)
    same = found.part[there] == FOUND.part[1:]
    pixels = OTHER.areas.pixels[1:]
    assert (same * pixels)[figure].sum() > 0.97 * pixels[figure].sum()


def test_a_mirror_is_a_mirror() -> None:
    """Described as mirrored, a drawing is as its mirrored picture described plainly."""
    areas = ONE.areas
    turned = replace(areas, labels=np.ascontiguousarray(areas.labels[:, ::-1]),
                     core=np.ascontiguousarray(areas.core[:, ::-1]))
    plain = describe(turned, ONE.ground, np.ascontiguousarray(ONE.ink[:, ::-1]))
    mirrored = describe(*ONE, mirrored=True)
    assert (plain.area == mirrored.area).all() and (plain.rows == mirrored.rows).all()
    assert np.allclose(plain.shape, mirrored.shape) and np.allclose(plain.touch, mirrored.touch)
    # Places of the picture still lead to the same places of the square.
    seeds = areas.seeds[1:].astype(np.float64)
    flipped = seeds * [-1, 1] + [areas.labels.shape[1], 0]
    one = seeds @ mirrored.to_square[:, :2].T + mirrored.to_square[:, 2]
    two = flipped @ plain.to_square[:, :2].T + plain.to_square[:, 2]
    assert np.abs(one - two).max() < 1.5


def test_a_side_says_what_can_be_counted() -> None:
    """Shares by counting pixels, borders against SciPy's exact distances."""
    figure = ~SIDE.ground
    assert SIDE.share[figure].sum() == pytest.approx(1)
    assert np.allclose(SIDE.touch.sum(axis=1)[SIDE.touch.any(axis=1)], 1)
    assert ((SIDE.touch > 0) == (SIDE.touch.T > 0)).all()
    area = np.count_nonzero(figure[SIDE.rows])
    assert area == pytest.approx((FIT * FRAME)**2, rel=0.06)
    inside = distance_transform_edt(figure[SIDE.rows]) - distance_transform_edt(~figure[SIDE.rows])
    off = np.abs(np.clip(inside / 14, -1, 1) - SIDE.felt[..., 0])
    assert np.median(off) < 0.02 and np.quantile(off, 0.95) < 0.12
    assert SIDE.own.shape == (len(SIDE), len(TURNS), PATCH**2)
    lengths = np.linalg.norm(SIDE.around, axis=-1)
    assert np.allclose(lengths, 1, atol=1e-3)
    assert SIDE.felt.min() >= -1 and SIDE.felt.max() <= 1.01


@settings(max_examples=tries(5, 15), deadline=None)
@given(seed=st.integers(0, 10_000))
def test_figures_of_pairs_are_bounded_whatever_the_matches_are(seed: int) -> None:
    dice = np.random.default_rng(seed)
    chance = dice.dirichlet(np.full(len(SIDE), 0.2), size=len(THERE) - 1)[:, 1:]
    for table in by_neighbours(SIDE, THERE, chance):
        assert table.shape == (len(THERE), len(SIDE)) and np.isfinite(table).all()
    q, *_, total = by_neighbours(SIDE, THERE, chance)
    assert np.allclose(q[1:, 1:], chance) and np.allclose(total[1:, 0], chance.sum(axis=1))
    field = moved(align(SIDE, THERE).matrix) + dice.normal(0, 3, (FRAME, FRAME, 2))
    share, back, iou, away, *_ = by_place(SIDE, THERE, field.astype(np.float32))
    assert share.min() >= 0 and np.allclose(share.sum(axis=1)[THERE.share > 0.01], 1)
    assert min(iou.min(), back.min(), away.min()) >= 0


def test_a_drawing_is_most_like_itself() -> None:
    tables = by_shape(SIDE, SIDE)
    apart = tables[SIDE.shape.shape[1]]
    assert np.allclose(np.diag(apart), 0) and (apart >= 0).all()
    own, best = tables[SIDE.shape.shape[1] + 1], tables[SIDE.shape.shape[1] + 5]
    assert np.allclose(np.diag(own), 1, atol=1e-3)
    assert (best.argmax(axis=1) == np.arange(len(SIDE)))[SIDE.share > 0.004].mean() > 0.9
    still = moved(np.eye(2, 3))
    off = np.linalg.norm(placed(SIDE, still) - SIDE.centre, axis=1)[1:]
    assert off[SIDE.share[1:] > 0.01].max() < 3


def opened(ink: NDArray[np.uint8], at: tuple[int, int], size: int) -> NDArray[np.uint8]:
    """A break in the lines."""
    broken = ink.copy()
    cv2.circle(broken, at, size, 0, -1)
    return broken


def test_what_ran_together_through_a_gap_is_shared_out() -> None:
    """The line between two parts is rubbed out in places: one area, two parts."""
    ink = boy(0)
    labels, parts = ONE.areas.labels, PARTS[ONE.areas.labels]
    meets = (parts[:, 1:] != parts[:, :-1]) & (parts[:, 1:] > 0) & (parts[:, :-1] > 0)
    ys, xs = np.nonzero(meets)
    dice = np.random.default_rng(4)
    better = []
    for k in dice.choice(len(xs), tries(3, 6), replace=False):
        broken = cut(opened(ink, (int(xs[k]), int(ys[k])), 9))
        where = broken.areas.core & (labels > 0) & (parts > 0)
        plain = carry(ONE, PARTS, broken)
        found, mended = carry_and_mend(ONE, PARTS, broken, find_closures(broken.ink))
        was = (plain.part[broken.areas.labels[where]] == parts[where]).mean()
        now = (found.part[mended.areas.labels[where]] == parts[where]).mean()
        better.append((float(was), float(now)))
        assert now >= was - 0.01
    assert np.mean([now for _, now in better]) > 0.97
    assert np.mean([now - was for was, now in better]) >= 0


def test_nothing_is_shared_out_where_nothing_ran_together() -> None:
    again = carry(ONE, PARTS, ONE)
    assert leaks(again, ONE) == [] and again.agreement > 0.9
    assert (again.part[1:] == PARTS[1:])[~ONE.ground[1:]].mean() > 0.97
    far = replace(again, agreement=LEAST_AGREEMENT - 0.1)
    assert leaks(far, ONE) == []
    assert shared_out(ONE, [], find_closures(ONE.ink)).areas is ONE.areas
    doubtful = replace(again, chance=again.chance * 0.5)
    assert surer(doubtful, ONE, again, ONE) and not surer(again, ONE, doubtful, ONE)
