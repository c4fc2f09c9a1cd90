"""The shelf of palettes as the API takes and gives it."""

from typing import Annotated

from pydantic import BaseModel, Field

from wardrobe.recipe.document.types import Colour, PartName, Title

MOST_COLOURS = 64


class NamedColour(BaseModel):
    """A colour, and what it is called."""

    name: PartName
    colour: Colour


class SavePalette(BaseModel):
    """Keep colours under a name; a palette of the same name is replaced."""

    name: Title
    colours: Annotated[list[NamedColour], Field(min_length=1, max_length=MOST_COLOURS)]


class Palette(SavePalette):
    """A palette on the shelf."""

    id: int
