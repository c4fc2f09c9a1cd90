"""Coloured lines as an image."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ink.rule import LEVELS
from wardrobe.core.kernel import kernel
from wardrobe.core.parallel import bands, each

Labels = NDArray[np.uint16]
Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]

_MOST = 3  # stretches that share a pixel
_SAMPLES = 6  # on each side of a pixel, in rows and in columns
_LEAP, _STEEP = 40, 12  # of 255, from one level to the next
_HELD = 12  # stretches told apart around a pixel


@dataclass(frozen=True, eq=False)
class Shares:
    """Which stretches have a say in the colour of each pixel with ink, whatever that colour is.

    Attributes
    ----------
    at : ndarray of int32, shape (n,)
        Pixels of the picture, row by row.
    stretches : ndarray of uint16, shape (n, 3)
    parts : ndarray of uint8, shape (n, 3)
        Of 255.
    """

    at: NDArray[np.int32]
    stretches: Labels
    parts: Byte

    def within(self, box: tuple[slice, slice], shape: tuple[int, int]) -> "Shares":
        """Those of a rectangle of the picture, whose shape is given."""
        y, x = np.divmod(self.at, shape[1])
        rows, columns = box
        kept = (y >= rows.start) & (y < rows.stop) & (x >= columns.start) & (x < columns.stop)
        at = (y[kept] - rows.start) * (columns.stop - columns.start) + x[kept] - columns.start
        return Shares(at.astype(np.int32), self.stretches[kept], self.parts[kept])


def shares_of(stretches: Labels, ink: Byte, radius: int) -> Shares:
    """Shares of a picture of lines.

    Parameters
    ----------
    stretches : ndarray of uint16, shape (height, width)
        Stretch of every pixel.
    ink : ndarray of uint8, same shape
        Coverage of the lines: only lines have a say.
    radius : int
        Pixels over which one colour turns into the next; what lies twice as far away has no say.
    """
    step = max(1, -(-2 * radius // _SAMPLES))
    side = min(_SAMPLES, 2 * radius // step)
    return Shares(*_shares(stretches, ink, step, side))


def draw_lines(shares: Shares, facing: Byte, colours: Byte) -> Byte:
    """The colours of lines.

    Parameters
    ----------
    shares : Shares
    facing : ndarray of uint8, shape (height, width)
        How far lines face the light there, 0..255.
    colours : ndarray of uint8, shape (stretches, LEVELS, 3)
        As :func:`~wardrobe.core.ink.rule.line_colours` gives them.

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        Opaque where there is ink, clear elsewhere.
    """
    out = np.zeros((*facing.shape, 4), np.uint8)
    near, flat, pixels = facing.ravel(), np.ascontiguousarray(colours), out.reshape(-1, 4)
    # From a dark line to a bright one it goes at once: in between it could not be seen.
    leaps = np.zeros(flat.shape[:2], bool)
    leaps[:, :-1] = np.abs(np.diff(flat.astype(np.int16), axis=1)).max(axis=2) > _LEAP

    def draw(rows: slice) -> None:
        _draw(shares.at[rows], shares.stretches[rows], shares.parts[rows], near, flat, leaps,
              _STEPS, pixels)

    each(draw, bands(len(shares.at)))
    return out


def mixed(shares: Shares, lines: Byte, others: Byte, plane: Byte) -> Byte:
    """Colours of lines that turn into others as far as a plane says.

    Parameters
    ----------
    shares : Shares
    lines, others : ndarray of uint8, shape (height, width, 4)
        As :func:`draw_lines` gives them.
    plane : ndarray of uint8, shape (height, width)
        0 keeps ``lines``, 255 takes ``others``.
    """
    out = lines.copy()
    flat, at = out.reshape(-1, 4), shares.at
    share = plane.ravel()[at, None].astype(np.int32)
    there = (mine.reshape(-1, 4)[at, :3].astype(np.int32) for mine in (lines, others))
    flat[at, :3] = (next(there) * (255 - share) + next(there) * share + 127) // 255
    return out


@kernel
def _shares(stretches: Labels, ink: Byte, step: int,
            side: int) -> tuple[NDArray[np.int32], Labels, Byte]:
    height, width = stretches.shape
    count = 0
    for y in range(height):
        for x in range(width):
            count += ink[y, x] > 0
    at = np.empty(count, np.int32)
    which = np.zeros((count, _MOST), np.uint16)
    parts = np.zeros((count, _MOST), np.uint8)
    found, said = np.zeros(_HELD, np.int64), np.zeros(_HELD, np.int64)
    n = 0
    for y in range(height):
        for x in range(width):
            if ink[y, x] == 0:
                continue
            at[n] = y * width + x
            found[0], said[0] = stretches[y, x], 1
            held = 1
            for i in range(-side, side + 1):
                v = y + i * step
                if v < 0 or v >= height:
                    continue
                for j in range(-side, side + 1):
                    u = x + j * step
                    if u < 0 or u >= width or ink[v, u] == 0:
                        continue
                    weight = (side + 1 - abs(i)) * (side + 1 - abs(j)) * np.int64(ink[v, u])
                    stretch, k = np.int64(stretches[v, u]), 0
                    while k < held and found[k] != stretch:
                        k += 1
                    if k == held:
                        if held == _HELD:
                            continue
                        found[k], said[k] = stretch, 0
                        held += 1
                    said[k] += weight
            # The weightiest few, in the order in which they were met where they weigh the same.
            total = np.int64(0)
            for m in range(min(held, _MOST)):
                best = m
                for k in range(m + 1, held):
                    if said[k] > said[best]:
                        best = k
                found[m], found[best] = found[best], found[m]
                said[m], said[best] = said[best], said[m]
                total += said[m]
            rest = np.int64(255)
            for m in range(min(held, _MOST) - 1, 0, -1):
                share = said[m] * 255 // total
                which[n, m], parts[n, m] = found[m], share
                rest -= share
            which[n, 0], parts[n, 0] = found[0], rest
            n += 1
    return at, which, parts


def _steps() -> NDArray[np.uint8]:
    """Of each of 256 levels of facing: the colour level below it, how far on to the next it is,
    0..255, and how far where it goes at once."""
    low, part = np.divmod(np.arange(256) * (LEVELS - 1), 255)
    return np.stack([low, part, np.clip((part - 128) * _STEEP + 128, 0, 255)]).astype(np.uint8)


_STEPS = _steps()


@kernel
def _draw(at: NDArray[np.int32], which: Labels, parts: Byte, facing: Byte, colours: Byte,
          leaps: Mask, steps: Byte, out: Byte) -> None:
    most = LEVELS - 1
    for n in range(len(at)):
        level, first = facing[at[n]], which[n, 0]
        low = np.int64(steps[0, level])
        part = np.int64(steps[2 if leaps[first, low] else 1, level])
        high = low + 1 if low < most else low
        red = green = blue = np.int64(0)
        for m in range(_MOST):
            share, stretch = np.int64(parts[n, m]), which[n, m]
            if share == 0:
                break
            less, more = share * (255 - part), share * part
            red += less * colours[stretch, low, 0] + more * colours[stretch, high, 0]
            green += less * colours[stretch, low, 1] + more * colours[stretch, high, 1]
            blue += less * colours[stretch, low, 2] + more * colours[stretch, high, 2]
        out[at[n], 0] = (red + 32512) // 65025
        out[at[n], 1] = (green + 32512) // 65025
        out[at[n], 2] = (blue + 32512) // 65025
        out[at[n], 3] = 255
