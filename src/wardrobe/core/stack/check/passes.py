"""Passes: shade darkens, light brightens, and all of it by one light."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.modes import luminosity_of
from wardrobe.core.composite.reference import composite
from wardrobe.core.form import Traits, solve_form
from wardrobe.core.light.audit import ASTRAY, CLEAR, audit_light
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.lines.width import line_width
from wardrobe.core.stack.check.canvas import Canvas, alpha_on, where_on
from wardrobe.core.stack.check.finding import StackFinding, about, box_of
from wardrobe.core.stack.model import Layer
from wardrobe.core.stack.roles import Placed

_SAMPLE = 4000
_CHANGE = 0.01  # of luminosity, that counts as the wrong way
_SURELY = max(CLEAR, 0.65)  # forms of a file from elsewhere are guessed from its flats alone
_AUDIT_EDGE = 1024  # px of the longer edge that the light is judged at


def check_direction(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """A shade must darken what it lies on, a light brighten it."""
    flats = [p for p in layers if p.role == "flat" and p.shown]
    own = {p.group for p in flats}
    for placed in layers:
        if placed.role not in ("shade", "light") or not placed.shown:
            continue
        if placed.laid != placed.layer.mode and placed.role == "light":
            continue  # a tone that takes off the shade of the group around it
        under = [p.layer for p in flats if p.order < placed.order
                 and (placed.group not in own or placed.group in (p.group, 0))]
        if not under:
            continue
        change, count = _change(placed, under, canvas.shape)
        wrong = change > _CHANGE if placed.role == "shade" else change < -_CHANGE
        if count and wrong:
            yield about(placed, f"{placed.role}-wrong-way", count,
                        "A shade that is brighter than what it lies on."
                        if placed.role == "shade" else
                        "A light that is darker than what it lies on.")


def _change(placed: Placed, bases: list[Layer], shape: tuple[int, int]) -> tuple[float, int]:
    """Mean change of luminosity where a layer is painted on its bases, from a sample."""
    where, alpha = alpha_on(placed, shape)
    ys, xs = np.nonzero(alpha > 127)
    if not len(ys):
        return 0.0, 0
    pick = np.random.default_rng(0).permutation(len(ys))[:_SAMPLE]
    ys, xs = ys[pick] + where[0].start, xs[pick] + where[1].start
    backdrop = np.zeros((len(ys), 4))
    for base in bases:
        backdrop = composite(backdrop, _at(base, ys, xs), "normal", base.opacity)
    solid = backdrop[:, 3] > 0.5
    if not solid.any():
        return 0.0, 0
    mode = placed.laid
    laid = composite(backdrop, _at(placed.layer, ys, xs), mode, placed.layer.opacity)
    change = luminosity_of(laid[solid, :3]) - luminosity_of(backdrop[solid, :3])
    return float(change.mean()), int(solid.sum())


def _at(layer: Layer, ys: NDArray[np.int64], xs: NDArray[np.int64]) -> NDArray[np.float64]:
    """A layer's pixels at places of the canvas; clear outside."""
    height, width = layer.shape
    v, u = ys - layer.y, xs - layer.x
    inside = (v >= 0) & (u >= 0) & (v < height) & (u < width)
    out = np.zeros((len(ys), 4))
    if isinstance(layer.paint, np.ndarray):
        out[inside] = layer.paint[v[inside], u[inside]] / 255
    else:
        out[:, :3] = np.array(layer.paint.colour) / 255
        out[inside, 3] = layer.paint.alpha[v[inside], u[inside]] / 255
    return out


def check_light(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Flats whose shade says that the light comes from elsewhere than the others' do."""
    step = max(1, round(max(canvas.shape) / _AUDIT_EDGE))
    owners = np.zeros(canvas.shape, np.uint16)
    dark = np.zeros(canvas.shape, bool)
    flats: list[Placed] = []
    for placed in layers:
        if not placed.shown or placed.role not in ("flat", "shade"):
            continue
        where, alpha = alpha_on(placed, canvas.shape)
        if placed.role == "flat":
            flats.append(placed)
            owners[where][alpha > 127] = len(flats)
        else:
            dark[where] |= alpha > 127
    if len(flats) < 3 or not dark.any():
        return
    labels = np.ascontiguousarray(owners[::step, ::step])
    ink = np.ascontiguousarray(canvas.lines[::step, ::step]).astype(np.uint8) * np.uint8(255)
    figure = np.zeros(len(flats) + 1, bool)
    figure[1:] = True
    width = line_width(ink) if ink.any() else max(3.0, max(labels.shape) / 300)
    form = solve_form(labels, ink, width, Traits.usual(figure, MATERIALS["matte cloth"].fold))
    told = audit_light(form.normals, form.grid.nearest(labels), form.grid.nearest(
        np.ascontiguousarray(dark[::step, ::step]).astype(np.uint16)) > 0)
    if len(told) < 3:
        return
    angles = np.radians([t.azimuth for t in told])
    weights = np.array([t.confidence for t in told])
    shared = np.degrees(np.arctan2((weights * np.sin(angles)).sum(),
                                   (weights * np.cos(angles)).sum())) % 360
    for one in told:
        away = (one.azimuth - shared + 180) % 360 - 180
        if one.clear >= _SURELY and abs(away) > ASTRAY:
            flat = flats[one.label - 1]
            where, alpha = where_on(flat.layer, canvas.shape)
            yield about(flat, "light-disagrees", round(abs(away)), f"Its shade says that the light "
                        f"comes from {one.azimuth:.0f}°, the others say {shared:.0f}°.",
                        box_of(alpha > 127, where[1].start, where[0].start))
