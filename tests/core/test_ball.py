"""The ball in shade and light: against the analytic sphere, and the cases the screen is held to.

``python -m tests.core.test_ball`` writes the cases anew; the web application's own ball is held
to them by its tests.
"""

import json
from itertools import product
from pathlib import Path

import numpy as np
import pytest

from wardrobe.core.light.ball import ball_quantile

CASES = Path(__file__).parents[1] / "golden/ball.json"
_POINTS = [(round(x, 2), round(y, 2)) for x, y in product(np.arange(-0.9, 0.91, 0.15), repeat=2)
           if np.hypot(x, y) < 0.93]
_CLEAR = 0.06  # how far from an edge a point must lie to be beyond doubt


def _values(light: np.ndarray) -> np.ndarray:
    """N.V at the points of the ball that is looked at along z."""
    points = np.array(_POINTS)
    normals = np.column_stack([points, np.sqrt(1 - (points ** 2).sum(1))])
    return normals @ light


def _case(azimuth: float, height: float, shade_share: float,
          light_share: float) -> dict[str, object]:
    a, h = np.radians([azimuth, height])
    light = np.array([np.cos(a) * np.cos(h), -np.sin(a) * np.cos(h), np.sin(h)])
    half = light + np.array([0, 0, 1])
    half /= np.linalg.norm(half)
    dark = _values(light) - ball_quantile(light[2], shade_share)
    top = ball_quantile(half[2], 1 - light_share)
    lit = (_values(half) - top) / np.sqrt(1 - top * top)
    clear = (np.abs(dark) > _CLEAR) & (np.abs(lit) > _CLEAR)
    seen = ["shade" if d < 0 else "light" if t > 0 else "base"
            for d, t in zip(dark, lit, strict=True)]
    return {"azimuth": azimuth, "height": height, "shadeShare": shade_share,
            "lightShare": light_share,
            "points": [[x, y, what] for (x, y), what, sure in zip(_POINTS, seen, clear, strict=True)
                       if sure]}


def cases() -> list[dict[str, object]]:
    """What is seen at which point of the ball under which light."""
    return [_case(azimuth, height, share, top) for azimuth, height, share, top in
            product((135, 20, 270), (20, 55), (0.25, 0.4), (0.05, 0.12))]


def test_the_screens_cases_are_those_of_the_core() -> None:
    assert json.loads(CASES.read_text("utf-8")) == json.loads(json.dumps(cases()))
    assert all(len(case["points"]) > 60 for case in cases())


@pytest.mark.parametrize("height", [-20, 0, 10, 35, 60, 90])
@pytest.mark.parametrize("share", [0.05, 0.38, 0.6])
def test_the_share_in_shade_stays_wherever_the_light_is(height: float, share: float) -> None:
    """Of the disc that is seen, a share lies below the quantile: sampled points, evenly spread
    by Vogel's spiral (H. Vogel, A better way to construct the sunflower head, 1979)."""
    k = np.arange(40_000) + 0.5
    r, turn = np.sqrt(k / len(k)), k * np.pi * (3 - np.sqrt(5))
    sine, cosine = np.sin(np.radians(height)), np.cos(np.radians(height))
    values = r * np.cos(turn) * cosine + np.sqrt(1 - r * r) * sine
    assert (values < ball_quantile(sine, share)).mean() == pytest.approx(share, abs=0.004)


def test_face_on_the_terminator_is_a_circle() -> None:
    """With the light at the eye N.L = sqrt(1 - r²): a share s lies outside of r² = 1 - s."""
    for share in (0.1, 0.38, 0.75):
        assert ball_quantile(1.0, share) == pytest.approx(np.sqrt(share), abs=0.006)


if __name__ == "__main__":
    CASES.write_text(json.dumps(cases()) + "\n", encoding="utf-8")
