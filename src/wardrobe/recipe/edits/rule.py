"""What every edit's rule is, and how it refuses."""

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import Any

from pydantic import ValidationError

from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.document.types import Frozen

Rules = dict[type[Frozen], Callable[[Recipe, Any], Recipe]]


class EditRefusedError(WardrobeError):
    """The edit does not fit the recipe; nothing was changed."""

    title = "This change was not made"


def part_of(recipe: Recipe, part_id: str) -> Part:
    """The part of an id.

    Raises
    ------
    EditRefusedError
        If there is none.
    """
    for part in recipe.parts:
        if part.id == part_id:
            return part
    raise EditRefusedError("The part is no longer there.")


def changed_part(recipe: Recipe, part_id: str, **changes: Any) -> Recipe:
    """The recipe with one part changed; a suggestion is taken as accepted."""
    part = part_of(recipe, part_id)
    changed = part.model_copy(update=changes)
    return recipe.model_copy(update={
        "parts": tuple(changed if p is part else p for p in recipe.parts), "proposed": False})


@contextmanager
def refusing() -> Iterator[None]:
    """What a model does not take inside the block becomes a refusal in words."""
    try:
        yield
    except ValidationError as error:
        first = error.errors(include_input=False)[0]
        where = " → ".join(str(p) for p in first["loc"])
        message = str(first["msg"]).removeprefix("Value error, ")
        raise EditRefusedError(f"This change does not fit: {where}: {message}.") from error


def next_number(used: Iterable[int], most: int) -> int:
    """A number that has not been used: the next one, or the first free one once ``most`` is."""
    taken = set(used)
    after = max(taken, default=0) + 1
    return after if after <= most else next(n for n in range(1, most + 1) if n not in taken)
