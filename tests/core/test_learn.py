"""Lessons against analytic truth: solids, shadows, scores, and simulated learners.

Sources: Lambert's law (J. H. Lambert, Photometria, 1760) on a ball, an ellipsoid and a cylinder
worked out by hand; Cohen's kappa by its definition (1960); the staircase of H. Levitt (1971).
"""

import itertools

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.tries import tries
from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.srgb import from_hex, to_hex
from wardrobe.core.learn import ability
from wardrobe.core.learn.answers import judge_colour, judge_light, judge_order
from wardrobe.core.learn.course import COURSE, SKILLS
from wardrobe.core.learn.judge import judge, kappa
from wardrobe.core.learn.lessons import question_of
from wardrobe.core.learn.pictures import given as given_picture
from wardrobe.core.learn.pictures import solved
from wardrobe.core.learn.scenes import FLOOR_PITCH, SIZE, Scene, lines_of
from wardrobe.core.learn.solids import Kind, Solid, in_shadow, look_at, turned
from wardrobe.core.learn.truth import truth_of, view_of
from wardrobe.core.learn.words import of_drawing
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.rig import KeyLight

DRAWN = [key for key, lesson in COURSE.items() if lesson.ask == "draw"]
SHADED = [key for key in DRAWN if COURSE[key].asked != "highlight"]
MIDDLE = SIZE / 2


def rays() -> tuple[np.ndarray, np.ndarray]:
    y, x = np.mgrid[:SIZE, :SIZE] + 0.5 - MIDDLE
    return x, y


@pytest.mark.parametrize("half", [(200, 200, 200), (120, 210, 150), (230, 90, 60)])
def test_ellipsoids_have_their_normals(half: tuple[float, float, float]) -> None:
    seen = look_at([Solid(Kind.ELLIPSOID, 1, (MIDDLE, MIDDLE, 0), half)], SIZE)
    x, y = rays()
    a, b, c = half
    rest = 1 - (x / a) ** 2 - (y / b) ** 2
    inside = rest > 0.01
    z = c * np.sqrt(np.maximum(rest, 0))
    normal = np.stack([x / a**2, y / b**2, z / c**2], axis=-1)
    normal /= np.maximum(np.linalg.norm(normal, axis=-1, keepdims=True), 1e-12)
    assert (seen.parts[inside] == 1).all() and not seen.parts[rest < -0.02].any()
    cosine = (normal * seen.normals).sum(axis=-1)[inside]
    assert np.degrees(np.arccos(np.clip(cosine, -1, 1))).max() < 1.5
    assert np.abs(seen.depth - z)[rest > 0.05].max() < 0.5


def test_a_turned_tube_and_a_ring_have_theirs() -> None:
    turn, radius = 35.0, 100.0
    tube = look_at([Solid(Kind.TUBE, 1, (MIDDLE, MIDDLE, 0), (radius, 600, 1),
                          turned(0, 0, turn))], SIZE)
    x, y = rays()
    t = np.radians(turn)
    across = (x * np.cos(t) + y * np.sin(t)) / radius
    core = np.abs(across) < 0.97
    want = np.stack([across * np.cos(t), across * np.sin(t),
                     np.sqrt(np.maximum(1 - across**2, 0))], axis=-1)
    assert np.abs(want - tube.normals)[core & (tube.parts > 0)].max() < 0.02
    # A ring that faces the viewer: its rod seen from the front.
    ring = look_at([Solid(Kind.RING, 1, (MIDDLE, MIDDLE, 0), (160, 50), turned(90))], SIZE)
    out = (np.hypot(x, y) - 160) / 50
    core = np.abs(out) < 0.97
    assert (ring.parts[core] == 1).all() and not ring.parts[np.abs(out) > 1.02].any()
    up = np.sqrt(1 - np.clip(out, -1, 1)**2)
    assert np.abs(ring.normals[..., 2] - up)[core].max() < 0.02


@given(st.floats(35, 145), st.floats(25, 60), st.floats(60, 110))
@settings(max_examples=12, deadline=None)
def test_a_ball_throws_the_shadow_that_geometry_says(azimuth: float, height: float,
                                                     radius: float) -> None:
    """A point of a floor is in shadow where its ray to the light meets the ball."""
    down = np.array(turned(FLOOR_PITCH)[3:6])
    centre = np.array([MIDDLE, 430.0, 0]) - radius * down
    light = KeyLight(azimuth, height).vector().astype(float)
    floor = Solid(Kind.FLOOR, 0, (MIDDLE, 430, 0), (), turned(FLOOR_PITCH))
    seen = look_at([floor, Solid(Kind.ELLIPSOID, 1, tuple(centre), (radius,) * 3)], SIZE)
    shadow = in_shadow(seen, light)
    y, x = np.mgrid[:SIZE, :SIZE] + 0.5
    z = -(down[1] * (y - 430) + down[0] * (x - MIDDLE)) / down[2]
    point = np.stack([x, y, z], axis=-1)
    along = (centre - point) @ light
    miss = np.linalg.norm(centre - point - along[..., None] * light, axis=-1)
    on_floor = (seen.solids == 1)
    assert np.abs(seen.depth - z)[on_floor].max() < 1e-6
    sure = on_floor & (np.abs(miss - radius) > 2)
    assert light @ -down > 0
    assert (shadow == ((miss < radius) & (along > 0)))[sure].all()


def test_lines_run_along_outlines_overlaps_and_edges_only() -> None:
    box = Solid(Kind.BOX, 1, (MIDDLE, MIDDLE, 0), (110, 110, 110, 0.8), turned(-30, 40))
    ink = lines_of(look_at([box], SIZE))
    # Nine edges of a cube are seen from a corner (six around, three inside): three faces.
    count, _ = cv2.connectedComponents((ink < 128).astype(np.uint8))
    assert count - 1 == 4
    ball = lines_of(look_at([Solid(Kind.ELLIPSOID, 1, (MIDDLE, MIDDLE, 0), (200,) * 3)], SIZE))
    x, y = rays()
    assert not ball[np.hypot(x, y) < 192].any() and (ball[np.abs(np.hypot(x, y) - 200) < 1] > 99
                                                     ).all()


@given(st.lists(st.tuples(st.booleans(), st.booleans()), min_size=1, max_size=60))
def test_kappa_is_cohen_s(pairs: list[tuple[bool, bool]]) -> None:
    a, t = np.array(pairs).T
    table = np.array([[(a & t).sum(), (a & ~t).sum()], [(~a & t).sum(), (~a & ~t).sum()]],
                     float) / len(a)
    chance = table.sum(0) @ table.sum(1)
    want = (np.trace(table) - chance) / (1 - chance) if chance < 1 else float((a == t).all())
    assert kappa(a, t) == pytest.approx(want)


@pytest.mark.parametrize("key", DRAWN)
@pytest.mark.parametrize("level", [1, 8])
def test_a_perfect_answer_is_told_as_one(key: str, level: int) -> None:
    for seed in range(tries(1, 2)):
        question = question_of(key, level, seed)
        assert question.scene is not None and question == question_of(key, level, seed)
        view, asked = view_of(question.scene), COURSE[key].asked
        assert asked is not None
        truth, where = truth_of(view, asked, question.scene.light)
        verdict = judge(view, asked, question.scene.light, truth)
        assert verdict.score >= 98 and not verdict.missing and not verdict.extra
        if truth.any():
            assert verdict.azimuth_error is not None and abs(verdict.azimuth_error) <= 2.5
            assert of_drawing(verdict, asked)[0].startswith("The light is right")
            nothing = judge(view, asked, question.scene.light, np.zeros_like(truth))
            everything = judge(view, asked, question.scene.light, where)
            assert nothing.score == 0 and everything.score < 10


@pytest.mark.parametrize("key", SHADED)
@pytest.mark.parametrize("turn", [-15, 15])
def test_a_light_from_15_degrees_elsewhere_is_told_to_three(key: str, turn: float) -> None:
    for seed, level in ((0, 2), (1, 7)):
        scene = question_of(key, level, seed).scene
        assert scene is not None and COURSE[key].asked
        view, asked = view_of(scene), COURSE[key].asked
        other = KeyLight(scene.light.azimuth + turn, scene.light.height)
        drawn, _ = truth_of(view, asked, other)
        verdict = judge(view, asked, scene.light, drawn)
        assert verdict.azimuth_error == pytest.approx(turn, abs=3), (key, seed, level)
        assert verdict.score < 98


@pytest.mark.parametrize("key", ["ball", "egg", "ring", "box", "head", "on the ground"])
def test_scores_fall_with_the_error(key: str) -> None:
    scene = question_of(key, 4, 1).scene
    assert scene is not None
    view, asked = view_of(scene), COURSE[key].asked
    assert asked
    scores = []
    for turn in (0, 5, 12, 25, 45, 80):
        drawn, _ = truth_of(view, asked, KeyLight(scene.light.azimuth + turn, scene.light.height))
        scores.append(judge(view, asked, scene.light, drawn).score)
    assert scores[0] >= 98 and all(b <= a + 1 for a, b in itertools.pairwise(scores)), scores
    # And with how much of it is left out.
    truth, _ = truth_of(view, asked, scene.light)
    grown = [judge(view, asked, scene.light, cv2.erode(
        truth.astype(np.uint8), np.ones((k, k), np.uint8)) > 0).score for k in (1, 7, 15, 31)]
    assert all(b <= a + 1 for a, b in itertools.pairwise(grown)), grown


@pytest.mark.parametrize("key", ["ball", "tube", "box", "head", "on the ground"])
def test_scribbles_count_for_little(key: str) -> None:
    found = []
    for seed in range(6):
        scene = question_of(key, 3, seed).scene
        assert scene is not None and COURSE[key].asked
        random = np.random.default_rng(seed)
        drawn = np.zeros((SIZE, SIZE), np.uint8)
        for _ in range(14):
            points = random.integers(100, SIZE - 100, (4, 2)).astype(np.int32)
            cv2.polylines(drawn, [points], False, 1, int(random.integers(4, 18)))
        found.append(judge(view_of(scene), COURSE[key].asked, scene.light, drawn > 0).score)
    assert np.mean(found) < 5 and max(found) < 10, found


def test_what_is_missing_and_too_much_is_named() -> None:
    scene = Scene((Solid(Kind.ELLIPSOID, 1, (MIDDLE, MIDDLE, 0), (200,) * 3),), KeyLight(135, 40),
                  "a ball")
    view = view_of(scene)
    truth, _ = truth_of(view, "shade", scene.light)
    start = ball_quantile(float(scene.light.vector()[2]), 0.38)
    x, y = rays()
    normal = np.stack([x, y, np.sqrt(np.maximum(200**2 - x**2 - y**2, 0))], axis=-1) / 200
    core = np.hypot(x, y) < 190
    assert (truth == (normal @ scene.light.vector() < start))[core].mean() > 0.998
    less = truth.copy()
    less[400:460, 380:440] = False
    more = less.copy()
    more[200:250, 230:290] = True
    verdict = judge(view, "shade", scene.light, more)
    (missing,), (extra,) = verdict.missing, verdict.extra
    assert missing.pixels == pytest.approx(3600, rel=0.05)
    assert extra.box == (230, 200, 60, 50) and extra.pixels == 3000
    said = " ".join(of_drawing(verdict, "shade"))
    assert "1 piece is missing." in said and "1 piece is too much." in said


@given(st.floats(0, 360), st.floats(0, 80), st.floats(0, 360), st.floats(0, 80))
def test_lights_are_told_apart_by_their_angle(a1: float, h1: float, a2: float,
                                              h2: float) -> None:
    one, two = KeyLight(a1, h1), KeyLight(a2, h2)
    found = judge_light(one, two)
    # Spherical law of cosines.
    cosine = np.sin(np.radians(h1)) * np.sin(np.radians(h2)) + np.cos(np.radians(h1)) * np.cos(
        np.radians(h2)) * np.cos(np.radians(a1 - a2))
    assert found.off == pytest.approx(np.degrees(np.arccos(np.clip(cosine, -1, 1))), abs=0.1)
    assert judge_light(one, one).score > 99.9


@given(st.permutations(range(6)))
def test_orders_count_by_their_pairs(order: list[int]) -> None:
    from scipy.stats import kendalltau

    tau = kendalltau(order, range(6)).statistic
    assert judge_order(range(6), order).score == pytest.approx(max(0.0, 100 * tau))


@pytest.mark.parametrize("level", range(1, 11))
def test_colours_that_are_asked_for_are_right(level: int) -> None:
    for seed in range(6):
        shade = question_of("shade colour", level, seed)
        base, right = (srgb_to_lab(np.array(from_hex(c)) / 255)
                       for c in (shade.swatches[0], shade.colour))
        assert float(delta_e_2000(base, right)) == pytest.approx(shade.step, abs=1)
        assert right[0] < base[0]
        assert judge_colour(shade.colour, shade.colour).score == 100
        rows = question_of("values", level, seed)
        values = [srgb_to_lab(np.array(from_hex(rows.swatches[k])) / 255)[0] for k in rows.answer]
        assert all(b - a > 1.5 for a, b in itertools.pairwise(values))
        assert judge_order(rows.answer, rows.answer).score == 100
        pair = question_of("reads", level, seed)
        steps = [abs(float(np.diff([srgb_to_lab(np.array(from_hex(c)) / 255)[0] for c in two])[0]))
                 for two in (pair.swatches[:2], pair.swatches[2:])]
        assert int(np.argmax(steps)) == pair.answer[0]


def test_scores_of_colours_fall_with_the_difference() -> None:
    right = "#6b4a3a"
    scores = [judge_colour(right, to_hex(tuple(min(255, v + k) for v in from_hex(right)))).score
              for k in (0, 4, 10, 20, 40, 90)]
    assert scores[0] == 100 and scores == sorted(scores, reverse=True) and scores[-1] < 5


@pytest.mark.parametrize("key", COURSE)
def test_every_lesson_has_pictures_and_a_skill(key: str) -> None:
    assert COURSE[key].skill in SKILLS
    question = question_of(key, 6, 11)
    for picture in (given_picture(question), solved(question)):
        assert picture.dtype == np.uint8 and picture.shape[2] == 3
    if COURSE[key].ask == "draw" and question.scene and COURSE[key].asked:
        truth, _ = truth_of(view_of(question.scene), COURSE[key].asked, question.scene.light)
        same = (given_picture(question) == solved(question)).all(axis=-1)
        inside = cv2.erode(truth.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
        assert not same[inside & (view_of(question.scene).ink == 0)].any()


@pytest.mark.parametrize("ability_of, settles", [(40, 1), (60, 2), (74, 4), (86, 7), (99, 10)])
def test_learners_climb_and_settle_where_they_are(ability_of: float, settles: int) -> None:
    """A learner whose scores scatter around a mean reaches, within 20 lessons, the level whose
    need is as high, and stays within a step or two of it."""
    where = []
    for seed in range(40):
        random = np.random.default_rng(seed)
        answers: list[tuple[int, float]] = []
        for _ in range(20):
            level = ability.level_after(answers)
            answers.append((level, float(np.clip(random.normal(ability_of, 3), 0, 100))))
        where.append(np.mean([level for level, _ in answers[12:]]))
    assert abs(float(np.mean(where)) - settles) <= 1.0, np.mean(where)
    assert max(where) - min(where) <= 2.5


def test_the_staircase_goes_as_levitt_says() -> None:
    passed, failed = (lambda k: (k, 100.0)), (lambda k: (k, 0.0))
    assert ability.level_after([]) == 1
    assert ability.level_after([passed(1), passed(2), passed(3)]) == 4  # until the first fail
    history = [passed(1), passed(2), failed(3)]
    assert ability.level_after(history) == 2
    assert ability.level_after([*history, passed(2)]) == 2
    assert ability.level_after([*history, passed(2), passed(2)]) == 3
    assert ability.level_after([*history, passed(2), failed(2)]) == 1
    assert ability.level_after([*history, passed(1), passed(1)]) == 2  # practised below
    assert [ability.needed(k) for k in range(1, 11)] == sorted(ability.needed(k)
                                                              for k in range(1, 11))
