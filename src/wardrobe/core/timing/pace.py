"""How the work stands against its plan, in words, and what could be left out."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from wardrobe.core.timing.plan import STEPS

_NEAR_MINUTES, _NEAR_SHARE = 0.5, 0.03  # so far off the plan still counts as on time
_EXACT = 1e-9


@dataclass(frozen=True)
class Omission:
    """Something that can be left out: the step whose time it frees, and its share of it."""

    key: str
    label: str
    step: str
    share: float


# In the order of what costs least to leave out: highlights, deep shade, finish (common practice,
# no published source). How much of the light's time each takes is our own guess.
OMISSIONS = {o.key: o for o in (
    Omission("highlights", "highlights", "light", 0.2),
    Omission("deep shade", "deep shade", "light", 0.2),
    Omission("finish", "the finish", "finish", 1.0),
    Omission("looks", "further looks", "looks", 1.0),
)}
ORDER = tuple(OMISSIONS)


@dataclass(frozen=True)
class Pace:
    """How the work stands.

    Attributes
    ----------
    behind : float
        Minutes behind the plan if all that is left takes what was planned; negative is ahead.
    left : float
        Minutes that are left of the plan; negative once it is used up.
    step_left : float
        The same for the step that is being worked on.
    leave_out : tuple of str
        Keys of OMISSIONS with which it would fit.
    short : float
        Minutes that would still be missing then.
    words : str
    """

    behind: float
    left: float
    step_left: float
    leave_out: tuple[str, ...]
    short: float
    words: str


def pace_of(plan: Mapping[str, float], spent: Mapping[str, float], step: str,
            order: Sequence[str] = ORDER) -> Pace:
    """How the work stands against its plan.

    Parameters
    ----------
    plan, spent : mapping of str to float
        Minutes by step.
    step : str
        The furthest step that has been reached: those before it are done.
    order : sequence of str
        Keys of OMISSIONS, what is left out first.

    Returns
    -------
    Pace
    """
    ahead = STEPS[STEPS.index(step):]
    needed = {s: max(0.0, plan.get(s, 0.0) - spent.get(s, 0.0)) for s in ahead}
    total = sum(plan.values())
    left = total - sum(spent.values())
    behind = sum(needed.values()) - left
    near = max(min(_NEAR_MINUTES, 0.1 * total), _NEAR_SHARE * total)
    out, short = _left_out(plan, needed, behind, order) if behind > near else ((), 0.0)
    step_left = plan.get(step, 0.0) - spent.get(step, 0.0)
    return Pace(behind, left, step_left, out, short, _words(behind, near, out, short))


def _left_out(plan: Mapping[str, float], needed: Mapping[str, float], behind: float,
              order: Sequence[str]) -> tuple[tuple[str, ...], float]:
    """The first in order that save enough, without those that need not be; and what is missing."""
    saved: dict[str, float] = {}
    room = dict(needed)  # a step frees no more than it still has
    for key in order:
        if sum(saved.values()) >= behind - _EXACT:
            break
        omission = OMISSIONS[key]
        frees = min(room.get(omission.step, 0.0),
                    omission.share * plan.get(omission.step, 0.0))
        if frees > _EXACT:
            saved[key] = frees
            room[omission.step] -= frees
    for key in list(saved):
        if sum(saved.values()) - saved[key] >= behind - _EXACT:
            del saved[key]
    return tuple(saved), max(0.0, behind - sum(saved.values()))


def _words(behind: float, near: float, out: Sequence[str], short: float) -> str:
    if abs(behind) <= near:
        return "On time."
    if behind < 0:
        return f"{minutes_in_words(-behind)} ahead."
    told = f"{minutes_in_words(behind)} behind"
    if not out:
        return f"{told}, and nothing is left that could be left out."
    names = joined([OMISSIONS[key].label for key in out])
    verb = "is" if len(out) == 1 and not OMISSIONS[out[0]].label.endswith("s") else "are"
    if short > _EXACT:
        return f"{told}; without {names} still {minutes_in_words(short).lower()}."
    return f"{told}; the rest fits if {names} {verb} left out."


def minutes_in_words(minutes: float) -> str:
    """A length of time as it is said: ``Half a minute``, ``2 minutes``, ``1 h 20 min``.

    Parameters
    ----------
    minutes : float
        At least 0.
    """
    if minutes < 0.75:
        return "Half a minute" if minutes >= 0.25 else "Less than half a minute"
    whole = round(minutes)
    if whole < 60:
        return f"{whole} minute{'s' if whole != 1 else ''}"
    return f"{whole // 60} h {whole % 60} min" if whole % 60 else f"{whole // 60} h"


def joined(names: Sequence[str]) -> str:
    """Names as they are listed in a sentence."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
