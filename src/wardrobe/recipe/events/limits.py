"""How much is noted, and how it is refused."""

from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.document.model import Recipe

MOST_EVENTS = 10_000
MOST_NOTED = 8_000  # beyond them only what a person says
MOST_REFERENCES = 60  # beside a piece at a time


class EventRefusedError(WardrobeError):
    """What is to be noted is not about anything that is there."""

    title = "This could not be noted"


def called(look: str | None, recipe: Recipe) -> str:
    """What a look is called.

    Raises
    ------
    EventRefusedError
        If it is not there.
    """
    if look in (None, PIECE):
        return "" if look is None else "The piece"
    found = next((k.name for k in recipe.looks if k.id == look), None)
    if found is None:
        raise EventRefusedError("This look is not there any more.")
    return found
