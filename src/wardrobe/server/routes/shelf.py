"""The shelf: palettes of one's own, shared by all pieces."""

from fastapi import APIRouter

from wardrobe.recipe.edits import Several
from wardrobe.recipe.reports.dressing import dressed_in
from wardrobe.server.routes.common import PathId, StudioDep
from wardrobe.server.schemas.shelf import Palette, SavePalette

router = APIRouter(prefix="/api", tags=["shelf"])


@router.get("/palettes")
def list_palettes(studio: StudioDep) -> list[Palette]:
    """All palettes by name."""
    return studio.shelf.all()


@router.post("/palettes", status_code=201)
def save_palette(studio: StudioDep, palette: SavePalette) -> Palette:
    """Keep colours under a name; a palette of the same name is replaced."""
    return studio.shelf.save(palette)


@router.delete("/palettes/{palette_id}", status_code=204)
def delete_palette(studio: StudioDep, palette_id: PathId) -> None:
    """Take a palette off the shelf."""
    studio.shelf.remove(palette_id)


@router.get("/pieces/{piece_id}/dressed-in/{palette_id}")
def get_dressed_in(studio: StudioDep, piece_id: PathId, palette_id: PathId) -> Several:
    """The edit by which each part takes a colour of a palette: that of its name, else the one
    that is nearest to what it has, none much more often than the others."""
    palette = studio.shelf.get(palette_id)
    return dressed_in(studio.pieces.recipe(piece_id),
                      [(c.name, c.colour) for c in palette.colours])
