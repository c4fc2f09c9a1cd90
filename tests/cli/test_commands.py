"""The command line, as a shell calls it."""

import subprocess
import sys
import zipfile
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.drawings import figure_ink, on_white, png


def wardrobe(*arguments: str | Path) -> subprocess.CompletedProcess[str]:
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
    again = line.with_name("b.png")
    assert wardrobe("colour", line, "--recipe", recipe, "--png", again).returncode == 0
    assert again.read_bytes() == flat.read_bytes()


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
    failed = wardrobe("colour", line, "--png", out)
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
