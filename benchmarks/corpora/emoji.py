"""Drawings with known areas: the openmoji set (CC BY-SA 4.0), fetched by `make accuracy`.

The line group of a drawing is the input; connected pieces of one colour in its colour groups are
the truth. Half of the drawings, by a hash of their code, are for tuning; the others for reports.
"""

import hashlib
import pickle
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray

from wardrobe.core.lines.width import line_width

SVG = Path(".corpus/node_modules/openmoji/color/svg")
CACHE = Path(".corpus")
SIZE = 1024
_CLEAR, _UNDER_INK = -1, -2
_COLOURED = ("color", "hair", "skin", "skin-shadow", "color-foreground")
THIN = 0.3  # the thin variant scales strokes by this: lines of 8 px in place of 28

Byte = NDArray[np.uint8]


@dataclass(frozen=True)
class Drawing:
    """Line art and the areas it means.

    Attributes
    ----------
    code : str
    ink, thin : ndarray of uint8, shape (1024, 1024)
        Coverage as drawn, and with thin strokes.
    areas : ndarray of int32, same shape
        From 1.
    """

    code: str
    ink: Byte
    thin: Byte
    areas: NDArray[np.int32]


def drawings(half: int, limit: int) -> Iterator[Drawing]:
    """Drawings of one half (0 tuning, 1 report) in a fixed shuffled order."""
    store = CACHE / f"drawings-{half}-{limit}.pickle"
    if not store.exists():
        codes = [p.stem for p in SVG.glob("*.svg") if digest(p.stem) % 2 == half]
        codes.sort(key=lambda code: hashlib.sha256(f"order {code}".encode()).digest())
        found, seen = [], set()
        for code in codes:
            if not has_line_art_of_its_own(code):
                continue
            drawing = _read(code)
            if drawing is None or drawing.ink.tobytes() in seen or not _usable(drawing):
                continue
            seen.add(drawing.ink.tobytes())
            found.append((code, *(cv2.imencode(".png", a)[1] for a in
                                  (drawing.ink, drawing.thin, drawing.areas.astype(np.uint16)))))
            if len(found) == limit:
                break
        store.write_bytes(pickle.dumps(found))
    for code, *images in pickle.loads(store.read_bytes()):
        ink, thin, areas = (cv2.imdecode(i, cv2.IMREAD_UNCHANGED) for i in images)
        yield Drawing(code, ink, thin, areas.astype(np.int32))


def has_line_art_of_its_own(code: str) -> bool:
    """Skin tones repeat a drawing, and flags are all colour."""
    return not re.search("1F3F[B-F]", code) and not code.startswith("1F1")


def digest(code: str) -> int:
    """What drawings are split into halves by."""
    return hashlib.sha256(code.encode()).digest()[0]


def group(text: str, name: str) -> str:
    start = re.search(rf'<g id="{name}"[^>]*>', text)
    if not start or start.group(0).endswith("/>"):
        return ""
    depth = 1
    for tag in re.finditer(r"<g\b[^>]*?(/)?>|</g>", text[start.end():]):
        depth += -1 if tag.group(0) == "</g>" else 0 if tag.group(1) else 1
        if depth == 0:
            return text[start.start():start.end() + tag.end()]
    return ""


def render(body: str, attributes: str = "") -> Byte:
    svg = (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 72 72" width="{SIZE}" '
           f'height="{SIZE}"{attributes}>{body}</svg>')
    image = pyvips.Image.svgload_buffer(svg.encode())
    return np.frombuffer(image.write_to_memory(), np.uint8).reshape(SIZE, SIZE, image.bands)


def read_lines(code: str) -> tuple[Byte, Byte] | None:
    """Coverage of a drawing's line group, and its colours alone as RGBA."""
    groups = groups_of(code)
    if groups is None:
        return None
    line, colour = groups
    return render(line)[..., 3], render(colour, ' shape-rendering="crispEdges"')


def groups_of(code: str) -> tuple[str, str] | None:
    text = (SVG / f"{code}.svg").read_text()
    line = group(text, "line")
    colour = "".join(group(text, name) for name in _COLOURED)
    if not line or not colour or "href" in line or "Gradient" in text:
        return None
    return line, colour


def _read(code: str) -> Drawing | None:
    groups = groups_of(code)
    if groups is None:
        return None
    line, colour = groups
    thin = re.sub(r'stroke-width="([\d.]+)"',
                  lambda m: f'stroke-width="{float(m.group(1)) * THIN:.4f}"', line)
    ink = render(line)[..., 3]
    rgba = render(colour, ' shape-rendering="crispEdges"').astype(np.int64)
    code_of = np.where(rgba[..., 3] > 127,
                       rgba[..., 0] << 16 | rgba[..., 1] << 8 | rgba[..., 2], _CLEAR)
    # What lines enclose is an area of its own even where it is transparent, as the outside is.
    code_of[(code_of == _CLEAR) & (ink >= 128)] = _UNDER_INK
    return Drawing(code, ink, render(thin)[..., 3], pieces(code_of, _UNDER_INK))


def pieces(values: NDArray[np.int64], left_out: int) -> NDArray[np.int32]:
    """Connected pieces of one value, from 1; the small and what is left out go to the nearest."""
    areas = np.zeros(values.shape, np.int32)
    for value in np.unique(values[values != left_out]):
        _, labels, stats, _ = cv2.connectedComponentsWithStats(
            (values == value).astype(np.uint8), connectivity=4)
        for k in np.flatnonzero(stats[1:, cv2.CC_STAT_AREA] >= 60) + 1:
            areas[labels == k] = areas.max() + 1
    _, nearest = cv2.distanceTransformWithLabels((areas == 0).astype(np.uint8), cv2.DIST_L2, 5,
                                                 labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(nearest.max() + 1, np.int32)
    table[nearest[areas > 0]] = areas[areas > 0]
    return table[nearest]


def borders(areas: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Pixels at which two areas meet."""
    edge = np.zeros(areas.shape, bool)
    edge[:, 1:] |= areas[:, 1:] != areas[:, :-1]
    edge[1:] |= areas[1:] != areas[:-1]
    return edge


def _usable(drawing: Drawing) -> bool:
    return 15 < line_width(drawing.ink) < 40 and lined(drawing.ink, drawing.areas)


def lined(ink: Byte, areas: NDArray[np.int32]) -> bool:
    """Whether lines are where colours meet: under 70 % of each border at least, and no open run
    longer than 3 line widths."""
    lw = line_width(ink)
    if not 3 <= areas.max() <= 60:
        return False
    on = cv2.dilate((ink >= 128).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    kinds = int(areas.max()) + 1
    codes, open_codes = [], []
    for one, other, inked in ((areas[:, 1:], areas[:, :-1], on[:, 1:]),
                              (areas[1:], areas[:-1], on[1:])):
        meet = one != other
        code = np.minimum(one, other) * kinds + np.maximum(one, other)
        codes.append(code[meet])
        open_codes.append(code[meet & ~inked])
    length = np.bincount(np.concatenate(codes), minlength=kinds**2)
    bare = np.bincount(np.concatenate(open_codes), minlength=kinds**2)
    if (bare > 0.3 * length)[length > lw].any():
        return False
    count, _, stats, _ = cv2.connectedComponentsWithStats(
        (borders(areas) & ~on).astype(np.uint8))
    sizes = stats[1:, [cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT]]
    return count == 1 or bool(sizes.max() <= 3 * lw)
