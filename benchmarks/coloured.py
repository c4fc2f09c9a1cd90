"""Flat coloured pictures: are lines, flats, parts, light and shade told? Writes
docs/accuracy-coloured.md.

    python -m benchmarks.coloured
"""

import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import reduce
from pathlib import Path

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray
from tests.figures import figure

from benchmarks.corpora import emoji, hands
from wardrobe.core.flats import separate
from wardrobe.core.lines.width import line_width
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import apply
from wardrobe.recipe.exchange.coloured import lines_picture, open_coloured
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
REPORT = Path("docs/accuracy-coloured.md")
FIGURES = 20
_SHEET = (206, 216, 224)  # a ground: white figures on white say nothing of themselves
_SOLID = 1.3  # line widths from which a dark fill counts as line or as flat, whichever is said


@dataclass(frozen=True)
class Coloured:
    """A coloured drawing, and what is line and what is which flat in it."""

    source: str
    name: str
    rgb: Byte
    ink: Byte
    flats: NDArray[np.int32]
    figure: NDArray[np.bool_]


def coloured(source: str, half: int, limit: int) -> Iterator[Coloured]:
    """Drawings of one source and half in colour, over a tinted sheet."""
    paths = {p.stem: p for p in hands.files(source)}
    for drawing in hands.hands(source, half, limit):
        rgb = _picture(source, paths[drawing.name])
        rgb = cv2.copyMakeBorder(rgb, *(hands.MARGIN,) * 4, cv2.BORDER_CONSTANT,
                                 value=_SHEET)
        values = drawing.colours.astype(np.int64)
        values[(values == 0) & drawing.figure] = -1
        yield Coloured(source, drawing.name, rgb, drawing.ink, emoji.pieces(values, -1),
                       drawing.figure)


def _picture(source: str, path: Path) -> Byte:
    if source == "emoji":
        groups = emoji.groups_of(path.stem)
        rgba = emoji.render(groups[1] + groups[0])
    else:
        image = pyvips.Image.thumbnail(str(path), hands.SIZE)
        rgba = np.frombuffer(image.write_to_memory(), np.uint8).reshape(
            image.height, image.width, -1)
    alpha = rgba[..., 3:].astype(float) / 255
    return np.rint(rgba[..., :3] * alpha + np.array(_SHEET) * (1 - alpha)).astype(np.uint8)


def right(drawing: Coloured, ink: Byte, regions: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Pixels that are told rightly: line where it is line, and otherwise a region that is this
    flat and no other, each flat one region."""
    line, told = drawing.ink >= 128, ink >= 128
    free = ~line & ~told
    mine = regions.astype(np.int64)
    pair = drawing.flats[free].astype(np.int64) * (int(mine.max()) + 1) + mine[free]
    codes, counts = np.unique(pair, return_counts=True)
    flat, region = codes // (int(mine.max()) + 1), codes % (int(mine.max()) + 1)
    best_of_flat, best_of_region = {}, {}
    for k in np.argsort(counts):
        best_of_flat[flat[k]], best_of_region[region[k]] = region[k], flat[k]
    good = np.zeros(int(drawing.flats.max()) + 1, np.int64)
    for f, r in best_of_flat.items():
        if best_of_region[r] == f:
            good[f] = r
    found = line & told
    found |= free & (good[drawing.flats] == mine) & (mine > 0)
    # Dark fills may be either.
    depth = cv2.distanceTransform(line.astype(np.uint8), cv2.DIST_L2, 5)
    return found | (depth > _SOLID * line_width(drawing.ink))


VARIANTS = {
    "as drawn": lambda rgb: rgb,
    "JPEG, quality 85": lambda rgb: cv2.imdecode(
        cv2.imencode(".jpg", rgb, [cv2.IMWRITE_JPEG_QUALITY, 85])[1], cv2.IMREAD_COLOR),
}
HALVES = {"tuning": (0, 14, 12), "reporting": (1, 16, 12)}


def opaque(rgb: Byte) -> Byte:
    return np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])


def shares(job: tuple[str, str, str]) -> list[tuple[float, float, float]]:
    """Of each drawing of a source: pixels told rightly, those of the figure, and seconds."""
    half, variant, source = job
    number, kept, limit = HALVES[half]
    found = []
    for drawing in coloured(source, number, kept):
        picture = opaque(VARIANTS[variant](drawing.rgb))
        begin = time.perf_counter()
        told = separate(picture)
        seconds = time.perf_counter() - begin
        good = right(drawing, told.ink, told.regions)
        figure = cv2.dilate(drawing.figure.astype(np.uint8), np.ones((9, 9))) > 0
        found.append((float(good.mean()), float(good[figure].mean()), seconds))
        if len(found) == limit:
            break
    return found


@dataclass(frozen=True)
class Came:
    """What came of a figure whose colours, light and shade are known."""

    rebuilt: float
    worst: int
    parts: float
    azimuth: float
    shade: float
    seconds: float


def opened(seed: int) -> Came:
    """A random figure as it looks, opened as a picture from elsewhere."""
    planted = figure(seed)
    deriver, recipe = planted.deriver, planted.recipe
    view = View.whole(*recipe.size)
    rgb = deriver.picture(recipe, view)
    begin = time.perf_counter()
    told = separate(opaque(rgb))
    mine = Deriver(lambda asset: lines_picture(told))
    first = Recipe(source=Source(asset="0" * 64, width=recipe.size[0], height=recipe.size[1]))
    result = open_coloured(mine, first, rgb, told)
    seconds = time.perf_counter() - begin
    piece = reduce(apply, result.edits, first)
    have = mine.picture(piece, view).astype(float)
    off = np.abs(have - rgb)
    if result.left.darker is not None:
        have = np.rint(have * result.left.darker / 255)
    if result.left.lighter is not None:
        have = have + result.left.lighter
    rows, truth = mine.parts_map(piece), deriver.parts_map(recipe)
    free = (deriver.coverage(recipe) < 64) & (mine.coverage(piece) < 64) & (truth > 0)
    same = sum(int(np.bincount(rows[free & (truth == row)]).max(initial=0))
               for row in range(1, len(recipe.parts) + 1))
    shades = deriver.masks(recipe, view)
    painted = np.max([shades.level(k) for k in ("shade", "deep shade") if k in shades.keys],
                     axis=0)[free] > 127
    got = mine.masks(piece, view).level("shade")[free] > 127
    turn = (piece.light.azimuth - recipe.light.azimuth + 180) % 360 - 180
    return Came(float(off.mean()), int(np.abs(have - rgb).max()), same / free.sum(), abs(turn),
                float((painted & got).sum() / max(1, (painted | got).sum())), seconds)


def main() -> None:
    """Measure, and write the report."""
    jobs = [(half, variant, source) for half in HALVES for variant in VARIANTS
            for source in hands.SOURCES]
    with ProcessPoolExecutor(2) as pool:
        told = dict(zip(jobs, pool.map(shares, jobs), strict=True))
        figures = list(pool.map(opened, range(2000, 2000 + FIGURES)))
    rows = []
    for half in HALVES:
        for variant in VARIANTS:
            everything = [s for source in hands.SOURCES for s in told[half, variant, source]]
            rows += [(half, variant, source, told[half, variant, source])
                     for source in hands.SOURCES] + [(half, variant, "all", everything)]
    table = []
    for half, variant, source, found in rows:
        picture, person, seconds = np.array(found).T
        table.append(f"| {half} | {variant} | {source} | {len(found)} | {picture.mean():.3f} | "
                     f"{person.mean():.3f} | {(person >= 0.97).mean():.2f} | "
                     f"{np.median(seconds):.2f} |")
    turns = np.array([f.azimuth for f in figures])
    text = f"""# Accuracy of telling a coloured picture apart

Written by `make accuracy` (`python -m benchmarks.coloured`). Drawings of five hands in their own
colours over a tinted sheet (white figures on white say nothing of themselves), 1,024 px and a
margin. A pixel is right if it is line where the drawing has its line, and otherwise in a flat that
is this fill of the drawing and no other; of fills as dark as the lines and wider than they are
either is right. Wanted: .97 over the drawings of the tuning half, as drawn.

| half | file | drawings | number | pixels right | of the figure | drawings at .97 | s |
|---|---|---|---|---|---|---|---|
{chr(10).join(table)}

Opened as pieces, {FIGURES} random figures of the tests (600 x 840 px, dark and light grounds),
whose parts, light and shade are known:

- parts: {np.mean([f.parts for f in figures]):.3f} of the pixels of the figure have the part that
  they had
- shade where it was: {np.mean([f.shade for f in figures]):.3f} (intersection over union)
- light: {np.median(turns):.1f} degrees off in the median, at most {turns.max():.0f}
- the piece without what is laid over it differs from the picture by
  {np.mean([f.rebuilt for f in figures]):.2f} of 255 on the mean; with it by at most
  {max(f.worst for f in figures)}
- {np.median([f.seconds for f in figures]):.1f} s each
"""
    REPORT.write_text(text)
    print(text)


if __name__ == "__main__":
    main()
