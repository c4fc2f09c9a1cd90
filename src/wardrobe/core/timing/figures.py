"""What the records come to: minutes by step and day, plans and estimates against what it took."""

from collections import defaultdict
from collections.abc import Hashable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from itertools import pairwise
from typing import Generic, TypeVar

from wardrobe.core.timing.plan import STEPS

K = TypeVar("K", bound=Hashable)

_ONE_GESTURE = timedelta(seconds=60)


@dataclass(frozen=True)
class Gesture(Generic[K]):
    """Edits of one kind, each soon after or before the next; ``began`` is the earliest."""

    kind: K
    began: datetime
    ended: datetime
    count: int


def gathered(edits: Iterable[tuple[datetime, K]]) -> Iterator[Gesture[K]]:
    """Edits by gesture: what is of one kind and at most a minute from the one before.

    Parameters
    ----------
    edits : iterable of (datetime, hashable)
        When each was made, and its kind, in their order or the other way round.
    """
    last: Gesture[K] | None = None
    for at, kind in edits:
        if last and last.kind == kind and min(abs(at - last.ended),
                                              abs(last.began - at)) <= _ONE_GESTURE:
            last = Gesture(kind, min(last.began, at), max(last.ended, at), last.count + 1)
            continue
        if last:
            yield last
        last = Gesture(kind, at, at, 1)
    if last:
        yield last


@dataclass(frozen=True)
class Stretch:
    """Minutes that were given to a step of a piece on a day."""

    piece: int
    step: str
    day: date
    minutes: float


@dataclass(frozen=True)
class Done:
    """A finished piece against what was planned and estimated, minutes."""

    piece: int
    title: str
    planned: float
    took: float
    low: float | None = None
    likely: float | None = None
    high: float | None = None


@dataclass(frozen=True)
class Figures:
    """What the records come to.

    Attributes
    ----------
    minutes : float
        In all.
    by_step : dict of str to float
        Minutes.
    a_piece : dict of str to float
        Minutes by step of a finished piece, on the mean.
    by_day : list of (date, float)
        Minutes of each day from the first to the last, also of those without any.
    days : int
        On which there was work.
    run : int
        Days in a row with work, up to the last one of them.
    done : tuple of Done
    off_plan : float or None
        Median share by which finished pieces took longer than planned; negative is shorter.
    held : int
        Of the finished pieces that were estimated, how many lay within their range.
    estimated : int
    """

    minutes: float
    by_step: dict[str, float]
    a_piece: dict[str, float]
    by_day: list[tuple[date, float]]
    days: int
    run: int
    done: tuple[Done, ...]
    off_plan: float | None
    held: int
    estimated: int


def figures_of(stretches: Sequence[Stretch], done: Sequence[Done]) -> Figures:
    """What the records come to.

    Parameters
    ----------
    stretches : sequence of Stretch
    done : sequence of Done
        The finished pieces among them.
    """
    by_step, by_day = dict.fromkeys(STEPS, 0.0), defaultdict[date, float](float)
    of_done = dict.fromkeys(STEPS, 0.0)
    finished = {d.piece for d in done}
    for s in stretches:
        by_step[s.step] += s.minutes
        by_day[s.day] += s.minutes
        if s.piece in finished:
            of_done[s.step] += s.minutes
    worked = sorted(day for day, minutes in by_day.items() if minutes > 0)
    run = 0
    if worked:
        run = 1
        for later, earlier in pairwise(reversed(worked)):
            if later - earlier != timedelta(days=1):
                break
            run += 1
    told = [d for d in done if d.low is not None and d.high is not None]
    off = sorted(d.took / d.planned - 1 for d in done if d.planned > 0)
    return Figures(
        sum(by_step.values()), by_step,
        {step: minutes / len(finished) for step, minutes in of_done.items()} if finished else {},
        _every_day(by_day, worked), len(worked), run, tuple(done),
        (off[(len(off) - 1) // 2] + off[len(off) // 2]) / 2 if off else None,
        sum(1 for d in told if (d.low or 0.0) <= d.took <= (d.high or 0.0)), len(told))


def _every_day(by_day: dict[date, float], worked: Sequence[date]) -> list[tuple[date, float]]:
    if not worked:
        return []
    return [(day, by_day.get(day, 0.0))
            for k in range((worked[-1] - worked[0]).days + 1)
            if (day := worked[0] + timedelta(days=k))]
