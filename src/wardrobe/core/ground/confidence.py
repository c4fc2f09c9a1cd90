"""How likely a figure that was told from its ground is right."""

from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.trees import Trees, load_trees

Floats = NDArray[np.float64]

SURE = 0.8  # from which a figure is taken without asking
RIGHT = 0.93  # share of a silhouette, intersection over union, from which it counts as right
_MODEL = Path(__file__).with_name("confidence.npz")


def confidence(signs: Floats) -> float:
    """How likely a figure is right, 0..1.

    Fitted by ``benchmarks.fit_figure`` to drawings by five hands.

    Parameters
    ----------
    signs : ndarray of float64, shape (11,)
        Share of the ink's rim that a flood encloses, and that the figure does; length of what was
        closed by the ink's diagonal, and as a share of the rim that it gains; its cost by the
        gain; share of the figure that was added; ground that is enclosed on most sides, by the
        figure; how much of it stays if what speaks for it counts for less, and how much it is of
        what it would be if that counted for more; how far, in figures, it is from the figure by
        enclosure alone, and from the guess.
    """
    return float(_trees().chance(columns(signs)[None])[0])


def columns(signs: Floats) -> Floats:
    """The signs as the trees ask about them."""
    length, cost = min(signs[2], 2.0), float(np.clip(signs[4], 0, 1))
    return np.array([signs[0], signs[1], length, signs[3], cost, signs[5],
                     np.log(signs[6] + 0.003), 1 - signs[7], 1 - signs[8],
                     min(signs[9], 1.0), np.log(signs[10] + 0.003)])


@cache
def _trees() -> Trees:
    return load_trees(_MODEL)[0]
