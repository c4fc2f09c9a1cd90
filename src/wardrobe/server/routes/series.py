"""Series: pieces in an order, what they share, and the pages of panels among them."""

from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Response, UploadFile
from pydantic import TypeAdapter, ValidationError

from wardrobe.core.formats.flat import resized
from wardrobe.core.formats.images import DEFAULT_LONG_EDGE
from wardrobe.core.formats.png import encode_png
from wardrobe.recipe.document.types import MOST_TITLE, Title
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import EditRefusedError, apply
from wardrobe.recipe.events import last_carried
from wardrobe.recipe.series.shared import of_its_own, shared_from
from wardrobe.server.batches import batch_series
from wardrobe.server.films import write_series
from wardrobe.server.pages import begin_panels, bring_page, correct_sheet, deliver_page
from wardrobe.server.routes.common import (
    KEPT_PNG,
    PNG,
    QUICK,
    WORK,
    HeldDep,
    PathId,
    StudioDep,
    job_state,
    png,
)
from wardrobe.server.schemas.pieces import JobState
from wardrobe.server.schemas.series import (
    BatchRequest,
    CarryRequest,
    Drift,
    FollowRequest,
    NewSeries,
    OrderRequest,
    Page,
    PageCard,
    PageFile,
    PlaceChange,
    Series,
    SeriesCard,
    SeriesChange,
    SeriesEdit,
    SeriesFile,
    SeriesPlace,
    ShareFrom,
    ShareRequest,
    SheetRequest,
)
from wardrobe.server.series import (
    bring_drawings,
    carry_series,
    change_series,
    drift_of,
    edit_for,
    follow_again,
    look_over,
    members_of,
    open_doubts,
    put_in_scene,
    share,
)
from wardrobe.server.studio import Studio

router = APIRouter(prefix="/api", tags=["series"])

_MOST_FILES = 400
_TITLE: TypeAdapter[str] = TypeAdapter(Title)


@router.get("/series")
def list_series(studio: StudioDep) -> list[SeriesCard]:
    """All series, latest change first."""
    return [SeriesCard.model_validate(vars(s)) for s in studio.series.all()]


@router.post("/series", status_code=201)
def make_series(studio: StudioDep, request: NewSeries) -> Series:
    """A new series."""
    made = studio.series.create(request.title)
    if request.pieces:
        studio.series.append(made, list(dict.fromkeys(request.pieces)))
    return _series(studio, made)


@router.get("/series/{series_id}", dependencies=[QUICK])
def get_series(studio: StudioDep, series_id: PathId) -> Series:
    """A series with its pieces in their order, and what each has of its own."""
    return _series(studio, series_id)


@router.patch("/series/{series_id}")
def rename_series(studio: StudioDep, series_id: PathId, request: SeriesChange) -> Series:
    """Change the title."""
    studio.series.change(series_id, title=request.title)
    return _series(studio, series_id)


@router.delete("/series/{series_id}", status_code=204)
def delete_series(studio: StudioDep, series_id: PathId) -> None:
    """Delete a series; its pieces stay."""
    studio.series.remove(series_id)


@router.put("/series/{series_id}/order")
def arrange_series(studio: StudioDep, series_id: PathId, request: OrderRequest) -> Series:
    """Put pieces into a series, in this order; those that are not named leave it."""
    studio.series.arrange(series_id, request.pieces)
    return _series(studio, series_id)


@router.put("/series/{series_id}/shared", status_code=202)
def share_in_series(studio: StudioDep, series_id: PathId, request: ShareRequest) -> JobState:
    """Share other things from now on; pieces follow but for what they have of their own."""
    studio.series.get(series_id)
    return job_state(studio.jobs.start(
        "share", lambda job: share(studio, job, series_id, request.shared)))


@router.post("/series/{series_id}/share-from", status_code=202)
def share_from_piece(studio: StudioDep, series_id: PathId, request: ShareFrom) -> JobState:
    """Share some of what a piece has."""
    series = studio.series.get(series_id)
    scene = next((m.scene for m in series.members if m.id == request.piece), None)
    if scene is None:
        raise EditRefusedError("This piece is not in the series.")
    if not scene and {"light", "background"} & set(request.what):
        raise EditRefusedError("Light and ground belong to a scene. Say in which scene this "
                               "picture plays first.")
    shared = shared_from(studio.pieces.recipe(request.piece), series.shared, request.what, scene)
    return job_state(studio.jobs.start("share", lambda job: share(studio, job, series_id, shared)))


@router.post("/series/{series_id}/follow", status_code=202)
def follow_series(studio: StudioDep, series_id: PathId, request: FollowRequest) -> JobState:
    """Pieces give up what they have of their own."""
    studio.series.get(series_id)
    return job_state(studio.jobs.start(
        "share", lambda job: follow_again(studio, job, series_id, request.pieces, request.what)))


@router.post("/series/{series_id}/drawings", status_code=202)
def bring_into_series(
    studio: StudioDep, series_id: PathId, files: Annotated[list[UploadFile], File()],
    scene: Annotated[str, Form(max_length=60)] = "",
    long_edge: Annotated[int, Form(ge=200, le=12_000)] = DEFAULT_LONG_EDGE,
) -> JobState:
    """Start to bring in drawings, in the order of their names; parts are carried over to them."""
    studio.series.get(series_id)
    if len(files) > _MOST_FILES:
        raise EditRefusedError(f"At most {_MOST_FILES} drawings come in at a time.")
    kept: list[tuple[Path, str]] = []
    try:
        for file in sorted(files, key=lambda f: f.filename or ""):
            kept.append((studio.scratch.keep(file.file, studio.settings.most_file_bytes),
                         _titled(file.filename)))
    except BaseException:
        for path, _ in kept:
            path.unlink(missing_ok=True)
        raise
    return job_state(studio.jobs.start(
        "import", lambda job: bring_drawings(studio, job, series_id, kept, scene, long_edge)))


def _titled(name: str | None) -> str:
    """The title of what comes in under a file's name."""
    try:
        return _TITLE.validate_python(Path(name or "").stem[:MOST_TITLE])
    except ValidationError:
        return "Picture"


@router.post("/series/{series_id}/carry", status_code=202)
def carry_over_series(studio: StudioDep, series_id: PathId, request: CarryRequest) -> JobState:
    """Start to carry parts over to pieces whose parts nobody has kept yet."""
    studio.series.get(series_id)
    return job_state(studio.jobs.start(
        "carry", lambda job: carry_series(studio, job, series_id, request.pieces)))


@router.post("/series/{series_id}/look-over", status_code=202)
def look_series_over(studio: StudioDep, series_id: PathId, request: CarryRequest) -> JobState:
    """Start to see which checks notice something in the pictures; they tell it as findings."""
    studio.series.get(series_id)
    return job_state(studio.jobs.start(
        "check", lambda job: look_over(studio, job, series_id, request.pieces)))


@router.post("/series/{series_id}/edits", status_code=202)
def edit_series(studio: StudioDep, series_id: PathId, request: SeriesEdit) -> JobState:
    """Start to make a change in all pictures that it concerns; each can be undone."""
    studio.series.get(series_id)
    return job_state(studio.jobs.start(
        "share", lambda job: change_series(studio, job, series_id, request)))


@router.post("/series/{series_id}/preview/{piece_id}", dependencies=[WORK],
             response_class=Response, responses=PNG)
def preview_series_edit(studio: StudioDep, series_id: PathId, piece_id: PathId,
                        request: SeriesEdit,
                        edge: Annotated[int, Query(ge=60, le=1200)] = 320) -> Response:
    """One picture of a series as it would be after a change; nothing is changed."""
    studio.series.get(series_id)
    recipe = studio.pieces.recipe(piece_id)
    edit = edit_for(recipe, request)
    recipe = apply(recipe, edit) if edit else recipe
    return png(studio.picture(recipe, "picture", View.whole(*recipe.size, edge)))


@router.get("/series/{series_id}/drift", dependencies=[WORK])
def get_drift(studio: StudioDep, series_id: PathId) -> list[Drift]:
    """Which pictures differ from what is usual in the series: colour, shade, light."""
    return [Drift.model_validate(vars(d))
            for d in drift_of(studio, studio.series.get(series_id))]


@router.post("/series/{series_id}/deliveries", status_code=202)
def deliver_series(studio: StudioDep, series_id: PathId, request: SeriesFile) -> JobState:
    """Start to write the pictures of a series in their order; the job ends with the file."""
    studio.series.get(series_id)
    return job_state(studio.jobs.start(
        "deliver", lambda job: write_series(studio, job, series_id, request)))


@router.post("/series/{series_id}/batches", status_code=202)
def batch_in_series(studio: StudioDep, series_id: PathId, request: BatchRequest) -> JobState:
    """Start stages of work over the pictures of a series; what is done is not done again."""
    studio.series.get(series_id)
    return job_state(studio.jobs.start(
        "batch", lambda job: batch_series(studio, job, series_id, request)))


@router.post("/series/{series_id}/pages", status_code=202)
def bring_page_into_series(
    studio: StudioDep, series_id: PathId, file: Annotated[UploadFile, File()],
    title: Annotated[Title, Form()],
    long_edge: Annotated[int, Form(ge=400, le=12_000)] = 5657,
) -> JobState:
    """Start to bring in a page: its panels are found, and each becomes a piece."""
    studio.series.get(series_id)
    kept = studio.scratch.keep(file.file, studio.settings.most_file_bytes)
    return job_state(studio.jobs.start("import", lambda job: bring_page(
        studio, job, series_id, kept, title, long_edge), kept))


@router.get("/pages/{page_id}")
def get_page(studio: StudioDep, page_id: PathId) -> Page:
    """A page with its panels and balloons."""
    return Page.model_validate(vars(studio.series.page(page_id)))


@router.put("/pages/{page_id}/sheet", dependencies=[WORK])
def put_sheet(studio: StudioDep, page_id: PathId, request: SheetRequest) -> Page:
    """Correct outlines, order and balloons; 409 if the page has changed since ``seen``."""
    return Page.model_validate(vars(correct_sheet(studio, page_id, request.seen, request.sheet)))


@router.post("/pages/{page_id}/panels", status_code=202)
def begin_new_panels(studio: StudioDep, page_id: PathId) -> JobState:
    """Start a piece for each panel that has none."""
    studio.series.page(page_id)
    return job_state(studio.jobs.start(
        "import", lambda job: begin_panels(studio, job, page_id)))


@router.delete("/pages/{page_id}", status_code=204)
def delete_page(studio: StudioDep, page_id: PathId) -> None:
    """Delete a page; the pieces of its panels stay."""
    studio.series.remove_page(page_id)


@router.get("/pages/{page_id}/drawing", dependencies=[WORK], response_class=Response,
            responses=KEPT_PNG)
def get_page_drawing(studio: StudioDep, page_id: PathId, held: HeldDep,
                     edge: Annotated[int, Query(ge=60, le=4000)] = 1400) -> Response:
    """The page as it was drawn."""
    sheet = studio.series.page(page_id).sheet

    def draw() -> bytes:
        rgba = studio.store.load(sheet.asset)
        return encode_png(resized(rgba, edge) if max(rgba.shape[:2]) > edge else rgba)

    return held.png(draw, "sheet", sheet.asset, edge)


@router.post("/pages/{page_id}/deliveries", status_code=202)
def deliver_whole_page(studio: StudioDep, page_id: PathId, request: PageFile) -> JobState:
    """Start to write a page, as one stack, as one picture, or panel by panel."""
    studio.series.page(page_id)
    return job_state(studio.jobs.start(
        "deliver", lambda job: deliver_page(studio, job, page_id, request)))


@router.get("/pieces/{piece_id}/place", dependencies=[QUICK])
def get_place(studio: StudioDep, piece_id: PathId) -> SeriesPlace | None:
    """Where a piece is in its series, and which of its carried parts are doubtful."""
    return _place(studio, piece_id)


@router.patch("/pieces/{piece_id}/place")
def change_place(studio: StudioDep, piece_id: PathId, request: PlaceChange) -> SeriesPlace | None:
    """Say in which scene a piece plays, and for how many frames it stays."""
    place = studio.series.place_of(piece_id)
    if place is None:
        raise EditRefusedError("This piece is in no series.")
    if request.scene is not None:
        series = studio.series.get(place.series)
        member = next(m for m in series.members if m.id == piece_id)
        put_in_scene(studio, series, member, request.scene)
    if request.hold is not None:
        studio.series.set_member(piece_id, hold=request.hold)
    return _place(studio, piece_id)


def _place(studio: Studio, piece_id: int) -> SeriesPlace | None:
    place = studio.series.place_of(piece_id)
    if place is None:
        return None
    recipe = studio.pieces.recipe(piece_id)
    shared = studio.series.get(place.series).shared
    last = last_carried(studio.events.of(piece_id, "carried"), recipe)
    return SeriesPlace(**vars(place), own=of_its_own(recipe, shared, place.scene),
                       doubts=open_doubts(studio, piece_id, recipe),
                       carried=recipe.proposed or not recipe.parts,
                       sources=last.pieces if last else ())


def _series(studio: Studio, series_id: int) -> Series:
    series = studio.series.get(series_id)
    return Series(id=series.id, title=series.title, shared=series.shared,
                  members=tuple(members_of(studio, series)),
                  pages=tuple(PageCard(id=p.id, title=p.title, revision=p.revision,
                                       panels=len(p.sheet.panels))
                              for p in studio.series.pages(series_id)))
