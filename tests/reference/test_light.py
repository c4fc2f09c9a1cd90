"""Shade shapes against analytic solids under Lambert's law (J. H. Lambert, Photometria, 1760)."""

import cv2
import numpy as np
import pytest

from tests.solids import SIZE, Solid, capsule, form_of, outlined, spheroid
from wardrobe.core.form import VOLUMES, Form
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.cast import cast_shadow
from wardrobe.core.light.ground import ground_shadow
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import SHADE_SHARE, Rig, draw_shapes
from wardrobe.core.light.subject import Subject, Surface
from wardrobe.core.masks.raster import rasterise
from wardrobe.core.masks.settle import settle
from wardrobe.core.passes.table import drawn_shapes

CLOTH = Surface(MATERIALS["matte cloth"], highlight=1.0)
CODES = {name: code for code, name in enumerate(VOLUMES)}
CENTRE, RADIUS = SIZE / 2, 420
BALL = spheroid(RADIUS, RADIUS, 0)
LIGHTS = [(130, 40), (20, 25), (250, 55), (90, 10), (310, 35)]


def drawn(form: Form, areas: np.ndarray, key: KeyLight, surface: Surface = CLOTH,
          **more: float) -> dict[str, np.ndarray]:
    """Masks of the shade and the light of one form."""
    subject = Subject.of(form, np.array([0, 1], np.uint16), [surface, surface])
    shapes = draw_shapes(subject, Rig(key, **more), drawn_shapes(["shade", "light"]))
    levels = rasterise(shapes, form, areas)
    settle(levels, shapes.keys)
    return {key: levels[..., k] for k, key in enumerate(shapes.keys)}


@pytest.mark.parametrize(("solid", "most", "furthest"), [
    (BALL, 0.6, 1.5), (capsule(200, 200, 30), 2.0, 6), (capsule(320, 160, 75), 2.0, 6.5),
    (capsule(400, 100, 0), 2.0, 6.5), (spheroid(450, 300, 20), 1.5, 3.5),
    (spheroid(480, 240, 60), 1.5, 3.5), (spheroid(500, 166, 0), 1.5, 3.5)])
def test_terminators_lie_where_they_do_on_solids(solid: Solid, most: float,
                                                 furthest: float) -> None:
    """The angle on the solid between the drawn and the true terminator, mean and 95 %."""
    form, areas = form_of(outlined(solid.inside))
    for azimuth, height in LIGHTS:
        key = KeyLight(azimuth, height)
        edge = solid.core & (cv2.Canny(drawn(form, areas, key)["shade"], 100, 200) > 0)
        assert edge.sum() > 250
        received = np.clip((solid.normals @ key.vector())[edge], -1, 1)
        start = ball_quantile(float(key.vector()[2]), SHADE_SHARE)
        error = np.degrees(np.abs(np.arcsin(received) - np.arcsin(start)))
        assert error.mean() <= most, (azimuth, height)
        assert np.percentile(error, 95) <= furthest


def shaded_circle(key: KeyLight) -> np.ndarray:
    return drawn(*form_of(outlined(BALL.inside)), key)["shade"]


@pytest.mark.parametrize("height", [15, 40, 70])
def test_amount_of_shade_does_not_depend_on_the_light(height: float) -> None:
    mask = shaded_circle(KeyLight(130, height))
    assert (mask[BALL.inside] > 127).mean() == pytest.approx(SHADE_SHARE, abs=0.015)


def test_shade_lies_opposite_the_light() -> None:
    y, x = np.nonzero((shaded_circle(KeyLight(130, 40)) > 127) & BALL.core)
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


def test_faces_of_a_box_are_planes_in_light_half_light_and_shade() -> None:
    """A cube seen along its diagonal: its faces' normals are known, so is who gets most light."""
    outline = np.array([[600, 160], [981, 380], [981, 820], [600, 1040], [219, 820], [219, 380]])
    ink = np.zeros((SIZE, SIZE), np.uint8)
    cv2.polylines(ink, [outline], True, 255, 9, cv2.LINE_AA)
    edges = (((219, 380), (600, 600), (981, 380)), ((600, 600), (600, 1040)))
    form, areas = form_of(ink, CODES["folded"], edges)
    faces = {"top": (600, 380), "left": (410, 710), "right": (790, 710)}
    # Of a cube along its diagonal every face is tilted by acos(1 / sqrt(3)).
    true = {"top": (0, -0.816, 0.577), "left": (-0.707, 0.408, 0.577),
            "right": (0.707, 0.408, 0.577)}
    for azimuth, height in [(130, 40), (50, 35), (180, 30), (100, 45)]:
        key = KeyLight(azimuth, height)
        masks = drawn(form, areas, key)
        seen = {name: int(masks["light"][y, x] > 127) - int(masks["shade"][y, x] > 127)
                for name, (x, y) in faces.items()}
        received = {name: float(np.dot(n, key.vector())) for name, n in true.items()}
        order = sorted(received, key=lambda name: received[name])
        assert seen[order[0]] == -1 and seen[order[2]] == 1
        assert seen[order[0]] <= seen[order[1]] <= seen[order[2]]
        for x, y in faces.values():  # a plane is of one tone
            around = slice(y - 60, y + 60), slice(x - 60, x + 60)
            assert np.ptp(masks["shade"][around]) == 0 and np.ptp(masks["light"][around]) == 0


def test_a_tube_is_shaded_alike_along_its_length_and_what_is_flat_not_at_all() -> None:
    ink = np.zeros((SIZE, SIZE), np.uint8)
    cv2.rectangle(ink, (450, 200), (750, 1000), 255, 9)
    key = KeyLight(150, 30)
    tube = drawn(*form_of(ink, CODES["tube"]), key)["shade"] > 127
    rows = tube[230:970, 460:740].sum(axis=1)
    assert rows.min() > 60 and np.ptp(rows) <= 8
    flat, areas = form_of(ink, CODES["flat"])
    assert not drawn(flat, areas, key)["shade"].any()
    round_, areas = form_of(ink, CODES["round"])
    assert np.ptp((drawn(round_, areas, key)["shade"] > 127)[230:970, 460:740].sum(axis=1)) > 60
    shallow = round_.with_relief(np.array([1, 0], np.float32))
    assert not drawn(shallow, areas, key)["shade"].any()


def test_a_soft_edge_is_wide_and_stays_where_it_was() -> None:
    form, areas = form_of(outlined(BALL.inside))
    key = KeyLight(130, 40)
    hard, soft = (drawn(form, areas, key, Surface(MATERIALS["matte cloth"], soft=s))["shade"]
                  for s in (0.0, 0.5))
    ramp = [((mask > 12) & (mask < 243) & BALL.core).sum() for mask in (hard, soft)]
    assert ramp[1] > 20 * ramp[0]
    assert (soft > 127)[BALL.core].mean() == pytest.approx((hard > 127)[BALL.core].mean(), abs=0.02)


@pytest.mark.parametrize(("azimuth", "height"), [(120, 30), (60, 45), (90, 20), (140, -20)])
def test_the_shadow_of_a_pole_on_the_ground(azimuth: float, height: float) -> None:
    """The tip of a pole of height h lies h / tan(elevation) away, in the direction that the light
    does not come from; on the ground, which is seen at a pitch."""
    ink = np.zeros((SIZE, SIZE), np.uint8)
    cv2.rectangle(ink, (590, 700), (610, 900), 255, 5)
    form, areas = form_of(ink)
    key, pitch = KeyLight(azimuth, height), 0.5
    shadow = ground_shadow(form, key, pitch, 0, 0, 0, 0, 1, areas.shape) > 127
    to_x, to_y, to_z = key.vector()
    tip = 600 + to_x / to_y * 200, 902 + to_z / to_y * pitch * 200
    ys, xs = np.nonzero(shadow)
    furthest = np.argmax(np.abs(ys - 902))
    assert abs(ys[furthest] - tip[1]) < 8 and abs(xs[furthest] - tip[0]) < 14
    below = ground_shadow(form, KeyLight(270, 30), pitch, 0, 0, 0, 0, 1, areas.shape)
    assert not below.any()


def test_simplifying_leaves_fewer_and_fewer_pieces() -> None:
    """Blobs of noise stand in for a terminator over many folds."""
    rng = np.random.default_rng(3)
    form, areas = form_of(outlined(BALL.inside))
    bumps = cv2.GaussianBlur(rng.standard_normal((*form.labels.shape, 2)).astype(np.float32),
                             (0, 0), 9)
    normals = form.normals.copy()
    normals[..., :2] += 9 * bumps
    normals /= np.linalg.norm(normals, axis=-1, keepdims=True)
    rough = type(form)(**{**vars(form), "normals": normals})
    counts = []
    for simple in (0.0, 0.25, 0.5, 0.75, 1.0):
        mask = (drawn(rough, areas, KeyLight(130, 40), simple=simple)["shade"] > 127) & BALL.inside
        islands = cv2.connectedComponents(mask.astype(np.uint8))[0]
        holes = cv2.connectedComponents((BALL.inside & ~mask).astype(np.uint8))[0]
        counts.append(islands + holes)
    assert counts == sorted(counts, reverse=True) and counts[0] > counts[-1] + 3
