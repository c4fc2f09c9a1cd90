"""Build the delivered stack from a label map, masks and a colour table."""

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.composite.labelmap import ColourTable
from wardrobe.core.stack.model import Group, Layer, Stack

Byte = NDArray[np.uint8]
Printed = Callable[[int, int, int, tuple[int, int]], Byte | None]

SILHOUETTE_GREY = (128, 128, 128)
# Passes over a base, bottom to top, and their blend modes.
PASSES = (("shade", "multiply"), ("light", "screen"))


def build_stack(parts: NDArray[np.uint16], shade: Byte, light: Byte, ink: Byte,
                silhouette: Byte, table: ColourTable, names: list[str],
                halo: tuple[Byte, tuple[int, int, int]] | None = None,
                hidden: Sequence[int] = (), prints: Printed = lambda row, x, y, shape: None,
                on_progress: Callable[[float], None] = lambda share: None) -> Stack:
    """Background, silhouette and its mask, one group a part (base, shade, light), lines.

    Parameters
    ----------
    parts, shade, light, ink, table
        As for :func:`wardrobe.core.composite.labelmap.compose`.
    silhouette : ndarray of uint8, shape (height, width)
        The grown silhouette, delivered hidden.
    names : list of str
        Part names by row of the table; entry 0 is not used.
    halo : (ndarray of uint8, colour), optional
        Coverage and colour of the rim of solid blacks, above the lines.
    hidden : sequence of int
        Rows whose groups are delivered hidden.
    prints : callable
        Called with a row, x, y and a shape; gives the row's pattern over that rectangle as
        uint8, shape (h, w, 4), to be laid on the base and under the passes, or None.
    on_progress : callable
        Called with a share 0..1 as parts are done.

    Returns
    -------
    Stack
        Every shade and light layer's alpha is limited to its base, whose edge is hard and lies
        under the line, so that the picture is exact in readers that do not know clipping.
    """
    height, width = parts.shape
    shown = (parts > 0) & ~np.isin(parts, hidden) if len(hidden) else parts > 0
    nodes: list[Layer | Group] = [
        Layer("background / base", _flat((height, width), table.base[0])),
        _layer("silhouette / base", shown.astype(np.uint8) * np.uint8(255),
               np.array(SILHOUETTE_GREY, np.uint8), 0, 0),
        _layer("silhouette / mask", silhouette, np.array(SILHOUETTE_GREY, np.uint8), 0, 0,
               visible=False),
    ]
    boxes = ndimage.find_objects(parts, max_label=len(names) - 1)
    for row, box in reversed(list(enumerate(boxes, start=1))):  # the first part is in front
        name = names[row]
        where = box or (slice(0, 1), slice(0, 1))  # a part without areas keeps its empty layers
        y, x = where[0].start, where[1].start
        inside = parts[where] == row
        base = _layer(f"{name} / base", inside.astype(np.uint8) * np.uint8(255),
                      table.base[row], x, y)
        passes: list[Layer | Group] = [base]
        pixels = prints(row, x, y, inside.shape) if inside.any() else None
        if pixels is not None:
            pixels[..., 3][~inside] = 0
            passes.append(Layer(f"{name} / pattern", pixels, x, y, clipped_to=base.name))
        for (label, mode), mask, colour, strength in zip(
                PASSES, (shade, light), (table.shade[row], table.light[row]),
                (table.shade_strength[row], table.light_strength[row]), strict=True):
            alpha = np.where(inside, mask[where], 0)
            passes.append(_layer(f"{name} / {label}", alpha, colour, x, y, mode=mode,
                                 opacity=float(strength), clipped_to=base.name))
        nodes.append(Group(name, passes, visible=row not in hidden))
        on_progress(1 - (row - 1) / len(boxes))
    nodes.append(_layer("lines / ink", ink, table.ink, 0, 0))
    if halo:
        nodes.append(_layer("finish / halo", halo[0], np.array(halo[1], np.uint8), 0, 0))
    return Stack(width, height, nodes)


def _flat(shape: tuple[int, int], colour: Byte) -> Byte:
    pixels = np.empty((*shape, 4), np.uint8)
    pixels[..., :3] = colour
    pixels[..., 3] = 255
    return pixels


def _layer(name: str, alpha: Byte, colour: Byte, x: int, y: int, mode: str = "normal",
           opacity: float = 1.0, clipped_to: str | None = None, visible: bool = True) -> Layer:
    """A layer of one colour, cropped to where its alpha is not 0 (one pixel if it is empty)."""
    rows, columns = np.flatnonzero(alpha.any(axis=1)), np.flatnonzero(alpha.any(axis=0))
    if len(rows) == 0:
        empty = np.zeros((1, 1, 4), np.uint8)
        return Layer(name, empty, x, y, mode, opacity, clipped_to, visible)
    top, left = int(rows[0]), int(columns[0])
    cropped = alpha[top:rows[-1] + 1, left:columns[-1] + 1]
    pixels = _flat((cropped.shape[0], cropped.shape[1]), colour)
    pixels[..., 3] = cropped
    return Layer(name, pixels, x + left, y + top, mode, opacity, clipped_to, visible)
