"""Which piece is next, and what fits today."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True)
class Waiting:
    """A piece that is not done.

    Attributes
    ----------
    key : int
    left : float
        Minutes that are left of its plan.
    due : date or None
    blocked : bool
        Somebody else has to say something first.
    """

    key: int
    left: float
    due: date | None = None
    blocked: bool = False


@dataclass(frozen=True)
class Day:
    """What fits a day.

    Attributes
    ----------
    order : tuple of int
        All pieces that can be worked on, the next first.
    fits : tuple of int
        Those that fit today, in that order.
    minutes : float
        That these take.
    late : tuple of int
        Those that cannot be done by their date at so many minutes a day, even if each is begun
        as soon as possible.
    """

    order: tuple[int, ...]
    fits: tuple[int, ...]
    minutes: float
    late: tuple[int, ...]


def plan_day(waiting: Iterable[Waiting], minutes: float, today: date) -> Day:
    """Which piece is next, and what fits.

    The earliest date comes first, which makes the worst delay as small as it can be (Jackson,
    Scheduling a production line to minimize maximum tardiness, 1955); what has no date follows,
    the shortest first, which makes the mean time until each is done as small as it can be
    (Smith, Various optimizers for single-stage production, 1956).

    Parameters
    ----------
    waiting : iterable of Waiting
    minutes : float
        Of work a day.
    today : date

    Returns
    -------
    Day
    """
    ready = sorted((w for w in waiting if not w.blocked),
                   key=lambda w: (w.due or date.max, w.left, w.key))
    fits: list[int] = []
    used = done = 0.0
    late: list[int] = []
    for piece in ready:
        left = max(piece.left, 0.0)
        if used + left <= minutes + 1e-9:
            fits.append(piece.key)
            used += left
        done += left
        if piece.due is not None and done > minutes * ((piece.due - today).days + 1) + 1e-9:
            late.append(piece.key)
    return Day(tuple(w.key for w in ready), tuple(fits), used, tuple(late))
