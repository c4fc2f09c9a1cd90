"""Layered PDF as poppler shows it, with all layers and without some."""

import subprocess
from pathlib import Path

import cv2
import numpy as np
import pikepdf
import pytest

from wardrobe.core.composite.modes import MODES
from wardrobe.core.formats.layered_pdf import MODES as PDF_MODES
from wardrobe.core.formats.layered_pdf import write_layered_pdf
from wardrobe.core.stack.baked import baked
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.core.stack.model import Group, Layer, Stack, Tint

W, H = 120, 90


def blob(rng: np.random.Generator) -> np.ndarray:
    """A shape with soft edges."""
    alpha = np.zeros((H, W), np.uint8)
    centre, axes = rng.integers(20, 70, 2), rng.integers(12, 50, 2)
    cv2.ellipse(alpha, centre.tolist(), axes.tolist(), float(rng.uniform(0, 180)), 0, 360, 255, -1)
    return cv2.GaussianBlur(alpha, (0, 0), float(rng.uniform(0.6, 6)))


def layer(rng: np.random.Generator, name: str, mode: str) -> Layer:
    alpha, colour = blob(rng), tuple(int(v) for v in rng.integers(0, 256, 3))
    if rng.random() < 0.5:
        x, y = int(rng.integers(0, 30)), int(rng.integers(0, 20))
        return Layer(name, Tint(np.ascontiguousarray(alpha[y:H - 5, x:W - 9]), colour), x, y, mode,
                     float(rng.uniform(0.3, 1)))
    noise = cv2.GaussianBlur(rng.uniform(0, 256, (H, W, 3)), (0, 0), 4)
    paint = np.dstack([cv2.normalize(noise, None, 0, 255, cv2.NORM_MINMAX).astype(np.uint8), alpha])
    return Layer(name, paint, 0, 0, mode, float(rng.uniform(0.3, 1)))


def stack(seed: int, modes: list[str]) -> Stack:
    rng = np.random.default_rng(seed)
    ground = Layer("ground", Tint(np.full((H, W), 255, np.uint8), (200, 180, 150)))
    inner = Group("ünïcode (group)", [layer(rng, "base", "normal"), *(
        layer(rng, m, m) for m in modes)], "multiply" if seed % 2 else "normal", 0.8)
    return Stack(W, H, [ground, layer(rng, "first", "normal"), inner,
                        *(layer(rng, f"over {m}", m) for m in modes)])


def shown(file: Path) -> np.ndarray:
    out = file.with_suffix("")
    subprocess.run(["pdftoppm", "-r", "72", "-png", "-singlefile", file, out], check=True)
    return cv2.imread(f"{out}.png")[..., ::-1].astype(int)


def by_ghostscript(file: Path) -> np.ndarray:
    out = file.with_suffix(".gs.png")
    subprocess.run(["gs", "-q", "-dNOPAUSE", "-dBATCH", "-sDEVICE=png16m", "-r72",
                    f"-sOutputFile={out}", file], check=True)
    return cv2.imread(str(out))[..., ::-1].astype(int)


@pytest.mark.parametrize("mode", list(PDF_MODES))
def test_every_mode_looks_as_it_is_defined(tmp_path: Path, mode: str) -> None:
    file = tmp_path / "a.pdf"
    made = stack(sum(map(ord, mode)), [mode])
    write_layered_pdf(file, made, "One", 72)
    # Poppler's hue and saturation are not those of the standard; Ghostscript's are.
    seen = by_ghostscript(file) if mode in ("hue", "saturation") else shown(file)
    off = np.abs(seen - on_white(flatten(made))).max(axis=2)
    # Noise in soft layers shows every rounding of eight bits.
    assert (off <= 3).mean() >= 0.97 and (off <= 8).mean() >= 0.995, np.bincount(off.ravel())


def test_layers_are_switched_by_their_names(tmp_path: Path) -> None:
    """ISO 32000-1, 8.11.4: what is listed under OFF is not shown; order runs from the top."""
    file = tmp_path / "a.pdf"
    made = stack(4, ["multiply", "screen"])
    write_layered_pdf(file, made, "Two", 72)
    with pikepdf.open(file) as pdf:
        assert not pdf.check_pdf_syntax()
        assert [float(v) for v in pdf.pages[0].MediaBox] == [0, 0, W, H]
        names = {str(g.Name): g for g in pdf.Root.OCProperties.OCGs}
        order = [str(entry.Name) if isinstance(entry, pikepdf.Dictionary) else
                 [str(e.Name) for e in entry] for entry in pdf.Root.OCProperties.D.Order]
    assert order == ["over screen", "over multiply", "ünïcode (group)",
                     ["screen", "multiply", "base"], "first", "ground"]
    for name in names:
        with pikepdf.open(file) as pdf:
            config = pdf.Root.OCProperties.D
            config.OFF = pikepdf.Array([g for g in pdf.Root.OCProperties.OCGs
                                        if str(g.Name) == name])
            config.ON = pikepdf.Array([g for g in pdf.Root.OCProperties.OCGs
                                       if str(g.Name) != name])
            pdf.save(tmp_path / "b.pdf")
        left = Stack(W, H, [
            Group(n.name, [c for c in n.children if c.name != name], n.mode, n.opacity)
            if isinstance(n, Group) else n for n in made.nodes if n.name != name])
        off = np.abs(shown(tmp_path / "b.pdf") - on_white(flatten(left))).max(axis=2)
        assert (off <= 3).mean() >= 0.995, name


def test_hidden_layers_are_there_and_off(tmp_path: Path) -> None:
    file = tmp_path / "a.pdf"
    made = stack(6, ["screen"])
    hidden = Layer("selection", Tint(np.full((H, W), 255, np.uint8), (0, 0, 0)), visible=False)
    write_layered_pdf(file, Stack(W, H, [*made.nodes, hidden]), "Three", 72)
    with pikepdf.open(file) as pdf:
        assert [str(g.Name) for g in pdf.Root.OCProperties.D.OFF] == ["selection"]
    assert np.abs(shown(file) - on_white(flatten(made))).max(axis=2).mean() < 1


@pytest.mark.parametrize("seed", range(4))
def test_a_mode_that_pdf_lacks_is_laid_on_in_the_colours_it_came_to(seed: int) -> None:
    made = stack(seed, ["plus-lighter"])
    flat = baked(made, PDF_MODES)
    assert {n.mode for n in flat.layers()} == {"normal"} and set(MODES) - set(PDF_MODES) == {
        "plus-lighter"}
    off = np.abs(on_white(flatten(flat)).astype(int) - on_white(flatten(made))).max(axis=2)
    assert (off <= 3).mean() > 0.99
    kept = baked(stack(seed, ["multiply"]), PDF_MODES)
    assert [n.mode for n in kept.layers()].count("multiply") == 2
