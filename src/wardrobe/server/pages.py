"""Pages of panels: brought in, taken apart into pieces, put together and delivered."""

import io
import zipfile
from collections.abc import Callable
from functools import lru_cache, partial
from pathlib import Path

import numpy as np

from wardrobe.core.formats.flat import encode_flat, resized
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import Edit, Several, apply
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.series.page import Outline, PagePanel, PageSheet
from wardrobe.recipe.series.panels import begin_panel, box_anew, cut_anew, panel_drawing
from wardrobe.recipe.series.shared import follow
from wardrobe.recipe.series.sheets import (
    Box,
    Place,
    find_sheet,
    in_reading_order,
    lettered,
    page_ink,
    place_of,
)
from wardrobe.recipe.series.together import page_picture, put_together
from wardrobe.server.arrivals import read_drawing
from wardrobe.server.db.series import StoredPage
from wardrobe.server.jobs import Job
from wardrobe.server.memory import patient
from wardrobe.server.problems import NotFoundError
from wardrobe.server.schemas.series import PageFile
from wardrobe.server.series import carry_into, change_piece
from wardrobe.server.studio import Studio, file_name

_BYTES_PER_PIXEL = 40  # of a sheet that is taken apart, as measured
_BYTES_TO_DELIVER = 60
_PATIENCE = 45.0  # seconds that a correction waits for memory


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
    """A piece for each panel that has none yet; nobody corrects the page meanwhile."""
    with studio.one_at_a_time(f"page {page_id}", job.check):
        sheet = studio.series.page(page_id).sheet
        rgba = studio.store.load(sheet.asset)
        letters = lettered(page_ink(studio.deriver, sheet), sheet)
        waiting = [k for k, panel in enumerate(sheet.panels) if panel.piece is None]
        for done, k in enumerate(waiting):
            job.report(0.2 + 0.8 * done / len(waiting), f"Panel {k + 1} of {len(sheet.panels)}")
            page = studio.series.page(page_id)
            piece = _begin(studio, job, page, rgba, letters, k)
            panels = list(page.sheet.panels)
            panels[k] = panels[k].model_copy(update={
                "piece": piece, "origin": place_of(page.sheet, k).box[:2]})
            studio.series.change_page(page_id, page.revision, page.sheet.model_copy(
                update={"panels": tuple(panels)}))
            carry_into(studio, studio.series.get(page.series), piece)
        _keep_order(studio, studio.series.page(page_id))


def _begin(studio: Studio, job: Job, page: StoredPage, rgba: np.ndarray, letters: np.ndarray,
           number: int) -> int:
    sheet, place = page.sheet, place_of(page.sheet, number)
    drawing, details = _stored(studio, rgba, letters, place)
    source = Source(asset=drawing, width=place.box[2], height=place.box[3])
    recipe = Recipe(source=source)
    shared = studio.series.get(page.series).shared
    edits: list[Edit] = []
    following = follow(recipe, shared, "")
    if following:
        edits.append(following)
        recipe = apply(recipe, following)
    with studio.memory.reserved(_BYTES_PER_PIXEL * place.box[2] * place.box[3], job.check):
        edits += begin_panel(studio.deriver, recipe, place, sheet.balloons, details)
    piece = studio.pieces.create(f"{page.title}, panel {number + 1}"[:120],
                                 sum(shared.minutes.values()) or 20.0, Recipe(source=source),
                                 tuple(edits))
    studio.series.append(page.series, [piece], page.id)
    return piece


def _stored(studio: Studio, rgba: np.ndarray, letters: np.ndarray, place: Place,
            ) -> tuple[str, PlacedPicture | None]:
    """The drawing and the letters of a panel, kept."""
    cut = panel_drawing(rgba, letters, place)
    drawing = studio.assets.put(encode_png(cut.drawing, level=2))
    details = None if cut.letters is None else PlacedPicture(
        asset=studio.assets.put(encode_png(cut.letters, level=2)), width=place.box[2],
        height=place.box[3])
    return drawing, details


def correct_sheet(studio: Studio, page_id: int, seen: int, sheet: PageSheet) -> StoredPage:
    """Other outlines, another order or way of reading, other balloons or letters: pieces that
    this concerns are cut anew under their colours, as corrected drawings."""
    with studio.one_at_a_time(f"page {page_id}", patient(
            _PATIENCE, "The panels of this page are being begun.")):
        page = studio.series.page(page_id)
        before = page.sheet
        fixed = {name: getattr(before, name) for name in ("asset", "original", "width", "height")}
        known = {p.piece: p.origin for p in before.panels if p.piece is not None}
        panels = tuple(p.model_copy(update={"origin": known[p.piece]}) if p.piece in known
                       else PagePanel(outline=p.outline) for p in sheet.panels)
        after = sheet.model_copy(update={**fixed, "panels": panels})
        if after.reading != before.reading:
            after = in_reading_order(after)
        makers: dict[int, Callable[[Recipe], Several]] = {}
        if page.revision == seen:  # else it is refused below, before anything is worked out
            room = _BYTES_PER_PIXEL * after.width * after.height
            with studio.memory.reserved(room, patient(_PATIENCE)):
                makers = _cut_anew(studio, before, after)
                for piece, make in makers.items():  # what cannot be done is told before all else
                    make(studio.pieces.recipe(piece))
        changed = studio.series.change_page(page_id, seen, after)
        for piece, make in makers.items():
            change_piece(studio, piece, make)
        _keep_order(studio, changed)
    return changed


def _keep_order(studio: Studio, page: StoredPage) -> None:
    """The pieces of a page stand in its series as they are read."""
    order = [p.piece for p in page.sheet.panels if p.piece is not None]
    members = [m.id for m in studio.series.get(page.series).members]
    places = [k for k, m in enumerate(members) if m in order]
    there = [piece for piece in order if piece in members]
    for k, piece in zip(places, there, strict=True):
        members[k] = piece
    studio.series.arrange_same(page.series, members)


def _cut_anew(studio: Studio, before: PageSheet, after: PageSheet,
              ) -> dict[int, Callable[[Recipe], Several]]:
    """How the pieces of panels that are otherwise now follow."""
    numbers = {p.piece: k for k, p in enumerate(before.panels) if p.piece is not None}
    concerned = []
    for k, (panel, recipe) in enumerate(zip(after.panels, recipes_of(studio, after), strict=True)):
        if panel.piece not in numbers or recipe is None:
            continue
        old, new = (place_of(sheet, n, recipe) for sheet, n in (
            (before, numbers[panel.piece]), (after, k)))
        if not old.same(new) or _said_in(before, new.box) != _said_in(after, new.box):
            concerned.append((panel.piece, k))
    if not concerned:
        return {}
    rgba = studio.store.load(after.asset)
    letters = lettered(page_ink(studio.deriver, after), after)

    @lru_cache
    def stored(k: int, box: Box) -> tuple[str, PlacedPicture | None]:
        return _stored(studio, rgba, letters, place_of(after, k).seen_from(box))

    def make(recipe: Recipe, piece: int, k: int) -> Several:
        drawing, details = stored(k, box_anew(after, k, recipe))
        was = place_of(before, numbers[piece], recipe)
        return cut_anew(studio.deriver, recipe, was, after, k, drawing, details, before.balloons)

    return {piece: partial(make, piece=piece, k=k) for piece, k in concerned}


def _said_in(sheet: PageSheet, box: Box) -> tuple[bool, list[Outline]]:
    """What is told of letters and balloons within a rectangle of the sheet."""
    low, high = np.array(box[:2]), np.add(box[:2], box[2:])
    return sheet.letters, [b for b in sheet.balloons if (np.max(b, axis=0) > low).all()
                           and (np.min(b, axis=0) < high).all()]


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
