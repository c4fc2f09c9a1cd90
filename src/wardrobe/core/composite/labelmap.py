"""Compose a picture from a label map, masks and the parts' coats, in one pass over the pixels.

It gives what flattening the delivered stack gives (tested to 1/255) at the cost of a look-up:
only pixels at the edges of shapes, in gradients and on patterns are worked out one by one.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.program import Program, run
from wardrobe.core.kernel import kernel
from wardrobe.core.parallel import bands, each

Byte = NDArray[np.uint8]
Real = NDArray[np.float64]


@dataclass(frozen=True)
class Masks:
    """What a picture is made from, all of shape (height, width).

    Attributes
    ----------
    parts : ndarray of uint16
        Row of the program for each pixel; 0 is the background.
    levels : ndarray of uint8, shape (height, width, planes)
        Coverage 0..255 of each shape; further planes are 0.
    ink : ndarray of uint8
        Coverage of the lines.
    keys : tuple of str
        Passes whose shapes the levels are, in the program's order.
    """

    parts: NDArray[np.uint16]
    levels: Byte
    ink: Byte
    keys: tuple[str, ...]

    def level(self, key: str) -> Byte:
        """Coverage of a pass's shape, shape (height, width)."""
        return self.levels[..., self.keys.index(key)]


def planes(shapes: int) -> int:
    """Planes that a mask of so many shapes has, so that a pixel is one machine word or two."""
    return 4 if shapes <= 4 else 8 if shapes <= 8 else 16


def words(levels: Byte) -> NDArray[np.unsignedinteger[Any]]:
    """The levels of a pixel as numbers of up to eight, shape (height, width, 1 or 2)."""
    packed: NDArray[Any] = levels.view(np.uint32 if levels.shape[2] == 4 else np.uint64)
    return packed


def seen_colours(program: Program) -> Byte:
    """Colours by row and by which shapes are full, shape (rows, 2**shapes, 3), 0..255.

    Exactly what :func:`compose` gives where the masks are 0 or 255.
    """
    return _bytes(program.flat())


def _bytes(colour: Real) -> Byte:
    return (colour * 255 + 0.5).astype(np.uint8)


def compose(masks: Masks, program: Program, ink: tuple[int, int, int],
            prints: Byte | None = None) -> Byte:
    """Compose the whole picture.

    Parameters
    ----------
    masks : Masks
    program : Program
    ink : (int, int, int)
        Colour of the lines.
    prints : ndarray of uint8, shape (height, width, 4), optional
        The patterns on the bases, straight alpha.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
        Opaque sRGB.
    """
    out = np.empty((*masks.parts.shape, 3), np.uint8)
    smooth = program.flat()
    p = program
    none = np.zeros((0, 0, 4), np.uint8)
    packed, flat = words(masks.levels), _bytes(smooth)
    wide = packed.shape[2] > 1

    def draw(rows: slice) -> None:
        first = packed[rows]
        _compose(masks.parts[rows], masks.levels[rows], first[..., 0],
                 first[..., 1] if wide else first[:1, :0, 0], masks.ink[rows],
                 none if prints is None else prints[rows], flat, smooth, np.array(ink) / 255,
                 p.steps, p.colours, p.strengths, p.counts, p.grounds, p.bases, p.grey,
                 out[rows])

    each(draw, bands(len(out)))
    return out


_TOP_BITS, _LOW_BITS = np.uint64(0x8080808080808080), np.uint64(0x0101010101010101)
_GATHER = np.uint64(sum(1 << 56 - 7 * k for k in range(8)))


@kernel
def _compose(parts: NDArray[np.uint16], levels: Byte, first: NDArray[np.unsignedinteger[Any]],
             second: NDArray[np.unsignedinteger[Any]], ink: Byte, prints: Byte, flat: Byte,
             smooth: Real, ink_colour: Real, steps: NDArray[np.int16], colours: Real,
             strengths: Real, counts: NDArray[np.int16], grounds: Real, bases: Real,
             grey: NDArray[np.bool_], out: Byte) -> None:
    height, width = parts.shape
    printed = prints.size > 0
    wide = second.size > 0
    later = np.empty(width, np.int64)
    for y in range(height):
        count = _look_up(parts[y], first[y], second[y] if wide else second[0], ink[y], flat,
                         smooth, ink_colour, out[y], later)
        for k in range(count):
            _work_out(y, later[k], parts, levels, ink, prints, False, ink_colour, steps, colours,
                      strengths, counts, grounds, bases, grey, out)
        if printed:
            for x in range(width):
                if prints[y, x, 3]:
                    _work_out(y, x, parts, levels, ink, prints, True, ink_colour, steps, colours,
                              strengths, counts, grounds, bases, grey, out)


@kernel
def _look_up(parts: NDArray[np.uint16], first: NDArray[np.unsignedinteger[Any]],
             second: NDArray[np.unsignedinteger[Any]], ink: Byte, flat: Byte, smooth: Real,
             ink_colour: Real, out: Byte, later: NDArray[np.int64]) -> int:
    """A row of pixels whose masks are 0 or 255; where they are not is listed in ``later``."""
    count = 0
    wide = second.size > 0
    for x in range(parts.size):
        part = parts[x]
        a = ink[x]
        word = np.uint64(first[x])
        tops = word & _TOP_BITS
        # Whether every byte is 0 or 255: then its lowest bit says which, and a product brings
        # these bits together in the highest byte.
        settled = (tops << np.uint64(1)) - (tops >> np.uint64(7)) == word
        bits = ((word & _LOW_BITS) * _GATHER) >> np.uint64(56)
        if wide:
            word = np.uint64(second[x])
            tops = word & _TOP_BITS
            settled &= (tops << np.uint64(1)) - (tops >> np.uint64(7)) == word
            bits |= (((word & _LOW_BITS) * _GATHER) >> np.uint64(56)) << np.uint64(8)
        if not settled:
            later[count] = x
            count += 1
            continue
        if a == 0:
            out[x, 0] = flat[part, bits, 0]
            out[x, 1] = flat[part, bits, 1]
            out[x, 2] = flat[part, bits, 2]
        else:
            alpha = a / 255.0
            for c in range(3):
                v = smooth[part, bits, c]
                out[x, c] = np.uint8((v + alpha * (ink_colour[c] - v)) * 255 + 0.5)
    return count


@kernel
def _work_out(y: int, x: int, parts: NDArray[np.uint16], levels: Byte, ink: Byte, prints: Byte,
              printed: bool, ink_colour: Real, steps: NDArray[np.int16], colours: Real,
              strengths: Real, counts: NDArray[np.int16], grounds: Real, bases: Real,
              grey: NDArray[np.bool_], out: Byte) -> None:
    cover, pr, pg, pb = 0.0, 0.0, 0.0, 0.0
    if printed:
        cover = prints[y, x, 3] / 255.0
        pr, pg, pb = prints[y, x, 0] / 255.0, prints[y, x, 1] / 255.0, prints[y, x, 2] / 255.0
    r, g, b = run(parts[y, x], levels[y, x], cover, pr, pg, pb, steps, colours, strengths, counts,
                  grounds, bases, grey)
    alpha = ink[y, x] / 255.0
    out[y, x, 0] = np.uint8((r + alpha * (ink_colour[0] - r)) * 255 + 0.5)
    out[y, x, 1] = np.uint8((g + alpha * (ink_colour[1] - g)) * 255 + 0.5)
    out[y, x, 2] = np.uint8((b + alpha * (ink_colour[2] - b)) * 255 + 0.5)


def lay_flat(picture: Byte, coverage: Byte, colour: tuple[int, int, int]) -> Byte:
    """Lay one colour over an opaque picture.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)
    coverage : ndarray of uint8, shape (height, width)
    colour : (int, int, int)
    """
    out = np.empty_like(picture)
    _lay_flat(picture, coverage, np.array(colour, np.float32), out)
    return out


@kernel
def _lay_flat(picture: Byte, coverage: Byte, colour: NDArray[np.float32], out: Byte) -> None:
    height, width = coverage.shape
    for y in range(height):
        for x in range(width):
            a = coverage[y, x] / np.float32(255)
            for c in range(3):
                v = np.float32(picture[y, x, c])
                out[y, x, c] = np.uint8(v + a * (colour[c] - v) + np.float32(0.5))


def compose_flat(labels: NDArray[np.uint16], colours: Byte, ink: Byte,
                 ink_colour: tuple[int, int, int]) -> Byte:
    """One flat colour a label, and lines over them.

    Parameters
    ----------
    labels : ndarray of uint16, shape (height, width)
    colours : ndarray of uint8, shape (labels + 1, 3)
    ink : ndarray of uint8, shape (height, width)
        Coverage of the lines.
    ink_colour : (int, int, int)

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
    """
    out = np.empty((*labels.shape, 3), np.uint8)
    _compose_flat(labels, colours, ink, np.array(ink_colour, np.float32), out)
    return out


@kernel
def _compose_flat(labels: NDArray[np.uint16], colours: Byte, ink: Byte,
                  ink_colour: NDArray[np.float32], out: Byte) -> None:
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            label, cover = labels[y, x], ink[y, x]
            for c in range(3):
                v = np.float32(colours[label, c])
                if cover:
                    v += cover / np.float32(255) * (ink_colour[c] - v)
                out[y, x, c] = np.uint8(v + np.float32(0.5))
