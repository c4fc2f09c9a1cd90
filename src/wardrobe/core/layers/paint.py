"""Runs and layers to pixels."""

from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.kernels import blend
from wardrobe.core.composite.modes import PLUS_LIGHTER
from wardrobe.core.kernel import kernel, leaf
from wardrobe.core.layers.fold import (
    AFFINE,
    FROM,
    IN,
    LAYER,
    MOVING,
    MULTIPLY,
    NORMAL,
    OVERLAY,
    SCREEN,
    SET,
    SOFT_LIGHT,
    WHAT,
    Ops,
    fold,
)
from wardrobe.core.layers.layer import RAMP, Byte, Layer, Masks, words
from wardrobe.core.layers.origin import CORNER, Origin
from wardrobe.core.layers.program import (
    AT,
    FLAT,
    GROUP,
    INKED,
    LARGEST,
    MODE,
    PICTURE,
    RADIAL,
    REGISTER,
    SOFT,
    SOFT_2,
    WHOLE,
    Program,
    compile_layers,
)
from wardrobe.core.layers.runs import Runs, Strip
from wardrobe.core.parallel import each

F32 = np.float32
Real = NDArray[np.float32]

_CHUNK = 512  # pixels of a run that are worked out together: they stay in the nearest cache
_INK, _INK_IMAGE, _NO_PLANE = -1, -2, -3


def paint(runs: Runs, layers: Sequence[Layer],
          images: Mapping[str, Byte] = MappingProxyType({}),
          origin: Origin = CORNER) -> Byte:
    """Paint layers by runs.

    Parameters
    ----------
    runs : Runs
    layers : sequence of Layer
        Bottom to top.
    images : mapping of str to ndarray of uint8, shape (h, w, 4)
        Those that layers name.
    origin : Origin
        Where the view lies, for gradients.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
        Opaque sRGB.
    """
    program = compile_layers(layers, runs.keys, runs.soft_keys, images, origin)
    out = np.empty((*runs.shape, 3), np.uint8)

    def one(strip: Strip) -> None:
        _paint(strip.y, strip.starts, strip.ends, strip.kinds, strip.keys, program, runs.soft,
               runs.ink, out)

    each(one, runs.strips)
    return out


def colours_of(masks: Masks, layers: Sequence[Layer]) -> NDArray[np.float64]:
    """Colours of pixels whose levels alone decide them, before they are rounded to bytes.

    Parameters
    ----------
    masks : Masks
        Without ink, of shape (1, n).
    layers : sequence of Layer
        Without images, gradients and soft planes.

    Returns
    -------
    ndarray of float64, shape (n, 3), range 0..1
    """
    program = compile_layers(layers, masks.keys, (), {})
    packed = words(masks.levels)[0]
    keys = np.zeros((len(packed), 1 + packed.shape[1]), np.uint64)
    keys[:, 0], keys[:, 1:] = masks.parts[0], packed
    out = np.empty((len(keys), 3))
    _colours(keys, program, out)
    return out


@kernel
def _colours(keys: NDArray[np.uint64], p: Program, out: NDArray[np.float64]) -> None:
    room, state = 2 * len(p.steps) + 2, np.zeros((2, 3))
    ops, values = np.zeros((room, 4), np.int32), np.zeros((room, 6), F32)
    for kind in range(len(keys)):
        fold(keys.view(np.uint8), kind, p.steps, p.covers, p.colours, p.strengths, p.order, state,
             ops, values, 0)
        for c in range(3):
            out[kind, c] = state[0, c]


@leaf
def _lay(now: Real, src: Real, share: Real, n: int, mode: int) -> None:
    """Lay src on now, both of shape (3, _CHUNK)."""
    if mode <= OVERLAY or mode in (SOFT_LIGHT, PLUS_LIGHTER):
        for c in range(3):  # loops that the compiler turns into vector instructions
            if mode == NORMAL:
                for i in range(n):
                    now[c, i] += share[i] * (src[c, i] - now[c, i])
            elif mode == MULTIPLY:
                for i in range(n):
                    now[c, i] += share[i] * (src[c, i] - F32(1)) * now[c, i]
            elif mode == SCREEN:
                for i in range(n):
                    now[c, i] += share[i] * src[c, i] * (F32(1) - now[c, i])
            elif mode == OVERLAY:
                for i in range(n):
                    b, s = now[c, i], src[c, i]
                    over = F32(2) * b - F32(1)
                    laid = F32(2) * b * s if b <= F32(0.5) else s + over - s * over
                    now[c, i] += share[i] * (laid - b)
            elif mode == SOFT_LIGHT:
                for i in range(n):
                    b, over = min(F32(1), max(F32(0), now[c, i])), F32(2) * src[c, i] - F32(1)
                    d = ((F32(16) * b - F32(12)) * b + F32(4)) * b if b <= F32(0.25) \
                        else np.sqrt(b)
                    now[c, i] += share[i] * over * ((d - b) if over > 0 else b * (F32(1) - b))
            else:
                for i in range(n):
                    now[c, i] = min(F32(1), now[c, i] + share[i] * src[c, i])
        return
    for i in range(n):
        a = share[i]
        if a == 0:
            continue
        x, y, z = np.float64(now[0, i]), np.float64(now[1, i]), np.float64(now[2, i])
        r, g, b = blend(x, y, z, np.float64(src[0, i]), np.float64(src[1, i]),
                        np.float64(src[2, i]), mode)
        now[0, i] += a * (F32(r) - now[0, i])
        now[1, i] += a * (F32(g) - now[1, i])
        now[2, i] += a * (F32(b) - now[2, i])


@leaf
def _fetch(source: int, layer: int, y: int, x0: int, n: int, p: Program, src: Real,
           share: Real) -> None:
    """A source's colours, and its alpha times the share."""
    if source == PICTURE:
        texels = p.largest if p.steps[layer, AT] == LARGEST else p.texels
        width = p.places[layer, 2]
        u = (x0 - p.places[layer, 0]) % width
        row = max(0, p.steps[layer, AT]) + (y - p.places[layer, 1]) % p.places[layer, 3] * width
        for i in range(n):
            for c in range(3):
                src[c, i] = texels[row + u, c] / F32(255)
            share[i] *= texels[row + u, 3] / F32(255)
            u = u + 1 if u + 1 < width else 0
        return
    ramp, v = p.steps[layer, AT], p.corner[1] + y + 0.5
    g, a = p.geometry[layer, 0], p.geometry[layer, 1] * v + p.geometry[layer, 2]
    h, d = p.geometry[layer, 3], p.geometry[layer, 4] * v + p.geometry[layer, 5]
    for i in range(n):
        x = p.corner[0] + (x0 + i) + 0.5
        t = g * x + a
        if source == RADIAL:
            t = np.sqrt(t * t + (h * x + d) * (h * x + d))
        k = np.int32(min(1.0, max(0.0, t)) * (RAMP - 1) + 0.5)
        for c in range(3):
            src[c, i] = p.ramps[ramp, k, c]
        share[i] *= p.ramps[ramp, k, 3]


@leaf
def _by_ink(inked: int, ink: Byte, y: int, x0: int, n: int, share: Real) -> None:
    """Keep to the ink, or to what it leaves free."""
    if inked:
        for i in range(n):
            level = F32(ink[y, x0 + i]) / F32(255)
            share[i] *= level if inked == 1 else F32(1) - level


@leaf
def _there(plane: Byte, y: int, x0: int, n: int) -> bool:
    """Whether anything of a plane is there: glows and edges are nowhere for most of a picture."""
    most = np.uint8(0)
    for i in range(n):
        most |= plane[y, x0 + i]
    return bool(most > 0)


@leaf
def _between(y: int, x0: int, x1: int, values: Real, k: int, plane: Byte, out: Byte) -> None:
    """From one colour, values[k], to another, values[k + 1], by a plane: the commonest case."""
    top = values[k + 1, 3] / F32(255)
    r, g, b = values[k, 0] * F32(255), values[k, 1] * F32(255), values[k, 2] * F32(255)
    dr = values[k + 1, 0] * F32(255) - r
    dg = values[k + 1, 1] * F32(255) - g
    db = values[k + 1, 2] * F32(255) - b
    for x in range(x0, x1):
        a = plane[y, x] * top
        out[y, x, 0] = np.uint8(r + a * dr + F32(0.5))
        out[y, x, 1] = np.uint8(g + a * dg + F32(0.5))
        out[y, x, 2] = np.uint8(b + a * db + F32(0.5))


@leaf
def _image_by_ink(y: int, x0: int, x1: int, values: Real, k: int, layer: int, ink: Byte,
                  p: Program, out: Byte) -> None:
    """From one colour, values[k], to those of an image by the ink: coloured lines."""
    top, width = values[k + 1, 3] / (F32(255) * F32(255)), p.places[layer, 2]
    r, g, b = values[k, 0] * F32(255), values[k, 1] * F32(255), values[k, 2] * F32(255)
    texels = p.largest if p.steps[layer, AT] == LARGEST else p.texels
    row = max(0, p.steps[layer, AT]) + (y - p.places[layer, 1]) % p.places[layer, 3] * width
    u = (x0 - p.places[layer, 0]) % width
    for x in range(x0, x1):
        a = ink[y, x] * top * texels[row + u, 3]
        out[y, x, 0] = np.uint8(r + a * (texels[row + u, 0] - r) + F32(0.5))
        out[y, x, 1] = np.uint8(g + a * (texels[row + u, 1] - g) + F32(0.5))
        out[y, x, 2] = np.uint8(b + a * (texels[row + u, 2] - b) + F32(0.5))
        u = u + 1 if u + 1 < width else 0


@leaf
def _work_out(y: int, x0: int, x1: int, ops: Ops, values: Real, first: int, last: int,
              p: Program, soft: Byte, ink: Byte, now: Real, src: Real, share: Real,
              out: Byte) -> None:
    """Run the operations first..last over a run of at most _CHUNK pixels."""
    n = x1 - x0
    for k in range(first, last):
        what, register, layer, source = ops[k, WHAT], ops[k, IN], ops[k, LAYER], ops[k, FROM]
        if what == SET:
            for c in range(3):
                for i in range(n):
                    now[register, c, i] = values[k, c]
        elif what == AFFINE:
            for c in range(3):
                for i in range(n):
                    now[register, c, i] = values[k, c] * now[register, c, i] + values[k, 3 + c]
        elif what != MOVING or p.steps[layer, SOFT] < 0 \
                or _there(soft[p.steps[layer, SOFT]], y, x0, n):
            for i in range(n):
                share[i] = values[k, 3]
                if source == FLAT:
                    src[0, i], src[1, i], src[2, i] = values[k, 0], values[k, 1], values[k, 2]
            if source == GROUP:
                if p.steps[layer, WHOLE]:
                    for c in range(3):
                        for i in range(n):
                            now[1, c, i] = np.floor(now[1, c, i] * F32(255) + F32(0.5)) / F32(255)
            elif source != FLAT:
                _fetch(source, layer, y, x0, n, p, src, share)
            if what == MOVING:
                _by_ink(p.steps[layer, INKED], ink, y, x0, n, share)
                for j in range(SOFT, SOFT_2 + 1):
                    if p.steps[layer, j] >= 0:
                        for i in range(n):
                            share[i] *= soft[p.steps[layer, j], y, x0 + i] / F32(255)
            _lay(now[register], now[1] if source == GROUP else src, share, n, p.steps[layer, MODE])
    for i in range(n):
        for c in range(3):
            out[y, x0 + i, c] = np.uint8(min(F32(1), max(F32(0), now[0, c, i])) * F32(255)
                                         + F32(0.5))


@leaf
def _plane_of(ops: Ops, k: int, p: Program) -> int:
    """The soft plane by which a flat colour is laid down on normal, _INK, _INK_IMAGE for an image
    by the ink, or _NO_PLANE."""
    layer, source = ops[k, LAYER], ops[k, FROM]
    if ops[k, WHAT] != MOVING or p.steps[layer, MODE] or p.steps[layer, REGISTER] \
            or source not in (FLAT, PICTURE):
        return _NO_PLANE
    if source == PICTURE:
        return _INK_IMAGE if p.steps[layer, INKED] == 1 and p.steps[layer, SOFT] < 0 else _NO_PLANE
    if p.steps[layer, INKED] == 1:
        return _INK if p.steps[layer, SOFT] < 0 else _NO_PLANE
    return p.steps[layer, SOFT] if not p.steps[layer, INKED] and p.steps[layer, SOFT_2] < 0 \
        else _NO_PLANE


@kernel
def _paint(y0: int, starts: NDArray[np.int32], ends: NDArray[np.uint16], kinds: NDArray[np.int32],
           keys: NDArray[np.uint64], p: Program, soft: Byte, ink: Byte, out: Byte) -> None:
    """Fold the kinds of a strip, and paint its runs."""
    count, room, key_bytes = len(keys), 2 * len(p.steps) + 2, keys.view(np.uint8)
    first = np.zeros(count + 1, np.int32)
    plane_of = np.full(count, _NO_PLANE, np.int32)  # of kinds between two colours
    colours, state = np.empty((count, 3), np.uint8), np.zeros((2, 3))
    ops, values = np.zeros((4 * room, 4), np.int32), np.zeros((4 * room, 6), F32)
    for kind in range(count):
        at = first[kind]
        if at + room > len(ops):
            more, more_values = np.zeros((2 * len(ops), 4), np.int32), np.zeros((2 * len(ops), 6),
                                                                               F32)
            for k in range(at):  # a copy by slices takes longer to compile than all the rest
                for c in range(6):
                    more_values[k, c] = values[k, c]
                    more[k, c % 4] = ops[k, c % 4]
            ops, values = more, more_values
        end = fold(key_bytes, kind, p.steps, p.covers, p.colours, p.strengths, p.order, state, ops,
                   values, at)
        first[kind + 1] = end
        if end == at:
            for c in range(3):
                colours[kind, c] = np.uint8(state[0, c] * 255 + 0.5)
        elif end == at + 2:
            plane_of[kind] = _plane_of(ops, at + 1, p)
    now, src, share = np.empty((2, 3, _CHUNK), F32), np.empty((3, _CHUNK), F32), np.empty(_CHUNK,
                                                                                       F32)
    for row in range(len(starts) - 1):
        y, x = y0 + row, 0
        for run in range(starts[row], starts[row + 1]):
            kind, end = int(kinds[run]), int(ends[run])
            if first[kind] == first[kind + 1]:
                r, g, b = colours[kind, 0], colours[kind, 1], colours[kind, 2]
                for i in range(x, end):
                    out[y, i, 0], out[y, i, 1], out[y, i, 2] = r, g, b
                x = end
            elif plane_of[kind] > _NO_PLANE:
                if plane_of[kind] == _INK_IMAGE:
                    _image_by_ink(y, x, end, values, first[kind], ops[first[kind] + 1, LAYER], ink,
                                  p, out)
                elif plane_of[kind] == _INK:
                    _between(y, x, end, values, first[kind], ink, out)
                else:
                    _between(y, x, end, values, first[kind], soft[plane_of[kind]], out)
                x = end
            while x < end:
                stop = min(end, x + _CHUNK)
                _work_out(y, x, stop, ops, values, first[kind], first[kind + 1], p, soft, ink, now,
                          src, share, out)
                x = stop
