"""Characters with their colour cards, and sets of names."""

from typing import Annotated, Literal

from fastapi import APIRouter, File, Form, Response, UploadFile
from pydantic import ValidationError

from wardrobe.core.formats.tokens import (
    CardColour,
    CardFormatError,
    read_csv,
    read_tokens,
    read_washes,
    write_csv,
    write_tokens,
)
from wardrobe.recipe.document.colouring import Wash
from wardrobe.recipe.document.types import Title
from wardrobe.recipe.edits import EditRefusedError, Several
from wardrobe.recipe.exchange.card import KEPT, card_of, checked, compare, washes_of, wear
from wardrobe.server.routes.common import PathId, StudioDep, as_file
from wardrobe.server.schemas.characters import (
    Character,
    CharacterChange,
    GiveCharacter,
    PieceCharacter,
    SavedNames,
    SaveNames,
    WearRequest,
)
from wardrobe.server.schemas.pieces import Piece
from wardrobe.server.studio import Studio, file_name

router = APIRouter(prefix="/api", tags=["characters"])

_MOST_CARD_BYTES = 2**20


@router.get("/characters")
def list_characters(studio: StudioDep) -> list[Character]:
    """All characters."""
    return studio.characters.all()


@router.post("/characters", status_code=201)
def make_character(studio: StudioDep, request: CharacterChange) -> Character:
    """A new character, with the colours of a piece if one is given."""
    if request.name is None:
        raise EditRefusedError("A character needs a name.")
    made = studio.characters.create(request.name, _card(studio, request) or [],
                                    _washes(studio, request))
    if request.from_piece is not None:
        studio.characters.give(request.from_piece, made.id)
    return studio.characters.get(made.id)


@router.patch("/characters/{character_id}")
def change_character(studio: StudioDep, character_id: PathId,
                     request: CharacterChange) -> Character:
    """A new name, or a new card."""
    return studio.characters.change(character_id, request.name, _card(studio, request),
                                    _washes(studio, request))


@router.delete("/characters/{character_id}", status_code=204)
def delete_character(studio: StudioDep, character_id: PathId) -> None:
    """Delete a character; its pieces stay."""
    studio.characters.remove(character_id)


@router.post("/characters/import", status_code=201)
def import_card(studio: StudioDep, file: Annotated[UploadFile, File()],
                name: Annotated[Title, Form()]) -> Character:
    """A new character from a card: design tokens as JSON, or CSV."""
    return studio.characters.create(name, *_read_card(file))


@router.put("/characters/{character_id}/card")
def replace_card(studio: StudioDep, character_id: PathId,
                 file: Annotated[UploadFile, File()]) -> Character:
    """Put the colours of a file in place of a character's card."""
    return studio.characters.change(character_id, None, *_read_card(file))


@router.get("/characters/{character_id}/card.{form}", response_class=Response, responses={
    200: {"content": {"application/json": {}, "text/csv": {}}}})
def export_card(studio: StudioDep, character_id: PathId, form: Literal["json", "csv"]) -> Response:
    """The card as design tokens (JSON) or as CSV."""
    character = studio.characters.get(character_id)
    text = write_tokens(
        character.card, character.name,
        {key: wash.model_dump() for key, wash in character.washes.items()}) if form == "json" \
        else write_csv(character.card)
    return Response(text, media_type="application/json" if form == "json" else "text/csv",
                    headers=as_file(f"{file_name(character.name)}-card.{form}"))


@router.get("/pieces/{piece_id}/character")
def piece_character(studio: StudioDep, piece_id: PathId) -> PieceCharacter:
    """Whose picture a piece is, and how far its parts are from the card."""
    recipe = studio.pieces.recipe(piece_id)
    character = studio.characters.of_piece(piece_id)
    return PieceCharacter(character=character,
                          lines=compare(recipe, character.card) if character else [])


@router.put("/pieces/{piece_id}/character")
def give_character(studio: StudioDep, piece_id: PathId, request: GiveCharacter) -> PieceCharacter:
    """Say whose picture a piece is."""
    studio.characters.give(piece_id, request.character)
    return piece_character(studio, piece_id)


@router.post("/pieces/{piece_id}/wear-card")
def wear_card(studio: StudioDep, piece_id: PathId, request: WearRequest) -> Piece:
    """Give the parts the card's colours, as one change."""
    character = studio.characters.of_piece(piece_id)
    if character is None:
        raise EditRefusedError("Say whose picture this is first.")
    edit: Several = wear(studio.pieces.recipe(piece_id), character.card, request.shades,
                         character.washes)
    return Piece.of(studio.pieces.edit(piece_id, request.seen, edit), studio.deriver)


@router.get("/name-sets")
def list_name_sets(studio: StudioDep) -> list[SavedNames]:
    """The sets of names that were saved."""
    return studio.characters.name_sets()


@router.post("/name-sets", status_code=201)
def save_name_set(studio: StudioDep, request: SaveNames) -> SavedNames:
    """Keep names as a set; one of the same name is replaced."""
    return studio.characters.save_names(request.name, request.parts)


@router.delete("/name-sets/{set_id}", status_code=204)
def delete_name_set(studio: StudioDep, set_id: PathId) -> None:
    """Delete a saved set."""
    studio.characters.remove_names(set_id)


def _card(studio: Studio, request: CharacterChange) -> list[CardColour] | None:
    if request.from_piece is not None:
        return card_of(studio.pieces.recipe(request.from_piece))
    return request.card


def _washes(studio: Studio, request: CharacterChange) -> dict[str, Wash] | None:
    if request.from_piece is None:
        return None
    return washes_of(studio.pieces.recipe(request.from_piece))


def _read_card(file: UploadFile) -> tuple[list[CardColour], dict[str, Wash]]:
    """The colours of a file, and the washes that go with them."""
    data = file.file.read(_MOST_CARD_BYTES + 1)
    if len(data) > _MOST_CARD_BYTES:
        raise CardFormatError("A card of colours has at most 1 MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CardFormatError("This is not text: JSON or CSV is expected.") from error
    if not text.lstrip().startswith(("{", "[")):
        return _checked(read_csv(text)), {}
    card = _checked(read_tokens(text))
    try:
        found = read_washes(text)
        washes: dict[str, Wash] = {key: Wash.model_validate(found[key]) for key in KEPT
                                   if key in found}
    except ValidationError as error:
        raise CardFormatError("The washes of this card have no colour and strength.") from error
    return card, washes


def _checked(card: list[CardColour]) -> list[CardColour]:
    found = []
    for entry in card:
        try:
            found.append(checked(entry))
        except ValueError as error:
            shown = entry.name.encode("utf-8", "replace").decode("utf-8")[:60]
            raise CardFormatError(f"“{shown}” cannot be on a card: {error}.") from error
    return found
