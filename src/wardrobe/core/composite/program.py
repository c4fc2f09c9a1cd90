"""Coats as numbers: what the compiled compositor runs for one pixel.

A row of the program is one part's layers. The pixel's state is a colour and, for a group of
tones, a second colour that the group is composited in before it is laid down.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.kernels import blend
from wardrobe.core.composite.modes import MODES, PLUS_LIGHTER
from wardrobe.core.kernel import kernel
from wardrobe.core.passes.layers import Coat, PassLayer
from wardrobe.core.passes.table import PASSES

Byte = NDArray[np.uint8]
Real = NDArray[np.float64]

_COLOUR, _BASE, _TONES = 0, 1, 2  # what a step lays on
_EVERYWHERE = -1


@dataclass(frozen=True)
class Program:
    """The layers of every part.

    Attributes
    ----------
    shapes : tuple of str
        Keys of the passes whose shapes are needed, in the order of the masks.
    steps : ndarray of int16, shape (rows, steps, 5)
        Mode, mask (-1: the whole part), outside, source, and whether it is laid on the tones.
    colours : ndarray of float64, shape (rows, steps, 3), range 0..1
    strengths : ndarray of float64, shape (rows, steps), range 0..1
    counts : ndarray of int16, shape (rows,)
        Steps of each row.
    grounds : ndarray of float64, shape (rows, 3), range 0..1
    bases : ndarray of float64, shape (rows, 3), range 0..1
        What a printed layer holds where there is no print.
    grey : ndarray of bool, shape (rows,)
    """

    shapes: tuple[str, ...]
    steps: NDArray[np.int16]
    colours: Real
    strengths: Real
    counts: NDArray[np.int16]
    grounds: Real
    bases: Real
    grey: NDArray[np.bool_]

    def interior(self, key: str) -> int:
        """Which shapes are full inside a pass, one bit each; 0 for the base."""
        full = {key, *PASSES[key].within} if key in PASSES else set()
        return sum(1 << bit for bit, shape in enumerate(self.shapes) if shape in full)

    def flat(self) -> Real:
        """Colours by row and by which shapes are full, shape (rows, 2**shapes, 3), 0..1."""
        out = np.empty((len(self.counts), 1 << len(self.shapes), 3))
        _fill(self.steps, self.colours, self.strengths, self.counts, self.grounds, self.bases,
              self.grey, len(self.shapes), out)
        return out


def compile_coats(coats: Sequence[Coat], bases: Sequence[tuple[int, int, int]]) -> Program:
    """Turn coats, one a row, into a program.

    Parameters
    ----------
    coats : sequence of Coat
        Row 0 is the background.
    bases : sequence of (int, int, int)
        Base colours, 0..255, for layers that carry the base with its pattern.
    """
    wanted = set().union(*(coat.shapes() for coat in coats))
    shapes = tuple(key for key in PASSES if key in wanted)
    rows = [list(_steps(coat, shapes)) for coat in coats]
    longest = max(1, *map(len, rows))
    steps = np.zeros((len(rows), longest, 5), np.int16)
    colours, strengths = np.zeros((len(rows), longest, 3)), np.zeros((len(rows), longest))
    for row, entries in enumerate(rows):
        for k, (numbers, colour, strength) in enumerate(entries):
            steps[row, k], colours[row, k], strengths[row, k] = numbers, colour, strength
    return Program(shapes, steps, colours / 255, strengths,
                   np.array([len(r) for r in rows], np.int16),
                   np.array([c.ground for c in coats]) / 255, np.array(bases) / 255,
                   np.array([c.grey for c in coats]))


def _steps(coat: Coat, shapes: tuple[str, ...]) -> list[
        tuple[tuple[int, int, int, int, int], tuple[int, int, int], float]]:
    def numbers(layer: PassLayer, source: int, on_tones: bool) -> tuple[int, int, int, int, int]:
        mask = shapes.index(layer.shape) if layer.shape else _EVERYWHERE
        return MODES[layer.mode].code, mask, layer.outside, source, on_tones

    found = []
    for layer in coat.layers:
        found += [(numbers(tone, _COLOUR, True), tone.colour, tone.strength)
                  for tone in layer.tones]
        source = _TONES if layer.tones else _BASE if layer.printed else _COLOUR
        found.append((numbers(layer, source, False), layer.colour, layer.strength))
    return found


@kernel
def _whole(v: float) -> float:
    """A level as it is in a delivered layer, in whole bytes."""
    return math.floor(v * 255 + 0.5) / 255


@kernel
def run(row: int, levels: Byte, cover: float, pr: float, pg: float, pb: float,
        steps: NDArray[np.int16], colours: Real, strengths: Real, counts: NDArray[np.int16],
        grounds: Real, bases: Real, grey: NDArray[np.bool_]) -> tuple[float, float, float]:
    """Colour of one pixel, 0..1, from the levels of its masks and what is printed there."""
    r, g, b = grounds[row, 0], grounds[row, 1], grounds[row, 2]
    cr, cg, cb = bases[row, 0], bases[row, 1], bases[row, 2]
    if cover > 0:
        cr, cg, cb = (_whole(cr + cover * (pr - cr)), _whole(cg + cover * (pg - cg)),
                      _whole(cb + cover * (pb - cb)))
        qr, qg, qb = pr, pg, pb
        if grey[row]:
            qr = qg = qb = _whole(0.3 * pr + 0.59 * pg + 0.11 * pb)
        r, g, b = r + cover * (qr - r), g + cover * (qg - g), b + cover * (qb - b)
    tr, tg, tb = 0.0, 0.0, 0.0
    for k in range(counts[row]):
        share = strengths[row, k]
        mask = steps[row, k, 1]
        if mask >= 0:
            level = levels[mask]
            if steps[row, k, 2]:
                level = 255 - level
            share *= level / 255.0
        if share == 0:
            continue
        sr, sg, sb = colours[row, k, 0], colours[row, k, 1], colours[row, k, 2]
        if steps[row, k, 4]:
            tr, tg, tb = tr + share * (sr - tr), tg + share * (sg - tg), tb + share * (sb - tb)
            continue
        source = steps[row, k, 3]
        if source == 1:
            sr, sg, sb = cr, cg, cb
        elif source == 2:
            sr, sg, sb = tr, tg, tb
        mode = steps[row, k, 0]
        if mode == PLUS_LIGHTER:
            r, g, b = min(1.0, r + share * sr), min(1.0, g + share * sg), min(1.0, b + share * sb)
            continue
        if mode != 0:
            sr, sg, sb = blend(r, g, b, sr, sg, sb, mode)
        r, g, b = r + share * (sr - r), g + share * (sg - g), b + share * (sb - b)
    return r, g, b


@kernel
def _fill(steps: NDArray[np.int16], colours: Real, strengths: Real, counts: NDArray[np.int16],
          grounds: Real, bases: Real, grey: NDArray[np.bool_], shapes: int, out: Real) -> None:
    levels = np.zeros(shapes + 1, np.uint8)
    for bits in range(1 << shapes):
        for k in range(shapes):
            levels[k] = 255 if (bits >> k) & 1 else 0
        for row in range(counts.size):
            r, g, b = run(row, levels, 0.0, 0.0, 0.0, 0.0, steps, colours, strengths, counts,
                          grounds, bases, grey)
            out[row, bits, 0], out[row, bits, 1], out[row, bits, 2] = r, g, b
