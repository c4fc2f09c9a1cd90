"""Draw the shapes of the passes of a figure under a light."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.cast import LEAST_LIFT, MOST_LIFT, cast_shadow
from wardrobe.core.light.materials import Material
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.simplify import ISLAND_LINE_WIDTHS_SQUARED, Simplicity, simplify
from wardrobe.core.passes.table import LIT, PASSES

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

SHADE_SHARE = 0.38  # of a ball, common practice
# Shares of a ball that are darker than where a tone begins; those but the shade's are common
# practice, no published source.
DARK_SHARES = {"deep shade": 0.13, "shade": SHADE_SHARE, "low light": 0.47, "half light": 0.58,
               "soft shade": 0.66, "gradient": 0.98, "bounce": SHADE_SHARE}
# Squared line widths under which a piece of a shape is dropped.
_ISLANDS = {"rim": 3.0, "bounce": 8.0, "light": 8.0, "glint": 2.5,
            "deep shade": 2 * ISLAND_LINE_WIDTHS_SQUARED}
USUAL_LIFT = 3.5  # line widths that a form stands off what it lies on
_BOUNCED = 0.82  # cosine from which bounced light is seen
_NONE = -2.0  # below every cosine: here no light can lie


@dataclass(frozen=True)
class Shapes:
    """Fields on the form's grid, one a pass.

    Attributes
    ----------
    keys : tuple of str
        Passes, in the order of the fields.
    fields : ndarray of float32, shape (passes, height, width), range 0..1
        The 0.5 level of a field is the edge of its shape; a soft shape is the field itself.
    """

    keys: tuple[str, ...]
    fields: Real


@dataclass(frozen=True)
class Rig:
    """All lights, and how their shapes are drawn.

    Attributes
    ----------
    key : KeyLight
    rim, bounce : KeyLight or None
        A light from behind along one side, and what comes back from the surroundings.
    rim_width : float
        Line widths.
    amount : float, 0..1
        Share of a ball that is in shade.
    simple : float, 0..1
        How far shapes are simplified: 0 as usual.
    lift : ndarray of float32, shape (forms + 1, forms + 1) or None
        How far each form (row) stands off each other (column), in line widths; None for the
        usual everywhere, 0 for no cast shadow.
    """

    key: KeyLight
    rim: KeyLight | None = None
    bounce: KeyLight | None = None
    rim_width: float = 2.6
    amount: float = SHADE_SHARE
    simple: float = 0.0
    lift: Real | None = None


def draw_shapes(form: Form, rig: Rig, part_of_form: NDArray[np.uint16],
                materials: list[Material],
                wanted: Sequence[str] = ("shade", "light")) -> Shapes:
    """The shapes of passes, simplified as an illustrator would draw them.

    Parameters
    ----------
    form : Form
    rig : Rig
    part_of_form : ndarray of uint16, shape (forms + 1,)
    materials : list of Material
        By part; entry 0, the ground, is not used.
    wanted : sequence of str
        Keys of passes; also ``cast`` for the part of the shade that is thrown.

    Returns
    -------
    Shapes

    References
    ----------
    J. H. Lambert, "Photometria", 1760: light received goes with the cosine N.L.
    J. F. Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977.
    """
    vector, half = rig.key.vector(), rig.key.halfway()
    owners = [materials[part] for part in part_of_form]
    offset = np.array([m.shade_offset for m in owners], np.float32)
    glossy = np.array([m.glossy for m in owners])
    sine = round(float(vector[2]), 4)
    starts = {name: np.float32(ball_quantile(sine, _scaled(share, rig.amount))) + offset
              for name, share in DARK_SHARES.items()}
    lw = form.grid.line_width
    inset = max(1.0, 0.9 * lw)
    received, shine = _measure(form.labels, form.normals, vector, half, glossy, starts["shade"],
                               form.edge, inset)
    cast, near = cast_shadow(form.labels, form.depth, _lifts(form, rig), rig.key)
    shine[cast > 0] = _NONE
    simple = Simplicity.of(rig.simple)

    def draw(name: str) -> Real:
        islands = _ISLANDS.get(name, ISLAND_LINE_WIDTHS_SQUARED)
        if name in LIT:
            tops = np.array([_top(m, name, half, vector) for m in owners], np.float32)
            raw = _lit(form, shine, tops, part_of_form, max(12.0, islands * lw**2))
            return simplify(raw, form.labels, lw, islands, close=False, simple=simple)
        if name == "rim":
            return simplify(_rim(form, rig), form.labels, lw, islands, close=False,
                            simple=Simplicity(reach=0.3))
        if name == "cast":
            return simplify(cast, form.labels, lw, islands, simple=simple)
        if PASSES[name].soft:
            return _ramp(form.labels, received, starts[name], starts["shade"])
        raw = _below(form.labels, received, starts[name])
        if name == "deep shade":
            # Next to its caster a cast shadow is deep where the form itself turns away.
            raw |= near & _below(form.labels, received, starts["shade"] + np.float32(0.12))
        elif name == "bounce":
            raw &= _facing(form, rig.bounce)
        else:
            raw |= cast
        return simplify(raw, form.labels, lw, islands, simple=simple)

    fields = [draw(name) for name in wanted]
    return Shapes(tuple(wanted), np.stack(fields) if fields
                  else np.zeros((0, *form.labels.shape), np.float32))


def _scaled(share: float, amount: float) -> float:
    """The share of a ball for a tone, if more or less of it is in shade than usual."""
    if share <= SHADE_SHARE:
        return share * amount / SHADE_SHARE
    return 1 - (1 - share) * (1 - amount) / (1 - SHADE_SHARE)


def _lifts(form: Form, rig: Rig) -> Real:
    """How far forms stand off each other, in grid pixels: never more than half as far as they
    are thick."""
    lw = form.grid.line_width
    thick = np.zeros(len(form.depth), np.float32)
    np.maximum.at(thick, form.labels, form.edge)
    most = np.clip(0.5 * thick, LEAST_LIFT * lw, MOST_LIFT * lw).astype(np.float32)
    lift = np.full((len(thick), len(thick)), USUAL_LIFT, np.float32) if rig.lift is None \
        else rig.lift
    result: Real = np.minimum(lift * np.float32(lw), most[:, None])
    return result


def _rim(form: Form, rig: Rig) -> Byte:
    """Along the silhouette, where the form turns to the rim light; wider the more it does."""
    if rig.rim is None:
        return np.zeros(form.labels.shape, np.uint8)
    turned = (form.normals @ rig.rim.vector() - np.float32(0.25)) / np.float32(0.6)
    width = np.float32(max(1.2, rig.rim_width * form.grid.line_width)) * np.clip(turned, 0, 1)
    return ((form.labels > 0) & (form.outside < width)).astype(np.uint8)


def _facing(form: Form, bounce: KeyLight | None) -> Byte:
    if bounce is None:
        return np.zeros(form.labels.shape, np.uint8)
    return (form.normals @ bounce.vector() > _BOUNCED).astype(np.uint8)


@kernel
def _measure(labels: NDArray[np.int32], normals: Real, vector: Real, half: Real,
             glossy: NDArray[np.bool_], terminator: Real, edge: Real,
             inset: float) -> tuple[Real, Real]:
    """The cosine of the light received; and, in the lit inside of each form, the cosine that its
    light shape follows."""
    height, width = labels.shape
    received = np.zeros((height, width), np.float32)
    shine = np.full((height, width), np.float32(-2))
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form == 0:
                continue
            n = normals[y, x]
            cosine = n[0] * vector[0] + n[1] * vector[1] + n[2] * vector[2]
            received[y, x] = cosine
            if cosine >= terminator[form] and edge[y, x] > inset:
                mirrored = n[0] * half[0] + n[1] * half[1] + n[2] * half[2]
                shine[y, x] = mirrored if glossy[form] else cosine
    return received, shine


@kernel
def _below(labels: NDArray[np.int32], received: Real, start: Real) -> Byte:
    height, width = labels.shape
    out = np.zeros((height, width), np.uint8)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form and received[y, x] < start[form]:
                out[y, x] = 1
    return out


@kernel
def _ramp(labels: NDArray[np.int32], received: Real, start: Real, end: Real) -> Real:
    """From 0 where the light is at ``start`` to 1 where it has fallen to ``end``, eased."""
    height, width = labels.shape
    out = np.zeros((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form:
                t = (start[form] - received[y, x]) / (start[form] - end[form])
                t = min(1.0, max(0.0, t))
                out[y, x] = t * t * (3 - 2 * t)
    return out


def _top(material: Material, name: str, half: Real, vector: Real) -> float:
    """The cosine above which a material's light or glint lies; above 1 if it has none."""
    share = material.light_share if name == "light" else material.glint_share
    if share == 0:
        return 2.0
    sine = float((half if material.glossy else vector)[2])
    return ball_quantile(round(sine, 4), 1 - share)


def _lit(form: Form, shine: Real, tops: Real, part_of_form: NDArray[np.uint16],
         least: float) -> Byte:
    raw, pixels = _above(form.labels, shine, tops)
    if _reach_every_part(tops, pixels, form.labels, shine, part_of_form, least):
        raw, _ = _above(form.labels, shine, tops)
    return raw


@kernel
def _above(labels: NDArray[np.int32], shine: Real,
           tops: Real) -> tuple[Byte, NDArray[np.int64]]:
    """Where the shine is above a threshold, and its pixels by form."""
    height, width = labels.shape
    shape = np.zeros((height, width), np.uint8)
    pixels = np.zeros(tops.size, np.int64)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if form and shine[y, x] > tops[form]:
                shape[y, x] = 1
                pixels[form] += 1
    return shape, pixels


def _reach_every_part(tops: Real, pixels: NDArray[np.int64], labels: NDArray[np.int32],
                      shine: Real, part_of_form: NDArray[np.uint16], least: float) -> bool:
    """Lower thresholds, in place, so that a part of any size gets some light; True if it did."""
    changed = False
    sizes = np.bincount(labels.ravel(), minlength=len(tops))
    for part in np.unique(part_of_form[part_of_form > 0]):
        forms = np.flatnonzero((part_of_form == part) & (tops < 1.5))
        if len(forms) == 0:
            continue
        form = forms[np.argmax(sizes[forms])]
        if pixels[forms].max() >= least or sizes[form] < 12 * least:
            continue
        inner = shine[labels == form]
        inner = inner[inner > _NONE]
        if len(inner) > 2 * least:
            tops[form] = np.quantile(inner, 1 - 2 * least / len(inner))
            changed = True
    return changed
