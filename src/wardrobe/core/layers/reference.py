"""The readable twin of the painted picture: layer by layer, in float64."""

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.modes import MODES, PLUS_LIGHTER
from wardrobe.core.layers.layer import INK, RAMP, Byte, Flat, Gradient, Image, Layer, Masks
from wardrobe.core.layers.origin import CORNER, Origin

Real = NDArray[np.float64]


def lay_all(masks: Masks, layers: Sequence[Layer], images: Mapping[str, Byte],
            origin: Origin = CORNER) -> Real:
    """The picture of layers by masks, shape (height, width, 3), range 0..1.

    W3C Compositing and Blending Level 1 on an opaque canvas.
    """
    shape = (*masks.parts.shape, 3)
    picture, group = np.zeros(shape), np.zeros(shape)
    for layer in layers:
        colour, alpha = _source(layer, masks, images, group, origin)
        share = layer.strength[masks.parts][..., None] * alpha
        for name, outside in layer.shape:
            level = (masks.ink if name == INK else masks.level(name))[..., None] / 255
            share = share * (1 - level if outside else level)
        for name in layer.soft:
            share = share * masks.soft[name][..., None] / 255
        below = group if layer.grouped else picture
        mode = MODES[layer.mode]
        if mode.code == PLUS_LIGHTER:
            laid = np.minimum(1, below + share * colour)
        else:
            laid = below + share * (mode.blend(below, colour) - below)
        if layer.grouped:
            group = laid
        else:
            picture = laid
    return picture


def _source(layer: Layer, masks: Masks, images: Mapping[str, Byte], group: Real,
            origin: Origin) -> tuple[Real, Real]:
    """Colour and alpha of a layer's source at every pixel."""
    source, (height, width) = layer.source, masks.parts.shape
    opaque = np.ones((height, width, 1))
    if isinstance(source, Flat):
        return source.colours[masks.parts] / 255, opaque
    if isinstance(source, Image):
        pixels = images[source.name]
        rows = (np.arange(height) - source.y) % pixels.shape[0]
        columns = (np.arange(width) - source.x) % pixels.shape[1]
        rgba = pixels[rows][:, columns] / 255
        return rgba[..., :3], rgba[..., 3:]
    if isinstance(source, Gradient):
        y, x = (np.mgrid[:height, :width] + 0.5
                + np.array([origin.y, origin.x])[:, None, None]) / origin.scale
        along = [a * x + b * y + c for a, b, c in source.rows]
        at = along[0] if len(along) == 1 else np.hypot(*along)
        at = np.floor(np.clip(at, 0, 1) * (RAMP - 1) + 0.5) / (RAMP - 1)
        t, stops = zip(*source.stops, strict=True)
        rgba = np.stack([np.interp(at, t, [s[k] for s in stops]) for k in range(4)], -1)
        rgba = np.floor(rgba + 0.5) / 255
        return rgba[..., :3], rgba[..., 3:]
    return np.floor(group * 255 + 0.5) / 255 if source.whole else group, opaque
