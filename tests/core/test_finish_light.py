"""Light given off, contact shade, sparks, the focus and bands against what geometry says."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from wardrobe.core.finish.along_form import WAYS, turned_to
from wardrobe.core.finish.contact import contact_plane
from wardrobe.core.finish.focus import focus_plane
from wardrobe.core.finish.given_off import (
    MOST_SOURCES,
    light_on_form,
    light_on_ground,
    sources_of,
)
from wardrobe.core.finish.sparks import Scatter, sparks_plane
from wardrobe.core.form import Form
from wardrobe.core.form.grid import Grid
from wardrobe.core.layers.operators import Band
from wardrobe.core.layers.origin import Origin
from wardrobe.core.light.rig import KeyLight

WHOLE = Origin(0, 0, 1.0)


def ball(radius: int, scale: float = 1.0) -> Form:
    """A ball whose middle is the middle of its grid."""
    side = 2 * radius + 9
    y, x = (np.mgrid[:side, :side] + 0.5 - side / 2).astype(np.float32)
    away = np.hypot(x, y)
    inside = away < radius
    z = np.sqrt(np.maximum(0, radius**2 - away**2))
    normals = np.stack([x, y, z], axis=-1) / radius
    normals[~inside] = 0, 0, 1
    return Form(Grid(0, 0, scale, (side, side), 3.0), inside.astype(np.int32),
                np.array([0, 1], np.uint16), np.array([0, inside.sum()]), normals,
                np.where(inside, radius - away, 0).astype(np.float32),
                np.where(inside, radius - away, 0).astype(np.float32),
                np.array([-1e3, 0], np.float32), np.zeros(2, np.uint8))


def irradiance(light: np.ndarray, places: np.ndarray, normals: np.ndarray,
               reach: float) -> np.ndarray:
    """Lambert's cosine law and the inverse square of the distance, 0.5 at the reach, at most 1."""
    to = light - places
    far = np.linalg.norm(to, axis=-1)
    cosine = np.maximum(0, (to * normals).sum(axis=-1)) / far
    return np.minimum(1, 0.5 * reach**2 * cosine / far**2)


@pytest.mark.parametrize(("dx", "dy", "z"), [(-260, -90, 60), (190, 0, 150), (30, 220, 20),
                                             (0, 0, 330)])
@pytest.mark.parametrize("scale", [1.0, 0.4])
def test_a_point_light_before_a_ball(dx: float, dy: float, z: float, scale: float) -> None:
    """Analytic: a Lambertian ball under a point light, 2 % on the mean, everywhere near it."""
    form = ball(100, scale)
    middle = form.labels.shape[0] / 2
    light = np.array([dx + middle, dy + middle, z])
    reach = 220.0
    source = np.array([[*light / scale, 1.0]])
    found = light_on_form(form, source, reach / scale)
    y, x = np.mgrid[:found.shape[0], :found.shape[1]] + 0.5
    inside = form.labels > 0
    places = np.stack([x, y, 100 * form.normals[..., 2]], axis=-1)
    wanted = irradiance(light, places, form.normals, reach)
    assert found[inside].mean() == pytest.approx(wanted[inside].mean(), rel=0.02)
    assert np.abs(found - wanted)[inside].max() < 0.03
    assert found[~inside].max() == 0
    # What faces away from the light has none of it.
    away = ((light - places) * form.normals).sum(axis=-1) < 0
    assert found[inside & away].max(initial=0) == 0


@settings(max_examples=20)
@given(st.floats(20, 300), st.floats(10, 250), st.floats(50, 400), st.sampled_from([1.0, 0.5]))
def test_a_point_light_over_the_ground(x: float, z: float, reach: float, scale: float) -> None:
    """Analytic: a plane under a point light; half at the reach straight below."""
    origin = Origin(20 * scale, 10 * scale, scale)
    plane = light_on_ground(np.array([[x, 90.0, z, 1.0]]), reach, origin, (100, 160)) / 255
    v, u = (np.mgrid[:100, :160] + 0.5) / scale
    places = np.stack([u + 20, v + 10, np.zeros_like(u)], axis=-1)
    wanted = irradiance(np.array([x, 90.0, z]), places, np.array([0, 0, 1]), reach)
    assert np.abs(plane - wanted).max() <= 1.5 / 255
    assert plane.mean() == pytest.approx(wanted.mean(), rel=0.01, abs=1e-3)
    straight = light_on_ground(np.array([[10.5, 10.5, reach, 1.0]]), reach, WHOLE, (20, 20))
    assert straight[10, 10] in (127, 128)


def test_an_area_shines_as_the_sum_of_its_places() -> None:
    """A few sources stand for a disc of light: against one source a pixel, 3 % on the mean."""
    y, x = np.mgrid[:300, :300] + 0.5
    disc = np.hypot(x - 90, y - 140) < 40
    few = sources_of(disc, 60, WHOLE)
    assert 1 < len(few) <= MOST_SOURCES and few[:, 3].sum() == pytest.approx(1)
    at = np.argwhere(disc) + 0.5
    all_of_it = np.column_stack([at[:, 1], at[:, 0], np.full(len(at), 60),
                                 np.full(len(at), 1 / len(at))])
    one, other = (light_on_ground(s, 100, WHOLE, disc.shape).astype(float)
                  for s in (few, all_of_it[::5] * (1, 1, 1, 5)))
    assert one.mean() == pytest.approx(other.mean(), rel=0.03)
    assert np.abs(one - other).mean() < 3
    assert len(sources_of(np.zeros((5, 5), bool), 1, WHOLE)) == 0
    half = sources_of(disc[::2, ::2], 60, Origin(0, 0, 0.5))
    assert half[:, :2].mean(axis=0) == pytest.approx(few[:, :2].mean(axis=0), abs=2)


@settings(max_examples=30)
@given(st.integers(0, 10**6), st.floats(2, 30), st.floats(0, 8))
def test_contact_shade_falls_on_what_is_behind(seed: int, width: float, begin: float) -> None:
    """Against SciPy's distances, row by row; nothing on what is in front, nor on the ground."""
    dice = np.random.default_rng(seed)
    coarse = dice.integers(0, 5, (6, 7)).astype(np.uint16)
    parts = np.kron(coarse, np.ones((17, 13), np.uint16))
    front = np.concatenate([[-np.inf], dice.integers(0, 3, 4).astype(float)])
    plane = contact_plane(parts, front, width, begin)
    wanted = np.zeros(parts.shape)
    for row in range(1, 5):
        over = (front > front[row])[parts] & (parts > 0)
        if over.any():
            away = ndimage.distance_transform_edt(~over)
            mine = parts == row
            wanted[mine] = (255 * np.clip(1 - (away - begin) / width, 0, 1) ** 2)[mine]
    assert np.abs(plane - wanted).max() <= 1
    assert not plane[parts == 0].any()


@settings(max_examples=30)
@given(st.integers(0, 10**6), st.integers(0, 60), st.integers(0, 60), st.integers(1, 300))
def test_sparks_of_a_tile_are_those_of_the_whole(seed: int, x: int, y: int, number: int) -> None:
    scatter = Scatter((80, 70), 60, number, 6, 0.8, seed)
    whole = sparks_plane(scatter, WHOLE, (150, 160))
    assert np.array_equal(sparks_plane(scatter, Origin(x, y, 1.0), (90, 100)),
                          whole[y:y + 90, x:x + 100])
    assert np.array_equal(whole, sparks_plane(scatter, WHOLE, (150, 160)))


def test_sparks_lie_as_they_are_scattered() -> None:
    """About 95 % within the radius in each direction (two standard deviations of a normal
    distribution), each no larger than it is told, and none where there are none."""
    scatter = Scatter((500, 500), 300, 400, 3, 1.0, 7)
    plane = sparks_plane(scatter, WHOLE, (1000, 1000))
    found, count = ndimage.label(plane > 0)
    assert 300 < count <= 400
    middles = np.array(ndimage.center_of_mass(plane, found, range(1, count + 1)))
    assert (np.abs(middles - 500) < 300).mean() == pytest.approx(0.955, abs=0.03)
    sizes = np.array([max(np.ptp(s[0].indices(1000)[:2]), np.ptp(s[1].indices(1000)[:2]))
                      for s in ndimage.find_objects(found)])
    assert np.quantile(sizes, 0.9) <= 8
    alike = sparks_plane(scatter._replace(spread=0.0, number=30), WHOLE, (1000, 1000))
    assert alike.max() == 255


def test_the_focus_is_half_at_its_radius() -> None:
    """1 in the middle, a half at the radius, 0 at twice it; of two places the nearer counts."""
    plane = focus_plane([(100.5, 60.5, 40), (300.5, 60.5, 20)], WHOLE, (120, 400))
    assert plane[60, 100] == 255 == plane[60, 300]
    assert {plane[60, 140], plane[60, 320], plane[100, 100]} <= {127, 128}
    assert plane[60, 180] == 0 == plane[60, 340]
    half = focus_plane([(100.5, 60.5, 40)], Origin(50, 30, 0.5), (10, 30))
    assert half[0, 20] == pytest.approx(128, abs=6)
    assert not focus_plane([], WHOLE, (20, 30)).any()


@settings(max_examples=20)
@given(st.floats(1, 25), st.integers(0, 10**6))
def test_a_band_runs_along_both_sides_of_an_edge(by: float, seed: int) -> None:
    """Against SciPy's distances: full at the edge, nothing from its width on, alike on both
    sides; where there is no edge there is nothing."""
    dice = np.random.default_rng(seed)
    blobs = ndimage.gaussian_filter(dice.standard_normal((90, 110)), 8) > 0.02
    plane = Band(by).apply(blobs.astype(np.uint8) * 255, (0, 0)).astype(int)
    away = np.where(blobs, ndimage.distance_transform_edt(blobs),
                    ndimage.distance_transform_edt(~blobs)) - 0.5
    t = np.clip(1 - away / by, 0, 1)
    assert np.abs(plane - 255 * t * t * (3 - 2 * t)).max() <= 1
    assert np.array_equal(plane, Band(by).apply(np.where(blobs, 0, 255).astype(np.uint8), (0, 0)))
    for level in (0, 255):
        assert not Band(by).apply(np.full((30, 30), level, np.uint8), (0, 0)).any()


def test_colours_run_along_a_ball_as_its_normals_turn() -> None:
    """Analytic: towards the light it is 1 where the normal is the light's vector and a half where
    it stands at a right angle; towards the viewer sqrt(1 - r²)."""
    form, key = ball(120), KeyLight(120, 35)
    middle = form.labels.shape[0] // 2
    light = turned_to(form.normals, WAYS["light"], key)
    vector = key.vector()
    y, x = (round(middle + 120 * float(v)) for v in (vector[1], vector[0]))
    assert light[y, x] == pytest.approx(1, abs=0.01)
    received = form.normals @ vector
    assert light[np.abs(received) < 0.01] == pytest.approx(0.5, abs=0.01)
    viewer = turned_to(form.normals, WAYS["viewer"], key)
    assert viewer[middle, middle + 60] == pytest.approx(np.sqrt(1 - 0.25), abs=0.01)
    sky = turned_to(form.normals, WAYS["sky"], key)
    assert sky[middle - 60, middle] == pytest.approx(0.75, abs=0.01)
