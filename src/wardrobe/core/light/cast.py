"""Shadows that parts in front throw on parts behind."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel
from wardrobe.core.light.rig import KeyLight

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

FRONT = 0.15  # difference of depth from which one form covers another
LEAST_LIFT, MOST_LIFT = 1.2, 9.0  # line widths
_LONGEST = 4.0  # cotangents above it come from light so low that shadows have no end
_NEAR = 0.55  # share of a cast that is deep


def cast_shadow(labels: NDArray[np.int32], depth: Real, lift: Real,
                key: KeyLight) -> tuple[Byte, Byte]:
    """March from every pixel towards the light: it lies in a shadow if it meets a form in front
    that stands off by enough.

    Parameters
    ----------
    labels : ndarray of int32, shape (height, width)
        Forms; 0 is the ground, which takes no shadow here.
    depth : ndarray of float32, shape (forms + 1,)
        How far in front each form lies.
    lift : ndarray of float32, shape (forms + 1, forms + 1)
        How far a form (row) stands off another (column), in pixels; 0 throws no shadow.
    key : KeyLight

    Returns
    -------
    cast, near : ndarray of uint8, shape (height, width)
        1 in a shadow; ``near`` is the part of it next to its caster. A form that stands off by h
        throws a shadow h / tan(height) long.
    """
    if key.height <= 0:
        none = np.zeros(labels.shape, np.uint8)
        return none, none.copy()
    angle, height = np.radians(key.azimuth), np.radians(key.height)
    slope = min(_LONGEST, float(1 / np.tan(height)))
    cast: tuple[Byte, Byte] = _march(labels, depth, lift, float(np.cos(angle)),
                                     float(-np.sin(angle)), slope)
    return cast


def caster_at(labels: NDArray[np.int32], depth: Real, lift: Real, key: KeyLight,
              place: tuple[int, int]) -> int:
    """The form whose shadow a pixel lies in, by the same march; 0 if in none.

    Parameters
    ----------
    labels, depth, lift, key
        As :func:`cast_shadow` takes them.
    place : (int, int)
        Row and column.
    """
    y, x = place
    a = int(labels[y, x])
    if not a or key.height <= 0:
        return 0
    angle, slope = np.radians(key.azimuth), min(_LONGEST, 1 / np.tan(np.radians(key.height)))
    before = depth - depth[a] > FRONT
    before[0] = False
    furthest = int(lift[before, a].max(initial=0) * slope)
    for step in range(1, furthest + 1):
        v = int(np.floor(y + 0.5 - step * np.sin(angle)))
        u = int(np.floor(x + 0.5 + step * np.cos(angle)))
        if not (0 <= v < labels.shape[0] and 0 <= u < labels.shape[1]):
            break
        b = int(labels[v, u])
        if b and before[b] and step <= lift[b, a] * slope:
            return b
    return 0


@kernel
def _march(labels: NDArray[np.int32], depth: Real, lift: Real, dx: float, dy: float,
           slope: float) -> tuple[Byte, Byte]:
    height, width = labels.shape
    cast = np.zeros((height, width), np.uint8)
    near = np.zeros((height, width), np.uint8)
    furthest = np.zeros(depth.size, np.float32)  # that any form reaches a receiver from
    for a in range(1, depth.size):
        for b in range(1, depth.size):
            if depth[b] - depth[a] > FRONT:
                furthest[a] = max(furthest[a], lift[b, a] * slope)
    for y in range(height):
        for x in range(width):
            a = labels[y, x]
            if a == 0:
                continue
            for step in range(1, int(furthest[a]) + 1):
                v, u = int(np.floor(y + 0.5 + step * dy)), int(np.floor(x + 0.5 + step * dx))
                if v < 0 or u < 0 or v >= height or u >= width:
                    break
                b = labels[v, u]
                if not b or depth[b] - depth[a] <= FRONT:  # so it is not a itself
                    continue
                reach = lift[b, a] * slope
                if step <= reach:
                    cast[y, x] = 1
                    if step <= _NEAR * reach:
                        near[y, x] = 1
                    break
    return cast, near
