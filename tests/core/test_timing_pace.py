"""Plans, pace, days and figures."""

from datetime import UTC, date, datetime, timedelta
from itertools import permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wardrobe.core.timing.figures import Done, Stretch, figures_of, gathered
from wardrobe.core.timing.pace import OMISSIONS, ORDER, minutes_in_words, pace_of
from wardrobe.core.timing.plan import PLAN_TEMPLATES, STEPS, plan_steps, scaled
from wardrobe.core.timing.today import Waiting, plan_day

MINUTES = st.floats(0, 300).map(lambda v: round(v, 2))
PLANS = st.fixed_dictionaries(dict.fromkeys(STEPS, MINUTES))


@given(PLANS, st.floats(1, 6000))
def test_a_scaled_plan_has_its_total_and_its_shares(plan: dict[str, float], total: float) -> None:
    found = scaled(plan, total)
    assert sum(found.values()) == pytest.approx(total)
    before = sum(plan.values())
    for step in STEPS:
        share = plan[step] / before if before > 0 else plan_steps(1)[step]
        assert found[step] / total == pytest.approx(share, abs=1e-9)
    assert all(sum(t.minutes.values()) > 0 and set(t.minutes) == set(STEPS)
               for t in PLAN_TEMPLATES.values())
    # Seven minutes a sitter: common practice, no published source.
    assert sum(PLAN_TEMPLATES["sitter"].minutes.values()) == 7


@given(PLANS, PLANS, st.sampled_from(STEPS), st.permutations(ORDER))
def test_what_is_left_out_is_enough_and_no_more_than_needed(
        plan: dict[str, float], spent: dict[str, float], step: str, order: list[str]) -> None:
    pace = pace_of(plan, spent, step, order)
    assert pace.left == pytest.approx(sum(plan.values()) - sum(spent.values()))
    ahead = STEPS[STEPS.index(step):]
    needed = {s: max(0.0, plan[s] - spent[s]) for s in ahead}
    assert pace.behind == pytest.approx(sum(needed.values()) - pace.left)

    def frees(keys: tuple[str, ...]) -> float:
        """By step: no more than the step still takes."""
        by: dict[str, float] = {}
        for key in keys:
            o = OMISSIONS[key]
            by[o.step] = by.get(o.step, 0.0) + o.share * plan[o.step]
        return sum(min(v, needed.get(s, 0.0)) for s, v in by.items())

    if pace.leave_out:
        assert frees(pace.leave_out) + pace.short >= pace.behind - 1e-6
        for k in range(len(pace.leave_out)):
            less = pace.leave_out[:k] + pace.leave_out[k + 1:]
            assert pace.short > 0 or frees(less) < pace.behind + 1e-6
        assert list(pace.leave_out) == sorted(pace.leave_out, key=order.index)
    if pace.short > 0:  # then nothing more could have been left out
        assert pace.short == pytest.approx(pace.behind - frees(tuple(order)), abs=1e-6)


def test_pace_is_told_in_words() -> None:
    plan = plan_steps(37)
    assert pace_of(plan, {"lines": 3, "parts": 12}, "colour").words == "On time."
    late = pace_of(plan, {"lines": 3, "parts": 14}, "colour")
    assert late.words == ("2 minutes behind; the rest fits if highlights and deep shade are left "
                          "out.")
    assert pace_of(plan, {"lines": 3, "parts": 8}, "colour").words == "4 minutes ahead."
    over = pace_of(plan, {"lines": 30, "parts": 14}, "colour")
    assert over.words.startswith("29 minutes behind; without highlights, deep shade, the finish")
    assert over.words.endswith("still 21 minutes.")
    assert "nothing is left" in pace_of(plan, {"parts": 60}, "deliver").words
    told = [minutes_in_words(m) for m in (0.1, 0.5, 0.8, 1.4, 59.4, 59.6, 60, 61, 150)]
    assert told == ["Less than half a minute", "Half a minute", "1 minute", "1 minute",
                    "59 minutes", "1 h", "1 h", "1 h 1 min", "2 h 30 min"]


@given(st.lists(st.tuples(st.integers(1, 240), st.integers(0, 6)), min_size=1, max_size=6))
def test_the_worst_delay_is_as_small_as_any_order_makes_it(
        pieces: list[tuple[int, int]]) -> None:
    """Jackson's rule, 1955, against all orders."""
    today = date(2026, 3, 2)
    waiting = [Waiting(k, left, today + timedelta(days=days))
               for k, (left, days) in enumerate(pieces)]

    def worst(order: tuple[int, ...]) -> float:
        at, delay = 0.0, 0.0
        for k in order:
            at += waiting[k].left
            delay = max(delay, at - 60 * (pieces[k][1] + 1))
        return delay

    day = plan_day([*waiting, Waiting(99, 5, today, blocked=True)], 60, today)
    assert worst(day.order) == min(map(worst, permutations(range(len(pieces)))))
    assert day.minutes == sum(waiting[k].left for k in day.fits) <= 60
    assert bool(day.late) == (worst(day.order) > 0)
    shortest = plan_day([Waiting(1, 30), Waiting(2, 10), Waiting(3, 20)], 35, today)
    assert shortest.order == (2, 3, 1) and shortest.fits == (2, 3)


def test_edits_are_gathered_by_gesture() -> None:
    at = datetime(2026, 3, 2, 9, tzinfo=UTC)
    edits = [(at + timedelta(seconds=s), k) for s, k in (
        (0, "move_light"), (2, "move_light"), (61, "move_light"), (122.5, "move_light"),
        (123, "set_pass"), (124, "move_light"))]
    for order in (edits, edits[::-1]):
        told = [(g.kind, g.count, (g.ended - g.began).seconds) for g in gathered(order)]
        assert sorted(told) == sorted([("move_light", 3, 61), ("move_light", 1, 0),
                                       ("set_pass", 1, 0), ("move_light", 1, 0)])


def test_figures_of_a_few_days() -> None:
    day = date(2026, 3, 2)
    stretches = [Stretch(1, "parts", day, 30), Stretch(1, "light", day + timedelta(days=2), 20),
                 Stretch(2, "parts", day + timedelta(days=3), 10)]
    done = [Done(1, "Kite", 40, 50, 30, 45, 60)]
    found = figures_of(stretches, done)
    assert found.minutes == 60 and found.by_step["parts"] == 40
    assert found.a_piece["parts"] == 30 and found.a_piece["light"] == 20
    assert [m for _, m in found.by_day] == [30, 0, 20, 10] and (found.days, found.run) == (3, 2)
    assert found.off_plan == pytest.approx(0.25) and (found.held, found.estimated) == (1, 1)
    empty = figures_of([], [])
    assert empty.minutes == 0 and empty.by_day == [] and empty.off_plan is None and empty.run == 0
