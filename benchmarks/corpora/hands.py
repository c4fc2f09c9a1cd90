"""Line art by several hands, with its figure and colours.

Sources, none of them vendored: object drawings of Debian's `openclipart-svg` (public domain; its
coloured drawings that have outlines serve for fitting alone), busts of the npm packages
`@dicebear/adventurer` (by Lisa Wischofsky, CC BY 4.0), `@dicebear/croodles` (by vijay verma,
CC BY 4.0) and `@dicebear/open-peeps` (by Pablo Stanley, CC0 1.0), and `openmoji` (CC BY-SA 4.0).
"""

import hashlib
import pickle
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray
from scipy.ndimage import binary_fill_holes

from benchmarks.corpora import emoji
from wardrobe.core.lines.width import line_width

FOLDER = Path(".corpus")
SIZE = 1024  # px of the longer edge, without margin
MARGIN = 60  # px around a framed drawing
SEEDS = 240
OBJECTS = (
    "apple", "apple_juice_box", "baseball_bat", "baseball_glove", "breakfast_sausage", "bus1",
    "chicken_burger", "cone1", "cone2", "cone4", "cone_alt1", "corn_dog", "crawfish2",
    "farmer_onelette", "fried_eggs", "fries", "hamburger", "hash_browns", "hot_dog", "lasagna",
    "lemon_simple", "muffin3", "orange_juice_box", "orange_simple", "pancake", "pancakes_berries",
    "peach_simple", "pear_simple", "perogies", "pie_apple", "pizza_cheese", "pizza_pepperoni",
    "potato_chips", "sandwich_one", "small_plate", "strawberry_simple", "teacup",
)
CLIP_ART = "clip art"  # coloured drawings by many hands, for fitting only
_SUBJECTS = ("people", "animals", "recreation", "food", "tools", "plants", "transportation",
             "electronics", "office", "decorations", "buildings", "education", "containers",
             "science", "unsorted")
_LARGEST = 300_000  # bytes
BUSTS = ("adventurer", "croodles", "open-peeps")
SOURCES = ("objects", *BUSTS, "emoji")
_BLACKEST, _PALEST = 40.0, 110.0  # grey levels between which a pixel is partly ink
_EDGE = 2.5  # px
_LEAST = 0.0004  # share of the picture from which a colour is one of the drawing's own

_STRANDS = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (161, 161))

Byte = NDArray[np.uint8]


@dataclass(frozen=True)
class Drawing:
    """Line art, and what its colours say of it.

    Attributes
    ----------
    source, name : str
    ink : ndarray of uint8, shape (height, width)
        Coverage.
    figure : ndarray of bool, same shape
        Where the drawing paints at all.
    colours : ndarray of int32, same shape
        Number of the fill colour, from 1; 0 on ink and where nothing is painted.
    """

    source: str
    name: str
    ink: Byte
    figure: NDArray[np.bool_]
    colours: NDArray[np.int32]

    @property
    def judged(self) -> NDArray[np.bool_]:
        """Pixels without ink, on which a result is judged.

        Croodles draw hair in loose strands and never paint it: what lies among the strands may
        go either way.
        """
        paper = self.ink < 128
        if self.source == "croodles":
            around = cv2.morphologyEx(self.figure.astype(np.uint8), cv2.MORPH_CLOSE, _STRANDS)
            paper &= self.figure | (around == 0)
        return paper


def hands(source: str, half: int, limit: int, *, framed: bool = True) -> Iterator[Drawing]:
    """Drawings of one source and half (0 tuning, 1 reporting) in a fixed shuffled order.

    Framed drawings have paper around them; the others go to the edge of their picture, and busts
    are cut off by it.
    """
    store = FOLDER / f"hands-{source}-{half}-{limit}.pickle"
    if not store.exists():
        store.write_bytes(pickle.dumps(list(_read(source, half, limit))))
    for name, *images in pickle.loads(store.read_bytes()):
        ink, figure, colours = (cv2.imdecode(i, cv2.IMREAD_UNCHANGED) for i in images)
        if framed:
            ink, figure, colours = (cv2.copyMakeBorder(
                a, *(MARGIN,) * 4, cv2.BORDER_CONSTANT, value=0) for a in (ink, figure, colours))
        yield Drawing(source, name, ink, figure > 0, colours.astype(np.int32))


def kept_apart(name: str) -> bool:
    """Whether a tuning drawing is one of the fifth on which nothing is fitted but how sure a
    result is."""
    return emoji.digest(name) // 2 % 5 == 0


def areas(drawing: Drawing) -> NDArray[np.int32] | None:
    """Connected pieces of one fill colour, and of what is not painted, numbered from 1; None if
    colours meet where there is no line. Dark fills are ink, and no areas."""
    values = drawing.colours.astype(np.int64)
    # Along a line lies a pale edge that is of neither colour.
    away = cv2.distanceTransform((drawing.ink < 128).astype(np.uint8), cv2.DIST_L2, 5)
    values[(away <= _EDGE) | ((values == 0) & drawing.figure)] = -1
    found = emoji.pieces(values, -1)
    return found if emoji.lined(drawing.ink, found) else None


def torn(drawing: Drawing) -> Drawing:
    """A bust whose lines stop in mid-air: along a slanted, wavy line above where it ended."""
    rng = np.random.default_rng(int(hashlib.sha256(drawing.name.encode()).hexdigest()[:8], 16))
    height, width = drawing.ink.shape
    lowest = int(np.flatnonzero(drawing.ink.any(axis=1))[-1])
    x = np.arange(width)
    end = (lowest - rng.uniform(0.05, 0.09) * height + rng.uniform(-0.08, 0.08) * (x - width / 2)
           + 6 * np.sin(x / rng.uniform(25, 60) + rng.uniform(0, 6)))
    kept = np.arange(height)[:, None] < end[None]
    ink = cv2.GaussianBlur(np.where(kept, drawing.ink, 0).astype(np.uint8), (5, 5), 1.0)
    return replace(drawing, ink=ink, figure=drawing.figure & kept,
                   colours=np.where(kept, drawing.colours, 0).astype(np.int32))


def _read(source: str, half: int, limit: int) -> Iterator[tuple[object, ...]]:
    paths = [p for p in files(source) if emoji.digest(p.stem) % 2 == half]
    paths.sort(key=lambda p: hashlib.sha256(f"order {p.stem}".encode()).digest())
    seen: set[bytes] = set()
    for path in paths:
        drawing = _emoji(path) if source == "emoji" else _painted(path)
        if drawing is None or drawing[0].tobytes() in seen:
            continue
        seen.add(drawing[0].tobytes())
        ink, figure, colours = drawing
        yield path.stem, *(cv2.imencode(".png", a)[1] for a in
                           (ink, figure.astype(np.uint8), colours.astype(np.uint8)))
        if len(seen) == limit:
            return


def files(source: str) -> list[Path]:
    if source == "emoji":
        return [p for p in emoji.SVG.glob("*.svg") if emoji.has_line_art_of_its_own(p.stem)]
    if source == CLIP_ART:
        return _clip_art()
    if source == "objects":
        found: dict[str, Path] = {}
        for path in sorted((FOLDER / "openclipart").rglob("*_bw*.svg")):
            found.setdefault(path.stem.split("_bw")[0], path)
        return [found[name] for name in OBJECTS]
    folder = FOLDER / "avatars"
    if len(list(folder.glob(f"{source}/*.svg"))) < SEEDS:
        subprocess.run(["node", "benchmarks/corpora/avatars.mjs", folder, str(SEEDS)], check=True)
    return sorted((folder / source).glob("*.svg"))


def _clip_art() -> list[Path]:
    """Coloured drawings, but for those of which there is line art to report on."""
    everything = sorted((FOLDER / "openclipart").rglob("*.svg"))
    twins = {p.stem.split("_bw")[0] for p in everything if "_bw" in p.stem}
    return [p for p in everything if p.parent.name in _SUBJECTS and p.stat().st_size <= _LARGEST
            and not any(p.stem.startswith(t) or t.startswith(p.stem) for t in twins)]


def outlined(drawing: Drawing) -> bool:
    """Whether a coloured drawing has line art: thin ink, along its whole edge."""
    ink, figure = drawing.ink >= 128, drawing.figure.astype(np.uint8)
    edge = (figure > cv2.erode(figure, np.ones((3, 3), np.uint8))) & drawing.figure
    near = cv2.dilate((drawing.ink >= 96).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    return bool(ink.mean() > 0.01 and ink.sum() <= 0.4 * figure.sum()
                and near[edge].mean() >= 0.85 and 2 < line_width(drawing.ink) < 55)


def _painted(path: Path) -> tuple[Byte, NDArray[np.bool_], NDArray[np.int32]] | None:
    """What is near black is line art; everything else that is painted is colour."""
    image = pyvips.Image.thumbnail(str(path), SIZE)
    rgba = np.frombuffer(image.write_to_memory(), np.uint8).reshape(image.height, image.width, -1)
    alpha = rgba[..., 3:].astype(np.float64) / 255
    rgb = rgba[..., :3] * alpha + 255 * (1 - alpha)
    grey = rgb @ (0.299, 0.587, 0.114)
    ink = np.rint(255 * np.clip((_PALEST - grey) / (_PALEST - _BLACKEST), 0, 1)).astype(np.uint8)
    figure = rgba[..., 3] >= 128
    if path.parent.name == "croodles":
        figure = binary_fill_holes(figure)  # hats and hair are drawn, but never painted
    painted = figure & (ink < 128)
    if not 0.03 < figure.mean() < 0.98 or (ink >= 128).mean() < 0.003 or painted.mean() < 0.02:
        return None  # nothing but lines says nothing of its figure
    return ink, figure, _colours(rgb, painted)


def _emoji(path: Path) -> tuple[Byte, NDArray[np.bool_], NDArray[np.int32]] | None:
    drawn = emoji.read_lines(path.stem)
    if drawn is None:
        return None
    ink, rgba = drawn
    figure = (rgba[..., 3] >= 128) | (ink >= 128)
    if not 0.03 < figure.mean() < 0.98:
        return None
    return ink, figure, _colours(rgba[..., :3].astype(np.float64),
                                 (rgba[..., 3] >= 128) & (ink < 128))


def _colours(rgb: NDArray[np.float64], where: NDArray[np.bool_]) -> NDArray[np.int32]:
    """Number of the nearest of the drawing's own colours; 0 elsewhere."""
    steps = np.rint(rgb).astype(np.int64)
    code = steps[..., 0] << 16 | steps[..., 1] << 8 | steps[..., 2]
    values, counts = np.unique(code[where], return_counts=True)
    own = values[counts >= _LEAST * where.size][:200]
    out = np.zeros(where.shape, np.int32)
    if len(own):
        table = np.stack([own >> 16, own >> 8 & 255, own & 255], axis=1)
        off = np.abs(steps[where][:, None] - table[None]).sum(axis=2)
        out[where] = off.argmin(axis=1) + 1
    return out
