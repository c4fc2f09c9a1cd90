"""Characters, their cards and outfits, and sets of names."""

from typing import Annotated

from pydantic import BaseModel, Field

from wardrobe.core.formats.tokens import MOST_COLOURS, CardColour
from wardrobe.recipe.document.colouring import Wash
from wardrobe.recipe.document.look import LookId
from wardrobe.recipe.document.name_sets import NamedParts
from wardrobe.recipe.document.types import Title
from wardrobe.recipe.exchange.card import CardLine, CheckedColour, Shades
from wardrobe.recipe.exchange.kept_finish import KeptFinish
from wardrobe.server.schemas.pieces import Id, Piece, Revision


class Outfit(BaseModel):
    """A look that a character keeps: base colours by part name, and how it is finished."""

    name: Title
    colours: Annotated[dict[str, str], Field(max_length=MOST_COLOURS)]
    finish: KeptFinish | None = None


class Character(BaseModel):
    """A character, its colour card and its pieces."""

    id: int
    name: str
    card: list[CardColour]
    washes: dict[str, Wash]
    pieces: list[int]
    outfits: list[Outfit] = []


class CharacterChange(BaseModel):
    """A new name, a new card, or both; a card may be taken from a piece."""

    name: Title | None = None
    card: Annotated[list[CheckedColour], Field(max_length=MOST_COLOURS)] | None = None
    from_piece: Id | None = None


class GiveCharacter(BaseModel):
    """Whose picture a piece is."""

    character: Id | None


class WearRequest(BaseModel):
    """Put on a card: its bases, and its shades as washes, part by part, or not at all."""

    seen: Revision
    shades: Shades = "leave"


class PieceCharacter(BaseModel):
    """Whose picture a piece is, and its parts against the card."""

    character: Character | None
    lines: list[CardLine]


class SavedNames(BaseModel):
    """A set of names to start from."""

    id: int
    name: str
    parts: NamedParts


class SaveNames(BaseModel):
    """Names to keep as a set."""

    name: Title
    parts: NamedParts


class KeepOutfit(BaseModel):
    """Keep a look of a piece on its character's card."""

    piece: Id
    look: LookId
    name: Title


class WearOutfit(BaseModel):
    """Hang a character's outfit on the rail of a piece."""

    seen: Revision
    outfit: Annotated[str, Field(max_length=120)]


class WornOutfit(BaseModel):
    """The piece afterwards, and names of the outfit that it has no part for."""

    piece: Piece
    missing: list[str]
