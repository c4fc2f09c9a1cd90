"""Planned minutes, step by step, and plans to begin from."""

from collections.abc import Mapping
from dataclasses import dataclass

# Minutes of a piece of 37 minutes: flats take longest, shadow and light come next (common practice,
# no published source).
_SHARES = {"lines": 3, "parts": 12, "colour": 6, "light": 8, "finish": 3, "looks": 2, "check": 2,
           "deliver": 1}

STEPS = tuple(_SHARES)


def plan_steps(minutes: float) -> dict[str, float]:
    """Share out planned minutes over the steps.

    Parameters
    ----------
    minutes : float
        For the whole piece.

    Returns
    -------
    dict of str to float
        Minutes by step, in the order of the work.
    """
    total = sum(_SHARES.values())
    return {step: minutes * _SHARES[step] / total for step in STEPS}


def scaled(plan: Mapping[str, float], minutes: float) -> dict[str, float]:
    """A plan with the same shares and another total; one of nothing is shared out as usual."""
    total = sum(plan.values())
    if total <= 0:
        return plan_steps(minutes)
    return {step: minutes * plan.get(step, 0.0) / total for step in STEPS}


@dataclass(frozen=True)
class PlanTemplate:
    """A plan to begin from.

    Attributes
    ----------
    key, label, hint : str
    minutes : dict of str to float
        By step; 0 where a step is left out.
    rounds : int
        How often it is shown to whoever ordered it.
    """

    key: str
    label: str
    hint: str
    minutes: dict[str, float]
    rounds: int = 0


def _plan(*minutes: float) -> dict[str, float]:
    return dict(zip(STEPS, minutes, strict=True))


# Seven minutes a sitter are common practice; the other totals are starting points of our own.
PLAN_TEMPLATES = {t.key: t for t in (
    PlanTemplate("usual", "Usual, 40 min", "Flats take longest, then shade and light.",
                 plan_steps(40.0)),
    PlanTemplate("sitter", "Seven-minute sitter", "From the drawing to the print in one sitting.",
                 _plan(0.5, 2, 1, 1.5, 0.5, 0, 0.5, 1)),
    PlanTemplate("cel", "Cel frame, 20 min", "Hard lines, colours from the card, every pixel "
                 "right.", _plan(2, 8, 1, 4, 0, 0, 4, 1)),
    PlanTemplate("full", "Full illustration, 4 h", "Scenery and finish have their time.",
                 _plan(15, 60, 35, 55, 45, 10, 10, 10)),
    PlanTemplate("commission", "Commission, 5 h, two rounds", "Colours are shown once before the "
                 "light, and once at the end.", _plan(15, 60, 55, 60, 40, 40, 15, 15), 2),
)}
