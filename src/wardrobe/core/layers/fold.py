"""Layers worked out once for all pixels of a kind, as far as they are the same for them.

Layers up to the first that changes from pixel to pixel become one colour; that one starts a
short list of operations; constant layers above it become one affine map where their mode is one.
"""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.kernels import blend
from wardrobe.core.composite.modes import PLUS_LIGHTER
from wardrobe.core.kernel import leaf
from wardrobe.core.layers.program import (
    COVER,
    COVERS_END,
    FLAT,
    GROUP,
    INKED,
    MODE,
    OWNER,
    REGISTER,
    SOFT,
    SOURCE,
    WHOLE,
)

SET, AFFINE, BLEND, MOVING = range(4)  # operations
WHAT, IN, LAYER, FROM = range(4)  # columns of one
NORMAL, MULTIPLY, SCREEN, OVERLAY = range(4)  # modes as in MODES
HARD_LIGHT, SOFT_LIGHT, EXCLUSION = 8, 9, 11

Ops = NDArray[np.int32]
Real = NDArray[np.float64]
Long = NDArray[np.int64]
Bytes = NDArray[np.uint8]


@leaf
def _share(keys: Bytes, kind: int, part: int, layer: int, steps: Long, covers: Long,
           strengths: Real) -> float:
    """How strongly a layer lies on a kind, as far as that is the same for all of its pixels."""
    if steps[layer, INKED] == 1 and keys[kind, 2] == 0:
        return 0.0
    share = strengths[layer, part]
    for k in range(steps[layer, COVER], steps[layer, COVERS_END]):
        level = keys[kind, 8 + covers[k, 0]]
        share *= (255 - level if covers[k, 1] else level) / 255.0
    return share


@leaf
def _affine(mode: int, share: float, s: float) -> tuple[float, float]:
    """A constant layer as ``a * b + c``; it is one in the modes for which this is asked."""
    if mode == HARD_LIGHT:
        mode, s = (MULTIPLY, 2 * s) if s <= 0.5 else (SCREEN, 2 * s - 1)
    if mode == NORMAL:
        return 1 - share, share * s
    if mode == MULTIPLY:
        return 1 - share + share * s, 0.0
    return 1 - share * s * (2.0 if mode == EXCLUSION else 1.0), share * s


@leaf
def _note(ops: Ops, values: NDArray[np.float32], n: int, what: int, register: int, layer: int,
          source: int, r: float, g: float, b: float, share: float) -> None:
    ops[n, WHAT], ops[n, IN], ops[n, LAYER], ops[n, FROM] = what, register, layer, source
    values[n, 0], values[n, 1], values[n, 2], values[n, 3] = r, g, b, share


@leaf
def _whole(v: float) -> float:
    return np.floor(v * 255 + 0.5) / 255


@leaf
def fold(keys: Bytes, kind: int, steps: Long, covers: Long, colours: Real, strengths: Real,
         order: Long, state: Real, ops: Ops, values: NDArray[np.float32], start: int) -> int:
    """Fold the layers of a kind.

    Parameters
    ----------
    keys : ndarray of uint8, shape (kinds, bytes)
        Part in bytes 0 and 1, ink in 2, levels from 8 on.
    kind, start : int
    steps, covers, colours, strengths, order
        Of the program.
    state : ndarray of float64, shape (2, 3)
        The colour so far, and that of a group.
    ops, values : ndarray, written from ``start`` on
        What, register, layer and source; and colour and share, or an affine map.

    Returns
    -------
    int
        Where the operations end. Without any, the colour is ``state[0]``.
    """
    part, n = int(keys[kind, 0]) + 256 * int(keys[kind, 1]), start
    moving, moving_group = False, False
    for i in range(order.shape[1]):
        layer = order[part, i]
        if layer < 0:
            break
        share = _share(keys, kind, part, layer, steps, covers, strengths)
        source, mode, register = steps[layer, SOURCE], steps[layer, MODE], steps[layer, REGISTER]
        if share == 0 or (register and _share(keys, kind, part, steps[layer, OWNER], steps,
                                              covers, strengths) == 0):
            continue
        r, g, b = colours[layer, part, 0], colours[layer, part, 1], colours[layer, part, 2]
        if source == GROUP:
            r, g, b = state[1, 0], state[1, 1], state[1, 2]
            if not moving_group:
                source = FLAT
                if steps[layer, WHOLE]:
                    r, g, b = _whole(r), _whole(g), _whole(b)
        on_moving = moving_group if register else moving
        if source != FLAT or steps[layer, SOFT] >= 0 or (steps[layer, INKED] and keys[kind, 2]):
            if not on_moving:
                _note(ops, values, n, SET, register, 0, 0, state[register, 0],
                      state[register, 1], state[register, 2], 0)
                n += 1
            _note(ops, values, n, MOVING, register, layer, source, r, g, b, share)
            n += 1
            on_moving = True
        elif mode == NORMAL and share == 1:  # hides what is below
            state[register, 0], state[register, 1], state[register, 2] = r, g, b
            on_moving = False
            n = n if register else start
        elif not on_moving:
            x, y, z = state[register, 0], state[register, 1], state[register, 2]
            if mode == PLUS_LIGHTER:
                x, y, z = min(1., x + share * r), min(1., y + share * g), min(1., z + share * b)
            else:
                if mode != NORMAL:
                    r, g, b = blend(x, y, z, r, g, b, mode)
                x, y, z = x + share * (r - x), y + share * (g - y), z + share * (b - z)
            state[register, 0], state[register, 1], state[register, 2] = x, y, z
        elif mode <= SCREEN or mode in (HARD_LIGHT, EXCLUSION):
            if ops[n - 1, WHAT] != AFFINE or ops[n - 1, IN] != register:
                _note(ops, values, n, AFFINE, register, 0, 0, 1, 1, 1, 0)
                values[n, 4], values[n, 5] = 0, 0
                n += 1
            for c in range(3):
                a, d = _affine(mode, share, r if c == 0 else g if c == 1 else b)
                values[n - 1, c] *= a
                values[n - 1, 3 + c] = a * values[n - 1, 3 + c] + d
        else:
            _note(ops, values, n, BLEND, register, layer, FLAT, r, g, b, share)
            n += 1
        if register:
            moving_group = on_moving
        else:
            moving = on_moving
    return n if moving else start
