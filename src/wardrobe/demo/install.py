"""Put the demo pieces into a store."""

from collections.abc import Callable
from functools import reduce
from typing import Literal

from wardrobe.demo.pieces import DEMO_PIECES, DemoPiece
from wardrobe.recipe.document.ink import Inking
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.edits import AddLook, Edit, MoveLight, SetBackground, SetInk, apply
from wardrobe.recipe.reports.proposals import EvenOut, propose

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
        names: tuple[Literal["shade", "light"], ...] = ("shade", "light")
        for name in names:
            shown = reduce(apply, edits, recipe)
            edits += (propose(shown, EvenOut(name=name, own=False)).edit,)
        ids = {p.name: p.id for p in shown_parts(recipe, edits)}
        edits += tuple(AddLook(name=look.name, background=look.background,
                               bases={ids[name]: base for name, base in look.bases.items()})
                       for look in piece.looks)
        if piece.ink != Inking():
            edits += (SetInk(ink=piece.ink),)
        create(piece, recipe, edits)


def shown_parts(recipe: Recipe, edits: tuple[Edit, ...]) -> tuple[Part, ...]:
    """The parts after some edits."""
    return reduce(apply, edits, recipe).parts
