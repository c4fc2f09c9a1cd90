"""Batches over the pieces of a series: planned here, run by :mod:`wardrobe.batch`."""

import zipfile
from collections.abc import Iterable
from pathlib import Path

from pydantic import TypeAdapter

from wardrobe.batch.plan import MOST_SOURCES, Picture, stages_of, tasks_of
from wardrobe.batch.run import Progress, run_here, workers_for
from wardrobe.batch.task import carried_edit
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import ASSET
from wardrobe.recipe.edits import Edit
from wardrobe.recipe.events import CarriedParts, DoubtfulArea
from wardrobe.recipe.exchange.files import replacing
from wardrobe.server.db.series import Member
from wardrobe.server.jobs import Job
from wardrobe.server.problems import problem_of
from wardrobe.server.schemas.series import BatchRequest
from wardrobe.server.series import SomeFailedError, change_piece, chosen, sources_of
from wardrobe.server.studio import Studio, file_name

_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)
_LISTED = 12  # problems that are told in full


def pictures_of(studio: Studio, series_id: int,
                pieces: Iterable[int]) -> list[tuple[Member, Picture]]:
    """The pictures of a series as a batch takes them."""
    series = studio.series.get(series_id)
    found = []
    for k, member in enumerate(chosen(series, pieces), start=1):
        recipe = studio.pieces.recipe(member.id)
        sources = tuple(studio.pieces.recipe(i).model_dump_json()
                        for i in sources_of(studio, series, member.id)[:MOST_SOURCES]) \
            if studio.overview.of(member).carried else ()
        text = recipe.model_dump_json()
        names = {n for t in (text, *sources) for n in ASSET.findall(t)}
        found.append((member, Picture(
            f"{k:04d}-{file_name(member.title)}", text, None, sources,
            tuple(sorted((n, str(studio.assets.path(n))) for n in names if n in studio.assets)))))
    return found


def bring_back(studio: Studio, series_id: int, folder: str, pieces: Iterable[int]) -> int:
    """Give pieces the parts that a batch carried over to them; how many were."""
    count = 0
    series = studio.series.get(series_id)
    for member, picture in pictures_of(studio, series_id, pieces):
        if not picture.sources:
            continue
        told = carried_edit(tasks_of(picture, ("flats",), folder)[0])
        if told is None:
            continue
        edit: Edit = _EDIT.validate_python(told["edit"])

        def make(recipe: Recipe, edit: Edit = edit, seen: str | None = picture.recipe,
                 ) -> Edit | None:
            return edit if recipe.model_dump_json() == seen else None  # changed meanwhile

        if change_piece(studio, member.id, make):
            count += 1
            studio.note(member.id, CarriedParts(
                pieces=tuple(sources_of(studio, series, member.id)[:MOST_SOURCES]),
                sure=told["sure"], claims=len(studio.pieces.recipe(member.id).claims),
                doubts=tuple(DoubtfulArea.model_validate(d) for d in told["doubts"])))
    return count


def batch_series(studio: Studio, job: Job, series_id: int, wanted: BatchRequest) -> None:
    """Run a batch; the job ends with an archive of what was delivered, if anything was."""
    series = studio.series.get(series_id)
    stages = stages_of(wanted.stages)
    folder = studio.settings.data_dir / "batches" / f"series-{series_id}"
    folder.mkdir(parents=True, exist_ok=True)
    pictures = pictures_of(studio, series_id, wanted.pieces)
    plans = [tasks_of(p, stages, str(folder.resolve())) for _, p in pictures]
    largest = max((studio.overview.of(m).size for m, _ in pictures), default=(1, 1),
                  key=lambda s: s[0] * s[1])
    room = studio.memory.for_work
    count = workers_for(largest[0] * largest[1], room)
    artefacts = str((studio.settings.data_dir / "artefacts").resolve())
    files: list[str] = []
    progress = Progress(0)
    for progress in run_here(plans, count, artefacts, job.check):
        left = "" if progress.left is None else f", about {max(1, round(progress.left / 60))} " \
            "min left"
        name = f"{progress.latest.name}, {progress.latest.stage}, " if progress.latest else ""
        job.report(0.95 * progress.done / max(1, progress.total),
                   f"{name}{progress.done} of {progress.total}{left}")
        if progress.latest:
            files += [f for f in progress.latest.files if not f.startswith(".")]
    if "flats" in stages:
        job.report(0.96, "Taking the parts over")
        bring_back(studio, series_id, str(folder.resolve()), wanted.pieces)
    if files and "deliver" in stages:
        _archive(studio, job, folder, sorted(set(files)), series.title)
    if progress.failed:
        told = "; ".join(f"{o.name}, {o.stage}: {o.problem}" for o in progress.failed[:_LISTED])
        rest = len(progress.failed) - _LISTED
        more = f"; and {rest} more" if rest > 0 else ""
        problem = SomeFailedError(f"{told}{more}. The others are done; start again to try these "
                                  "once more.")
        if job.file is None:
            raise problem
        job.problem = problem_of(problem)  # what was delivered is there all the same


def _archive(studio: Studio, job: Job, folder: Path, files: list[str], title: str) -> None:
    path = studio.scratch.folder / f"{job.id}.zip"
    with replacing(path) as temporary, zipfile.ZipFile(temporary, "w") as archive:
        for name in files:
            archive.write(folder / name, name)
    job.file, job.file_name = path, f"{file_name(title)}.zip"
