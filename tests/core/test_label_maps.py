"""Work on label maps, label by label, against SciPy and scikit-image doing it one at a time."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy import ndimage
from skimage import measure

from wardrobe.core.areas import basins
from wardrobe.core.areas.borders import count_labels, spread, touching
from wardrobe.core.geometry.distance import distance_to
from wardrobe.core.geometry.morphology import blur, drop_small, open_shape

SEEDS = range(8)


def patches(seed: int, height: int = 70, width: int = 90, count: int = 5) -> NDArray[np.int32]:
    """A label map of blobs that meet; 0 between some of them."""
    dice = np.random.default_rng(seed)
    field = ndimage.gaussian_filter(dice.normal(size=(count + 1, height, width)), (0, 7, 7))
    return field.argmax(axis=0).astype(np.int32)


def shape_of(seed: int, labels: NDArray[np.int32]) -> NDArray[np.uint8]:
    """A ragged shape over all labels, with slivers, islands and holes."""
    dice = np.random.default_rng(seed + 1000)
    field = ndimage.gaussian_filter(dice.normal(size=labels.shape), 2.2)
    shape = (field > 0).astype(np.uint8)
    shape[dice.random(labels.shape) < 0.01] ^= 1
    shape[labels == 0] = 0
    return shape


def disk(radius: float) -> NDArray[np.bool_]:
    reach = int(radius)
    y, x = np.mgrid[-reach:reach + 1, -reach:reach + 1]
    return x**2 + y**2 <= radius**2


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize(("radius", "outside"), [(1.0, True), (2.5, True), (4.0, True),
                                                 (2.5, False)])
def test_opening_is_that_of_each_form_alone(seed: int, radius: float, outside: bool) -> None:
    labels = patches(seed)
    shape = shape_of(seed, labels)
    found = open_shape(shape, labels, radius, outside)
    assert not (found & ~shape).any()
    for label in range(1, labels.max() + 1):
        form = labels == label
        mine = (shape > 0) & form
        # Beside the form there is either nothing, or the shape as it is at its border.
        whole = mine if outside else mine | ~form
        eroded = ndimage.binary_erosion(whole, disk(radius), border_value=1) & mine
        opened = ndimage.binary_dilation(eroded, disk(radius)) & mine
        got = (found > 0) & form
        if outside:
            # The stamps go from pixels beside the shape: those that touch it.
            assert (got != opened).sum() <= 0.02 * mine.sum() + 3
        else:
            assert (got & ~mine).sum() == 0 and got.sum() >= opened.sum() * 0.95


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("value", [0, 1])
def test_small_pieces_are_turned_over_and_no_others(seed: int, value: int) -> None:
    labels = patches(seed)
    shape = shape_of(seed, labels)
    least = np.full(labels.max() + 1, 14, np.float32)
    least[1] = 0  # a form that keeps everything
    found = shape.copy()
    drop_small(found, labels, value, least)
    wanted = shape.copy()
    for label in range(1, labels.max() + 1):
        pieces = measure.label((labels == label) & (shape == value), connectivity=1)
        for piece in measure.regionprops(pieces):
            if piece.area < least[label]:
                wanted[pieces == piece.label] = 1 - value
    assert (found == wanted).all()


@pytest.mark.parametrize("seed", SEEDS)
def test_blur_is_the_gaussian_s_inside_each_form_and_leaks_over_no_border(seed: int) -> None:
    labels = patches(seed)
    shape = shape_of(seed, labels)
    radius = 5
    weights = np.exp(-0.5 * (np.arange(-radius, radius + 1) / 2.0) ** 2).astype(np.float32)
    found = blur(shape, labels, weights)
    for label in range(1, labels.max() + 1):
        form = (labels == label).astype(float)
        # Rows first, normalised by what lies in the form, as two one-dimensional sums.
        sums, norms = shape * form, form.copy()
        for axis in (1, 0):
            sums = ndimage.correlate1d(sums, weights.astype(float), axis, mode="constant") * form
            norms = ndimage.correlate1d(norms, weights.astype(float), axis, mode="constant") * form
        inside = form > 0
        wanted = sums[inside] / norms[inside]
        assert np.abs(found[inside] - wanted).max() < 1e-5
    lone = np.where(labels == 2, shape, 0).astype(np.uint8)
    assert blur(lone, labels, weights)[labels != 2].max() == 0


@pytest.mark.parametrize("seed", SEEDS)
def test_labels_spread_to_what_is_nearest(seed: int) -> None:
    """Danielsson's two sweeps hand on offsets: right but for a pixel here and there."""
    dice = np.random.default_rng(seed)
    sown = np.where(dice.random((60, 80)) < 0.02, dice.integers(1, 9, (60, 80)), 0).astype(np.int32)
    found = spread(sown)
    exact = ndimage.distance_transform_edt(sown == 0)
    mine = np.full(sown.shape, np.inf)
    for label in range(1, 9):
        if (sown == label).any():
            away = ndimage.distance_transform_edt(sown != label)
            mine = np.where(found == label, away, mine)
    assert (mine - exact <= 1.0).all() and (mine - exact < 1e-6).mean() > 0.995
    assert (found[sown > 0] == sown[sown > 0]).all()
    assert not spread(np.zeros((5, 6), np.int32)).any()


@settings(max_examples=40)
@given(st.integers(0, 10**6), st.integers(3, 40), st.integers(3, 40))
def test_distances_are_scipy_s(seed: int, height: int, width: int) -> None:
    where = np.random.default_rng(seed).random((height, width)) < 0.05
    if where.any():
        assert np.abs(distance_to(where) - ndimage.distance_transform_edt(~where)).max() < 1e-4
    else:
        assert (distance_to(where) == 1e9).all()


@pytest.mark.parametrize("seed", SEEDS)
def test_borders_and_sizes_are_counted_as_numpy_counts(seed: int) -> None:
    labels = patches(seed)
    count = int(labels.max())
    assert count_labels(labels.astype(np.uint16), count).tolist() == np.bincount(
        labels.ravel(), minlength=count + 1).tolist()
    where = np.random.default_rng(seed).random(labels.shape) < 0.4
    for chosen in (None, where):
        pairs, lengths = touching(labels, count, chosen)
        told = {(int(a), int(b)): int(n) for (a, b), n in zip(pairs, lengths, strict=True)}
        wanted: dict[tuple[int, int], int] = {}
        height, width = labels.shape
        for y in range(height):
            for x in range(width):
                for v, u in ((y, x + 1), (y + 1, x)):
                    if v >= height or u >= width or labels[y, x] == labels[v, u]:
                        continue
                    if chosen is not None and not (chosen[y, x] or chosen[v, u]):
                        continue
                    key = tuple(sorted((int(labels[y, x]), int(labels[v, u]))))
                    wanted[key] = wanted.get(key, 0) + 1
        assert told == wanted


# ---- Basins ----

def distances(seed: int) -> NDArray[np.float32]:
    """Distance to scattered ink, as it is climbed."""
    dice = np.random.default_rng(seed)
    ink = ndimage.gaussian_filter(dice.normal(size=(60, 80)), 3) > 0.11
    return ndimage.distance_transform_edt(~ink).astype(np.float32)


@pytest.mark.parametrize("seed", SEEDS)
def test_every_free_pixel_climbs_to_a_peak_and_none_to_ink(seed: int) -> None:
    away = distances(seed)
    label, peaks = basins.climb(away)
    label = label.reshape(away.shape)
    assert ((label >= 0) == (away > 0)).all()
    assert sorted(np.unique(label[label >= 0]).tolist()) == list(range(len(peaks)))
    highest = ndimage.maximum(away, label, np.arange(len(peaks)))
    assert np.allclose(highest, peaks)
    # A basin hangs together by its eight neighbours, and its peak is a local maximum.
    neighbours = ndimage.maximum_filter(away, size=3)
    for number in range(len(peaks)):
        assert measure.label(label == number, connectivity=2).max() == 1
        top = (label == number) & (away == peaks[number])
        assert (away[top] >= neighbours[top] - 1e-6).any()


@pytest.mark.parametrize("seed", SEEDS)
def test_basins_that_merge_over_any_saddle_are_the_connected_free_pixels(seed: int) -> None:
    """With nothing held apart, areas are the components that scikit-image finds."""
    away = distances(seed)
    flat, peaks = basins.climb(away)
    first, second, level = basins.contacts(away, flat)
    order = np.argsort(-level, kind="stable")
    none = np.zeros((0, 2), np.int32)
    area = basins.merge(peaks, first, second, level, order, 0.0, 0.0, none)
    joined = np.where(flat >= 0, area[flat], 0).reshape(away.shape)
    # Contacts run in rows and columns; within a basin corners count, too.
    exact = measure.label(away > 0, connectivity=1)
    for number in np.unique(exact[exact > 0]):
        assert len(np.unique(joined[exact == number])) == 1
    assert len(np.unique(joined[joined > 0])) <= exact.max()
    # With everything held apart, each basin is an area, but for those that are told to be one.
    apart = basins.merge(peaks, first, second, level, order, 1.1, np.inf, none)
    assert sorted(apart.tolist()) == list(range(1, len(peaks) + 1))
    if len(peaks) > 2:
        told = basins.merge(peaks, first, second, level, order, 1.1, np.inf,
                            np.array([[0, 2]], np.int32))
        assert told[0] == told[2] and len(set(told.tolist())) == len(peaks) - 1


@pytest.mark.parametrize("seed", SEEDS)
def test_fewer_basins_stay_apart_the_more_a_saddle_must_narrow(seed: int) -> None:
    away = distances(seed)
    flat, peaks = basins.climb(away)
    first, second, level = basins.contacts(away, flat)
    order = np.argsort(-level, kind="stable")
    none = np.zeros((0, 2), np.int32)
    counts = [int(basins.merge(peaks, first, second, level, order, ratio, 1e9, none).max())
              for ratio in (0.1, 0.3, 0.5, 0.8, 1.0)]
    assert counts == sorted(counts)
