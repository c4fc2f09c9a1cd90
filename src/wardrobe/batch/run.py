"""A batch is run: all cores of this machine within its memory, or a Dask cluster."""

import os
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from multiprocessing import get_context, parent_process

from wardrobe.batch.task import Outcome, Task, do, done_before
from wardrobe.core.errors import WardrobeError
from wardrobe.core.parallel import limit

Check = Callable[[], None]
_BYTES_PER_PIXEL, _BASE_BYTES = 90, 450_000_000  # that a worker takes at its peak, as measured
_TRIES = 3  # at a task whose worker died
_AHEAD = 2  # tasks a worker that are handed out at a time: a plan may be long


@dataclass
class Progress:
    """How far a batch is; ``left`` are the seconds that are forecast, None while nothing is
    known."""

    total: int
    done: int = 0
    again: int = 0
    failed: list[Outcome] = field(default_factory=list)
    left: float | None = None
    latest: Outcome | None = None


def workers_for(pixels: int, memory: int, cores: int | None = None) -> int:
    """How many pictures of so many pixels are worked on at a time: on each core one, as long as
    the memory (bytes) is enough."""
    room = memory // (_BASE_BYTES + _BYTES_PER_PIXEL * pixels)
    return int(max(1, min(cores or os.cpu_count() or 1, room)))


def run_here(plans: Sequence[Sequence[Task]], workers: int, artefacts: str | None = None,
             check: Check = lambda: None) -> Iterator[Progress]:
    """Run a batch in processes of this machine.

    Parameters
    ----------
    plans : sequence of sequences of Task
        For each picture its tasks, in their order; what is done already is passed over.
    workers : int
    artefacts : str, optional
        Folder for what is worked out on the way.
    check : callable
        Raises to stop.

    Yields
    ------
    Progress
        After every task. The tasks of a picture whose stage failed are left out; a worker that
        dies costs its task a try.
    """
    pool = _pool(workers)

    def submit(task: Task) -> "Future[Outcome]":
        nonlocal pool
        try:
            return pool.submit(do, task, artefacts)
        except BrokenProcessPool:
            pool = _pool(workers)
            return pool.submit(do, task, artefacts)

    def again() -> None:
        nonlocal pool
        _stop(pool)
        pool = _pool(workers)

    try:
        yield from _run(plans, workers, submit, again, check)
    finally:
        _stop(pool)


def run_on(address: str, plans: Sequence[Sequence[Task]],
           check: Check = lambda: None) -> Iterator[Progress]:
    """Run a batch on a Dask cluster.

    Parameters
    ----------
    address : str
        Of its scheduler, or ``local`` for one that is started for this batch alone.

    Raises
    ------
    WardrobeError
        Without the extra ``wardrobe[cluster]``.
    """
    try:
        from distributed import Client, LocalCluster
    except ImportError as error:
        raise WardrobeError("Dask is not installed: install wardrobe[cluster], or leave "
                            "--scheduler away to work on the cores of this machine.") from error

    cluster = LocalCluster(n_workers=os.cpu_count(), threads_per_worker=1,
                           dashboard_address=None) if address == "local" else None
    with Client(cluster if cluster is not None else address) as client:
        try:
            yield from run_with(client, plans, check)
        finally:
            if cluster is not None:
                cluster.close()


def run_with(client: object, plans: Sequence[Sequence[Task]],
             check: Check = lambda: None) -> Iterator[Progress]:
    """As :func:`run_on`, with a client of ``distributed`` that is there."""
    from distributed import as_completed

    progress = Progress(sum(map(len, plans)))
    begin = time.monotonic()
    waiting = [list(plan) for plan in plans]
    futures = as_completed()
    at: dict[str, int] = {}

    def start(k: int) -> None:
        while waiting[k]:
            task = waiting[k].pop(0)
            known = done_before(task)
            if known is None:
                # The scheduler gives a task whose worker dies to another one.
                future = client.submit(do, task, key=f"wardrobe-{task.key}",  # type: ignore[attr-defined]
                                       pure=True, retries=_TRIES - 1)
                at[future.key] = k
                futures.add(future)
                return
            _count(progress, known, begin)
        return

    most = _AHEAD * max(1, len(client.ncores()))  # type: ignore[attr-defined]
    rest = iter(range(len(waiting)))
    for _ in range(most):
        k = next(rest, None)
        if k is None:
            break
        start(k)
    yield progress
    while at:
        future = next(futures)
        check()
        k = at.pop(future.key)
        outcome = future.result() if future.status == "finished" else Outcome(
            "", waiting[k][0].name if waiting[k] else "", "flats",
            problem=f"Its workers were lost: {future.exception()}")
        _count(progress, outcome, begin)
        if outcome.problem:
            progress.total -= len(waiting[k])
            waiting[k].clear()
        if waiting[k]:
            start(k)
        while len(at) < most:
            following = next(rest, None)
            if following is None:
                break
            start(following)
        yield progress


def _pool(workers: int) -> ProcessPoolExecutor:
    # Not forked from this process, which may have threads that hold locks, but from one that has
    # imported everything once and done nothing since.
    context = get_context("forkserver")
    context.set_forkserver_preload(["wardrobe.batch.task"])
    return ProcessPoolExecutor(workers, mp_context=context, initializer=_alone)


def _stop(pool: ProcessPoolExecutor) -> None:
    """Let nothing go on in a pool: what its workers were at is written whole or not at all."""
    workers = list((pool._processes or {}).values())
    pool.shutdown(wait=False, cancel_futures=True)
    for worker in workers:
        worker.terminate()


def _alone() -> None:
    """A worker keeps to its core, and ends with the process that it works for."""
    parent = parent_process()
    if parent is not None:
        def watch() -> None:
            parent.join()
            os._exit(1)

        threading.Thread(target=watch, daemon=True).start()
    import cv2

    cv2.setNumThreads(1)
    limit(1)


def _run(plans: Sequence[Sequence[Task]], workers: int,
         submit: "Callable[[Task], Future[Outcome]]", again: Callable[[], None],
         check: Check) -> Iterator[Progress]:
    progress = Progress(sum(map(len, plans)))
    begin = time.monotonic()
    waiting = [list(plan) for plan in plans]
    running: dict[Future[Outcome], tuple[int, Task, int]] = {}
    rest = iter(range(len(waiting)))

    def start(k: int) -> None:
        while waiting[k]:
            task = waiting[k].pop(0)
            known = done_before(task)
            if known is None:
                running[submit(task)] = (k, task, 1)
                return
            _count(progress, known, begin)

    def fill() -> None:
        while len(running) < _AHEAD * workers:
            k = next(rest, None)
            if k is None:
                return
            start(k)

    fill()
    yield progress
    while running:
        ended, _ = wait(running, timeout=0.5, return_when=FIRST_COMPLETED)
        check()
        lost = []
        for future in ended:
            k, task, tries = running.pop(future)
            try:
                outcome = future.result()
            except BrokenProcessPool:
                lost.append((k, task, tries))
                continue
            except Exception as error:  # a fault of the program: the others go on
                outcome = Outcome(task.key, task.name, task.stage, problem=f"{error}")
            _count(progress, outcome, begin)
            if outcome.problem:
                progress.total -= len(waiting[k])
                waiting[k].clear()
            start(k)
        if lost:  # all that ran are lost with the pool: nobody knows whose worker died
            lost += [running.pop(future) for future in list(running)]
            again()
            for k, task, tries in lost:
                if tries < _TRIES:
                    running[submit(task)] = (k, task, tries + 1)
                else:
                    _count(progress, Outcome(task.key, task.name, task.stage, problem="Its worker "
                           "died again and again; there may be too little memory."), begin)
                    progress.total -= len(waiting[k])
                    waiting[k].clear()
        fill()
        if ended:
            yield progress


def _count(progress: Progress, outcome: Outcome, begin: float) -> None:
    progress.latest = outcome
    progress.done += 1
    progress.again += outcome.again
    if outcome.problem:
        progress.failed.append(outcome)
    fresh = progress.done - progress.again
    if fresh:
        progress.left = (time.monotonic() - begin) / fresh * (progress.total - progress.done)
