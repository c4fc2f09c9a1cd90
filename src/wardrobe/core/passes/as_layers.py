"""Coats as layers of a picture."""

from collections.abc import Container, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from wardrobe.core.composite.modes import luminosity_of
from wardrobe.core.layers.layer import INK, Byte, Flat, Group, Image, Layer, Source
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb

HALO = "halo"  # name of its soft plane


class _Slot(NamedTuple):
    """What layers of several parts have in common when they are one layer of the picture."""

    source: str
    mode: str
    shape: tuple[tuple[str, bool], ...]
    grouped: bool


class _Entry(NamedTuple):
    slot: _Slot
    colour: Rgb
    strength: float


def layers_of(coats: Sequence[Coat], bases: Sequence[Rgb], ink: Rgb | None = None,
              prints: Byte | None = None, patterned: Container[int] = (),
              halo: Rgb | None = None) -> list[Layer]:
    """The layers of a picture, bottom to top.

    Parameters
    ----------
    coats : sequence of Coat
        Row 0 is the background's.
    bases : sequence of (int, int, int)
        Base colours, 0..255, for layers that carry the base with its pattern.
    ink : (int, int, int), optional
        Colour of the lines.
    prints : ndarray of uint8, shape (height, width, 4), optional
        The patterns, cut to their parts.
    patterned : container of int
        Rows that have one.
    halo : (int, int, int), optional
        Colour of what lies on the soft plane of that name.
    """
    rows = len(coats)
    blocks: list[tuple[_Slot, ...]] = []  # a group, or a layer by itself
    colours, strengths = [], []
    for row, (coat, base) in enumerate(zip(coats, bases, strict=True)):
        at = -1
        for block in _blocks(coat, base, prints is not None and row in patterned):
            slots = tuple(entry.slot for entry in block)
            at = next((k for k in range(at + 1, len(blocks)) if blocks[k] == slots), len(blocks))
            if at == len(blocks):
                blocks.append(slots)
                colours.append(np.zeros((len(slots), rows, 3)))
                strengths.append(np.zeros((len(slots), rows)))
            for k, entry in enumerate(block):
                colours[at][k, row], strengths[at][k, row] = entry.colour, entry.strength
    sources: dict[str, Source] = {"group": Group(), "whole group": Group(whole=True)}
    if prints is not None:
        sources["print"] = Image(prints)
        if any(slot.source == "grey print" for block in blocks for slot in block):
            sources["grey print"] = Image(_grey(prints))
    found = [Layer(sources.get(slot.source) or Flat(c), strength, slot.mode, slot.shape, (),
                   slot.grouped)
             for slots, cs, shares in zip(blocks, colours, strengths, strict=True)
             for slot, c, strength in zip(slots, cs, shares, strict=True)]
    everywhere = np.ones(rows)
    if ink is not None:
        found.append(Layer(_flat(ink, rows), everywhere, shape=((INK, False),)))
    if halo is not None:
        found.append(Layer(_flat(halo, rows), everywhere, soft=(HALO,)))
    return found


def _grey(prints: Byte) -> Byte:
    grey, seen = prints.copy(), prints[..., 3] > 0
    grey[seen, :3] = np.floor(luminosity_of(prints[seen, :3].astype(float)) + 0.5)[..., None]
    return grey


def _flat(colour: Rgb, rows: int) -> Flat:
    return Flat(np.tile(np.array(colour, float), (rows, 1)))


def _blocks(coat: Coat, base: Rgb, printed: bool) -> Iterator[list[_Entry]]:
    yield [_Entry(_Slot("flat", "normal", (), False), coat.ground, 1.0)]
    if printed:
        yield [_Entry(_Slot("grey print" if coat.grey else "print", "normal", (), False), base,
                      1.0)]
    for layer in coat.layers:
        shape = _shape(layer)
        if layer.tones:
            yield [*(_Entry(_Slot("flat", "normal", _shape(tone), True), tone.colour,
                            tone.strength) for tone in layer.tones),
                   _Entry(_Slot("group", layer.mode, shape, False), base, layer.strength)]
        elif layer.printed and printed:
            yield [_Entry(_Slot("flat", "normal", (), True), base, 1.0),
                   _Entry(_Slot("print", "normal", (), True), base, 1.0),
                   _Entry(_Slot("whole group", layer.mode, shape, False), base, layer.strength)]
        else:
            colour = base if layer.printed else layer.colour
            yield [_Entry(_Slot("flat", layer.mode, shape, False), colour, layer.strength)]


def _shape(layer: PassLayer) -> tuple[tuple[str, bool], ...]:
    return ((layer.shape, layer.outside),) if layer.shape else ()
