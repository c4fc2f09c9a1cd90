"""Build the delivered stack from masks and what lies on each part."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.composite.labelmap import Masks
from wardrobe.core.composite.modes import luminosity_of
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.stack.model import Group, Layer, Stack

Byte = NDArray[np.uint8]
Printed = Callable[[int, int, int, tuple[int, int]], Byte | None]

SILHOUETTE_GREY = (128, 128, 128)
FIGURE = "figure"  # what layers over all parts are named after


@dataclass(frozen=True)
class Figure:
    """The parts of a stack.

    Attributes
    ----------
    names : list of str
        By row of the label map; entry 0 is not used.
    coats : list of Coat
        What lies on each part; the first is row 1.
    bases : list of (int, int, int)
    hidden : sequence of int
        Rows whose groups are delivered hidden.
    prints : callable
        Called with a row, x, y and a shape; gives the row's pattern over that rectangle as
        uint8, shape (h, w, 4), or None.
    behind : sequence of PassLayer
        What lies on the background, under the figure.
    """

    names: list[str]
    coats: list[Coat]
    bases: list[Rgb]
    hidden: Sequence[int] = ()
    prints: Printed = lambda row, x, y, shape: None
    behind: Sequence[PassLayer] = ()


def build_stack(masks: Masks, figure: Figure, silhouette: Byte,
                background: Rgb, ink: Rgb, halo: tuple[Byte, Rgb] | None = None,
                on_progress: Callable[[float], None] = lambda share: None) -> Stack:
    """Background, silhouette and its mask, one group a part, layers over all parts, lines.

    Parameters
    ----------
    masks : Masks
    figure : Figure
    silhouette : ndarray of uint8, shape (height, width)
        The grown silhouette, delivered hidden.
    background, ink : (int, int, int)
    halo : (ndarray of uint8, colour), optional
        Coverage and colour of the rim of solid blacks, above the lines.
    on_progress : callable
        Called with a share 0..1 as parts are done.

    Returns
    -------
    Stack
        Every pass layer's alpha is limited to its base, whose edge is hard and lies under the
        line, so that the picture is exact in readers that do not know clipping.
    """
    parts = masks.parts
    height, width = parts.shape
    shown = (parts > 0) & ~np.isin(parts, figure.hidden) if len(figure.hidden) else parts > 0
    nodes: list[Layer | Group] = [
        Layer("background / base", _flat((height, width), background)),
        *(_layer(f"background / {layer.name}", _mask(masks.levels, masks.keys, layer),
                 layer.colour, mode=layer.mode, opacity=layer.strength)
          for layer in figure.behind),
        _layer("silhouette / base", shown.astype(np.uint8) * np.uint8(255), SILHOUETTE_GREY),
        _layer("silhouette / mask", silhouette, SILHOUETTE_GREY, visible=False),
    ]
    boxes = ndimage.find_objects(parts, max_label=len(figure.coats))
    for row, box in reversed(list(enumerate(boxes, start=1))):  # the first part is in front
        where = box or (slice(0, 1), slice(0, 1))  # a part without areas keeps its empty layers
        piece = _Piece(figure.names[row], parts[where] == row, masks.levels[where], masks.keys,
                       where[1].start, where[0].start)
        pixels = None
        if piece.inside.any():
            pixels = figure.prints(row, piece.x, piece.y, piece.inside.shape)
        nodes.append(Group(piece.name, piece.layers(figure.coats[row - 1], figure.bases[row - 1],
                                                    pixels), visible=row not in figure.hidden))
        on_progress(1 - (row - 1) / len(boxes))
    nodes += _over_figure(masks, figure)
    nodes.append(_layer("lines / ink", masks.ink, ink))
    if halo:
        nodes.append(_layer("finish / halo", halo[0], halo[1]))
    return Stack(width, height, nodes)


@dataclass(frozen=True)
class _Piece:
    """The box around one part."""

    name: str
    inside: NDArray[np.bool_]
    levels: Byte
    keys: Sequence[str]
    x: int
    y: int

    def layers(self, coat: Coat, base: Rgb, pattern: Byte | None) -> list[Layer | Group]:
        """The ground, the pattern, and the passes that lie in the part's own group."""
        whole = self.inside.astype(np.uint8) * np.uint8(255)
        ground = _layer(f"{self.name} / {ground_name(coat)}", whole, coat.ground, self.x, self.y)
        found: list[Layer | Group] = [ground]
        if pattern is not None:
            pattern[..., 3][~self.inside] = 0
            laid = pattern
            if coat.grey:
                laid = pattern.copy()
                laid[..., :3] = np.floor(
                    luminosity_of(pattern[..., :3].astype(float)) + 0.5)[..., None]
            found.append(Layer(f"{self.name} / pattern", laid, self.x, self.y,
                               clipped_to=ground.name))
        for layer in coat.layers:
            if layer.over_figure:
                continue
            name = f"{self.name} / {layer.name}"
            if layer.tones:
                tones: list[Layer | Group] = [
                    _layer(f"{self.name} / {tone.name}", self._alpha(tone), tone.colour, self.x,
                           self.y, clipped_to=ground.name) for tone in layer.tones]
                found.append(Group(name, tones, layer.mode, layer.strength))
                continue
            made = _layer(name, self._alpha(layer), layer.colour, self.x, self.y, layer.mode,
                          layer.strength, ground.name)
            if layer.printed and pattern is not None:
                made = Layer(name, _printed(whole, base, pattern), self.x, self.y, layer.mode,
                             layer.strength, ground.name)
            found.append(made)
        return found

    def _alpha(self, layer: PassLayer) -> Byte:
        return np.where(self.inside, _mask(self.levels, self.keys, layer), np.uint8(0))


def ground_name(coat: Coat) -> str:
    """What the bottom layer of a part is called."""
    return "values" if coat.grey else "base"


def over_figure(coats: Sequence[Coat]) -> list[PassLayer]:
    """The layers that are delivered once over all parts, bottom to top."""
    return list({layer.name: layer for coat in coats for layer in coat.layers
                 if layer.over_figure}.values())


def _over_figure(masks: Masks, figure: Figure) -> list[Layer | Group]:
    found: list[Layer | Group] = []
    for layer in over_figure(figure.coats):
        has = np.array([False, *(layer in coat.layers and row not in figure.hidden
                                 for row, coat in enumerate(figure.coats, start=1))])
        alpha = np.where(has[masks.parts], _mask(masks.levels, masks.keys, layer), np.uint8(0))
        found.append(_layer(f"{FIGURE} / {layer.name}", alpha, layer.colour, mode=layer.mode,
                            opacity=layer.strength, clipped_to="silhouette / base"))
    return found


def _mask(levels: Byte, keys: Sequence[str], layer: PassLayer) -> Byte:
    if layer.shape is None:
        return np.full(levels.shape[:2], 255, np.uint8)
    level = levels[..., keys.index(layer.shape)]
    return np.uint8(255) - level if layer.outside else level


def _printed(whole: Byte, base: Rgb, pattern: Byte) -> Byte:
    """The base with its pattern, opaque inside the part."""
    cover = pattern[..., 3:].astype(float) / 255
    pixels = np.empty_like(pattern)
    pixels[..., :3] = np.array(base) + cover * (pattern[..., :3] - np.array(base, float)) + 0.5
    pixels[..., 3] = whole
    return pixels


def _flat(shape: tuple[int, int], colour: Rgb) -> Byte:
    pixels = np.empty((*shape, 4), np.uint8)
    pixels[..., :3] = colour
    pixels[..., 3] = 255
    return pixels


def _layer(name: str, alpha: Byte, colour: Rgb, x: int = 0, y: int = 0, mode: str = "normal",
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
