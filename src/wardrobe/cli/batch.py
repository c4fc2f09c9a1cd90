"""A batch from a shell."""

import hashlib
from collections.abc import Iterator, Sequence
from pathlib import Path

from wardrobe.batch.plan import Picture, drawings_in, named, stages_of, tasks_of
from wardrobe.batch.run import Progress, run_here, run_on, workers_for
from wardrobe.batch.task import write
from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.document.types import ASSET
from wardrobe.recipe.exchange.archive import read_archive
from wardrobe.recipe.series.carry import MOST_SOURCES
from wardrobe.server.batches import Planned, bring_back, pictures_of
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio


def run_batch(settings: Settings, what: str, do: str, out: str, like: Sequence[Path],
              workers: int | None, scheduler: str | None, long_edge: int) -> int:
    """Run stages of work over a series, or over a folder of drawings.

    Returns
    -------
    int
        How many pictures failed; they are listed.

    Raises
    ------
    WardrobeError
        If there is nothing to do, or no such stage.
    """
    stages = stages_of(do.split(","))
    folder = str(Path(out).resolve()) if "://" not in out else out
    if "://" not in out:
        Path(folder).mkdir(parents=True, exist_ok=True)
    studio: Studio | None = None
    planned: list[Planned] = []
    if "://" in what or Path(what).is_dir():
        pictures = _folder(what, like, folder, long_edge)
    else:
        if not (settings.data_dir / "wardrobe.sqlite3").exists():
            raise WardrobeError(f"{what} is no folder, and there are no series in "
                                f"{settings.data_dir}; give --data-dir.")
        studio = Studio(settings)
        series = _series(studio, what)
        planned = pictures_of(studio, series, ())
        pictures = [p.picture for p in planned]
    try:
        plans = [tasks_of(p, stages, folder) for p in pictures]
        most = workers or workers_for(8_700_000, settings.memory_bytes)
        artefacts = None if "://" in out else f"{folder}/.batch/artefacts"
        progress = _told(run_on(scheduler, plans) if scheduler
                         else run_here(plans, most, artefacts))
        if studio is not None and "flats" in stages:
            bring_back(studio, planned, folder)
    finally:
        if studio is not None:
            studio.close()
    for failed in progress.failed:
        print(f"  {failed.name}, {failed.stage}: {failed.problem}")
    if progress.failed:
        print(f"{len(progress.failed)} failed; start the same again to try them once more.")
    return len(progress.failed)


def _told(running: Iterator[Progress]) -> Progress:
    """Say how far it is, a line a task."""
    progress = Progress(0)
    for progress in running:
        latest = progress.latest
        if latest is None:
            continue
        left = "" if progress.left is None else f", {progress.left / 60:.1f} min left"
        state = "failed" if latest.problem else "was done" if latest.again else \
            f"{latest.seconds:.1f} s" + (f", {latest.sure:.0%} sure" if latest.sure is not None
                                         else "")
        print(f"{progress.done} of {progress.total}: {latest.name}, {latest.stage}, {state}{left}",
              flush=True)
    return progress


def _series(studio: Studio, what: str) -> int:
    found = [s for s in studio.series.all()
             if what in (str(s.id), s.title) or s.title.casefold() == what.casefold()]
    if len(found) != 1:
        known = ", ".join(f"{s.id} “{s.title}”" for s in studio.series.all()) or "none"
        count = "more than one" if found else "no"
        raise WardrobeError(f"There is {count} series called “{what}”. There are: {known}.")
    return found[0].id


def _folder(folder: str, like: Sequence[Path], out: str, long_edge: int) -> list[Picture]:
    """The drawings of a folder; parts come from archives of pieces, if there are any."""
    addresses = drawings_in(folder if "://" in folder else str(Path(folder).resolve()))
    sources, assets = [], {}
    for archive in like[:MOST_SOURCES]:
        archived = read_archive(archive)
        sources.append(archived.recipe.model_dump_json())
        for data in archived.assets.values():
            name = hashlib.sha256(data).hexdigest()
            write(out, f".batch/assets/{name}", data)
            assets[name] = f"{out}/.batch/assets/{name}"
    wanted = {n for s in sources for n in ASSET.findall(s)}
    return [Picture(name, drawing=address, sources=tuple(sources),
                    assets=tuple(sorted((n, p) for n, p in assets.items() if n in wanted)),
                    long_edge=long_edge)
            for name, address in zip(named(addresses), addresses, strict=True)]

