"""The panels of a page put together again: as a stack, and as a picture."""

from collections.abc import Callable, Iterator, Sequence

import cv2
import numpy as np

from wardrobe.core.colour import from_hex
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint, mapped
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.series.page import PageSheet
from wardrobe.recipe.series.sheets import Byte, Mask, Place, extent, place_of, within
from wardrobe.recipe.stages import Deriver

Report = Callable[[float], None]
Recipes = Sequence[Recipe | None]  # of the panels in their order; one without is as it was drawn


def put_together(deriver: Deriver, sheet: PageSheet, recipes: Recipes, ink: Byte, letters: Mask,
                 report: Report = lambda share: None) -> Stack:
    """The stack of a page: paper, a group for each panel, balloons, frames and letters.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        Of the whole sheet.
    letters : ndarray of bool, same shape
    """
    full = np.full((sheet.height, sheet.width), 255, np.uint8)
    nodes: list[Node] = [Layer("paper", Tint(full, (255, 255, 255)))]
    drawn = np.zeros(full.shape, bool)
    for done, (number, recipe, place) in enumerate(_from_below(sheet, recipes)):
        def tell(share: float, done: int = done) -> None:
            report((done + share) / len(recipes))

        stack = _at_page(deriver.stack(recipe, on_progress=tell), place)
        nodes.append(Group(f"panel {number + 1}", stack.nodes))
        drawn |= _on_page(place, drawn.shape)
    nodes += _on_top(sheet, recipes, ink, letters, drawn)
    return Stack(sheet.width, sheet.height, nodes)


def page_picture(deriver: Deriver, sheet: PageSheet, recipes: Recipes, ink: Byte, letters: Mask,
                 report: Report = lambda share: None) -> Byte:
    """The page as it looks, RGB: what :func:`put_together` flattens to."""
    out = np.full((sheet.height, sheet.width, 3), 255, np.uint8)
    drawn = np.zeros(out.shape[:2], bool)
    for done, (_, recipe, place) in enumerate(_from_below(sheet, recipes)):
        there, here = _overlap(place, drawn.shape)
        picture = deriver.picture(recipe, View.whole(*recipe.size))
        np.copyto(out[there], picture[here], where=place.mask()[here][..., None])
        drawn |= _on_page(place, drawn.shape)
        report((done + 1) / len(recipes))
    for node in _on_top(sheet, recipes, ink, letters, drawn):
        at = out[node.y:node.y + node.shape[0], node.x:node.x + node.shape[1]]
        alpha = node.alpha[..., None].astype(np.uint16)
        rgb = node.pixels[..., :3].astype(np.uint16)
        at[:] = ((rgb * alpha + at * (255 - alpha) + 127) // 255).astype(np.uint8)
    return out


def _from_below(sheet: PageSheet, recipes: Recipes) -> Iterator[tuple[int, Recipe, Place]]:
    """Panels that are coloured, the largest first: the smaller lie over them."""
    for k in sorted(range(len(recipes)), key=lambda k: -extent(np.array(sheet.panels[k].outline))):
        recipe = recipes[k]
        if recipe is not None:
            yield k, recipe, place_of(sheet, k, recipe)


def _overlap(place: Place, shape: tuple[int, ...],
             ) -> tuple[tuple[slice, slice], tuple[slice, slice]]:
    """Where a panel's piece and the page overlap: in px of the page, and of the piece."""
    x, y, w, h = place.box
    top, bottom = max(0, y), max(0, min(shape[0], y + h))
    left, right = max(0, x), max(0, min(shape[1], x + w))
    return (slice(top, bottom), slice(left, right)), \
        (slice(top - y, bottom - y), slice(left - x, right - x))


def _on_page(place: Place, shape: tuple[int, ...]) -> Mask:
    found = np.zeros(shape, bool)
    there, here = _overlap(place, shape)
    found[there] = place.mask()[here]
    return found


def _on_top(sheet: PageSheet, recipes: Recipes, ink: Byte, letters: Mask,
            drawn: Mask) -> list[Layer]:
    """What is paper again, and the ink that belongs to no panel: in the colour of the first
    panel's lines."""
    colour = next((from_hex(r.lines.colour) for r in recipes if r), (0, 0, 0))
    layers: list[Layer] = []
    said = within(ink.shape, sheet.balloons) * np.uint8(255)
    if said.any():
        layers.append(_cropped("balloons", said, (255, 255, 255)))
    frames = np.where(drawn & ~letters, 0, ink)
    if frames.any():
        layers.append(_cropped("frames and letters", frames, colour))
    return layers


def _cropped(name: str, alpha: Byte, colour: tuple[int, int, int]) -> Layer:
    x, y, w, h = cv2.boundingRect(alpha)
    return Layer(name, Tint(np.ascontiguousarray(alpha[y:y + h, x:x + w]), colour), x, y)


def _at_page(stack: Stack, place: Place) -> Stack:
    """A panel's stack where it lies on the page, cut to its outline."""
    x0, y0 = place.box[:2]
    mask = None if place.square else place.mask()

    def moved(layer: Layer) -> Layer:
        paint = layer.paint
        if mask is not None:
            height, width = layer.shape
            kept = mask[layer.y:layer.y + height, layer.x:layer.x + width]
            if isinstance(paint, Tint):
                paint = Tint(np.where(kept, paint.alpha, 0).astype(np.uint8), paint.colour)
            else:
                paint = np.where(kept[..., None] | (np.arange(4) < 3), paint, 0).astype(np.uint8)
        return Layer(layer.name, paint, layer.x + x0, layer.y + y0, layer.mode, layer.opacity,
                     layer.clipped_to, layer.visible)

    return mapped(stack, moved)
