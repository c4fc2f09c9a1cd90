"""How long a drawing will take: a range, from finished pieces that are like it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from wardrobe.core.timing.plan import STEPS

Floats = NDArray[np.float64]

LEAST_PIECES = 5  # with fewer the plan is all there is
COVER = 0.8  # of true times that the range is to hold
_LIKE = 40  # pieces, the nearest
_NAMED = 3  # of them, that are told
_RIDGE = 3.0  # pieces that an effect must outweigh to be believed
_HAIR_MINUTES = 2.0  # long hair or a beard (common practice, no published source)
_LEAST = 0.05  # minutes


@dataclass(frozen=True)
class Traits:
    """What of a drawing tells how long it takes: how many there are of each."""

    areas: int
    parts: int
    gaps: int
    hair: int

    def vector(self) -> Floats:
        """As numbers in which twice as many is the same step everywhere."""
        return np.log1p(np.array([self.areas, self.parts, self.gaps, self.hair], float))


@dataclass(frozen=True)
class Finished:
    """A finished piece: what it was like, and minutes by step."""

    piece: int
    traits: Traits
    minutes: Mapping[str, float]


@dataclass(frozen=True)
class Range:
    """Minutes: four times in five the truth lies between low and high."""

    low: float
    likely: float
    high: float


@dataclass(frozen=True)
class Estimate:
    """How long a drawing will take.

    Attributes
    ----------
    total : Range
    steps : dict of str to Range
    rests_on : str
        ``plan`` or ``pieces``.
    count : int
        How many pieces it rests on.
    nearest : tuple of int
        The most alike of them.
    words : str
        What it rests on.
    """

    total: Range
    steps: dict[str, Range]
    rests_on: str
    count: int
    nearest: tuple[int, ...]
    words: str


def estimate(traits: Traits, history: Sequence[Finished], plan: Mapping[str, float]) -> Estimate:
    """How long a drawing will take.

    The logarithm of the minutes is fitted to the nearest pieces by ridge regression, and the
    range is that of the jackknife: what each piece would have been missed by, had it not been
    known (Barber, Candes, Ramdas, Tibshirani: Predictive inference with the jackknife+, Annals
    of Statistics 49, 2021), between two pieces' ranks where the rank is no whole number.

    Parameters
    ----------
    traits : Traits
        Of the drawing.
    history : sequence of Finished
    plan : mapping of str to float
        Minutes by step: what is said with fewer than LEAST_PIECES.

    Returns
    -------
    Estimate
    """
    known = [f for f in history if sum(f.minutes.values()) > _LEAST]
    if len(known) < LEAST_PIECES:
        return _planned(traits, len(known), plan)
    like = _nearest(traits, known)
    inputs = np.array([f.traits.vector() for f in like])
    query = traits.vector()
    total = _range(inputs, np.array([sum(f.minutes.values()) for f in like]), query)
    steps = {}
    for step in STEPS:
        minutes = np.array([f.minutes.get(step, 0.0) for f in like])
        steps[step] = (Range(0.0, 0.0, 0.0) if (minutes > _LEAST).mean() < 0.5
                       else _range(inputs, np.maximum(minutes, _LEAST), query))
    words = (f"Rests on {len(like)} finished pieces" if len(like) == len(known) else
             f"Rests on the {len(like)} of {len(known)} finished pieces that are most alike")
    return Estimate(total, steps, "pieces", len(like),
                    tuple(f.piece for f in like[:_NAMED]), f"{words}.")


def _planned(traits: Traits, known: int, plan: Mapping[str, float]) -> Estimate:
    hair = _HAIR_MINUTES * traits.hair
    more = {s: plan.get(s, 0.0) + (hair if s == "parts" else 0.0) for s in STEPS}
    # Twice as fast or slow as planned, until there is something to go by.
    steps = {s: Range(m / 1.5, m, m * 1.5) for s, m in more.items()}
    sums = sum(more.values())
    had = ("no finished piece" if known == 0 else "only one finished piece" if known == 1
           else f"only {known} finished pieces")
    words = (f"Rests on the plan: there {'is' if known < 2 else 'are'} {had} to go by "
             f"({LEAST_PIECES} are needed)."
             + (f" Hair or a beard adds {_HAIR_MINUTES:.0f} minutes each." if hair else ""))
    return Estimate(Range(sums / 1.5, sums, sums * 1.5), steps, "plan", known, (), words)


def _nearest(traits: Traits, known: Sequence[Finished]) -> list[Finished]:
    """The pieces that are most alike, nearest first."""
    vectors = np.array([f.traits.vector() for f in known])
    spread = np.maximum(vectors.std(axis=0), 0.1)
    _, at = cKDTree(vectors / spread).query(traits.vector() / spread, min(_LIKE, len(known)))
    return [known[k] for k in np.atleast_1d(at)]


def _range(inputs: Floats, minutes: Floats, query: Floats) -> Range:
    y = np.log(minutes)
    middle, spread = inputs.mean(axis=0), np.maximum(inputs.std(axis=0), 1e-3)
    x = np.column_stack([np.ones(len(y)), (inputs - middle) / spread])
    at = np.concatenate([[1.0], (query - middle) / spread])
    # A drawing far outside of all that are known is no reason to believe a trend for ever.
    at[1:] = np.clip(at[1:], x[:, 1:].min(axis=0) - 1.0, x[:, 1:].max(axis=0) + 1.0)
    penalty = np.diag([0.0] + [_RIDGE] * inputs.shape[1])
    inverse = np.linalg.inv(x.T @ x + penalty)
    weights = inverse @ (x.T @ y)
    leverage = np.einsum("ij,jk,ik->i", x, inverse, x)
    missed = (y - x @ weights) / np.maximum(1.0 - leverage, 0.05)  # left out, in closed form
    off = np.sort(np.abs(missed))
    rank = COVER * (len(off) + 1) - 1  # between two of them where it is no whole number
    half = float(np.interp(rank, np.arange(len(off)), off))
    likely = float(at @ weights)
    return Range(float(np.exp(likely - half)), float(np.exp(likely)),
                 float(np.exp(likely + half)))
