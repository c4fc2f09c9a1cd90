"""Gradients as tables, and as pixels."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel
from wardrobe.core.layers.layer import RAMP, Byte, Gradient
from wardrobe.core.layers.origin import Origin


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


@kernel
def _look_up(rows: NDArray[np.float64], ramp: Byte, x0: float, y0: float, out: Byte) -> None:
    for j in range(out.shape[0]):
        y = y0 + j + 0.5
        a = rows[0, 1] * y + rows[0, 2]
        d = rows[-1, 1] * y + rows[-1, 2]
        for i in range(out.shape[1]):
            x = x0 + i + 0.5
            t = rows[0, 0] * x + a
            if len(rows) == 2:
                u = rows[1, 0] * x + d
                t = np.sqrt(t * t + u * u)
            k = int(min(1.0, max(0.0, t)) * (RAMP - 1) + 0.5)
            for c in range(4):
                out[j, i, c] = ramp[k, c]
