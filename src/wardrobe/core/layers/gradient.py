"""Gradients as tables, and as pixels."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel, leaf
from wardrobe.core.layers.layer import RAMP, Byte, Gradient
from wardrobe.core.layers.origin import Origin
from wardrobe.core.parallel import bands, each


def ramp_of(gradient: Gradient) -> Byte:
    """RGBA at RAMP places from 0 to 1."""
    t, colours = zip(*gradient.stops, strict=True)
    at = np.linspace(0, 1, RAMP)
    found = [np.floor(np.interp(at, t, [c[k] for c in colours]) + 0.5) for k in range(4)]
    return np.stack(found, -1).astype(np.uint8)


def rows_in_view(gradient: Gradient, scale: float) -> NDArray[np.float64]:
    """Rows for pixels of a view counted from the picture's corner."""
    return np.array(gradient.rows) / (scale, scale, 1)


def gradient_colours(gradient: Gradient, origin: Origin, shape: tuple[int, int]) -> Byte:
    """RGBA over a view, as it is painted, shape ``shape + (4,)``."""
    rows = rows_in_view(gradient, origin.scale)
    out = np.empty((*shape, 4), np.uint8)
    _look_up(rows, ramp_of(gradient), origin.x, origin.y, out)
    return out


def let_through(plane: Byte, gradient: Gradient, origin: Origin) -> Byte:
    """A plane over a view, as far as the greys of a gradient let it through.

    Parameters
    ----------
    plane : ndarray of uint8, shape (height, width)
    gradient : Gradient
        Its reds are the greys.
    origin : Origin

    Returns
    -------
    ndarray of uint8, same shape
    """
    rows, out = rows_in_view(gradient, origin.scale), np.empty_like(plane)
    greys = np.ascontiguousarray(ramp_of(gradient)[:, 0])
    each(lambda band: _let_through(plane[band], rows, greys, origin.x, origin.y + band.start,
                                   out[band]), bands(len(plane)))
    return out


@leaf
def _steps_along(rows: NDArray[np.float64], x0: float, y: float, steps: NDArray[np.int32]) -> None:
    """Steps of the ramp along a row of pixels."""
    g, a = rows[0, 0], rows[0, 1] * y + rows[0, 2]
    h, d = rows[-1, 0], rows[-1, 1] * y + rows[-1, 2]
    radial, most = len(rows) == 2, np.float64(RAMP - 1)
    for i in range(len(steps)):
        x = x0 + i + 0.5
        t = g * x + a
        if radial:
            u = h * x + d
            t = np.sqrt(t * t + u * u)
        steps[i] = np.int32(min(1.0, max(0.0, t)) * most + 0.5)


@kernel
def _let_through(plane: Byte, rows: NDArray[np.float64], greys: Byte, x0: float, y0: float,
                 out: Byte) -> None:
    steps = np.empty(out.shape[1], np.int32)
    for j in range(out.shape[0]):
        _steps_along(rows, x0, y0 + j + 0.5, steps)
        for i in range(out.shape[1]):
            out[j, i] = (np.int32(plane[j, i]) * np.int32(greys[steps[i]]) + 127) // 255


@kernel
def _look_up(rows: NDArray[np.float64], ramp: Byte, x0: float, y0: float, out: Byte) -> None:
    steps = np.empty(out.shape[1], np.int32)
    for j in range(out.shape[0]):
        _steps_along(rows, x0, y0 + j + 0.5, steps)
        for i in range(out.shape[1]):
            for c in range(4):
                out[j, i, c] = ramp[steps[i], c]
