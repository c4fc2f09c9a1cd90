"""The demo pieces of a data folder."""

from wardrobe.demo.install import install_demo
from wardrobe.demo.pieces import DemoPiece
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import Edit
from wardrobe.recipe.exchange.card import washes_of
from wardrobe.server.arrivals import read_drawing
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

_LONG_EDGE = 3508


def ensure_demo(settings: Settings, reset: bool = False) -> None:
    """Put the demo pieces in if there are none, or anew if ``reset``; user's pieces stay."""
    studio = Studio(settings)
    try:
        if reset:
            studio.pieces.remove_demo()
        if any(card.demo for card in studio.pieces.all()):
            return
        print("  Drawing the demo pieces ...", flush=True)

        def create(piece: DemoPiece, recipe: Recipe, edits: tuple[Edit, ...]) -> None:
            piece_id = studio.pieces.create(piece.title, piece.planned_minutes, recipe, edits,
                                            demo=piece.title)
            made = studio.pieces.recipe(piece_id)
            # Written out, and room made for the next: so that Home has all of them at once.
            studio.store.close()
            studio.store(studio.card(made))
            studio.store.close()
            known = {c.name: c for c in studio.characters.all()}
            character = known.get(piece.character) \
                or studio.characters.create(piece.character, piece.card(made), washes_of(made))
            studio.characters.give(piece_id, character.id)

        def read(data: bytes) -> Recipe:
            with studio.scratch.room() as folder:
                (folder / "drawing").write_bytes(data)
                return read_drawing(studio, folder / "drawing", _LONG_EDGE)

        install_demo(read, create, studio.deriver)
    finally:
        studio.close()
