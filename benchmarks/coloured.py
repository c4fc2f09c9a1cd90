"""Flat coloured pictures: are their lines and flats told apart?

    python -m benchmarks.coloured [DRAWINGS A SOURCE]
"""

import sys
from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray

from benchmarks.corpora import emoji, hands
from wardrobe.core.flats import separate

Byte = NDArray[np.uint8]
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
    paths = {p.stem: p for p in hands._files(source)}
    for drawing in hands.hands(source, half, limit):
        rgb = _picture(source, paths[drawing.name])
        rgb = cv2.copyMakeBorder(rgb, *(hands.MARGIN,) * 4, cv2.BORDER_CONSTANT,
                                 value=_SHEET)
        values = drawing.colours.astype(np.int64)
        values[(values == 0) & drawing.figure] = -1
        yield Coloured(source, drawing.name, rgb, drawing.ink, emoji.pieces(values, -1),
                       drawing.figure)


def _picture(source: str, path: object) -> Byte:
    if source == "emoji":
        groups = emoji._groups(path.stem)
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
    return found | (depth > _SOLID * 14)


VARIANTS = {
    "as drawn": lambda rgb: rgb,
    "JPEG, quality 85": lambda rgb: cv2.imdecode(
        cv2.imencode(".jpg", rgb, [cv2.IMWRITE_JPEG_QUALITY, 85])[1], cv2.IMREAD_COLOR),
}


def main(limit: int) -> None:
    for name, change in VARIANTS.items():
        everything = []
        for source in hands.SOURCES:
            shares = []
            for drawing in coloured(source, 0, 14):
                found = separate(np.dstack([change(drawing.rgb),np.full(drawing.ink.shape,255,np.uint8)]))
                good = right(drawing, found.ink, found.regions)
                figure = cv2.dilate(drawing.figure.astype(np.uint8), np.ones((9, 9))) > 0
                shares.append((good.mean(), good[figure].mean()))
                if "-v" in sys.argv:
                    print(source, drawing.name, *(f"{s:.3f}" for s in shares[-1]))
                if len(shares) == limit:
                    break
            everything += shares
            print(name, source, np.mean(shares, axis=0).round(4))
        print(name, "all", np.mean(everything, axis=0).round(4), len(everything))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 12)
