"""What the checks measure, against published definitions and reference libraries."""

import colour
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from scipy import ndimage
from skimage.color import rgb2lab

from wardrobe.core.checks.attention import attention, contrast_bands, rivals
from wardrobe.core.checks.borders import steps_across
from wardrobe.core.checks.islands import enclosed, islands
from wardrobe.core.checks.outline import lost_stretches
from wardrobe.core.checks.seen import lab_of
from wardrobe.core.checks.spread import value_range, varied
from wardrobe.core.checks.wheel import hue_wheel
from wardrobe.core.colour import from_hex

COLOURS = np.random.default_rng(3).integers(0, 256, (5, 3)).astype(np.uint8)


@settings(deadline=None)
@given(arrays(np.uint16, (9, 11), elements=st.integers(0, 4)))
def test_borders_are_compared_place_by_place(labels: np.ndarray) -> None:
    """All contacts in rows and columns, by CIEDE2000 of colour-science and CIELAB of
    scikit-image."""
    found = steps_across(COLOURS[labels], labels, reach=1)
    lab = rgb2lab(COLOURS[None])[0]
    wanted = []
    for dy, dx in ((0, 1), (1, 0)):
        for y in range(labels.shape[0] - dy):
            for x in range(labels.shape[1] - dx):
                a, b = sorted((int(labels[y, x]), int(labels[y + dy, x + dx])))
                if a != b:
                    wanted.append((a, b, float(colour.delta_E(lab[a], lab[b], method="CIE 2000"))))
    told = sorted(zip(found.one.tolist(), found.other.tolist(), found.step.tolist(), strict=True))
    assert [t[:2] for t in told] == [w[:2] for w in sorted(wanted)]
    assert np.allclose([t[2] for t in told], [w[2] for w in sorted(wanted)], atol=0.05)
    assert np.allclose(found.lightness, lab[found.other, 0] - lab[found.one, 0], atol=0.05)


def test_a_colour_behind_the_border_counts_not_that_on_it() -> None:
    """A row of pixels that is mixed at the border does not hide what lies behind it."""
    labels = np.repeat([[0] * 6 + [1] * 6], 8, axis=0).astype(np.uint16)
    picture = np.where(labels[..., None] == 0, 200, 40).astype(np.uint8).repeat(3, axis=2)
    picture[:, 5:7] = 120
    assert steps_across(picture, labels, reach=1).step.min() > 40
    assert steps_across(picture, labels, reach=0).step.max() == 0


@pytest.mark.parametrize("turn", range(0, 360, 45))
def test_the_stretch_that_is_lost_is_the_half_on_its_like(turn: int) -> None:
    """A disc whose ground is of its own colour on one side: half of a circle, analytically."""
    y, x = np.mgrid[:300, :300] - 149.5
    figure = np.hypot(x, y) < 90
    side = x * np.cos(np.radians(turn)) + y * np.sin(np.radians(turn)) > 0
    grey = np.where(figure | side, 150, 40).astype(np.uint8)
    lab = lab_of(np.repeat(grey[..., None], 3, axis=2))
    (stretch,), places = lost_stretches(lab, figure, 7.0)
    assert stretch.share == pytest.approx(0.5, abs=0.03)
    assert stretch.step == 0 and abs(stretch.inside - stretch.outside) < 1e-6
    middle = stretch.points.mean(axis=0) - 150
    off = np.degrees(np.arctan2(middle[1], middle[0])) - turn
    assert abs((off + 180) % 360 - 180) < 4
    # Of a half circle of radius r the mean lies 2 r / pi from its middle.
    assert np.hypot(*middle) == pytest.approx(2 * 90 / np.pi, abs=3)
    assert len(places) == pytest.approx(2 * np.pi * 90 * 2 * np.sqrt(2) / np.pi, rel=0.05)


def test_a_figure_that_is_cut_off_has_no_outline_there() -> None:
    figure = np.zeros((120, 200), bool)
    figure[40:, 60:140] = True
    lab = np.zeros((120, 200, 3), np.float32)  # all alike
    _, places = lost_stretches(lab, figure, 7.0)
    assert places[:, 1].max() < 118
    assert lost_stretches(np.zeros((50, 50, 3), np.float32), np.zeros((50, 50), bool), 7)[0] == []


@given(st.integers(2, 6), st.floats(0.05, 0.9), st.booleans())
@settings(deadline=None, max_examples=30)
def test_a_grating_has_its_own_contrast_in_its_band_and_none_elsewhere(
        octave: int, contrast: float, upright: bool) -> None:
    """Peli 1990, section 2: for a grating at a band's middle, band over low-pass is its (Michelson)
    contrast; a band an octave away does not see it."""
    size = 256
    wave = 0.5 * (1 + contrast * np.sin(2 * np.pi * 2**octave * np.arange(size) / size))
    grating = np.repeat(wave[None], size, axis=0).astype(np.float32)
    bands = contrast_bands(grating if upright else np.ascontiguousarray(grating.T),
                           (octave - 1, octave, octave + 1))
    seen = [float(np.abs(band).max()) for band in bands]
    assert seen[1] == pytest.approx(contrast, abs=0.01)
    assert max(seen[0], seen[2]) < 1e-3


def test_bands_and_their_low_pass_add_up_to_the_picture() -> None:
    """Peli 1990, eq. 5: cosine-log filters of an octave sum to one, so that nothing is lost."""
    rng = np.random.default_rng(0)
    picture = np.float32(0.5) + ndimage.gaussian_filter(
        rng.standard_normal((128, 128)), 3).astype(np.float32)
    spectrum = np.fft.rfft2(picture)
    cycles = np.hypot(np.fft.fftfreq(128)[:, None], np.fft.rfftfreq(128)) * 128
    total = np.zeros_like(cycles)
    for k in range(-1, 9):
        octave = np.log2(np.maximum(cycles, 2.0**-20))
        total += np.where(np.abs(octave - k) < 1, 0.5 * (1 + np.cos(np.pi * (octave - k))), 0)
    inside = (cycles >= 1) & (cycles <= 64)
    assert np.allclose(total[inside], 1)
    back = np.fft.irfft2(spectrum * np.where(cycles < 1, 1, total), picture.shape)
    assert np.allclose(back, picture, atol=1e-5)


def test_what_stands_out_more_draws_more() -> None:
    def strength(grey: int, hue: tuple[int, int, int] | None = None) -> float:
        picture = np.full((256, 256, 3), 128, np.uint8)
        picture[118:138, 118:138] = hue or grey
        linear = ((picture / 255) ** 2.2).mean(axis=2).astype(np.float32)
        drawn = attention(lab_of(picture), linear)
        assert np.hypot(*(np.array(np.unravel_index(drawn.argmax(), drawn.shape)) - 128)) < 24
        return float(drawn.max())

    steps = [strength(grey) for grey in (140, 170, 210, 255)]
    assert steps == sorted(steps) and steps[0] < steps[-1] / 3
    assert strength(0) > strength(60)
    assert strength(128, (150, 110, 128)) < strength(128, (230, 20, 128))


def test_rivals_lie_away_from_the_focus_and_apart_from_each_other() -> None:
    drawn = np.zeros((200, 300), np.float32)
    for x, y, height in ((60, 100, 1.0), (70, 108, 0.9), (240, 60, 1.4), (246, 64, 1.2),
                         (200, 160, 0.6)):
        drawn[y, x] = height
    focus = np.zeros_like(drawn)
    focus[70:140, 20:110] = 1
    (only,) = rivals(drawn, focus, 1.0, 20)
    assert (only.x, only.y) == (240.5, 60.5) and only.strength == pytest.approx(1.4)
    assert [round(d.strength, 2) for d in rivals(drawn, focus, 0.5, 20)] == [1.4, 0.6]
    assert rivals(drawn, np.zeros_like(drawn), 1.0, 20) == []


@given(arrays(np.bool_, (14, 17)))
def test_islands_and_what_is_enclosed(mask: np.ndarray) -> None:
    """As SciPy counts pieces and fills holes."""
    for connectivity, shape in ((8, np.ones((3, 3))), (4, None)):
        pieces, numbers = islands(mask, connectivity)
        labels, count = ndimage.label(mask, shape)
        assert len(pieces) == count
        assert sorted(p.pixels for p in pieces) == sorted(np.bincount(labels.ravel())[1:])
        for piece in pieces:
            x, y, width, height = piece.box
            cut = numbers[y:y + height, x:x + width] == piece.number
            assert cut.sum() == piece.pixels
            assert cut.any(axis=1).all() and cut.any(axis=0).all()
    ring = np.pad(~mask, 1)  # the edge of the picture is figure
    assert np.array_equal(enclosed(~ring)[1:-1, 1:-1],
                          ndimage.binary_fill_holes(ring)[1:-1, 1:-1] & mask)


def test_spread_of_colours_and_values() -> None:
    flat = np.tile(np.float32([50, 10, 10]), (1000, 1))
    assert varied(flat) == 0
    flat[:150] += np.float32([0, 3, 0])
    assert varied(flat) == pytest.approx(0.15)
    assert varied(flat[:0]) == 0
    low, high = value_range(np.linspace(20, 80, 6001, dtype=np.float32))
    assert (low, high) == (pytest.approx(20.6, abs=0.05), pytest.approx(79.4, abs=0.05))
    picture = np.random.default_rng(1).integers(0, 256, (20, 30, 3)).astype(np.uint8)
    assert np.allclose(lab_of(picture), rgb2lab(picture), atol=0.05)


@settings(deadline=None)
@given(arrays(np.uint8, (6, 7, 3)))
def test_each_pixel_lies_in_its_field_of_the_wheel(picture: np.ndarray) -> None:
    """Hue and chroma of CIELAB by scikit-image and colour-science; fields of 10 degrees and 10
    units, greys of a chroma below 5 in one."""
    lch = colour.models.Lab_to_LCHab(rgb2lab(picture))
    chroma, hue = lch[..., 1], lch[..., 2]
    near = np.minimum.reduce([np.abs(chroma - 5), chroma % 10, 10 - chroma % 10,
                              hue % 10, 10 - hue % 10]) < 0.05
    picture = np.where(near[..., None], np.uint8(90), picture)  # on the edge of two fields
    wanted: dict[tuple[float, float], int] = {}
    for _, chroma, hue in colour.models.Lab_to_LCHab(rgb2lab(picture)).reshape(-1, 3):
        key = (0.0, 0.0) if chroma < 5 else (hue // 10 * 10 + 5, min(chroma // 10, 12) * 10 + 5)
        wanted[key] = wanted.get(key, 0) + 1
    found = hue_wheel(picture, lab_of(picture))
    told = {(f.hue, f.chroma): round(f.share * 42) for f in found.fields}
    assert told == wanted
    assert [f.share for f in found.fields] == sorted((f.share for f in found.fields), reverse=True)
    assert found.warm + found.cool + found.grey == pytest.approx(1)
    assert found.grey * 42 == pytest.approx(wanted.get((0.0, 0.0), 0))
    total = sum(np.array(from_hex(f.colour)) * f.share for f in found.fields)
    assert np.abs(total - picture.reshape(-1, 3).mean(axis=0)).max() < 0.6
