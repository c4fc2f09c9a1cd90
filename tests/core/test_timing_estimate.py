"""Estimates against simulated histories whose law is known."""

from collections.abc import Callable

import numpy as np
import pytest

from wardrobe.core.timing.estimate import LEAST_PIECES, Finished, Traits, estimate
from wardrobe.core.timing.plan import STEPS, plan_steps

SHARES = np.array(list(plan_steps(1.0).values()))
Dice = np.random.Generator


def drawing(dice: Dice) -> Traits:
    areas = int(np.exp(dice.normal(3.5, 0.7))) + 3
    return Traits(areas, max(2, int(areas**0.6)), int(dice.poisson(areas / 6)),
                  int(dice.random() < 0.4))


LAWS: dict[str, Callable[[Traits, Dice], float]] = {
    "a power": lambda t, d: 3 * t.areas**0.6 * np.exp(d.normal(0, 0.25)),
    "a sum": lambda t, d: (5 + 0.25 * t.areas + 1.2 * t.parts + 0.1 * t.gaps + 2 * t.hair)
    * np.exp(d.normal(0, 0.2)),
    "two speeds": lambda t, d: (4 + 0.3 * t.areas) * d.choice([1.0, 1.8])
    * np.exp(d.normal(0, 0.15)),
    "nothing of the drawing": lambda t, d: 40 * np.exp(d.normal(0, 0.35)),
    "heavy tails": lambda t, d: (6 + 0.2 * t.areas) * np.exp(0.25 * d.standard_t(3)),
}


@pytest.mark.parametrize("count", [8, 30])
@pytest.mark.parametrize("law", LAWS)
def test_the_range_holds_four_in_five(law: str, count: int) -> None:
    dice, tries, held = np.random.default_rng(count), 400, 0
    for _ in range(tries):
        seen = [drawing(dice) for _ in range(count + 1)]
        took = [LAWS[law](t, dice) for t in seen]
        history = [Finished(k, t, dict(zip(STEPS, SHARES * m, strict=True)))
                   for k, (t, m) in enumerate(zip(seen[:-1], took, strict=False))]
        found = estimate(seen[-1], history, {})
        held += found.total.low <= took[-1] <= found.total.high
        assert found.rests_on == "pieces" and found.count == count
    assert 0.75 <= held / tries <= 0.85


def test_more_areas_take_longer_where_they_did() -> None:
    dice = np.random.default_rng(4)
    seen = [drawing(dice) for _ in range(60)]
    history = [Finished(k, t, {"parts": 0.5 * t.areas, "light": 10.0})
               for k, t in enumerate(seen)]
    small, large = (estimate(Traits(a, int(a**0.6), a // 6, 0), history, {})
                    for a in (12, 90))
    assert small.steps["parts"].likely == pytest.approx(6, rel=0.25)
    assert large.steps["parts"].likely == pytest.approx(45, rel=0.25)
    assert small.steps["light"].likely == pytest.approx(10, rel=0.02)
    assert small.steps["looks"].high == 0  # never done
    assert large.count == 40 and "40 of 60" in large.words
    like = [seen[k].areas for k in large.nearest]
    assert abs(np.median(like) - 90) < 40


def test_with_few_pieces_it_is_the_plan_and_says_so() -> None:
    plan = plan_steps(40)
    history = [Finished(k, Traits(9, 3, 1, 0), {"parts": 10.0}) for k in range(LEAST_PIECES - 1)]
    found = estimate(Traits(30, 8, 2, 2), history, plan)
    assert found.rests_on == "plan" and found.count == LEAST_PIECES - 1
    # Long hair or a beard: 2 minutes each (common practice, no published source).
    assert found.total.likely == pytest.approx(44)
    assert found.steps["parts"].likely == pytest.approx(plan["parts"] + 4)
    assert "only 4 finished pieces" in found.words and "Hair" in found.words
    assert "no finished piece" in estimate(Traits(30, 8, 2, 0), [], plan).words
    idle = [*history, Finished(9, Traits(9, 3, 1, 0), {"parts": 0.0})]
    assert estimate(Traits(30, 8, 2, 0), idle, plan).rests_on == "plan"
