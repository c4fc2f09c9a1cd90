"""Batches: pure tasks with keys, resumed where they were left, whoever does them."""

import hashlib
import json
import os
import pickle
import signal
import subprocess
import sys
import time
from collections import deque
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from distributed import Client, LocalCluster
from PIL import Image

from tests.drawings import figure_ink, on_white, piece, png, transparent
from wardrobe.batch.plan import Picture, drawings_in, named, stages_of, tasks_of
from wardrobe.batch.run import Progress, run_here, run_with, workers_for
from wardrobe.batch.task import Task, do, done_before
from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.openraster_read import read_openraster

RECIPE = piece()[1]
ALL = stages_of(["flats", "shade", "deliver"])


def draw(folder: Path) -> Path:
    """Three drawings of a figure that moves, and a file that is none."""
    folder.mkdir()
    for k in range(3):
        ink = np.roll(figure_ink(), (6 * k, 10 * k), axis=(0, 1))
        (folder / f"frame-{k}.png").write_bytes(png(on_white(ink)))
    (folder / "notes.txt").write_text("not a drawing")
    return folder


@pytest.fixture
def drawings(tmp_path: Path) -> Path:
    return draw(tmp_path / "drawings")


@pytest.fixture(scope="module")
def whole(tmp_path_factory: pytest.TempPathFactory) -> dict[str, str]:
    """What a batch that nothing happened to delivers."""
    folder = tmp_path_factory.mktemp("whole")
    last(run_here(plans_for(draw(folder / "drawings"), folder / "out"), 2))
    return digests(folder / "out")


def plans_for(folder: Path, out: Path, stages: tuple[str, ...] = ALL) -> list[list[Task]]:
    asset = out / "assets" / RECIPE.source.asset
    asset.parent.mkdir(parents=True, exist_ok=True)
    asset.write_bytes(png(transparent(figure_ink())))
    addresses = drawings_in(str(folder))
    return [tasks_of(Picture(name, drawing=address, sources=(RECIPE.model_dump_json(),),
                             assets=((RECIPE.source.asset, str(asset)),)),
                     stages, str(out))  # type: ignore[arg-type]
            for name, address in zip(named(addresses), addresses, strict=True)]


def digests(out: Path) -> dict[str, str]:
    """What was delivered, by name."""
    return {p.name: hashlib.sha256(p.read_bytes()).hexdigest() for p in sorted(out.iterdir())
            if p.suffix in (".ora", ".png")}


def last(running: Iterator[Progress]) -> Progress:
    return deque(running, maxlen=1)[0]


def test_a_batch_colours_shades_and_delivers_and_does_nothing_twice(
        drawings: Path, tmp_path: Path) -> None:
    out = tmp_path / "out"
    first = last(run_here(plans_for(drawings, out), 2, str(out / "artefacts")))
    assert (first.done, first.total, first.again, first.failed) == (9, 9, 0, [])
    made = digests(out)
    assert sorted(made) == sorted(f"frame-{k}.{s}" for k in range(3) for s in ("ora", "png"))
    # The layered file is the picture, and wears the colours that were carried over.
    stack = read_openraster(out / "frame-1.ora").stack
    names = {part.name for part in RECIPE.parts}
    assert names <= {layer.name.split(" / ")[0] for layer in stack.layers()}
    colours = {tuple(c) for c in np.array(Image.open(out / "frame-1.png").convert("RGB"))
               .reshape(-1, 3)}
    assert sum(tuple(bytes.fromhex(p.base[1:])) in colours for p in RECIPE.parts) >= 1
    again = last(run_here(plans_for(drawings, out), 2))
    assert (again.done, again.again) == (9, 9)
    # A file that is gone is written again, with the same bytes.
    (out / "frame-2.ora").unlink()
    third = last(run_here(plans_for(drawings, out), 1))
    assert (third.done, third.again) == (9, 8) and digests(out) == made


def test_tasks_are_pure(drawings: Path, tmp_path: Path) -> None:
    """The key tells of everything that the outcome follows from, and of nothing else."""
    here, there = (plans_for(drawings, tmp_path / name)[0][2] for name in ("a", "b"))
    assert here.key == there.key and pickle.loads(pickle.dumps(here)) == here
    other = Task(**{**vars(here), "scene": "dusk"})
    assert other.key != here.key
    assert len({t.key for plan in plans_for(drawings, tmp_path / "a") for t in plan}) == 9
    before = here.before()
    assert before and before.stage == "shade"
    # Whoever does the last stage alone does what it goes on from.
    outcome = do(here)
    assert outcome.problem == "" and outcome.files == ("frame-0.ora", "frame-0.png")
    assert done_before(here) and done_before(there) is None


def test_what_fails_is_told_and_the_rest_goes_on(drawings: Path, tmp_path: Path) -> None:
    (drawings / "frame-1.png").write_bytes(b"\x89PNG no picture")
    blank = np.full((300, 300, 3), 255, np.uint8)
    (drawings / "frame-2.png").write_bytes(png(blank))
    out = tmp_path / "out"
    progress = last(run_here(plans_for(drawings, out), 2))
    assert {f.name for f in progress.failed} == {"frame-1", "frame-2"}
    assert all(len(f.problem) > 10 and "Traceback" not in f.problem for f in progress.failed)
    assert sorted(digests(out)) == ["frame-0.ora", "frame-0.png"]
    # Mended, it is tried again; what was done is not.
    for k in (1, 2):
        (drawings / f"frame-{k}.png").write_bytes(png(on_white(figure_ink())))
    mended = last(run_here(plans_for(drawings, out), 2))
    assert mended.failed == [] and mended.again == 3 and len(digests(out)) == 6


@pytest.mark.parametrize("after", [0.5, 4.0])
def test_killed_at_any_moment_it_ends_with_the_same_bytes(
        drawings: Path, tmp_path: Path, whole: dict[str, str], after: float) -> None:
    out = tmp_path / "killed"
    plans = plans_for(drawings, out)
    (tmp_path / "plans").write_bytes(pickle.dumps(plans))
    code = ("import pickle, sys\nfrom wardrobe.batch.run import run_here\n"
            "if __name__ == '__main__':\n"
            "    for _ in run_here(pickle.load(open(sys.argv[1], 'rb')), 2):\n"
            "        print('x', flush=True)")
    script = tmp_path / "batch.py"
    script.write_text(code)
    process = subprocess.Popen([sys.executable, str(script), str(tmp_path / "plans")],
                               stdout=subprocess.PIPE, start_new_session=True)
    assert process.stdout
    process.stdout.readline()
    time.sleep(after)
    os.killpg(process.pid, signal.SIGKILL)
    process.wait()
    end = last(run_here(plans, 2))
    assert end.failed == [] and digests(out) == whole
    state = [p for p in (out / ".batch").iterdir() if p.suffix == ".json"]
    assert all(json.loads(p.read_text()) for p in state)


def test_a_cluster_gives_the_same_and_a_lost_worker_costs_its_own_stage(
        drawings: Path, tmp_path: Path, whole: dict[str, str]) -> None:
    out = tmp_path / "cluster"
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster, \
            Client(cluster) as client:
        pids = list(client.run(os.getpid).values())
        killed = False
        for now in run_with(client, plans_for(drawings, out)):
            progress = now
            if progress.done >= 2 and not killed:
                os.kill(pids[0], signal.SIGKILL)
                killed = True
        assert killed and progress.failed == [] and progress.done == 9
    assert digests(out) == whole


def test_the_forecast_comes_down_and_what_was_done_is_not_counted_in(
        drawings: Path, tmp_path: Path) -> None:
    out = tmp_path / "out"
    first = list(run_here(plans_for(drawings, out, stages_of(["flats"])), 1))
    lefts = [p.left for p in first if p.left is not None]
    assert first[-1].left == 0 and all(left >= 0 for left in lefts)
    plans = plans_for(drawings, out)
    told = []
    for progress in run_here(plans, 1):
        told.append((progress.done, progress.again, progress.left))
    assert told[-1] == (9, 3, 0)
    assert [d for d, *_ in told] == sorted(d for d, *_ in told)
    # A check stops it once two tasks are done; what is done stays done.
    done = 0

    def check() -> None:
        if done >= 2:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        for progress in run_here(plans_for(drawings, tmp_path / "stopped"), 1, None, check):
            done = progress.done
    rest = last(run_here(plans_for(drawings, tmp_path / "stopped"), 1))
    assert rest.done == 9 and rest.again >= done and rest.failed == []


def test_workers_are_as_many_as_cores_and_memory_allow() -> None:
    assert workers_for(1_000_000, 64 * 2**30, cores=8) == 8
    assert workers_for(80_000_000, 8 * 2**30, cores=8) == 1
    assert workers_for(80_000_000, 2**20, cores=8) == 1
    assert workers_for(2480 * 3508, 3 * 2**30, cores=2) == 2


def test_plans_are_refused_in_words(tmp_path: Path) -> None:
    with pytest.raises(WardrobeError, match="is no stage"):
        stages_of(["flats", "glaze"])
    with pytest.raises(WardrobeError, match="no folder"):
        drawings_in(str(tmp_path / "nowhere"))
    with pytest.raises(WardrobeError, match="no drawing"):
        drawings_in(str(tmp_path))
    assert stages_of(["deliver", "flats"]) == ("flats", "deliver")
    assert named(["a/x.png", "b/x.jpg", "c/y.png"]) == ["x", "x-2", "y"]
