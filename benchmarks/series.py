"""Pages and batches: time, memory, growth; writes docs/benchmarks-series.md.

    python -m benchmarks.series
"""

import os
import resource
import sys
import tempfile
import time
from collections import deque
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.pages import pages
from wardrobe.batch.plan import Picture, drawings_in, named, stages_of, tasks_of
from wardrobe.batch.run import Progress, run_here
from wardrobe.batch.task import do
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.png import encode_png
from wardrobe.core.parallel import limit
from wardrobe.demo import walk
from wardrobe.server.arrivals import import_drawing
from wardrobe.server.deliveries import deliver_piece
from wardrobe.server.jobs import Job
from wardrobe.server.pages import bring_page, deliver_page
from wardrobe.server.schemas.delivery import DeliveryRequest
from wardrobe.server.schemas.series import PageFile
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

Byte = NDArray[np.uint8]
_PAGE = (3976, 5657)


def frames(folder: Path, count: int, long_edge: int) -> Path:
    """Frames of the demo's walk, again and again, each moved a little."""
    folder.mkdir(parents=True)
    drawn = [decode_image(walk.draw(k), long_edge=long_edge) for k in range(walk.FRAMES)]
    for k in range(count):
        rgba = np.roll(drawn[k % walk.FRAMES], k // walk.FRAMES, axis=1)
        (folder / f"f{k:04d}.png").write_bytes(encode_png(rgba, level=1))
    return folder


def batched(folder: Path, out: Path, workers: int) -> tuple[float, Progress]:
    """Seconds of a batch of all three stages."""
    addresses = drawings_in(str(folder))
    plans = [tasks_of(Picture(name, drawing=a), stages_of(["flats", "shade", "deliver"]), str(out))
             for name, a in zip(named(addresses), addresses, strict=True)]
    begin = time.perf_counter()
    progress = deque(run_here(plans, workers, str(out / "artefacts")), maxlen=1)[0]
    return time.perf_counter() - begin, progress


def one_by_one(folder: Path, out: Path) -> float:
    """Seconds that the stages themselves take, in this process, on one core."""
    addresses = drawings_in(str(folder))
    out.mkdir()
    limit(1)
    cv2.setNumThreads(1)
    took = 0.0
    for name, address in zip(named(addresses), addresses, strict=True):
        for task in tasks_of(Picture(name, drawing=address),
                             stages_of(["flats", "shade", "deliver"]), str(out)):
            begin = time.perf_counter()
            do(task, str(out / "artefacts"))
            took += time.perf_counter() - begin
    limit(os.cpu_count() or 1)
    cv2.setNumThreads(-1)
    return took


def timed(work: Callable[[], None]) -> float:
    begin = time.perf_counter()
    work()
    return time.perf_counter() - begin


def page_times(folder: Path) -> tuple[float, float, float]:
    """Seconds of a page of six panels from file to stack; of its panels as single pieces; peak
    memory, GB."""
    art = [cv2.multiply(r[..., 3], 255 - r[..., 0], scale=1 / 255)
           for r in (decode_image(walk.draw(k), long_edge=900) for k in range(walk.FRAMES))]
    page = next(p for p in pages(60, 3, art) if p.kind == "grid" and len(p.panels) == 6)
    large = cv2.resize(page.ink, _PAGE, interpolation=cv2.INTER_CUBIC)
    file = folder / "page.png"
    file.write_bytes(encode_png(np.dstack([255 - large] * 3), level=1))
    studio = Studio(Settings(data_dir=folder / "data"))
    series = studio.series.create("Page")
    whole = timed(lambda: bring_page(studio, Job("a", "import"), series, file, "Page", 5657))
    (kept,) = studio.series.pages(series)
    whole += timed(lambda: deliver_page(studio, Job("b", "deliver"), kept.id, PageFile()))
    single = 0.0
    for k, outline in enumerate(page.panels):
        scale = _PAGE[0] / page.ink.shape[1]
        (x, y), (u, v) = (np.round(f * scale).astype(int) for f in (outline.min(axis=0),
                                                                    outline.max(axis=0)))
        one = folder / f"panel-{k}.png"
        one.write_bytes(encode_png(np.dstack([255 - large[y + 8:v - 8, x + 8:u - 8]] * 3)))
        job = Job(f"c{k}", "import")

        def alone(job: Job = job, one: Path = one) -> None:
            import_drawing(studio, job, one, "Panel", 20, 5657)
            assert job.piece
            deliver_piece(studio, Job(f"{job.id}d", "deliver"), job.piece,
                          DeliveryRequest(format="ora"))

        single += timed(alone)
    studio.close()
    return whole, single, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20


def main(count: int = 60) -> None:
    rows = ["| what | measured | wanted |", "|---|---|---|"]
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        whole, single, peak = page_times(folder)
        rows.append(f"| A page of six panels, {_PAGE[0]} x {_PAGE[1]} px, from file to stack | "
                    f"{whole:.0f} s, {whole / single:.2f} x its panels as single pieces | at most "
                    "1.6 x |")
        rows.append(f"| Most memory of that process | {peak:.2f} GB | under 3 GB |")
        drawings = frames(folder / "large", count, 3508)
        one, _ = batched(drawings, folder / "one", 1)
        two, done = batched(drawings, folder / "two", 2)
        rows.append(f"| {count} frames of 2631 x 3508 px, all stages: one core, two | {one:.0f} s, "
                    f"{two:.0f} s: {one / two:.2f} x the pace | at least 1.8 x |")
        own = one_by_one(drawings, folder / "own")
        rows.append(f"| The same on one core, by the stages' own times one after another | "
                    f"{own:.0f} s: the batch takes {one / own:.2f} of it | at most 1.15 |")
        rows.append(f"| Failed | {len(done.failed)} | none |")
        paces = []
        for many in (10, 100, 1000):
            seconds, _ = batched(frames(folder / f"small-{many}", many, 400),
                                 folder / f"out-{many}", 2)
            paces.append(f"{many}: {seconds / many * 1000:.0f} ms")
        memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20
        rows.append(f"| Small frames, time for one of | {'; '.join(paces)} | linear |")
        rows.append(f"| Most memory of the process that hands them out | {memory:.2f} GB | flat |")
    hours = one / count * 100_000 / 3600
    note = [
        "## 100,000 frames, on paper", "",
        f"At {one / count:.1f} s a frame on one such core they take {hours:,.0f} core hours: "
        f"{hours / 64:,.0f} hours on 64 cores, which need about 1.3 GB each. Delivered they take "
        "some 200 to 600 GB; what has been done takes three small files a frame, 300,000 in one "
        "folder, which object stores bear and some network disks do not: a folder a thousand "
        "frames would be next. The plan is held whole, with the recipe of each frame and of its "
        "sources in its tasks: some 100 KB a frame, 10 GB, so plans would have to be made in "
        "portions, or sources named by their digests. A Dask scheduler bears a few hundred "
        "thousand tasks, of which no more than two a worker are handed out at a time here. The "
        "wall would be drawn by thousands and asks for each frame's recipe once: it would have to "
        "be paged. What artefacts a worker leaves for others is dropped, oldest first, at 2 GB; "
        "stages of one frame should run on one worker for that, which Dask prefers, not promises."]
    text = ["# Benchmarks of series", "", "Written by `python -m benchmarks.series`, on two cores.",
            "", *rows, "", *note, ""]
    Path("docs/benchmarks-series.md").write_text("\n".join(text))
    print("\n".join(text))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 60)
