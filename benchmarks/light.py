"""What is in front, where a shade's light comes from, and how simple shapes are, on drawings that
were not used for tuning; writes docs/accuracy-light.md.

The order of areas is in the drawings themselves: where a shape goes on under another that is
painted later, the later one is in front.

    python -m benchmarks.light
"""

import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator
from copy import deepcopy
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.emoji import SVG, Drawing, drawings, render
from wardrobe.core.form import Form, Traits, solve_form
from wardrobe.core.form.borders import SURE_FRONT, front_cues, in_front, measure_borders
from wardrobe.core.light.audit import SURE, audit_light
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import Rig, draw_shapes
from wardrobe.core.light.simplify import ISLAND_LINE_WIDTHS_SQUARED
from wardrobe.core.light.subject import Subject, Surface
from wardrobe.core.lines.width import line_width
from wardrobe.core.masks.raster import rasterise
from wardrobe.core.passes.table import drawn_shapes

Int = NDArray[np.int32]
Mask = NDArray[np.bool_]
REPORT = Path("docs") / "accuracy-light.md"
LIMIT = 400
LIT = 60  # drawings that are shaded and audited
LIGHTS = [(azimuth, height) for azimuth in (10, 130, 250) for height in (25, 50)]
_GROUPS = ("color", "hair", "skin", "skin-shadow", "color-foreground")
_SHAPES = {"path", "circle", "ellipse", "rect", "polygon", "polyline", "line"}
_SIZE = 512
_NEAR = 12  # px from a border at which it is looked whether a shape goes on
_GOES_ON = 0.5  # share of what is near that it must hold


@dataclass(frozen=True)
class Pair:
    """Two areas that touch: the one in front, the one behind, and how sure the guess is that it
    is so (below 0: that it is the other way round)."""

    front: int
    behind: int
    guess: float
    cues: NDArray[np.float32]


def _leaves(code: str) -> list[NDArray[np.bool_]]:
    """What each shape of the colour groups covers, in painting order."""
    root = ET.fromstring(re.sub(r'\sxmlns="[^"]+"', "", (SVG / f"{code}.svg").read_text(), count=1))
    groups = [g for name in _GROUPS for g in root.findall(f"g[@id='{name}']")]
    masks = []
    for group in groups:
        count = sum(e.tag in _SHAPES for e in group.iter())
        for keep in range(count):
            alone = deepcopy(group)
            k = -1
            for parent in list(alone.iter()):
                for child in list(parent):
                    if child.tag in _SHAPES:
                        k += 1
                        if k != keep:
                            parent.remove(child)
            alpha = render(ET.tostring(alone, encoding="unicode"))[..., 3]
            masks.append(cv2.resize(alpha, (_SIZE, _SIZE), interpolation=cv2.INTER_AREA) > 127)
    return masks


def _shapes_of(labels: Int, masks: list[NDArray[np.bool_]]) -> dict[int, int]:
    """The shape that is seen in most of each area."""
    seen = np.full(labels.shape, -1)
    for k, mask in enumerate(masks):
        seen[mask] = k
    owners = {}
    for label in range(1, int(labels.max()) + 1):
        values, counts = np.unique(seen[labels == label], return_counts=True)
        if len(values):
            owners[label] = int(values[np.argmax(counts)])
    return owners


def pairs(drawing: Drawing) -> Iterator[Pair]:
    """Pairs whose order the drawing itself tells."""
    labels = cv2.resize(drawing.areas.astype(np.uint16), (_SIZE, _SIZE),
                        interpolation=cv2.INTER_NEAREST).astype(np.int32)
    masks = _leaves(drawing.code)
    owners = _shapes_of(labels, masks)
    for label in range(1, int(labels.max()) + 1):
        if owners.get(label, -1) < 0:
            labels[labels == label] = 0
    ink = cv2.resize(drawing.ink, (_SIZE, _SIZE), interpolation=cv2.INTER_AREA)
    count = int(labels.max())
    lw = line_width(drawing.ink) * _SIZE / len(drawing.ink)
    sums = measure_borders(labels, ink.astype(np.float32) / 255, count, lw)
    pixels = np.bincount(labels.ravel(), minlength=count + 1).astype(np.float32)
    guess, cues = in_front(sums, pixels), front_cues(sums, pixels)
    for a, b in np.argwhere(np.triu(sums[0], 1) > lw):
        if a == 0:
            continue
        behind, front = (a, b) if owners[a] < owners[b] else (b, a)
        if owners[a] == owners[b] or not _runs_under(labels, behind, front, masks[owners[behind]]):
            continue
        yield Pair(int(front), int(behind), float(guess[front, behind]), cues[:, front, behind])


def _runs_under(labels: Int, behind: int, front: int, shape: NDArray[np.bool_]) -> bool:
    """Whether the shape behind goes on in the area in front, beyond their border."""
    near = cv2.distanceTransform((labels != behind).astype(np.uint8), cv2.DIST_L2, 5) < _NEAR
    band = near & (labels == front)
    return bool(band.any() and shape[band].mean() > _GOES_ON)


def figure(drawing: Drawing) -> tuple[Form, NDArray[np.uint16]] | None:
    """The form of what is coloured, and its areas."""
    labels = drawing.areas.astype(np.uint16)
    seen = np.zeros((_SIZE, _SIZE), bool)
    for mask in _leaves(drawing.code):
        seen |= mask
    small = cv2.resize(labels, (_SIZE, _SIZE), interpolation=cv2.INTER_NEAREST)
    covered = np.bincount(small.ravel(), seen.ravel(), int(labels.max()) + 1)
    coloured = covered > 0.5 * np.maximum(1, np.bincount(small.ravel(),
                                                         minlength=int(labels.max()) + 1))
    coloured[0] = False
    if not coloured.any():
        return None
    traits = Traits.usual(coloured, MATERIALS["matte cloth"].fold)
    return solve_form(labels, drawing.ink, line_width(drawing.ink), traits), labels


def shade(form: Form, labels: NDArray[np.uint16], key: KeyLight, simple: float = 0.0) -> Mask:
    """The shade at full size."""
    owners = np.minimum(np.arange(int(form.labels.max()) + 1), 1).astype(np.uint16)
    cloth = Surface(MATERIALS["matte cloth"])
    shapes = draw_shapes(Subject.of(form, owners, [cloth, cloth]), Rig(key, simple=simple),
                         drawn_shapes(["shade"]))
    mask: Mask = rasterise(shapes, form, labels)[..., 0] > 127
    return mask


def degraded(mask: Mask, rng: np.random.Generator) -> Mask:
    """Half erased in blobs, and wobbled by up to 6 px."""
    blobs = cv2.GaussianBlur(rng.standard_normal(mask.shape).astype(np.float32), (0, 0), 9)
    wobble = cv2.GaussianBlur(rng.standard_normal((*mask.shape, 2)).astype(np.float32), (0, 0), 8)
    wobble *= 6 / np.abs(wobble).max()
    y, x = np.mgrid[:mask.shape[0], :mask.shape[1]].astype(np.float32)
    kept = (mask & (blobs > np.median(blobs))).astype(np.uint8)
    return cv2.remap(kept, x + wobble[..., 0], y + wobble[..., 1], cv2.INTER_NEAREST) > 0


def pieces(mask: Mask, labels: NDArray[np.uint16], form: Form) -> tuple[int, int]:
    """Islands and holes of a shade, and how many of them are smaller than a shape may be."""
    least = 0.5 * ISLAND_LINE_WIDTHS_SQUARED * (form.grid.line_width / form.grid.scale) ** 2
    form_of = form.form_of_area[labels]
    count = small = 0
    for label in range(1, int(form.labels.max()) + 1):
        inside = form_of == label
        whole = int(inside.sum())
        for side in (mask & inside, ~mask & inside):
            _, _, stats, _ = cv2.connectedComponentsWithStats(side.astype(np.uint8))
            sizes = stats[1:, cv2.CC_STAT_AREA]
            count += len(sizes)
            small += int((sizes < min(least, 0.15 * whole)).sum())
    return count, small


def measure_audit() -> dict[str, NDArray[np.float64]]:
    """Errors in degrees on clean and degraded shades, of those called sure, and confidences on
    random masks."""
    rng = np.random.default_rng(0)
    found: dict[str, list[float]] = {"clean": [], "degraded": [], "sure": [], "random": []}
    for drawing in drawings(1, LIT):
        solved = figure(drawing)
        if solved is None:
            continue
        form, labels = solved
        for azimuth, height in LIGHTS:
            clean = form.grid.nearest(shade(form, labels, KeyLight(azimuth, height))
                                      .astype(np.uint16)) > 0
            for kind, mask in (("clean", clean), ("degraded", degraded(clean, rng))):
                for told in audit_light(form.normals, form.labels, mask):
                    error = abs((told.azimuth - azimuth + 180) % 360 - 180)
                    found[kind].append(error)
                    if told.confidence >= SURE:
                        found["sure"].append(error)
        for sigma in (4, 8, 14, 22, 30):
            noise = cv2.GaussianBlur(rng.standard_normal(form.labels.shape), (0, 0), sigma)
            found["random"] += [t.confidence for t in audit_light(
                form.normals, form.labels, noise > np.median(noise))]
    return {kind: np.array(values) for kind, values in found.items()}


def measure_pieces() -> list[tuple[float, float, float]]:
    """By how far shapes are simplified: pieces a drawing, and slivers and pinholes among them."""
    rows = []
    solved = [s for s in map(figure, drawings(1, LIT)) if s is not None]
    for simple in (0.0, 0.25, 0.5, 0.75, 1.0):
        counts = np.array([pieces(shade(form, labels, KeyLight(130, 38), simple), labels, form)
                           for form, labels in solved])
        rows.append((simple, float(counts[:, 0].mean()), float(counts[:, 1].mean())))
    return rows


def main() -> None:
    order = {half: np.array([p.guess for d in drawings(half, LIMIT) for p in pairs(d)])
             for half in (0, 1)}
    audit, shapes = measure_audit(), measure_pieces()

    def row(name: str, guess: NDArray[np.float64]) -> str:
        sure = np.abs(guess) >= SURE_FRONT
        return (f"| {name} | {len(guess)} | {(guess > 0).mean():.3f} | {sure.mean():.2f} | "
                f"{(guess[sure] > 0).mean():.3f} |")

    def errors(name: str, values: NDArray[np.float64]) -> str:
        return (f"| {name} | {len(values)} | {np.median(values):.1f}° | "
                f"{np.percentile(values, 90):.1f}° |")

    simplified = "\n".join(f"| {simple:.2f} | {count:.2f} | {small:.3f} |"
                           for simple, count, small in shapes)
    REPORT.write_text(f"""# Accuracy of form and light

Written by `make accuracy` from the openmoji drawings (CC BY-SA 4.0), their line group in, their
colour groups as the truth. Half of them, by a hash of their code, were for tuning.

## In front or behind

Pairs of areas whose order the drawing tells: the shape of one goes on under the other, which is
painted later. Parts' names are not used here.

| drawings | pairs | right | called sure | right of those |
|---|---|---|---|---|
{row("tuning", order[0])}
{row("not used for tuning", order[1])}

## The light that a shade implies

{LIT} drawings not used for tuning, shaded from {len(LIGHTS)} directions, cast shadows and folds
included; the answer of every area. Degraded: half erased in blobs, and wobbled by up to 6 px.

| shade | answers | median error | 90 % |
|---|---|---|---|
{errors("clean", audit["clean"])}
{errors("degraded", audit["degraded"])}
{errors("called sure", audit["sure"])}

Of {len(audit["random"])} answers on random masks {100 * (audit["random"] >= SURE).mean():.1f} % are
called sure.

## How simple shapes are

Pieces of shade and of light in all forms of a drawing, a drawing on the average, and among them
slivers and pinholes under {0.5 * ISLAND_LINE_WIDTHS_SQUARED:.0f} squared line widths (or 15 % of a
small form).

| simplify | pieces | slivers and pinholes |
|---|---|---|
{simplified}
""")
    print(REPORT.read_text())


if __name__ == "__main__":
    main()
