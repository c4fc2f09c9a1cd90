"""Patterns against what they are by definition."""

import cv2
import numpy as np
import pytest
from scipy import ndimage

from wardrobe.core.areas.segment import segment
from wardrobe.core.form import Traits, solve_form
from wardrobe.core.pattern.motifs import MOTIFS
from wardrobe.core.pattern.picture import place_picture
from wardrobe.core.pattern.place import Placement, pattern_coordinates, unrolled
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.stages.prints import Ground, draw_pattern

YS, XS = (a.astype(np.float32) + np.float32(0.5) for a in np.mgrid[:600, :600])


@pytest.mark.parametrize(("motif", "share", "covered"), [
    ("stripes", 0.3, 0.3), ("dots", 0.25, 0.25), ("checks", 0.5, 0.5), ("plaid", 0.4, 0.4),
    ("rings", 0.35, 0.35),
])
def test_a_motif_covers_its_share_at_any_angle(motif: str, share: float, covered: float) -> None:
    for angle in (0.0, 17.0, 90.0):
        u, v = pattern_coordinates(Placement(300, 300, 40, angle), XS, YS)
        assert MOTIFS[motif](u, v, share, 40).mean() == pytest.approx(covered, abs=0.012)


@pytest.mark.parametrize(("degree", "angle"), [(90, 0), (30, 0), (30, 25), (12, -70)])
def test_rings_are_ellipses_of_their_degree(degree: float, angle: float) -> None:
    """Analytic: the short axis of a circle seen at a degree is its sine; second moments of the
    middle ring give both axes and the way that the long one points."""
    pattern = Pattern(motif="rings", period=120, share=0.3, angle=angle, degree=degree,
                      follow=False)
    image = draw_pattern(pattern, Ground((300, 300), None, np.zeros(1, bool)), None, (0, 0), 1.0,
                         (600, 600))[..., 3] / 255
    found, _ = ndimage.label(image > 0.5)
    ring = found == found[np.unravel_index(np.argmin(
        np.where(image > 0.5, np.hypot(XS - 300, YS - 300), 1e9)), image.shape)]
    x, y = XS[ring] - 300, -(YS[ring] - 300)
    values, ways = np.linalg.eigh(np.cov(np.stack([x, y])))
    assert np.sqrt(values[0] / values[1]) == pytest.approx(np.sin(np.deg2rad(degree)), rel=0.05)
    if degree < 90:
        points = np.degrees(np.arctan2(ways[1, 1], ways[0, 1]))
        assert (points - angle + 90) % 180 - 90 == pytest.approx(0, abs=1.5)
    # Its middle runs half a repeat from the centre.
    assert np.sqrt(2 * values[1]) == pytest.approx(60, rel=0.06)


def test_stripes_turn_counter_clockwise_and_repeat_after_a_period() -> None:
    """Angles run counter-clockwise from the right, y runs down."""
    u, v = pattern_coordinates(Placement(300, 300, 50, 30), XS, YS)
    cover = MOTIFS["stripes"](u, v, 0.5, 50)
    spectrum = np.abs(np.fft.fft2(cover - cover.mean()))
    fy, fx = np.unravel_index(spectrum[:, :300].argmax(), (600, 300))
    fy = fy - 600 if fy > 300 else fy
    assert 600 / np.hypot(fx, fy) == pytest.approx(50, rel=0.03)
    # The way along which the stripes repeat points 30 degrees up from the right.
    assert np.degrees(np.arctan2(-fy, fx)) == pytest.approx(30, abs=3)


def test_a_pattern_that_follows_a_cylinder_is_crowded_as_its_projection_is() -> None:
    """On an upright cylinder of radius R a point at x lies at R asin(x / R) along the surface."""
    ink = np.zeros((700, 400), np.uint8)
    cv2.rectangle(ink, (100, 40), (300, 660), 255, 7)
    areas = segment(ink)
    figure = ~areas.ground
    form = solve_form(areas.labels, ink, areas.line_width, Traits.usual(figure))
    member = np.ones(int(form.labels.max()) + 1, bool)
    member[0] = False
    xs = np.linspace(130, 270, 29, dtype=np.float32)[None]
    along, _ = unrolled(form, member, xs, np.full_like(xs, 350))
    radius = 100.0
    expected = 200 + radius * np.arcsin((xs - 200) / radius)
    assert np.abs(along - expected).max() < 0.09 * radius
    assert (np.diff(along[0]) > 0).all()


def test_a_placed_picture_keeps_its_colours_and_its_clear_parts() -> None:
    rgba = np.zeros((40, 80, 4), np.uint8)
    rgba[..., :3] = (200, 40, 60)
    rgba[10:30, 20:60, 3] = 255
    u, v = pattern_coordinates(Placement(300, 300, 160, 0), XS, YS)
    once = place_picture(rgba, u, v, 160, repeat=False)
    opaque = once[..., 3] > 127
    assert opaque.sum() == pytest.approx(40 * 80, rel=0.05)  # twice its size, once
    assert np.abs(once[once[..., 3] > 8][:, :3].astype(int) - (200, 40, 60)).max() <= 3
    tiled = place_picture(rgba, u, v, 160, repeat=True)
    assert (tiled[:560, :480, 3] > 127).mean() == pytest.approx(0.25, abs=0.02)
