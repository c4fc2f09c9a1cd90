"""The clock against simulated days whose truth is known: windows, sleep, kills, late answers."""

from dataclasses import dataclass, field

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.tries import tries
from wardrobe.core.timing.clock import BEAT_SECONDS, Beat, WorkClock

MOST_TICK = 5.0  # what a window counts at most between two ticks: it slept longer


@dataclass
class Window:
    """A window as the screen's clock keeps it: ticks each second, tells every ten."""

    name: str
    piece: int
    untold: float = 0.0
    ticked: float | None = None
    told: float = 0.0
    waiting: list[tuple[float, float]] = field(default_factory=list)  # arrives at, since

    def tick(self, now: float, working: bool) -> None:
        if self.ticked is not None and working:
            self.untold += min(now - self.ticked, MOST_TICK)
        self.ticked = now


HAPPENINGS = st.lists(st.one_of(
    st.tuples(st.just("work"), st.integers(0, 2), st.floats(3, 600)),
    st.tuples(st.just("both"), st.just(0), st.floats(3, 300)),
    st.tuples(st.just("rest"), st.just(0), st.floats(1, 900)),
    st.tuples(st.just("sleep"), st.integers(0, 2), st.floats(30, 30_000)),
    st.tuples(st.just("kill"), st.just(0), st.floats(1, 5)),
    st.tuples(st.just("shut"), st.integers(0, 2), st.just(0.0)),
), min_size=1, max_size=14)


@settings(max_examples=tries(40, 150), deadline=None)
@given(HAPPENINGS, st.sampled_from([0.0, 0.3, 2.5]), st.randoms(use_true_random=False))
def test_a_simulated_day_counts_as_long_as_it_was(happenings: list[tuple[str, int, float]],
                                                  late: float, dice: object) -> None:
    """Total against truth: right to twenty seconds a sleep, kill or window that goes at once."""
    now = 0.0
    windows = [Window("w0", 1), Window("w1", 1), Window("w2", 2)]
    total, truth, losses = 0.0, 0.0, 0

    def ticks() -> float:
        return now

    clock = WorkClock(ticks)

    def tell(window: Window, doing: str = "work") -> None:
        nonlocal total
        total += clock.hear(Beat(window.name, window.piece, "light", doing, window.untold))  # type: ignore[arg-type]
        window.untold = 0.0

    def run(active: list[Window], seconds: float) -> None:
        nonlocal now, truth
        end = now + seconds
        while now < end:
            dt = min(end - now, 1.0 + late * dice.random())  # type: ignore[attr-defined]
            now += dt
            if active:
                truth += dt
            for window in windows:
                window.tick(now, window in active)
                if window.untold >= BEAT_SECONDS:
                    tell(window)

    for kind, which, seconds in happenings:
        window = windows[which]
        if kind == "work":
            run([window], seconds)
        elif kind == "both":  # on two screens, both of them worked in
            run(windows[:2], seconds)
        elif kind == "rest":
            for one in windows:
                tell(one)
            run([], seconds)
        elif kind == "sleep":
            now += seconds  # no window ticks; the next tick counts little of it
            losses += 1
            run([window], 5.0)
        elif kind == "kill":
            clock = WorkClock(ticks)
            losses += 1
            run([], seconds)
        else:
            window.untold = 0.0
            losses += 1
    for window in windows:
        tell(window)
    assert abs(total - truth) <= 20.0 * (1 + losses)
    assert total <= truth + (MOST_TICK + BEAT_SECONDS) * (1 + losses)


@settings(max_examples=tries(30, 100), deadline=None)
@given(st.lists(st.tuples(st.integers(0, 3), st.floats(0.1, 40), st.floats(0, 200)), max_size=40))
def test_no_more_counts_than_passed_whatever_windows_say(
        beats: list[tuple[int, float, float]]) -> None:
    """Claims at random, also of more than there was: never more in all than time that passed,
    beyond what an unknown window may bring along once."""
    now = 1000.0
    clock = WorkClock(lambda: now)
    counted = clock.hear(Beat("w0", 1, "light", "work", 0.0))
    for which, passed, claimed in beats:
        now += passed
        counted += clock.hear(Beat(f"w{which}", which, "light", "work", claimed))
    assert counted <= now - 1000.0 + 120.0 + 1e-6


def test_the_same_time_is_told_once() -> None:
    """A lost answer makes a window tell it again; a beat that is late is not lost."""
    now = 100.0
    clock = WorkClock(lambda: now)
    assert clock.hear(Beat("one", 1, "parts", "work", 10)) == 10
    now = 103.0
    assert clock.hear(Beat("one", 1, "parts", "work", 13)) == 3
    assert clock.hear(Beat("two", 2, "parts", "work", 3)) == 0
    now = 110.0
    assert clock.hear(Beat("two", 2, "parts", "look", 4)) == 4  # 106 to 110
    assert clock.hear(Beat("one", 1, "parts", "work", 7)) == 3  # 103 to 106 was free
    now = 120.0
    assert clock.hear(Beat("one", 1, "parts", "away", 10)) == 0


def test_work_since_a_rest_is_what_lies_after_a_pause_that_is_long_enough() -> None:
    now = 0.0
    clock = WorkClock(lambda: now)
    for stop in (600.0, 610.0, 1000.0, 1010.0):  # a pause of 390 s before 1000
        now = stop
        clock.hear(Beat("one", 1, "light", "work", 10))
    assert clock.since_break(300) == 20
    assert clock.since_break(400) == 40
    now = 1400.0
    assert clock.since_break(300) == 0
