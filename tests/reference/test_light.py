"""Shade shapes against analytic solids under Lambert's law (J. H. Lambert, Photometria, 1760)."""

import cv2
import numpy as np
import pytest

from wardrobe.core.areas.segment import segment
from wardrobe.core.form import Traits, solve_form
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.cast import cast_shadow
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.raster import rasterise
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import SHADE_SHARE, Rig, draw_shapes
from wardrobe.core.light.subject import Subject, Surface

CLOTH = Surface(MATERIALS["matte cloth"])
CENTRE, RADIUS = 600.5, 420


def shaded_circle(key: KeyLight) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Shade mask of a drawn circle, and the analytic normals' N.L, with the disk's inside."""
    ink = np.zeros((1200, 1200), np.uint8)
    cv2.circle(ink, (600, 600), RADIUS, 255, 9, cv2.LINE_AA)
    areas = segment(ink)
    figure = ~areas.ground
    figure[0] = False
    form = solve_form(areas.labels, ink, areas.line_width, Traits.usual(figure))
    subject = Subject.of(form, np.array([0, 1], np.uint16), [CLOTH, CLOTH])
    shapes = draw_shapes(subject, Rig(key))
    mask = rasterise(shapes, form, areas.labels)[..., 0]
    y, x = np.mgrid[:1200, :1200] + 0.5
    nx, ny = (x - CENTRE) / RADIUS, (y - CENTRE) / RADIUS
    inside = nx**2 + ny**2 < 0.97**2
    nz = np.sqrt(np.maximum(0, 1 - nx**2 - ny**2))
    return mask, np.stack([nx, ny, nz], axis=-1) @ key.vector(), inside


@pytest.mark.parametrize(("azimuth", "height"), [(130, 40), (20, 25), (250, 55), (90, 10)])
def test_terminator_on_a_circle(azimuth: float, height: float) -> None:
    """The mean angle on the ball between the drawn and the true terminator is at most 1 degree."""
    key = KeyLight(azimuth, height)
    mask, received, inside = shaded_circle(key)
    terminator = ball_quantile(round(float(key.vector()[2]), 4), SHADE_SHARE)
    edge = inside & (cv2.Canny(mask, 100, 200) > 0)
    assert edge.sum() > 300
    error = np.degrees(np.abs(np.arcsin(np.clip(received[edge], -1, 1)) - np.arcsin(terminator)))
    assert error.mean() <= 1.0
    assert np.percentile(error, 95) <= 2.5


@pytest.mark.parametrize("height", [15, 40, 70])
def test_amount_of_shade_does_not_depend_on_the_light(height: float) -> None:
    mask, _, _ = shaded_circle(KeyLight(130, height))
    y, x = np.mgrid[:1200, :1200] + 0.5
    inside = np.hypot(x - CENTRE, y - CENTRE) < RADIUS
    assert (mask[inside] > 127).mean() == pytest.approx(SHADE_SHARE, abs=0.015)


def test_shade_lies_opposite_the_light() -> None:
    mask, _, inside = shaded_circle(KeyLight(130, 40))
    y, x = np.nonzero((mask > 127) & inside)
    towards = np.degrees(np.arctan2(-(y.mean() - CENTRE), x.mean() - CENTRE)) % 360
    assert towards == pytest.approx(310, abs=2)


@pytest.mark.parametrize("azimuth", [0, 90, 135, 200, 310])
@pytest.mark.parametrize("height", [20, 45, 63])
def test_a_cast_shadow_is_as_long_as_trigonometry_says(azimuth: float, height: float) -> None:
    """A disk that stands off by h throws a shadow of its own shape, h / tan(height) away."""
    y, x = np.mgrid[:240, :240]
    labels = np.ones((240, 240), np.int32)
    labels[np.hypot(x - 120, y - 120) < 14] = 2
    lift = np.zeros((3, 3), np.float32)
    lift[2, 1] = 20
    key = KeyLight(azimuth, height)
    cast, near = cast_shadow(labels, np.array([-9, 0, 1], np.float32), lift, key)
    length = 20 / np.tan(np.radians(height))
    away = -key.vector()[:2] / np.cos(np.radians(height))
    along = (x - 120) * away[0] + (y - 120) * away[1]
    across = np.abs((x - 120) * away[1] - (y - 120) * away[0])
    assert along[cast > 0].max() == pytest.approx(14 + length, abs=2.2)
    assert across[cast > 0].max() == pytest.approx(14, abs=1.5)
    # All of the swept disk that it does not hide itself, and nothing else.
    middle = np.clip(along, 0, length)
    swept = (np.hypot(along - middle, across) < 14) & (labels == 1)
    assert ((cast > 0) != swept).sum() < 0.12 * swept.sum() + 12
    assert along[near > 0].max() == pytest.approx(14 + 0.55 * length, abs=2.2)
    assert not cast[labels == 2].any()


def test_what_lies_behind_or_does_not_stand_off_throws_no_shadow() -> None:
    labels = np.ones((60, 60), np.int32)
    labels[20:40, 20:40] = 2
    lift = np.full((3, 3), 9, np.float32)
    behind = cast_shadow(labels, np.array([-9, 1, 0], np.float32), lift, KeyLight(130, 40))[0]
    assert not behind[labels == 1].any() and behind[labels == 2].any()
    assert not cast_shadow(labels, np.array([-9, 0, 1], np.float32), 0 * lift,
                           KeyLight(130, 40))[0].any()
    assert not cast_shadow(labels, np.array([-9, 0, 1], np.float32), lift,
                           KeyLight(130, -10))[0].any()
