"""Draw the shapes of the passes of a figure under a light."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.materials import Material
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.simplify import ISLAND_LINE_WIDTHS_SQUARED, simplify
from wardrobe.core.passes.table import LIT, PASSES

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

SHADE_SHARE = 0.38  # of a ball, common practice
# Shares of a ball that are darker than where a tone begins; those but the shade's are common
# practice, no published source.
DARK_SHARES = {"deep shade": 0.13, "shade": SHADE_SHARE, "low light": 0.47, "half light": 0.58,
               "soft shade": 0.66, "gradient": 0.98}
# Squared line widths under which a piece of a shape is dropped.
_ISLANDS = {"light": 8.0, "glint": 2.5, "deep shade": 2 * ISLAND_LINE_WIDTHS_SQUARED}
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


def draw_shapes(form: Form, key: KeyLight, part_of_form: NDArray[np.uint16],
                materials: list[Material],
                wanted: Sequence[str] = ("shade", "light")) -> Shapes:
    """The shapes of passes, simplified as an illustrator would draw them.

    Parameters
    ----------
    form : Form
    key : KeyLight
    part_of_form : ndarray of uint16, shape (forms + 1,)
    materials : list of Material
        By part; entry 0, the ground, is not used.
    wanted : sequence of str
        Keys of passes.

    Returns
    -------
    Shapes

    References
    ----------
    J. H. Lambert, "Photometria", 1760: light received goes with the cosine N.L.
    J. F. Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977.
    """
    vector, half = key.vector(), key.halfway()
    owners = [materials[part] for part in part_of_form]
    offset = np.array([m.shade_offset for m in owners], np.float32)
    glossy = np.array([m.glossy for m in owners])
    starts = {name: np.float32(ball_quantile(round(float(vector[2]), 4), share)) + offset
              for name, share in DARK_SHARES.items()}
    inset = max(1.0, 0.9 * form.grid.line_width)
    received, shine = _measure(form.labels, form.normals, vector, half, glossy, starts["shade"],
                               form.edge, inset)
    lw = form.grid.line_width

    def draw(name: str) -> Real:
        islands = _ISLANDS.get(name, ISLAND_LINE_WIDTHS_SQUARED)
        if name in LIT:
            tops = np.array([_top(m, name, half, vector) for m in owners], np.float32)
            raw = _lit(form, shine, tops, part_of_form, max(12.0, islands * lw**2))
            return simplify(raw, form.labels, lw, islands, close=False)
        if PASSES[name].soft:
            return _ramp(form.labels, received, starts[name], starts["shade"])
        return simplify(_below(form.labels, received, starts[name]), form.labels, lw, islands)

    fields = [draw(name) for name in wanted]
    return Shapes(tuple(wanted), np.stack(fields) if fields
                  else np.zeros((0, *form.labels.shape), np.float32))


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
