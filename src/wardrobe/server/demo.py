"""The demo pieces of a data folder."""

from collections.abc import Callable

from wardrobe.demo import page, walk
from wardrobe.demo.install import install_demo
from wardrobe.demo.pen import Pen
from wardrobe.demo.pieces import DemoPiece
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import Edit, KeepParts, MoveLight, SetBackground, Several
from wardrobe.recipe.exchange.card import washes_of
from wardrobe.recipe.series.shared import Scene, Shared
from wardrobe.server.arrivals import read_drawing
from wardrobe.server.jobs import Job
from wardrobe.server.pages import bring_page
from wardrobe.server.series import begin_edits, carry_into
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

_LONG_EDGE, _FRAME_EDGE = 3508, 1600
_SERIES, _SKY = "Tilo Wick, the round", "#a9b2c9"


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

        def read(data: bytes, long_edge: int = _LONG_EDGE) -> Recipe:
            with studio.scratch.room() as folder:
                (folder / "drawing").write_bytes(data)
                return read_drawing(studio, folder / "drawing", long_edge)

        install_demo(read, create, studio.deriver)
        print("  Drawing the demo series ...", flush=True)
        _install_series(studio, read)
    finally:
        studio.close()


def _install_series(studio: Studio, read: Callable[[bytes, int], Recipe]) -> None:
    """A walk of eight frames, the first of which is coloured, and a page of four panels."""
    for known in studio.series.all():
        if known.title == _SERIES and not known.pieces:
            studio.series.remove(known.id)
    dusk = Light(azimuth=32, height=34, colour="#ffd9a0",
                 ambient="#6f7fb4")
    scene = Scene(name="dusk", light=dusk, background="#8d9ab8")
    shared = Shared(scenes=(scene,), passes=Passes(), delivery=Delivery(numbered=True), fps=10)
    series = studio.series.create(_SERIES, shared)
    for frame in range(walk.FRAMES):
        first = read(walk.draw(frame), _FRAME_EDGE)
        edits = begin_edits(studio, first, shared, scene.name)
        if frame == 0:
            spots = walk.figure(Pen(walk.WIDTH, walk.HEIGHT), 0)
            edits += (walk.claims(spots, first.size[0] / walk.WIDTH), KeepParts())
        piece = studio.pieces.create(f"Walk, frame {frame + 1}", 8, first, edits,
                                     demo=_SERIES)
        studio.series.append(series, [piece], scene=scene.name)
        carry_into(studio, studio.series.get(series), piece)
        studio.store.close()
        studio.store(studio.card(studio.pieces.recipe(piece)))
        studio.store.close()
    with studio.scratch.room() as folder:
        (folder / "page").write_bytes(page.draw())
        bring_page(studio, Job("demo", "import"), series, folder / "page", "Page 1",
                   page.HEIGHT)
    (sheet,) = [p.sheet for p in studio.series.pages(series)]
    for panel, spots in zip(sheet.panels, page.places(), strict=True):
        assert panel.piece and panel.origin
        stored = studio.pieces.get(panel.piece)
        if studio.events.of(panel.piece, "carried"):  # coloured by hand, not from the walk
            stored = studio.pieces.travel(panel.piece, stored.revision, -1)
        studio.pieces.edit(panel.piece, stored.revision, Several(edits=(
            walk.claims(spots, 1.0, panel.origin, stored.recipe), MoveLight(light=dusk),
            SetBackground(colour=_SKY))))
    for member in studio.series.get(series).members:
        studio.pieces.mark_demo(member.id, _SERIES)
        studio.store(studio.card(studio.pieces.recipe(member.id)))
        studio.store.close()
