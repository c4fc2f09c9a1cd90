"""Stages: what follows from a recipe, as a graph of pure tasks with keys that cannot be wrong."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar, Generic, Literal, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.stages.digest import CODE, digest

T = TypeVar("T")
T_co = TypeVar("T_co", covariant=True)
Keep = Literal["nowhere", "in memory", "on disk"]


class Small:
    """An artefact without arrays; so many bytes are near enough."""

    nbytes = 4096


class Get(Protocol):
    """How a stage gets at artefacts of the stages that it stands on."""

    def __call__(self, stage: "Stage[T]") -> T:
        """The artefact of a stage."""

    def known(self, stage: "Stage[T]") -> T | None:
        """The artefact if it is in memory: to go on from it rather than to start afresh."""

    def load(self, asset: str) -> NDArray[np.uint8]:
        """Pixels of an asset, RGBA, by its SHA-256."""


@dataclass(frozen=True, eq=False)
class Stage(Generic[T_co]):
    """One step from the recipe to a picture.

    A subclass is a frozen dataclass. Its fields are all that it can see: values, which are its
    slice of the recipe, and other stages, on which it stands. ``make`` depends on nothing else,
    so the key, a digest of the code, class, values and the stages' keys, names the artefact
    wherever it is worked out, and a stage can be pickled and made in another process.

    Attributes
    ----------
    keep : str
        Where its artefact is kept.
    by_content : bool
        What stands on this depends on what its artefact holds, rather than on how it came about:
        a claim that changes nothing leaves the form as it is. For small artefacts.
    by_name : bool
        It is looked up by its name, so that nothing below is worked out to find it.
    """

    keep: ClassVar[Keep] = "in memory"
    by_content: ClassVar[bool] = False
    by_name: ClassVar[bool] = False

    def __init_subclass__(cls, keep: Keep | None = None, by_content: bool | None = None,
                          by_name: bool | None = None) -> None:
        super().__init_subclass__()
        for name, value in (("keep", keep), ("by_content", by_content), ("by_name", by_name)):
            if value is not None:
                setattr(cls, name, value)

    def make(self, get: Get) -> T_co:
        """Work out the artefact."""
        raise TypeError(f"{type(self).__name__} is not worked out from what it holds")

    @cached_property
    def name(self) -> bytes:
        """Digest of all that the artefact can depend on; nothing is worked out for it."""
        return self.key_over(lambda stage: stage.name)

    def key_over(self, key: "Callable[[Stage[Any]], bytes]") -> bytes:
        """A digest in which ``key`` stands for the stages below."""
        values = (getattr(self, name) for name in self.__dataclass_fields__)
        return digest((CODE, type(self).__name__, *values),
                      lambda inner: key(inner) if isinstance(inner, Stage) else None)
