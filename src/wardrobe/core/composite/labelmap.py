"""The fast picture: one label map, 8-bit masks and a colour table, in one pass over the pixels.

It gives what flattening the delivered stack gives (tested to 1/255) at the cost of a look-up.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]


@dataclass(frozen=True)
class ColourTable:
    """The colours of each part; row 0 is the background.

    Attributes
    ----------
    base : ndarray of uint8, shape (parts + 1, 3)
    shade, light : ndarray of uint8, shape (parts + 1, 3)
        Colours of the multiply and the screen layer.
    shade_strength, light_strength : ndarray of float32, shape (parts + 1,), range 0..1
        Layer opacities; row 0 must be 0.
    ink : ndarray of uint8, shape (3,)
    """

    base: Byte
    shade: Byte
    light: Byte
    shade_strength: NDArray[np.float32]
    light_strength: NDArray[np.float32]
    ink: Byte

    def shaded(self) -> NDArray[np.float32]:
        """Colours by part and shade mask level, shape (parts + 1, 256, 3), range 0..255."""
        level = np.arange(256, dtype=np.float32)[None, :, None] / np.float32(255)
        base = self.base[:, None, :].astype(np.float32)
        multiplied = base * self.shade[:, None, :].astype(np.float32) / np.float32(255)
        shaded = base + (multiplied - base) * level * self.shade_strength[:, None, None]
        return shaded.astype(np.float32)

    def pass_colours(self) -> tuple[Byte, Byte, Byte]:
        """The colours seen inside base, shade and light, each of shape (parts + 1, 3), uint8.

        Exactly what :func:`compose` gives where a mask is 255.
        """
        shaded = self.shaded()
        lit = _lift(shaded[:, 0], self.light.astype(np.float32),
                    self.light_strength[:, None].astype(np.float32))
        return _round(shaded[:, 0]), _round(shaded[:, 255]), _round(lit)


def _lift(colour: NDArray[np.float32], light: NDArray[np.float32],
          amount: NDArray[np.float32]) -> NDArray[np.float32]:
    """Screen by ``amount``: c + a (screen(c, l) - c) = c + a l (1 - c), on a 0..255 scale."""
    lifted = colour + amount * light * (np.float32(255) - colour) / np.float32(255)
    return lifted.astype(np.float32)


def _round(colour: NDArray[np.float32]) -> Byte:
    return (colour + np.float32(0.5)).astype(np.uint8)


@kernel
def _compose(parts: NDArray[np.uint16], shade: Byte, light: Byte, ink: Byte,
             shaded: NDArray[np.float32], flat: Byte, light_colour: NDArray[np.float32],
             light_amount: NDArray[np.float32], ink_colour: NDArray[np.float32],
             out: Byte) -> None:
    height, width = parts.shape
    for y in range(height):
        for x in range(width):
            part = parts[y, x]
            m = shade[y, x]
            h = light[y, x]
            a = ink[y, x]
            if h == 0 and a == 0:
                out[y, x, 0] = flat[part, m, 0]
                out[y, x, 1] = flat[part, m, 1]
                out[y, x, 2] = flat[part, m, 2]
                continue
            k = light_amount[part] * h / np.float32(255) / np.float32(255)
            alpha = a / np.float32(255)
            for c in range(3):
                v = shaded[part, m, c]
                v += k * light_colour[part, c] * (np.float32(255) - v)
                v += alpha * (ink_colour[c] - v)
                out[y, x, c] = np.uint8(v + np.float32(0.5))


def compose(parts: NDArray[np.uint16], shade: Byte, light: Byte, ink: Byte,
            table: ColourTable) -> Byte:
    """Compose the whole picture.

    Parameters
    ----------
    parts : ndarray of uint16, shape (height, width)
        Row of the table for each pixel; 0 is the background.
    shade, light, ink : ndarray of uint8, shape (height, width)
        Coverage 0..255 of the shade shapes, the light shapes and the lines.
    table : ColourTable

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
        Opaque sRGB.
    """
    out = np.empty((*parts.shape, 3), np.uint8)
    shaded = table.shaded()
    _compose(parts, shade, light, ink, shaded, _round(shaded), table.light.astype(np.float32),
             table.light_strength.astype(np.float32), table.ink.astype(np.float32), out)
    return out


@kernel
def _compose_printed(parts: NDArray[np.uint16], shade: Byte, light: Byte, ink: Byte, prints: Byte,
                     base: Byte, shade_colour: NDArray[np.float32],
                     shade_amount: NDArray[np.float32], light_colour: NDArray[np.float32],
                     light_amount: NDArray[np.float32], ink_colour: NDArray[np.float32],
                     out: Byte) -> None:
    height, width = parts.shape
    full = np.float32(255)
    for y in range(height):
        for x in range(width):
            cover = prints[y, x, 3]
            if cover == 0:
                continue
            part = parts[y, x]
            s = shade_amount[part] * shade[y, x] / full
            k = light_amount[part] * light[y, x] / full / full
            alpha = ink[y, x] / full
            for c in range(3):
                v = base[part, c] + (prints[y, x, c] - np.float32(base[part, c])) * cover / full
                v += s * (v * shade_colour[part, c] / full - v)
                v += k * light_colour[part, c] * (full - v)
                v += alpha * (ink_colour[c] - v)
                out[y, x, c] = np.uint8(v + np.float32(0.5))


def compose_prints(picture: Byte, parts: NDArray[np.uint16], shade: Byte, light: Byte, ink: Byte,
                   prints: Byte, table: ColourTable) -> None:
    """Compose again, in place, where patterns lie on the bases; they are shaded with them.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)
        As :func:`compose` gives it.
    parts, shade, light, ink, table
        As for :func:`compose`.
    prints : ndarray of uint8, shape (height, width, 4)
        The patterns, straight alpha; 0 where there is none.
    """
    _compose_printed(parts, shade, light, ink, prints, table.base,
                     table.shade.astype(np.float32), table.shade_strength.astype(np.float32),
                     table.light.astype(np.float32), table.light_strength.astype(np.float32),
                     table.ink.astype(np.float32), picture)


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
