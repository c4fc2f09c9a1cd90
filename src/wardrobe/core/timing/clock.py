"""The clock beside the drawing: real time that somebody worked, counted once."""

from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

Doing = Literal["work", "look", "away"]

BEAT_SECONDS = 10.0  # between two beats of a window that is worked in
MOST_UNHEARD = 120.0  # seconds that the first beat of an unknown window may claim
_REMEMBERED = 4 * 3600.0  # seconds; breaks are looked for in them
_FORGOTTEN = 3600.0  # a window that has not been heard for so long
_SAME = 2.0  # seconds between two stretches that are one


@dataclass(frozen=True)
class Beat:
    """What a window says it has been doing since its last beat.

    Attributes
    ----------
    window : str
        Names the window.
    piece : int
    step : str
    doing : str
        ``work`` (a hand moved), ``look`` (somebody looked at it, hands off) or ``away``.
    since : float
        Seconds that its own clock ticked while it was doing that.
    """

    window: str
    piece: int
    step: str
    doing: Doing
    since: float


class WorkClock:
    """Counts what windows say, so that no second is counted twice.

    Time is that of a clock which never goes back (``time.monotonic``), so that neither the zone
    nor a date that is set matters. A beat counts for no more than what both the window and this
    clock saw pass, and only where nothing else was counted. So a machine that slept counts at
    most what was ticked before; two windows share one time.

    Parameters
    ----------
    now : callable
        Seconds, never going back.
    """

    def __init__(self, now: Callable[[], float]) -> None:
        self._now = now
        self._heard: dict[str, float] = {}
        self._counted: deque[tuple[float, float]] = deque()  # disjoint, in their order

    def hear(self, beat: Beat) -> float:
        """Take a beat; return the seconds that count for it."""
        now = self._now()
        heard = self._heard.get(beat.window)
        self._heard[beat.window] = now
        self._forget(now)
        most = MOST_UNHEARD if heard is None else now - heard
        since = min(beat.since, most)
        if beat.doing == "away" or since <= 0:
            return 0.0
        return self._count(now - since, now)

    def since_break(self, least: float) -> float:
        """Seconds counted since somebody last rested.

        Parameters
        ----------
        least : float
            A pause of so many seconds is a rest.
        """
        now = self._now()
        worked, after = 0.0, now
        for start, stop in reversed(self._counted):
            if after - stop >= least:
                break
            worked += stop - start
            after = start
        return worked

    def _count(self, start: float, stop: float) -> float:
        """Add what of a stretch is not counted yet; return its seconds."""
        kept: deque[tuple[float, float]] = deque()
        free, at = 0.0, start
        first, last = start, stop
        for a, b in self._counted:
            if b < start - _SAME or a > stop + _SAME:
                kept.append((a, b))
                continue
            free += max(0.0, min(a, stop) - at)
            at = max(at, b)
            first, last = min(first, a), max(last, b)
        free += max(0.0, stop - at)
        kept.append((first, last))
        self._counted = deque(sorted(kept))
        return free

    def _forget(self, now: float) -> None:
        while self._counted and self._counted[0][1] < now - _REMEMBERED:
            self._counted.popleft()
        for window in [w for w, t in self._heard.items() if t < now - _FORGOTTEN]:
            del self._heard[window]
