"""The command line, as a shell calls it."""

import io
import json
import subprocess
import sys
import zipfile
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import replace
from pathlib import Path
from unittest.mock import patch

import numpy as np
import pytest
from PIL import Image

from tests.drawings import figure_ink, on_white, png
from wardrobe.cli.main import run
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Layer, Tint
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.server.arrivals import read_drawing
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

Done = subprocess.CompletedProcess[str]


def wardrobe(*arguments: str | Path) -> Done:
    """The command, in this process: what is compiled once serves all."""
    said, told, code = io.StringIO(), io.StringIO(), 0
    with patch.object(sys, "argv", ["wardrobe", *map(str, arguments)]), redirect_stdout(said), \
            redirect_stderr(told):
        try:
            run()
        except SystemExit as end:
            code = int(end.code or 0)
    return subprocess.CompletedProcess(arguments, code, said.getvalue(), told.getvalue())


def in_a_shell(*arguments: str | Path) -> Done:
    """The command, as a process of its own."""
    return subprocess.run([sys.executable, "-m", "wardrobe.cli.main", *map(str, arguments)],
                          capture_output=True, text=True, check=False)


@pytest.fixture
def line(tmp_path: Path) -> Path:
    path = tmp_path / "line.png"
    path.write_bytes(png(on_white(figure_ink())))
    return path


def test_colour_writes_both_files_and_a_recipe_that_gives_them_again(line: Path) -> None:
    ora, flat, recipe = (line.with_name(n) for n in ("a.ora", "a.png", "a.json"))
    done = wardrobe("colour", line, "--ora", ora, "--png", flat, "--save-recipe", recipe)
    assert done.returncode == 0, done.stderr
    with zipfile.ZipFile(ora) as archive:
        merged = np.asarray(Image.open(archive.open("mergedimage.png")))
    assert (np.asarray(Image.open(flat)) == merged).all()
    laid = line.with_name("laid.png")
    assert wardrobe("flatten", ora, "--png", laid).returncode == 0
    composed = np.asarray(Image.open(laid)).astype(int)
    assert np.abs(composed[..., :3] - merged).max() <= 1 and (composed[..., 3] == 255).all()
    report = line.with_name("findings.json")
    assert wardrobe("check", ora, "--json", report).returncode == 0
    said = json.loads(report.read_text())
    assert said["layers"] > 10 and said["findings"] == []
    tidy = line.with_name("tidy.ora")
    assert wardrobe("check", untidy(ora), "--json", report, "--repaired", tidy).returncode == 0
    told = json.loads(report.read_text())["findings"]
    assert [set(f) for f in told] == [{"code", "layer", "box", "count", "message"}] * len(told)
    assert {"unnamed", "empty"} <= {f["code"] for f in told}
    assert wardrobe("check", tidy, "--json", report).returncode == 0
    assert json.loads(report.read_text())["findings"] == []
    failed = wardrobe("flatten", flat, "--png", laid)
    assert failed.returncode == 2 and "not an OpenRaster file" in failed.stderr
    again = line.with_name("b.png")
    assert wardrobe("colour", line, "--recipe", recipe, "--png", again).returncode == 0
    assert again.read_bytes() == flat.read_bytes()


def untidy(ora: Path) -> Path:
    """The file with one more layer that has neither a name nor paint."""
    stack = read_openraster(ora).stack
    blank = Layer("layer 12", Tint(np.zeros((1, 1), np.uint8), (0, 0, 0)))
    stack = replace(stack, nodes=[*stack.nodes, blank])
    write_openraster(ora.with_name("untidy.ora"), stack, flatten(stack))
    return ora.with_name("untidy.ora")


def test_looks_are_drawn_on_a_sheet(line: Path) -> None:
    recipe = line.with_name("line.json")
    assert wardrobe("colour", line, "--save-recipe", recipe).returncode == 0
    told = json.loads(recipe.read_text())
    told["looks"] = [{"id": "k1", "name": "Red", "bases": {"p1": "#aa3322"}}]
    recipe.write_text(json.dumps(told))
    for suffix, starts in (("pdf", b"%PDF"), ("png", b"\x89PNG")):
        sheet = line.with_name(f"looks.{suffix}")
        done = wardrobe("looks", "--recipe", recipe, "--sheet", sheet)
        assert done.returncode == 0 and "2 looks" in done.stdout, done.stderr
        assert sheet.read_bytes().startswith(starts)
    failed = wardrobe("looks", "--recipe", recipe, "--sheet", line.with_name("looks.txt"))
    assert failed.returncode == 2 and ".pdf" in failed.stderr
    line.rename(line.with_name("elsewhere.png"))
    failed = wardrobe("looks", "--recipe", recipe, "--sheet", line.with_name("looks.pdf"))
    assert failed.returncode == 2 and "--line" in failed.stderr


def test_a_piece_is_archived_and_restored_elsewhere(tmp_path: Path) -> None:
    here, there = Settings(data_dir=tmp_path / "here"), tmp_path / "there"
    studio = Studio(here)
    drawing = tmp_path / "kite.png"
    drawing.write_bytes(png(on_white(figure_ink())))
    recipe = read_drawing(studio, drawing, 480)
    studio.pieces.create("Kite", 30, recipe, first_edits(studio.deriver, recipe))
    made = studio.pieces.get(1).recipe
    studio.close()
    out = tmp_path / "kite.zip"
    done = wardrobe("archive", "kite", out, "--data-dir", here.data_dir)
    assert done.returncode == 0, done.stderr
    done = wardrobe("restore", out, "--data-dir", there)
    assert done.returncode == 0 and "piece 1" in done.stdout, done.stderr
    other = Studio(Settings(data_dir=there))
    assert other.pieces.get(1).recipe == made
    assert (other.deriver.picture(made, View.whole(480, 480)) > 0).any()
    other.close()
    missing = wardrobe("archive", "owl", out, "--data-dir", here.data_dir)
    assert missing.returncode == 2 and "1 “Kite”" in missing.stderr
    assert wardrobe("archive", "1", out, "--data-dir", tmp_path / "none").returncode == 2
    out.write_bytes(b"broken")
    broken = wardrobe("restore", out, "--data-dir", there)
    assert broken.returncode == 2 and "not the archive" in broken.stderr


@pytest.mark.parametrize(("content", "says"), [
    (b"not a picture", "not a PNG"), (png(np.full((99, 99, 3), 255, np.uint8)), "blank"),
    (None, "No such file")])
def test_errors_are_one_line_and_exit_code_2(line: Path, content: bytes | None, says: str) -> None:
    out = line.with_name("kept.png")
    out.write_bytes(b"before")
    if content is None:
        line.unlink()
    else:
        line.write_bytes(content)
    failed = in_a_shell("colour", line, "--png", out)
    assert failed.returncode == 2
    assert failed.stderr.count("\n") == 1 and says in failed.stderr
    assert out.read_bytes() == b"before"


def test_a_wrong_recipe_is_named(line: Path) -> None:
    recipe = line.with_name("r.json")
    recipe.write_text('{"schema_version": 7}')
    failed = wardrobe("colour", line, "--recipe", recipe, "--png", line.with_name("a.png"))
    assert failed.returncode == 2 and "schema_version" in failed.stderr


def test_a_recipe_for_another_size_is_refused(line: Path) -> None:
    recipe = line.with_name("r.json")
    assert wardrobe("colour", line, "--save-recipe", recipe).returncode == 0
    line.write_bytes(png(on_white(figure_ink(400))))
    failed = wardrobe("colour", line, "--recipe", recipe, "--png", line.with_name("a.png"))
    assert failed.returncode == 2 and "480 x 480" in failed.stderr


@pytest.mark.parametrize("command", ["serve", "demo", "colour"])
def test_help_has_an_example(command: str) -> None:
    assert f"Example: wardrobe {command}" in wardrobe(command, "--help").stdout


def test_lines_and_gaps_write_what_they_found(line: Path) -> None:
    ink = figure_ink()
    ink[140:146, 165:185] = 0  # a gap of 6 px in the head's outline, seen from the neck
    ink[300:308, 120:140] = 0
    line.write_bytes(png(on_white(ink)))
    out, report, gaps = (line.with_name(n) for n in ("l.png", "l.json", "g.json"))
    done = wardrobe("lines", line, "--out", out, "--json", report, "--weight", "1")
    assert done.returncode == 0, done.stderr
    lines = np.asarray(Image.open(out))
    assert Image.open(out).mode == "LA" and lines[..., 0].max() == 0
    assert (lines[..., 1] >= 128).sum() > (ink >= 128).sum()
    facts = json.loads(report.read_text())
    assert facts["kind"] == "black on white" and facts["areas"] == 4

    assert wardrobe("gaps", line, "--json", gaps).returncode == 0
    found = json.loads(gaps.read_text())
    assert set(found) >= {"line_width", "gaps", "leak_level"} and found["leak_level"] == 0
    gap = min(found["gaps"], key=lambda g: abs(g["y"] - 304))
    assert abs(gap["y"] - 304) < 4 and abs(gap["width"] - 8) < 2 and "outside" in gap["joins"]
    assert json.loads(wardrobe("gaps", line).stdout) == found


def test_a_setting_out_of_range_is_said(line: Path) -> None:
    done = wardrobe("lines", line, "--json", line.with_name("r.json"), "--paper", "7")
    assert done.returncode == 2 and "--paper" in done.stderr and done.stderr.count("\n") == 1


def test_flats_shares_out_among_clicks(line: Path) -> None:
    clicks, out = line.with_name("clicks.json"), line.with_name("flats.png")
    clicks.write_text(json.dumps([{"x": 240, "y": 110, "name": "head"}, {"x": 240, "y": 230},
                                  {"x": 240, "y": 350}, {"x": 5, "y": 5, "name": "outside"}]))
    done = wardrobe("flats", line, "--clicks", clicks, "--out", out)
    assert done.returncode == 0, done.stderr
    labels = np.asarray(Image.open(out))
    assert labels.dtype == np.uint16 or labels.dtype == np.int32
    assert [labels[y, 240] for y in (110, 230, 350)] == [1, 2, 3] and labels[5, 5] == 0
    # Without a click on it the outside is recognised; a click beside the picture is refused.
    clicks.write_text('[{"x": 240, "y": 350}]')
    assert wardrobe("flats", line, "--clicks", clicks, "--out", out).returncode == 0
    assert np.asarray(Image.open(out))[[350, 5], [240, 5]].tolist() == [1, 0]
    before = out.read_bytes()
    for text, says in (('[{"x": 999, "y": 3}]', "beside"), ('[{"x": "a"}]', "0 x"), ("[]", "")):
        clicks.write_text(text)
        failed = wardrobe("flats", line, "--clicks", clicks, "--out", out)
        assert failed.returncode == 2 and says in failed.stderr, failed.stderr
    assert out.read_bytes() == before


def test_the_sheet_of_a_recipe(line: Path) -> None:
    recipe, out = line.with_name("r.json"), line.with_name("sheet.json")
    flat = line.with_name("a.png")
    wardrobe("colour", line, "--png", flat, "--save-recipe", recipe)
    done = wardrobe("sheet", "--recipe", recipe, "--json", out)
    assert done.returncode == 0, done.stderr
    sheet = json.loads(out.read_text())
    picture = np.asarray(Image.open(flat))
    shown = {f"#{r:02x}{g:02x}{b:02x}" for r, g, b in np.unique(picture.reshape(-1, 3), axis=0)}
    for part in sheet["parts"]:
        passes = {p["name"]: p for p in part["passes"]}
        assert {"base", "shade", "deep shade", "light"} <= set(passes)
        assert passes["base"]["colour"] in shown and passes["shade"]["colour"] in shown
        assert passes["shade"]["step"] > 5 and passes["shade"]["mark"] in (None, "faint", "heavy")
    assert "not JSON" in wardrobe("sheet", "--recipe", line, "--json", out).stderr


def test_even_out_gives_one_shade_and_what_each_base_gets(tmp_path: Path) -> None:
    out = tmp_path / "even.json"
    bases = ["#e9b690", "#3f7377", "#8a4226", "#0d0b0c"]
    done = wardrobe("evenout", "--bases", ",".join(bases), "--step", "16", "--json", out)
    assert done.returncode == 0, done.stderr
    told = json.loads(out.read_text())
    shade, strength = from_hex(told["shade"]["colour"]), told["shade"]["strength"]
    for part, base in zip(told["parts"], bases, strict=True):
        start = np.array(from_hex(base))
        expected = start * (1 - strength + strength * np.array(shade) / 255)
        assert part["base"] == base
        assert np.abs(np.array(from_hex(part["result"])) - expected).max() <= 0.51
        labs = srgb_to_lab(np.array([from_hex(base), from_hex(part["result"])]) / 255)
        assert part["step"] == pytest.approx(float(delta_e_2000(labs[0], labs[1])), abs=1e-3)
    assert told["worst"] == pytest.approx(max(abs(p["step"] - 16) for p in told["parts"]), abs=0.01)
    assert told["parts"][3]["override"]["mode"] == "normal"
    assert told["with_overrides"]["worst"] < told["worst"]
    failed = wardrobe("evenout", "--bases", "#12345,#fff", "--json", out)
    assert failed.returncode == 2 and "#12345" in failed.stderr
    assert json.loads(out.read_text()) == told


def test_shade_draws_masks_from_which_the_light_is_told_again(line: Path) -> None:
    labels, masks = line.with_name("labels.png"), line.with_name("masks")
    clicks, told = line.with_name("clicks.json"), line.with_name("light.json")
    clicks.write_text(json.dumps([{"x": 240, "y": 110, "name": "head"},
                                  {"x": 240, "y": 355, "name": "body"},
                                  {"x": 10, "y": 10, "name": "outside"}]))
    assert wardrobe("flats", line, "--clicks", clicks, "--out", labels).returncode == 0
    done = wardrobe("shade", line, "--labels", labels, "--azimuth", "40", "--height", "35",
                    "--out", masks)
    assert done.returncode == 0, done.stderr
    drawn = {p.stem: np.asarray(Image.open(p)) for p in masks.iterdir()}
    assert set(drawn) == {"shade", "deep", "cast", "light", "rim"}
    inside = np.asarray(Image.open(labels)) > 0
    assert all(m.dtype == np.uint8 and m.shape == inside.shape for m in drawn.values())
    assert 0.15 < (drawn["shade"][inside] > 127).mean() < 0.7
    assert (drawn["deep"] <= drawn["shade"]).all() and (drawn["light"] > 127).any()

    done = wardrobe("lightaudit", "--labels", labels, "--shade", masks / "shade.png", "--line",
                    line, "--json", told)
    assert done.returncode == 0, done.stderr
    answers = json.loads(told.read_text())
    assert {a["label"] for a in answers} <= {1, 2} and answers
    head = next(a for a in answers if a["label"] == 1)
    assert abs((head["azimuth"] - 40 + 180) % 360 - 180) < 12 and head["confidence"] > 0.4
    wrong = wardrobe("shade", line, "--labels", line, "--out", masks)
    assert wrong.returncode == 2 and "grey picture" in wrong.stderr
