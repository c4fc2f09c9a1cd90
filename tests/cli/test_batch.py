"""Batches as a shell calls them."""

import json
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.cli.test_commands import wardrobe
from tests.drawings import figure_ink, on_white, png
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.recipe.edits import KeepParts
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.server.arrivals import read_drawing
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio


@pytest.fixture
def frames(tmp_path: Path) -> Path:
    folder = tmp_path / "frames"
    folder.mkdir()
    for k in range(2):
        (folder / f"walk-{k}.png").write_bytes(png(on_white(np.roll(figure_ink(), 9 * k, axis=1))))
    return folder


def coloured(data: Path, frames: Path, titles: tuple[str, ...]) -> list[int]:
    """Pieces in a data folder, the first of which is coloured and kept."""
    studio = Studio(Settings(data_dir=data))
    made = []
    for k, (file, title) in enumerate(zip(sorted(frames.iterdir()), titles, strict=False)):
        first = read_drawing(studio, file, 480)
        edits = first_edits(studio.deriver, first)
        made.append(studio.pieces.create(title, 10, first,
                                         (*edits, KeepParts()) if k == 0 else edits))
    studio.close()
    return made


def test_a_folder_is_coloured_like_a_piece_and_goes_on_where_it_was_left(
        frames: Path, tmp_path: Path) -> None:
    data, out = tmp_path / "data", tmp_path / "done"
    coloured(data, frames, ("Walk",))
    hero = tmp_path / "hero.zip"
    assert wardrobe("archive", "Walk", hero, "--data-dir", data).returncode == 0
    order = ("batch", frames, "--like", hero, "--do", "flats,deliver", "--out", out,
             "--workers", "1", "--long-edge", "480")
    done = wardrobe(*order)
    assert done.returncode == 0, done.stdout + done.stderr
    lines = done.stdout.splitlines()
    assert [line.split(":")[0] for line in lines] == [f"{k} of 4" for k in range(1, 5)]
    assert "sure" in done.stdout and "min left" in done.stdout
    assert sorted(p.name for p in out.iterdir() if not p.name.startswith(".")) == [
        "walk-0.ora", "walk-0.png", "walk-1.ora", "walk-1.png"]
    names = [{layer.name.split(" / ")[0] for layer in read_openraster(
        out / f"walk-{k}.ora").stack.layers()} for k in range(2)]
    assert names[0] == names[1]
    assert np.array(Image.open(out / "walk-1.png")).shape[:2] == (480, 480)
    before = {p: p.stat().st_mtime_ns for p in out.iterdir() if p.is_file()}
    again = wardrobe(*order)
    assert again.stdout == "4 of 4: walk-1, deliver, was done\n"
    assert {p: p.stat().st_mtime_ns for p in out.iterdir() if p.is_file()} == before


def test_a_series_is_taken_by_its_title_and_its_pieces_get_their_parts(
        frames: Path, tmp_path: Path) -> None:
    data, out = tmp_path / "data", tmp_path / "done"
    ids = coloured(data, frames, ("One", "Two"))
    studio = Studio(Settings(data_dir=data))
    studio.series.append(studio.series.create("Night watch"), ids)
    studio.close()
    done = wardrobe("batch", "night watch", "--do", "flats,shade", "--out", out, "--data-dir", data,
                    "--workers", "1")
    assert done.returncode == 0, done.stdout + done.stderr
    studio = Studio(Settings(data_dir=data))
    one, two = (studio.pieces.recipe(i) for i in ids)
    assert [(p.name, p.base) for p in two.parts] == [(p.name, p.base) for p in one.parts]
    assert two.proposed and [h.event.kind for h in studio.events.of(ids[1])] == ["carried"]
    changes = studio.pieces.get(ids[1]).changes
    studio.close()
    again = wardrobe("batch", "Night watch", "--do", "flats,shade", "--out", out, "--data-dir",
                     data, "--workers", "1")
    assert again.returncode == 0
    studio = Studio(Settings(data_dir=data))
    assert studio.pieces.get(ids[1]).recipe.parts == two.parts
    assert studio.pieces.get(ids[1]).changes <= changes + 1
    studio.close()


def test_what_failed_is_listed_and_told_by_the_exit_code(frames: Path, tmp_path: Path) -> None:
    (frames / "walk-1.png").write_bytes(b"no picture")
    out = tmp_path / "done"
    done = wardrobe("batch", frames, "--do", "flats", "--out", out, "--workers", "1")
    assert done.returncode == 2
    assert "walk-1, flats:" in done.stdout and "1 failed" in done.stdout
    states = [json.loads(p.read_text()) for p in (out / ".batch").glob("*.json")
              if "recipe" not in p.name and "edit" not in p.name]
    assert [s["name"] for s in states] == ["walk-0"]


@pytest.mark.parametrize(("arguments", "said"), [
    (("nowhere", "--out", "OUT", "--data-dir", "DATA"), "no series"),
    (("FRAMES", "--out", "OUT", "--do", "varnish"), "is no stage"),
    (("EMPTY", "--out", "OUT"), "no drawing"),
    (("FRAMES", "--out", "OUT", "--like", "EMPTY/none.zip"), "archive")])
def test_what_cannot_be_done_is_said_in_a_line(frames: Path, tmp_path: Path,
                                               arguments: tuple[str, ...], said: str) -> None:
    (tmp_path / "empty").mkdir()
    places = {"OUT": tmp_path / "done", "DATA": tmp_path / "data", "FRAMES": frames,
              "EMPTY": tmp_path / "empty", "EMPTY/none.zip": tmp_path / "empty" / "none.zip"}
    done = wardrobe("batch", *(places.get(a, a) for a in arguments))
    assert done.returncode == 2 and said in done.stderr
    assert len(done.stderr.strip().splitlines()) == 1
