"""Batches over the pieces of a series: planned here, run by :mod:`wardrobe.batch`."""

import zipfile
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from pydantic import TypeAdapter

from wardrobe.batch.plan import Picture, stages_of, tasks_of
from wardrobe.batch.run import Progress, run_here, workers_for
from wardrobe.batch.task import carried_edit
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import ASSET
from wardrobe.recipe.edits import Edit
from wardrobe.recipe.events import DoubtfulArea
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.series.carry import MOST_SOURCES
from wardrobe.server.db.series import Member
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.series import BatchRequest
from wardrobe.server.series import (
    change_piece,
    chosen,
    note_carried,
    sources_of,
    tell_failed,
)
from wardrobe.server.studio import Studio, file_name

_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)


@dataclass(frozen=True)
class Planned:
    """A piece of a series as a batch takes it, and the pieces that its parts are to come from."""

    member: Member
    sources: tuple[int, ...]
    picture: Picture


def pictures_of(studio: Studio, series_id: int, pieces: Iterable[int]) -> list[Planned]:
    """The pictures of a series, named by their places in it."""
    series = studio.series.get(series_id)
    wanted = {m.id for m in chosen(series, pieces)}
    found = []
    for number, member in enumerate(series.members, start=1):
        if member.id not in wanted:
            continue
        sources = tuple(sources_of(studio, series, member.id)[:MOST_SOURCES]) \
            if studio.overview.of(member).carried else ()
        text = studio.pieces.recipe(member.id).model_dump_json()
        coloured = tuple(studio.pieces.recipe(i).model_dump_json() for i in sources)
        names = {n for t in (text, *coloured) for n in ASSET.findall(t)}
        found.append(Planned(member, sources, Picture(
            f"{number:04d}-{file_name(member.title)}", text, None, coloured,
            tuple(sorted((n, str(studio.assets.path(n))) for n in names if n in studio.assets)))))
    return found


def bring_back(studio: Studio, planned: Iterable[Planned], folder: str) -> int:
    """Give pieces the parts that a batch carried over to them; how many were. What was changed
    meanwhile is left alone."""
    count = 0
    for one in planned:
        if not one.sources:
            continue
        told = carried_edit(tasks_of(one.picture, ("flats",), folder)[0])
        if told is None:
            continue
        edit: Edit = _EDIT.validate_python(told["edit"])

        def make(recipe: Recipe, edit: Edit = edit, seen: str | None = one.picture.recipe,
                 ) -> Edit | None:
            return edit if recipe.model_dump_json() == seen else None

        if change_piece(studio, one.member.id, make):
            count += 1
            note_carried(studio, one.member.id, one.sources, told["sure"],
                         [DoubtfulArea.model_validate(d) for d in told["doubts"]])
    return count


def batch_series(studio: Studio, job: Job, series_id: int, wanted: BatchRequest) -> None:
    """Run a batch; the job ends with an archive of what was delivered, if anything was. Another
    one of the same series waits for it."""
    with studio.one_at_a_time(f"batch {series_id}", job.check):
        _batch(studio, job, series_id, wanted)


def _batch(studio: Studio, job: Job, series_id: int, wanted: BatchRequest) -> None:
    series = studio.series.get(series_id)
    stages = stages_of(wanted.stages)
    folder = studio.settings.data_dir / "batches" / f"series-{series_id}"
    folder.mkdir(parents=True, exist_ok=True)
    planned = pictures_of(studio, series_id, wanted.pieces)
    plans = [tasks_of(p.picture, stages, str(folder.resolve())) for p in planned]
    sizes = [studio.overview.of(p.member).size for p in planned]
    count = workers_for(max((w * h for w, h in sizes), default=1), studio.memory.for_work)
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
        bring_back(studio, planned, str(folder.resolve()))
    if files and "deliver" in stages:
        _archive(studio, job, folder, sorted(set(files)), series.title)
    tell_failed(job, [f"{o.name}, {o.stage}: {o.problem}" for o in progress.failed],
                job.file is not None)


def _archive(studio: Studio, job: Job, folder: Path, files: list[str], title: str) -> None:
    path = studio.scratch.folder / f"{job.id}.zip"
    with replacing(path) as temporary, zipfile.ZipFile(temporary, "w") as archive:
        for name in files:
            archive.write(folder / name, name)
    job.file, job.file_name = path, f"{file_name(title)}.zip"
