"""Masks as runs of equal pixels: what is the same is worked out once."""

import threading
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel, leaf
from wardrobe.core.layers.layer import Byte, Masks, words
from wardrobe.core.parallel import each

STRIP = 128  # rows that have their kinds in common
_BLOCK = 16  # pixels that are compared with their neighbours at once
_PLACES = 1 << 14  # of the table of kinds to begin with; a power of 2

Word = NDArray[np.unsignedinteger[Any]]


@dataclass(frozen=True)
class Strip:
    """Runs of some rows, and the kinds of their pixels.

    Pixels with the same part and levels, and with or without ink, are one kind.

    Attributes
    ----------
    y : int
        First row.
    starts : ndarray of int32, shape (rows + 1,)
        First run of each row.
    ends : ndarray of uint16, shape (runs,)
        Column after the last pixel.
    kinds : ndarray of int32, shape (runs,)
    keys : ndarray of uint64, shape (kinds, 1 + words)
        Part in the low 16 bits, ink in the next; then the levels.
    """

    y: int
    starts: NDArray[np.int32]
    ends: NDArray[np.uint16]
    kinds: NDArray[np.int32]
    keys: NDArray[np.uint64]


@dataclass(frozen=True)
class Runs:
    """Masks by runs, with the planes that change from pixel to pixel.

    Attributes
    ----------
    shape : (int, int)
    keys : tuple of str
        Names of the planes.
    strips : list of Strip
    ink : ndarray of uint8, shape (height, width)
    soft_keys : tuple of str
    soft : ndarray of uint8, shape (planes, height, width)
    """

    shape: tuple[int, int]
    keys: tuple[str, ...]
    strips: list[Strip]
    ink: Byte
    soft_keys: tuple[str, ...]
    soft: Byte


def find_runs(masks: Masks) -> Runs:
    """Cut masks into runs."""
    height, width = masks.parts.shape
    if width > 2**16 - 1:
        raise ValueError("a view is at most 65,535 pixels wide")
    packed = words(masks.levels)
    strips = each(lambda y: _strip(masks, packed, y), range(0, height, STRIP))
    soft = np.stack([masks.soft[key] for key in masks.soft]) if masks.soft else \
        np.zeros((0, height, width), np.uint8)
    return Runs((height, width), masks.keys, strips, masks.ink, tuple(masks.soft), soft)


def level_of(runs: Runs, key: str) -> Byte:
    """Coverage of one of the planes that were cut, uint8, shape ``runs.shape``."""
    out, at = np.empty(runs.shape, np.uint8), runs.keys.index(key)

    def fill(strip: Strip) -> None:
        # After the part and the ink come the levels, a byte each.
        levels = strip.keys[:, 1:].copy().view(np.uint8)[:, at].copy()
        _fill(strip.starts, strip.ends, strip.kinds, levels, out[strip.y:])

    each(fill, runs.strips)
    return out


@kernel
def _fill(starts: NDArray[np.int32], ends: NDArray[np.uint16], kinds: NDArray[np.int32],
          levels: Byte, out: Byte) -> None:
    for row in range(len(starts) - 1):
        x = 0
        for run in range(starts[row], starts[row + 1]):
            end, level = ends[run], levels[kinds[run]]
            for i in range(x, end):
                out[row, i] = level
            x = end


_SCRATCH = threading.local()  # memory that was used before costs less than new


def _strip(masks: Masks, packed: Word, y: int, places: int = _PLACES) -> Strip:
    rows = slice(y, min(y + STRIP, len(masks.parts)))
    height, width = masks.parts[rows].shape
    size = STRIP * width, 1 + packed.shape[2], places
    if getattr(_SCRATCH, "size", None) != size:
        _SCRATCH.size, _SCRATCH.arrays = size, (
            np.empty(size[0], np.uint16), np.empty(size[0], np.int32),
            np.empty((places // 2, size[1]), np.uint64), np.empty(places, np.int32))
    starts, (ends, kinds, keys, table) = np.empty(height + 1, np.int32), _SCRATCH.arrays
    known = _find(masks.parts[rows], masks.ink[rows],
                  packed[rows].reshape(height, -1), starts, ends, kinds, keys, table)
    if known < 0:
        return _strip(masks, packed, y, 4 * places)
    n = starts[-1]
    return Strip(y, starts, ends[:n].copy(), kinds[:n].copy(), keys[:known].copy())


@leaf
def _mixed(h: np.uint64, word: np.uint64) -> np.uint64:
    h = (h ^ word) * np.uint64(0x9E3779B97F4A7C15)  # the golden ratio, as in Fibonacci hashing
    return h ^ (h >> np.uint64(29))


@leaf
def _find(parts: NDArray[np.uint16], ink: Byte, words: Any, starts: NDArray[np.int32],
          ends: NDArray[np.uint16], kinds: NDArray[np.int32], keys: NDArray[np.uint64],
          table: NDArray[np.int32]) -> int:
    """Runs of a strip; how many kinds its pixels have, or -1 if the table has too few places."""
    height, width = parts.shape
    count, known, n, one = words.shape[1] // width, 0, 0, np.uintp(1)
    table[:] = -1
    for y in range(height):
        starts[y] = n
        for block in range(0, width, _BLOCK):
            stop = min(width, block + _BLOCK)
            if block:  # pass over a block in which every pixel is as the one before
                differs = np.uint64(0)
                at, back = np.uintp(block * count), np.uintp((block - 1) * count)
                for i in range((stop - block) * count):  # unsigned: no test for below 0
                    differs |= np.uint64(words[y, at + np.uintp(i)] ^ words[y, back + np.uintp(i)])
                for i in range(stop - block):
                    u = np.uintp(block) + np.uintp(i)
                    differs |= np.uint64(parts[y, u] ^ parts[y, u - one])
                    differs |= np.uint64((ink[y, u] > 0) ^ (ink[y, u - one] > 0))
                if differs == 0:
                    continue
            for x in range(block, stop):
                if x:
                    differs = np.uint64(parts[y, x] ^ parts[y, x - 1])
                    differs |= np.uint64((ink[y, x] > 0) ^ (ink[y, x - 1] > 0))
                    for k in range(x * count, (x + 1) * count):
                        differs |= np.uint64(words[y, k] ^ words[y, k - count])
                    if differs == 0:
                        continue
                    ends[n] = x
                    n += 1
                key = np.uint64(parts[y, x]) | np.uint64(ink[y, x] > 0) << np.uint64(16)
                h = _mixed(np.uint64(0), key)
                for k in range(count):
                    h = _mixed(h, np.uint64(words[y, x * count + k]))
                slot = int(h >> np.uint64(32)) & (table.size - 1)
                while True:
                    kind = table[slot]
                    if kind < 0:
                        break
                    differs = keys[kind, 0] ^ key
                    for k in range(count):
                        differs |= keys[kind, 1 + k] ^ np.uint64(words[y, x * count + k])
                    if differs == 0:
                        break
                    slot = (slot + 1) & (table.size - 1)
                if kind < 0:
                    if 2 * known == table.size:
                        return -1
                    kind = table[slot] = known
                    keys[known, 0] = key
                    for k in range(count):
                        keys[known, 1 + k] = np.uint64(words[y, x * count + k])
                    known += 1
                kinds[n] = kind
        ends[n] = width
        n += 1
    starts[height] = n
    return known
