"""Pages of panels: brought in, taken apart into pieces, put together and delivered."""

import io
import zipfile
from pathlib import Path

import numpy as np

from wardrobe.core.formats.flat import encode_flat, resized
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.recipe.document.drawing import Laid, Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    Edit,
    PutDrawing,
    SetDetails,
    Several,
    SingleEdit,
    apply,
)
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.series.page import PagePanel, PageSheet
from wardrobe.recipe.series.panels import (
    Place,
    begin_panel,
    find_sheet,
    lettered,
    page_ink,
    page_picture,
    panel_drawing,
    place_of,
    put_together,
)
from wardrobe.recipe.series.shared import follow
from wardrobe.server.arrivals import read_drawing
from wardrobe.server.db.series import StoredPage
from wardrobe.server.jobs import Job
from wardrobe.server.problems import NotFoundError
from wardrobe.server.schemas.series import PageFile
from wardrobe.server.series import carry_into
from wardrobe.server.studio import Studio, file_name

_BYTES_PER_PIXEL = 40  # of a sheet that is taken apart, as measured
_BYTES_TO_DELIVER = 60


def bring_page(studio: Studio, job: Job, series_id: int, file: Path, title: str,
               long_edge: int) -> None:
    """From a file to a page with its panels and balloons, and a piece for each panel."""
    job.report(0.02, "Reading the file")
    read = read_drawing(studio, file, long_edge, job.check).source
    sheet = PageSheet(asset=read.asset, original=read.original, width=read.width,
                      height=read.height)
    with studio.memory.reserved(_BYTES_PER_PIXEL * sheet.width * sheet.height, job.check):
        job.report(0.1, "Finding panels and balloons")
        sheet = find_sheet(sheet, page_ink(studio.deriver, sheet))
    page = studio.series.add_page(series_id, title, sheet)
    job.report(0.2, "Beginning the panels")
    begin_panels(studio, job, page)


def begin_panels(studio: Studio, job: Job, page_id: int) -> None:
    """A piece for each panel that has none yet."""
    page = studio.series.page(page_id)
    sheet = page.sheet
    rgba = studio.store.load(sheet.asset)
    letters = lettered(page_ink(studio.deriver, sheet), sheet)
    waiting = [k for k, panel in enumerate(sheet.panels) if panel.piece is None]
    for done, k in enumerate(waiting):
        job.report(0.2 + 0.8 * done / len(waiting), f"Panel {k + 1} of {len(sheet.panels)}")
        piece = _begin(studio, job, page, rgba, letters, k)
        page = studio.series.page(page_id)
        panels = list(page.sheet.panels)
        panels[k] = panels[k].model_copy(update={
            "piece": piece, "origin": place_of(page.sheet, k).box[:2]})
        studio.series.change_page(page_id, page.revision, page.sheet.model_copy(
            update={"panels": tuple(panels)}))
        page = studio.series.page(page_id)
        carry_into(studio, studio.series.get(page.series), piece)
    job.answer = None


def _begin(studio: Studio, job: Job, page: StoredPage, rgba: np.ndarray, letters: np.ndarray,
           number: int) -> int:
    sheet, place = page.sheet, place_of(page.sheet, number)
    source, details = _stored(studio, rgba, letters, place)
    recipe = Recipe(source=source)
    shared = studio.series.get(page.series).shared
    edits: list[Edit] = []
    following = follow(recipe, shared, "")
    if following:
        edits.append(following)
        recipe = apply(recipe, following)
    with studio.memory.reserved(_BYTES_PER_PIXEL * place.box[2] * place.box[3], job.check):
        edits += begin_panel(studio.deriver, recipe, place,
                             [np.array(b) for b in sheet.balloons], details)
    piece = studio.pieces.create(f"{page.title}, panel {number + 1}"[:120],
                                 sum(shared.minutes.values()) or 20.0, Recipe(source=source),
                                 tuple(edits))
    studio.series.append(page.series, [piece], page.id)
    return piece


def _stored(studio: Studio, rgba: np.ndarray, letters: np.ndarray, place: Place,
            first: tuple[int, int, int, int] | None = None) -> tuple[Source, PlacedPicture | None]:
    """The drawing and the letters of a panel, kept."""
    cut = panel_drawing(rgba, letters, place, first)
    height, width = cut.drawing.shape[:2]
    drawing = studio.assets.put(encode_png(cut.drawing, level=2))
    details = None if cut.letters is None else PlacedPicture(
        asset=studio.assets.put(encode_png(cut.letters, level=2)), width=cut.letters.shape[1],
        height=cut.letters.shape[0])
    return Source(asset=drawing, width=width, height=height), details


def correct_sheet(studio: Studio, page_id: int, seen: int, sheet: PageSheet) -> StoredPage:
    """Other outlines, order, or balloons; panels whose outline moved within their piece's rectangle
    are cut anew under it, as a corrected drawing."""
    before = studio.series.page(page_id)
    fixed = {name: getattr(before.sheet, name) for name in ("asset", "original", "width",
                                                            "height")}
    known = {p.piece: p.origin for p in before.sheet.panels if p.piece is not None}
    panels = tuple(p.model_copy(update={"origin": known[p.piece]}) if p.piece in known
                   else PagePanel(outline=p.outline) for p in sheet.panels)
    after = studio.series.change_page(page_id, seen, sheet.model_copy(
        update={**fixed, "panels": panels}))
    _cut_anew(studio, before.sheet, after.sheet)
    order = [p.piece for p in after.sheet.panels if p.piece is not None]
    members = [m.id for m in studio.series.get(after.series).members]
    places = [k for k, m in enumerate(members) if m in order]
    for k, piece in zip(places, order, strict=False):
        members[k] = piece
    studio.series.arrange_same(after.series, members)
    return after


def _cut_anew(studio: Studio, before: PageSheet, after: PageSheet) -> None:
    """The pieces of panels whose outline is another now get another drawing."""
    outlines = {p.piece: p.outline for p in before.panels if p.piece is not None}
    changed = [k for k, p in enumerate(after.panels)
               if p.piece is not None and p.outline != outlines.get(p.piece)]
    if not changed:
        return
    rgba = studio.store.load(after.asset)
    letters = lettered(page_ink(studio.deriver, after), after)
    for k in changed:
        piece, origin = after.panels[k].piece, after.panels[k].origin
        assert piece is not None and origin is not None
        place = place_of(after, k)
        stored = studio.pieces.get(piece)
        size = stored.recipe.source.width, stored.recipe.source.height
        source, details = _stored(studio, rgba, letters, place, (*origin, *size))
        dx, dy = place.box[0] - origin[0], place.box[1] - origin[1]
        edits: list[SingleEdit] = [PutDrawing(
            asset=source.asset, remark="Cut anew from the page",
            laid=Laid(width=source.width, height=source.height,
                      matrix=((1.0, 0.0, float(dx)), (0.0, 1.0, float(dy)))))]
        if details:
            edits.append(SetDetails(details=details))
        studio.edit(piece, stored.revision, Several(edits=tuple(edits)))


def recipes_of(studio: Studio, sheet: PageSheet) -> list[Recipe | None]:
    """The recipes of a page's panels; those whose piece is gone have none."""
    found: list[Recipe | None] = []
    for panel in sheet.panels:
        try:
            found.append(studio.pieces.recipe(panel.piece) if panel.piece else None)
        except NotFoundError:
            found.append(None)
    return found


def deliver_page(studio: Studio, job: Job, page_id: int, wanted: PageFile) -> None:
    """Write a page: as one stack, as one picture, or panel by panel."""
    page = studio.series.page(page_id)
    sheet, recipes = page.sheet, recipes_of(studio, page.sheet)
    dpi = next((r.delivery.dpi for r in recipes if r), 300)
    suffix = {"panels": "zip"}.get(wanted.format, wanted.format)
    path = studio.scratch.folder / f"{job.id}.{suffix}"
    room = _BYTES_TO_DELIVER * sheet.width * sheet.height
    with studio.memory.reserved(room, job.check), replacing(path) as temporary:
        job.report(0.05, "Reading the page")
        ink = page_ink(studio.deriver, sheet)
        letters = lettered(ink, sheet)
        if wanted.format == "panels":
            _panels(studio, job, page, recipes, temporary, dpi)
        elif wanted.format == "ora":
            stack = put_together(studio.deriver, sheet, recipes, ink, letters,
                                 lambda share: job.report(0.1 + 0.5 * share, "Laying panels"))
            # What the stack flattens to, sooner.
            merged = page_picture(studio.deriver, sheet, recipes, ink, letters,
                                  lambda share: job.report(0.6 + 0.05 * share))
            job.report(0.65, "Writing the file")
            write_openraster(temporary, stack, merged, dpi,
                             lambda share: job.report(0.65 + 0.34 * share))
        else:
            picture = page_picture(studio.deriver, sheet, recipes, ink, letters,
                                   lambda share: job.report(0.1 + 0.8 * share, "Laying panels"))
            if wanted.long_edge:
                picture = resized(picture, wanted.long_edge)
            temporary.write_bytes(encode_flat(picture, wanted.format, dpi))
    job.file, job.file_name = path, f"{file_name(page.title)}.{suffix}"


def _panels(studio: Studio, job: Job, page: StoredPage, recipes: list[Recipe | None],
            path: Path, dpi: int) -> None:
    """Each panel's stack, in an archive."""
    with zipfile.ZipFile(path, "w") as archive:
        for k, recipe in enumerate(recipes):
            if recipe is None:
                continue
            job.report(0.1 + 0.85 * k / len(recipes), f"Panel {k + 1} of {len(recipes)}")
            stack = studio.deriver.stack(recipe)
            out = io.BytesIO()
            picture = studio.deriver.picture(recipe, View.whole(*recipe.size))
            write_openraster(out, stack, picture, dpi)
            archive.writestr(f"{file_name(page.title)}-panel-{k + 1:02d}.ora", out.getvalue())
