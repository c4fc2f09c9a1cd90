"""Put the demo pieces into a store."""

from collections.abc import Callable

from wardrobe.demo.pieces import DEMO_PIECES, DemoPiece
from wardrobe.recipe.edits import Edit, MoveLight, SetBackground
from wardrobe.recipe.model import Recipe

ReadDrawing = Callable[[bytes], Recipe]
CreatePiece = Callable[[DemoPiece, Recipe, tuple[Edit, ...]], None]


def install_demo(read: ReadDrawing, create: CreatePiece) -> None:
    """Draw every demo piece and hand it over with the edits that colour it.

    Parameters
    ----------
    read : callable
        From a file to a recipe without parts.
    create : callable
        Stores a piece.
    """
    for piece in DEMO_PIECES:
        recipe = read(piece.draw())
        edits: tuple[Edit, ...] = (piece.claims(recipe.size[0]),
                                   SetBackground(colour=piece.background),
                                   MoveLight(light=piece.light))
        create(piece, recipe, edits)
