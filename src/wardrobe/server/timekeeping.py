"""The clock of a data folder: beats of windows become sittings."""

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta

from wardrobe.core.timing.body import ADVICE
from wardrobe.core.timing.clock import Beat, WorkClock
from wardrobe.server.db.models import now
from wardrobe.server.db.sittings import SittingRepository

_GOES_ON = 45.0  # seconds without a beat after which a new sitting begins


@dataclass
class _Open:
    """The sitting that a window is in."""

    row: int
    what: tuple[int, str, str]
    until: float


class Timekeeper:
    """Hears beats and writes down what counts; a killed server loses what was not told yet.

    Parameters
    ----------
    sittings : SittingRepository
    ticks : callable
        Seconds, never going back.
    """

    def __init__(self, sittings: SittingRepository,
                 ticks: Callable[[], float] = time.monotonic) -> None:
        self._sittings, self._ticks = sittings, ticks
        self._clock = WorkClock(ticks)
        self._open: dict[str, _Open] = {}
        self._lock = threading.Lock()

    def hear(self, beat: Beat) -> float:
        """Take a beat; return the seconds that counted."""
        with self._lock:
            counted = self._clock.hear(beat)
            if counted <= 0:
                if beat.doing == "away":
                    self._open.pop(beat.window, None)
                return 0.0
            at, what = self._ticks(), (beat.piece, beat.step, beat.doing)
            open_ = self._open.get(beat.window)
            if open_ and open_.what == what and at - open_.until <= _GOES_ON + counted \
                    and self._sittings.extend(open_.row, counted):
                open_.until = at
                return counted
            row = self._sittings.begin(beat.piece, beat.step, now() - timedelta(seconds=counted),
                                       counted, "look" if beat.doing == "look" else "work")
            self._open = {w: o for w, o in self._open.items() if at - o.until <= _GOES_ON}
            self._open[beat.window] = _Open(row, what, at)
            return counted

    def since_break(self) -> dict[str, float]:
        """Minutes of work since the last rest, by kind of advice."""
        with self._lock:
            return {a.key: self._clock.since_break(60 * a.rest) / 60 for a in ADVICE.values()}
