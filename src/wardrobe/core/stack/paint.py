"""Give the layers of an arranged stack their pixels."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.composite.modes import luminosity_of
from wardrobe.core.layers.gradient import gradient_colours
from wardrobe.core.layers.layer import INK, Masks
from wardrobe.core.layers.origin import CORNER, Origin
from wardrobe.core.parallel import each
from wardrobe.core.passes.layers import Over
from wardrobe.core.stack.model import Byte, Group, Layer, Node, Stack, Tint
from wardrobe.core.stack.plan import Figure, Planned, PlannedGroup, PlannedLayer, planned_layers

BLEED = 4  # px that layers go on under a mask

Box = tuple[slice, slice]
Prints = Callable[[int, int, int, tuple[int, int]], Byte | None]
_BLEED_SHAPE = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * BLEED + 1, 2 * BLEED + 1))


@dataclass(frozen=True, eq=False)
class Canvas:
    """What layers are painted from, all at one scale.

    Attributes
    ----------
    masks : Masks
    silhouette : ndarray of uint8, shape (height, width)
        The grown silhouette.
    prints : callable
        Called with a row, x, y and a shape; gives the row's pattern over that rectangle as
        uint8, shape (h, w, 4), or None.
    images : mapping of str to ndarray of uint8, shape (height, width, 4)
        Those that layers over all parts name.
    origin : Origin
        Where the canvas lies in the picture, for gradients.
    line_owners : ndarray of uint16, shape (height, width), or None
        Row whose line each pixel of ink is; needed for lines by part.
    all_ink : ndarray of uint8, same shape, or None
        Coverage of the lines with those of hidden parts; None if none are hidden.
    """

    masks: Masks
    silhouette: Byte
    prints: Prints = lambda row, x, y, shape: None
    images: Mapping[str, Byte] = field(default_factory=dict)
    origin: Origin = CORNER
    line_owners: NDArray[np.uint16] | None = None
    all_ink: Byte | None = None


def paint_stack(nodes: Sequence[Planned], figure: Figure, canvas: Canvas,
                on_progress: Callable[[float], None] = lambda share: None) -> Stack:
    """Paint every layer of a stack.

    Parameters
    ----------
    nodes : sequence of Planned
        As :func:`~wardrobe.core.stack.arrange.named` gives them.
    figure : Figure
    canvas : Canvas
    on_progress : callable
        Called with a share 0..1 as layers are done; may raise to cancel.

    Returns
    -------
    Stack
        Cropped layers. The alpha of every clipped layer is limited to its base, whose edge is
        hard and lies under the line, so that the picture is exact in readers that do not know
        clipping; layers in masked groups bleed beyond the mask.
    """
    wanted = list(planned_layers(nodes))
    painter = _Painter(figure, canvas, {
        **{layer.rows[0]: layer.name for layer in wanted if layer.content == "ground"},
        -1: next((layer.name for layer in wanted if layer.content == "figure"), ""),
        -2: next((layer.name for layer in wanted if layer.over and layer.over.clipped), ""),
        **{-3 - layer.rows[0]: layer.name for layer in wanted if layer.content == "line"}})
    done = 0

    def paint(layer: PlannedLayer) -> Layer:
        nonlocal done
        painted = painter.layer(layer)
        done += 1
        on_progress(done / len(wanted))
        return painted

    painted = iter(each(paint, wanted))
    height, width = canvas.masks.parts.shape
    return Stack(width, height, _built(nodes, painted))


def _built(nodes: Sequence[Planned], painted: Iterator[Layer]) -> list[Node]:
    return [Group(node.name, _built(node.children, painted), node.mode, node.opacity, node.visible)
            if isinstance(node, PlannedGroup) else next(painted) for node in nodes]


class _Painter:
    def __init__(self, figure: Figure, canvas: Canvas, bases: dict[int, str]) -> None:
        self._figure, self._canvas, self._bases = figure, canvas, bases
        self._boxes = ndimage.find_objects(canvas.masks.parts, max_label=len(figure.names))
        self._line_boxes = [] if canvas.line_owners is None else ndimage.find_objects(
            canvas.line_owners, max_label=len(figure.names))

    def layer(self, plan: PlannedLayer) -> Layer:
        """One layer, cropped to what is painted; a single clear pixel if nothing is."""
        box = self._box(plan)
        paint = self._paint(plan, box)
        alpha = paint.alpha if isinstance(paint, Tint) else paint[..., 3]
        y, x = box[0].start, box[1].start
        rows, columns = np.flatnonzero(alpha.any(axis=1)), np.flatnonzero(alpha.any(axis=0))
        if len(rows):
            inner = slice(rows[0], rows[-1] + 1), slice(columns[0], columns[-1] + 1)
            x, y = x + int(columns[0]), y + int(rows[0])
            paint = Tint(np.ascontiguousarray(paint.alpha[inner]), paint.colour) \
                if isinstance(paint, Tint) else np.ascontiguousarray(paint[inner])
        else:
            paint = Tint(np.zeros((1, 1), np.uint8), plan.colour)
        return Layer(plan.name, paint, x, y, plan.mode, plan.opacity,
                     self._bases.get(plan.base) if plan.base else None, plan.visible)

    def _box(self, plan: PlannedLayer) -> Box:
        """The rectangle in which a layer can have paint."""
        height, width = self._canvas.masks.parts.shape
        if plan.content == "blank":
            return slice(0, 1), slice(0, 1)
        if len(plan.rows) != 1 or plan.rows[0] == 0:
            return slice(0, height), slice(0, width)
        of_lines = plan.content in ("line", "clipped")
        box = (self._line_boxes if of_lines else self._boxes)[plan.rows[0] - 1]
        if box is None:
            return slice(0, 1), slice(0, 1)
        room = BLEED if plan.within else 0
        return (slice(max(0, box[0].start - room), min(height, box[0].stop + room)),
                slice(max(0, box[1].start - room), min(width, box[1].stop + room)))

    def _paint(self, plan: PlannedLayer, box: Box) -> Tint | Byte:
        canvas = self._canvas
        if plan.content == "silhouette":
            return Tint(canvas.silhouette, plan.colour)
        if plan.over is not None:
            return self._over(plan, plan.over, box)
        parts = canvas.masks.parts[box]
        if plan.content == "canvas":
            return Tint(np.full(parts.shape, 255, np.uint8), plan.colour)
        if plan.content == "blank":
            return Tint(np.zeros(parts.shape, np.uint8), plan.colour)
        inside = self._inside(parts, plan)
        if plan.content in ("pattern", "printed"):
            return self._printed(plan, box, inside)
        alpha = np.where(inside, self._level(plan.layer.shape, plan.layer.outside, box),
                         np.uint8(0)) if plan.layer and plan.content == "pass" else \
            inside.astype(np.uint8) * np.uint8(255)
        return Tint(self._bled(alpha, parts, plan), plan.colour)

    def _inside(self, parts: NDArray[np.uint16], plan: PlannedLayer) -> NDArray[np.bool_]:
        if plan.content == "figure":
            return ~np.isin(parts, [0, *self._figure.hidden, *self._figure.scenery])
        if plan.under:  # everywhere, but on what is seen of other rows of the ground
            others = {0, *self._figure.scenery} - {*plan.rows}
            return ~np.isin(parts, list(others)) if others else np.ones(parts.shape, bool)
        if len(plan.rows) == 1:
            return parts == plan.rows[0]
        has = np.zeros(len(self._figure.names) + 1, bool)
        has[list(plan.rows)] = True
        return has[parts]

    def _level(self, shape: str | None, outside: bool, box: Box) -> Byte:
        """The shape of a pass, or all but it."""
        masks = self._canvas.masks
        if shape is None:
            return np.full(masks.parts[box].shape, 255, np.uint8)
        level = masks.levels[(*box, masks.keys.index(shape))]
        return np.uint8(255) - level if outside else level

    def _over(self, plan: PlannedLayer, over: Over, box: Box) -> Tint | Byte:
        """A layer over all parts, or several."""
        masks = self._canvas.masks
        if plan.content == "clipped" and over.clipped:
            return self._canvas.images[over.clipped.image][box]
        if plan.content == "line" and isinstance(over.source, tuple):
            return Tint(self._line_of(plan.rows[0], box), over.source)
        parts = masks.parts[box]
        alpha = masks.soft[over.soft][box] if over.soft else masks.ink[box] \
            if over.shape == INK else self._level(over.shape, over.outside, box)
        if over.rows is not None:
            alpha = np.where(self._inside(parts, plan), alpha, np.uint8(0))
        if isinstance(over.source, tuple):
            return Tint(alpha, over.source)
        pixels = np.empty((*parts.shape, 4), np.uint8)
        origin = self._canvas.origin
        pixels[..., :3] = self._canvas.images[over.source][box][..., :3] \
            if isinstance(over.source, str) else gradient_colours(
                over.source, origin._replace(x=origin.x + box[1].start,
                                             y=origin.y + box[0].start), parts.shape)[..., :3]
        pixels[..., 3] = alpha
        return pixels

    def _line_of(self, row: int, box: Box) -> Byte:
        """Coverage of the lines that a row owns; 0 has what is left over."""
        canvas, hidden = self._canvas, self._figure.hidden
        assert canvas.line_owners is not None
        ink, owner = canvas.masks.ink[box], canvas.line_owners[box]
        if row in hidden and canvas.all_ink is not None:
            ink = canvas.all_ink[box] - np.minimum(ink, canvas.all_ink[box])
        mine = owner == row if row else (owner == 0) | np.isin(owner, list(hidden))
        return np.where(mine, ink, np.uint8(0))

    def _bled(self, alpha: Byte, parts: NDArray[np.uint16], plan: PlannedLayer) -> Byte:
        """The alpha, going on a little where the mask of its group hides it."""
        if not plan.within or plan.content == "mask":
            return alpha
        kept = self._inside(parts, PlannedLayer("", "", "mask", plan.within))
        return np.where(kept, alpha, cv2.dilate(alpha, _BLEED_SHAPE))

    def _printed(self, plan: PlannedLayer, box: Box, inside: NDArray[np.bool_]) -> Tint | Byte:
        """A pattern, or a base with its pattern."""
        row = plan.rows[0]
        whole = inside.astype(np.uint8) * np.uint8(255)
        pattern = self._canvas.prints(row, box[1].start, box[0].start, inside.shape) \
            if inside.any() else None
        if plan.content == "printed":
            base = self._figure.bases[row - 1]
            return _laid_on(base, pattern, whole) if pattern is not None else Tint(whole, base)
        if pattern is None:
            return Tint(np.zeros(inside.shape, np.uint8), plan.colour)
        laid = pattern.copy()
        laid[..., 3][~inside] = 0
        if self._figure.coats[row - 1].grey:
            laid[..., :3] = np.floor(luminosity_of(laid[..., :3].astype(float)) + 0.5)[..., None]
        return laid


def _laid_on(base: tuple[int, int, int], pattern: Byte, whole: Byte) -> Byte:
    """The base with its pattern, opaque inside the part."""
    cover = pattern[..., 3:].astype(float) / 255
    pixels = np.empty_like(pattern)
    pixels[..., :3] = np.array(base) + cover * (pattern[..., :3] - np.array(base, float)) + 0.5
    pixels[..., 3] = whole
    return pixels
