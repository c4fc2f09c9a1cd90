"""What is known of the areas of a figure beside the drawing."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

Volume = Literal["as drawn", "round", "tube", "flat", "folded"]
VOLUMES: dict[Volume, str] = {
    "as drawn": "Round where the outline closes; open where another part covers it, and at hems.",
    "round": "Turns away along all of its outline.",
    "tube": "Open at both ends, like a sleeve or a leg.",
    "flat": "Faces you, like paper or a badge.",
    "folded": "Plane faces, one for each side of the edges that you draw.",
}
assert tuple(VOLUMES) == get_args(Volume)


@dataclass(frozen=True)
class Edge:
    """An edge drawn into a folded part.

    Attributes
    ----------
    group : int
        Of the areas that it folds.
    points : sequence of (float, float)
        Picture pixels.
    """

    group: int
    points: Sequence[tuple[float, float]]


@dataclass(frozen=True)
class Traits:
    """Tables by area; entry 0 is not used.

    Attributes
    ----------
    figure : ndarray of bool, shape (areas + 1,)
        False for the ground and for areas without a part.
    fold : ndarray of float32, shape (areas + 1,), range 0..1
        How deeply a stroke inside the area folds it.
    kin : ndarray of int32, shape (areas + 1, 2)
        Family of each area, 0 for none, and its member; touching members of a family are one
        form.
    volume : ndarray of uint8, shape (areas + 1,)
        Index in VOLUMES.
    group : ndarray of uint16, shape (areas + 1,)
        Areas of a number are the faces of one folded form; 0 for others.
    closed : ndarray of float32, shape (areas + 1,), range 0..1
        How far an area turns away at least where another covers its edge: a face does under hair.
    told : ndarray of float32, shape (areas + 1,)
        How far in front an area is said to be; NaN where nothing is said.
    edges : tuple of Edge
    """

    figure: NDArray[np.bool_]
    fold: NDArray[np.float32]
    kin: NDArray[np.int32]
    volume: NDArray[np.uint8]
    group: NDArray[np.uint16]
    closed: NDArray[np.float32]
    told: NDArray[np.float32]
    edges: tuple[Edge, ...] = ()

    @classmethod
    def usual(cls, figure: NDArray[np.bool_], fold: float = 0.0) -> "Traits":
        """Every area of the figure as drawn."""
        count = len(figure)
        return cls(figure, np.full(count, fold, np.float32), np.zeros((count, 2), np.int32),
                   np.zeros(count, np.uint8), np.zeros(count, np.uint16),
                   np.zeros(count, np.float32), np.full(count, np.nan, np.float32))

    def key(self) -> tuple[object, ...]:
        """What two equal tables have in common."""
        return (*(table.tobytes() for table in (self.figure, self.fold, self.kin, self.volume,
                                                self.group, self.closed, self.told)), self.edges)
