"""Colour that was painted on a layer of lines: on the wrong layer, as happens to everybody."""

from collections.abc import Iterator

import cv2
import numpy as np

from wardrobe.core.colour import delta_e_2000, srgb_to_lab
from wardrobe.core.lines.width import line_width
from wardrobe.core.stack.check.canvas import Canvas
from wardrobe.core.stack.check.finding import Mask, StackFinding, about, box_of
from wardrobe.core.stack.model import Layer, Tint
from wardrobe.core.stack.roles import Placed

_STEP = 12.0  # CIEDE2000 from the ink by which a colour is another one
_WIDER = 1.25  # half line widths in from its edge that colour reaches, but no coloured line
_DARKEST = 0.25  # share of the painted pixels that are surely ink
_THERE = 60  # alpha
_CORNERS = 2.0  # px that an area reaches beyond what opening leaves of it


def colour_on_ink(layer: Layer) -> Mask:
    """Where a layer of lines holds painted areas: of another colour than its ink, and broader
    than its lines. Lines in several colours are lines."""
    if isinstance(layer.paint, Tint):
        return np.zeros(layer.shape, bool)
    there = layer.alpha > _THERE
    if not there.any():
        return there
    lab = srgb_to_lab(layer.pixels[there][:, :3] / 255.0)
    dark = lab[lab[:, 0] <= np.quantile(lab[:, 0], _DARKEST)]
    other = np.zeros(layer.shape, bool)
    other[there] = delta_e_2000(lab, np.median(dark, axis=0)[None]) > _STEP
    # Ink may be the smaller share of such a layer: the width is that of what is dark.
    inked = np.where(there & ~other, np.uint8(255), np.uint8(0))
    width = line_width(inked)
    depth = cv2.distanceTransform(np.pad(other.astype(np.uint8), 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
    # Opened, so that coloured lines that meet a painted area stay lines.
    half = max(2.0, _WIDER * width)
    core = depth > half
    if not core.any():
        return core
    away = cv2.distanceTransform((~core).astype(np.uint8), cv2.DIST_L2, 5)
    found: Mask = other & (away <= half + _CORNERS)
    return found


def check_ink_colour(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Colour on the layer of the lines."""
    for placed in layers:
        # What is clipped to the lines is meant to colour them.
        if placed.role != "lines" or not placed.shown or placed.layer.clipped_to \
                or placed.layer.mode == "source-atop":
            continue
        painted = colour_on_ink(placed.layer)
        if painted.any():
            yield about(placed, "colour-on-lines", int(painted.sum()),
                        "Colour is painted on the layer of the lines: it cannot be changed without "
                        "them, and they not without it.",
                        box_of(painted, placed.layer.x, placed.layer.y))
