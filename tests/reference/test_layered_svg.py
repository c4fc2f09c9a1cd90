"""Layered SVG as Chromium shows it; curves against circles and the points they were made from."""

import xml.etree.ElementTree as ET
from pathlib import Path

import cv2
import numpy as np
import pytest
import skia
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.chromium import svg_shown
from tests.reference.test_layered_pdf import H, W, stack
from tests.tries import tries
from wardrobe.core.composite.modes import MODES
from wardrobe.core.formats.layered_svg import Curves, write_layered_svg
from wardrobe.core.geometry.contours import contours
from wardrobe.core.geometry.curves import fitted
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.core.stack.model import Group, Layer, Stack, Tint

pytestmark = pytest.mark.usefixtures("browser_kept")

NS = "{http://www.w3.org/2000/svg}"


def covered(path: skia.Path, size: tuple[int, int]) -> np.ndarray:
    """Coverage of a path, averaged over sixteen times sixteen samples a pixel."""
    big = skia.Surface(size[0] * 16, size[1] * 16)
    canvas = big.getCanvas()
    canvas.clear(skia.ColorTRANSPARENT)
    canvas.scale(16, 16)
    canvas.drawPath(path, skia.Paint(AntiAlias=False, Color=skia.ColorBLACK))
    plane = big.toarray()[..., 3].astype(float)
    return plane.reshape(size[1], 16, size[0], 16).mean(axis=(1, 3))


@settings(max_examples=tries(8, 25), deadline=None)
@given(st.floats(15, 36), st.floats(40, 60), st.floats(40, 60), st.floats(0.05, 0.5))
def test_a_circle_s_contour_lies_on_it_and_so_do_its_curves(
        radius: float, x: float, y: float, tolerance: float) -> None:
    """Analytic: every place of the curves is one radius from the middle."""
    path = skia.Path()
    path.addCircle(x, y, radius)
    alpha = np.round(covered(path, (110, 110))).astype(np.uint8)
    (ring,) = contours(alpha)
    away = np.linalg.norm(ring - [x, y], axis=1)
    assert np.abs(away - radius).max() < 0.05
    curves = fitted(ring, tolerance)
    u = np.linspace(0, 1, 20)[:, None]
    dense = np.concatenate([c[0] * (1 - u)**3 + 3 * c[1] * u * (1 - u)**2
                            + 3 * c[2] * u * u * (1 - u) + c[3] * u**3 for c in curves])
    assert np.abs(np.linalg.norm(dense - [x, y], axis=1) - radius).max() < tolerance + 0.06
    assert (curves[1:, 0] == curves[:-1, 3]).all() and (curves[0, 0] == curves[-1, 3]).all()
    assert len(curves) <= 24 and (tolerance < 0.2 or len(curves) <= 12)


@settings(max_examples=tries(10, 40), deadline=None)
@given(st.lists(st.tuples(st.floats(5, 95), st.floats(5, 95)), min_size=3, max_size=9, unique=True),
       st.floats(0.05, 1))
def test_no_point_lies_farther_from_its_curve_than_is_asked(
        places: list[tuple[float, float]], tolerance: float) -> None:
    """Polygons with every kind of corner, a point a pixel."""
    ends = np.array(places)
    ring = np.concatenate([a + (b - a) * np.arange(0, 1, 1 / max(1, np.hypot(*(b - a))))[:, None]
                           for a, b in zip(ends, np.roll(ends, -1, axis=0), strict=True)])
    curves = fitted(ring, tolerance)
    u = np.linspace(0, 1, 3000)[:, None]
    dense = np.concatenate([c[0] * (1 - u)**3 + 3 * c[1] * u * (1 - u)**2
                            + 3 * c[2] * u * u * (1 - u) + c[3] * u**3 for c in curves])
    off = np.array([np.linalg.norm(dense - p, axis=1).min() for p in ring])
    assert off.max() <= tolerance + 0.05


def test_every_mode_looks_in_a_browser_as_it_is_defined(tmp_path: Path) -> None:
    """All modes at once, one above the other, on soft layers, which stay pictures."""
    modes = list(MODES)
    made = [stack(k, [mode]) for k, mode in enumerate(modes)]
    tall = Stack(W, H * len(modes), [Group(f"{k}", [
        _moved(n, H * k) for n in one.nodes]) for k, one in enumerate(made)])
    write_layered_svg(tmp_path / "a.svg", tall, "Modes & <more>", 96, Curves())
    seen = svg_shown(tmp_path / "a.svg", W, H * len(modes))
    off = np.abs(seen - on_white(flatten(tall))).max(axis=2)
    for k, mode in enumerate(modes):
        part = off[H * k:H * (k + 1)]
        assert (part <= 3).mean() > 0.98 and (part <= 8).mean() > 0.995, (mode, part.max())


def _moved(node: Layer | Group, by: int) -> Layer | Group:
    if isinstance(node, Group):
        return Group(node.name, [_moved(c, by) for c in node.children], node.mode, node.opacity)
    return Layer(node.name, node.paint, node.x, node.y + by, node.mode, node.opacity)


def flat_figure() -> Stack:
    """Sharp shapes with smoothed edges, overlapping, one half clear, one with steps."""
    def shape(draw: object, steps: bool = False) -> np.ndarray:
        path = skia.Path()
        draw(path)  # type: ignore[operator]
        plane = covered(path, (300, 260))
        return np.where(plane > 127, 255, 0).astype(np.uint8) if steps \
            else np.round(plane).astype(np.uint8)

    body = shape(lambda p: p.addOval(skia.Rect(40, 60, 250, 240)))
    hole = shape(lambda p: (p.addCircle(150, 120, 60), p.addCircle(150, 120, 25),
                            p.setFillType(skia.PathFillType.kEvenOdd)))
    star = shape(lambda p: (p.moveTo(20, 20), p.lineTo(120, 50), p.lineTo(60, 130), p.close()))
    steps = shape(lambda p: p.addCircle(230, 60, 30), steps=True)
    full = np.full((260, 300), 255, np.uint8)
    return Stack(300, 260, [
        Layer("ground", Tint(full, (240, 230, 210))),
        Group("figure", [Layer("base", Tint(body, (90, 130, 160))),
                         Layer("shade", Tint(hole, (150, 120, 170)), mode="multiply", opacity=0.7),
                         Layer("veil", Tint((star * 0.5).astype(np.uint8), (250, 200, 120)))]),
        Layer("steps", Tint(steps, (40, 60, 30))),
        Layer("ink", Tint(star, (20, 20, 30)), 5, 110),
        Layer("off", Tint(full, (0, 0, 0)), visible=False)])


@pytest.mark.parametrize("exact", [(), ("ink",)])
def test_flat_layers_are_curves_and_look_the_same(tmp_path: Path, exact: tuple[str, ...]) -> None:
    made, file = flat_figure(), tmp_path / "a.svg"
    write_layered_svg(file, made, "Flat", 150, Curves(0.1, exact))
    root = ET.fromstring(file.read_text())
    assert root.get("viewBox") == "0 0 300 260" and root.get("width") == "50.8000mm"
    groups = {g.get("aria-label"): g for g in root.iter(f"{NS}g") if g.get("aria-label")}
    assert list(groups) == ["ground", "figure", "base", "shade", "veil", "steps", "ink", "off"]
    assert [c.get("aria-label") for c in groups["figure"].findall(f"{NS}g")] == [
        "base", "shade", "veil"]
    kinds = {name: [c.tag.removeprefix(NS) for c in g][-1] for name, g in groups.items()}
    assert kinds["ink"] == ("image" if exact else "path") and kinds["base"] == "path"
    assert "display:none" in (groups["off"].get("style") or "")
    assert "mix-blend-mode:multiply" in (groups["shade"].get("style") or "")
    off = np.abs(svg_shown(file, 300, 260) - on_white(flatten(made))).max(axis=2)
    assert (off <= 3).mean() >= 0.985, np.bincount(off.ravel())[:40]
    # What differs lies along an edge: within one pixel of where the picture changes.
    change = on_white(flatten(made))
    spread = cv2.dilate(change, np.ones((3, 3))) != cv2.erode(change, np.ones((3, 3)))
    assert not (off > 3)[~spread.any(axis=2)].any()
