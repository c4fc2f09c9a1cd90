"""Coats as layers of a picture."""

from collections.abc import Container, Sequence
from typing import NamedTuple

import numpy as np

from wardrobe.core.composite.modes import luminosity_of
from wardrobe.core.layers.layer import Byte, Flat, Gradient, Group, Image, Layer, Source
from wardrobe.core.passes.layers import Coat, Over, PassLayer, Rgb


class _Slot(NamedTuple):
    """What layers of several parts have in common when they are one layer of the picture."""

    source: str
    mode: str
    shape: tuple[tuple[str, bool], ...]
    grouped: bool


_GROUND, _PRINT, _GREY_PRINT = (
    _Slot(source, "normal", (), False) for source in ("flat", "print", "grey print"))


_SOURCES: dict[str, Source] = {"group": Group(), "whole group": Group(whole=True),
                               "print": Image("print"), "grey print": Image("grey print")}


class _Entry(NamedTuple):
    slot: _Slot
    colour: Rgb
    strength: float


def layers_of(coats: Sequence[Coat], bases: Sequence[Rgb], patterned: Container[int] = (),
              over: Sequence[Over] = ()) -> list[Layer]:
    """The layers of a picture, bottom to top.

    Parameters
    ----------
    coats : sequence of Coat
        Row 0 is the background's.
    bases : sequence of (int, int, int)
        Base colours, 0..255, for layers that carry the base with its pattern.
    patterned : container of int
        Rows that have a pattern; :func:`prints_as_images` gives what is painted there.
    over : sequence of Over
        What lies over all of them.
    """
    rows = len(coats)
    # Most coats are made alike: those that are take their places together.
    alike: dict[tuple[tuple[_Slot, ...], ...], list[int]] = {}
    entries = []
    for row, (coat, base) in enumerate(zip(coats, bases, strict=True)):
        blocks = _blocks(coat, base, row in patterned)
        alike.setdefault(tuple(tuple(e.slot for e in block) for block in blocks), []).append(row)
        entries.append([e for block in blocks for e in block])
    placed: list[tuple[_Slot, ...]] = []  # groups, and layers by themselves
    at_of: list[tuple[list[int], list[int]]] = []  # rows, and where their blocks are placed
    for made, mine in alike.items():
        at, found_at = -1, []
        for slots in made:
            at = next((k for k in range(at + 1, len(placed)) if placed[k] == slots), len(placed))
            if at == len(placed):
                placed.append(slots)
            found_at.append(at)
        at_of.append((mine, found_at))
    begin = np.cumsum([0, *map(len, placed)])
    colours, strengths = np.zeros((begin[-1], rows, 3)), np.zeros((begin[-1], rows))
    for mine, found_at in at_of:
        where = [k for at in found_at for k in range(begin[at], begin[at + 1])]
        colours[np.ix_(where, mine)] = np.array(
            [[e.colour for e in entries[row]] for row in mine], float).swapaxes(0, 1)
        strengths[np.ix_(where, mine)] = np.array(
            [[e.strength for e in entries[row]] for row in mine]).T
    slots_of = [slot for slots in placed for slot in slots]
    found = [Layer(_SOURCES.get(slot.source) or Flat(c), strength, slot.mode, slot.shape, (),
                   slot.grouped)
             for slot, c, strength in zip(slots_of, colours, strengths, strict=True)]
    return found + [laid for layer in over for laid in _laid_over(layer, rows)]


def _laid_over(layer: Over, rows: int) -> list[Layer]:
    strength = np.array([layer.strength if layer.rows is None or row in layer.rows else 0.0
                         for row in range(rows)])
    source = layer.source if isinstance(layer.source, Gradient) else \
        Image(layer.source) if isinstance(layer.source, str) else _flat(layer.source, rows)
    shape = ((layer.shape, layer.outside),) if layer.shape else ()
    soft = (layer.soft,) if layer.soft else ()
    if layer.clipped is None:
        return [Layer(source, strength, layer.mode, shape, soft)]
    if layer.clipped.strength == 1:  # it hides what it is clipped to
        return [Layer(Image(layer.clipped.image), strength, layer.mode, shape, soft)]
    seen = (strength > 0).astype(float)
    return [Layer(source, seen, grouped=True),
            Layer(Image(layer.clipped.image), seen * layer.clipped.strength, grouped=True),
            Layer(Group(), strength, layer.mode, shape, soft)]


def prints_as_images(prints: Byte | None, layers: Sequence[Layer]) -> dict[str, Byte]:
    """The patterns of a view, cut to their parts, as the images that layers name."""
    names = {layer.source.name for layer in layers if isinstance(layer.source, Image)} \
        & {_PRINT.source, _GREY_PRINT.source}
    if not names:
        return {}
    if prints is None:  # nothing of the parts is in view
        prints = np.zeros((1, 1, 4), np.uint8)
    return {name: _grey(prints) if name == _GREY_PRINT.source else prints for name in names}


def _grey(prints: Byte) -> Byte:
    grey, seen = prints.copy(), prints[..., 3] > 0
    grey[seen, :3] = np.floor(luminosity_of(prints[seen, :3].astype(float)) + 0.5)[..., None]
    return grey


def _flat(colour: Rgb, rows: int) -> Flat:
    return Flat(np.tile(np.array(colour, float), (rows, 1)))


def _blocks(coat: Coat, base: Rgb, printed: bool) -> list[list[_Entry]]:
    """The layers of a coat, those of a group together."""
    found = [[_Entry(_GROUND, coat.ground, 1.0)]]
    if printed:
        found.append([_Entry(_GREY_PRINT if coat.grey else _PRINT, base, 1.0)])
    for layer in coat.layers:
        shape = _shape(layer)
        if layer.tones:
            found.append([*(_Entry(_Slot("flat", "normal", _shape(tone), True), tone.colour,
                                   tone.strength) for tone in layer.tones),
                          _Entry(_Slot("group", layer.mode, shape, False), base, layer.strength)])
        elif layer.printed and printed:
            found.append([_Entry(_Slot("flat", "normal", (), True), base, 1.0),
                          _Entry(_Slot("print", "normal", (), True), base, 1.0),
                          _Entry(_Slot("whole group", layer.mode, shape, False), base,
                                 layer.strength)])
        else:
            found.append([_Entry(_Slot("flat", layer.mode, shape, False),
                                 base if layer.printed else layer.colour, layer.strength)])
    return found


def _shape(layer: PassLayer) -> tuple[tuple[str, bool], ...]:
    return ((layer.shape, layer.outside),) if layer.shape else ()
