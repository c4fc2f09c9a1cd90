"""Whatever names places in the picture, found by its type, moves along when the frame changes."""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Any, TypeVar, get_args, get_origin

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from wardrobe.recipe.document.types import FARTHEST, PLACE

M = TypeVar("M", bound=BaseModel)
Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Motion:
    """A turn and a shift of the picture.

    Attributes
    ----------
    matrix : ndarray of float64, shape (3, 3)
        From places before to places after.
    """

    matrix: NDArray[np.float64]

    @cached_property
    def clockwise(self) -> float:
        """Degrees by which it turns; y runs down."""
        return float(np.degrees(np.arctan2(self.matrix[1, 0], self.matrix[0, 0])))

    def points(self, points: Sequence[tuple[float, float]]) -> Points:
        """Places, to a hundredth; far beside the picture they stay within the bounds of places."""
        xy = np.array(points, np.float64).reshape(-1, 2) @ self.matrix[:2, :2].T \
            + self.matrix[:2, 2]
        rounded = np.round(np.clip(xy, -FARTHEST, FARTHEST), 2).tolist()
        return tuple((x, y) for x, y in rounded)

    def vector(self, dx: float, dy: float) -> tuple[float, float]:
        """A direction with its length."""
        x, y = self.matrix[:2, :2] @ [dx, dy]
        return float(x), float(y)


class Turning(BaseModel, ABC):
    """What holds directions beside places, and turns them itself."""

    @abstractmethod
    def turned(self, motion: Motion) -> dict[str, Any]:
        """The fields that change."""


def moved(model: M, motion: Motion) -> M:
    """A model with all its places moved, however deep; what holds none is the same object."""
    changes: dict[str, Any] = {}
    for name, field in type(model).model_fields.items():
        value = getattr(model, name)
        # Pydantic keeps what marks a field itself apart from its type.
        new = motion.points([value])[0] if PLACE in field.metadata and value is not None else \
            _moved(value, field.annotation, motion)
        if new is not value:
            changes[name] = new
    if isinstance(model, Turning):
        changes |= model.turned(motion)
    return model.model_copy(update=changes) if changes else model


def _moved(value: Any, annotation: Any, motion: Motion) -> Any:
    if isinstance(value, BaseModel):
        return moved(value, motion)
    if not isinstance(value, tuple) or not value:
        return value
    if _is_place(annotation):
        return motion.points([value])[0]
    inner = _of_row(annotation, len(value))
    if all(map(_is_place, inner)):
        return motion.points(value)
    new = tuple(_moved(v, a, motion) for v, a in zip(value, inner, strict=True))
    return value if all(a is b for a, b in zip(new, value, strict=True)) else new


def _bare(annotation: Any) -> Any:
    while get_origin(annotation) is Annotated:
        annotation = get_args(annotation)[0]
    return annotation


def _is_place(annotation: Any) -> bool:
    return get_origin(annotation) is Annotated and PLACE in get_args(annotation)[1:]


def _of_row(annotation: Any, length: int) -> list[Any]:
    """Annotations of the entries of a tuple."""
    found = get_args(_bare(annotation)) if get_origin(_bare(annotation)) is tuple else ()
    if len(found) == 2 and found[1] is Ellipsis:
        return [found[0]] * length
    return list(found) if len(found) == length else [None] * length
