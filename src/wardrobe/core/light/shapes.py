"""Draw the shapes of the passes of a figure under a light."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.cast import LEAST_LIFT, MOST_LIFT, cast_shadow
from wardrobe.core.light.gleam import eye_glints, mirror_horizon, reflect
from wardrobe.core.light.lit import draw_lit, shine_counts
from wardrobe.core.light.rig import RIM_WIDTH, KeyLight
from wardrobe.core.light.simplify import (
    ISLAND_LINE_WIDTHS_SQUARED,
    Simplicity,
    blur_sigma,
    simplify,
)
from wardrobe.core.light.subject import Subject
from wardrobe.core.parallel import each
from wardrobe.core.words.parts import USUAL_LIFT

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

SHADE_SHARE = 0.38  # of a ball, common practice
_BOUNCED = 0.82  # cosine from which bounced light is seen
_SWALLOWED = 3.0  # line widths: forms that are thinner may lie in a shadow as a whole
_MOST_COVERED = 0.75  # of the way to the middle of a form that a shadow reaches
_NONE = -2.0  # below every cosine: here no light can lie
_RECEDED = np.float32(0.01)  # cosine below the edge of the shade: in shade, not in the deep one
_SOFTEST = 6.0  # line widths: standard deviation of the softest edge


@dataclass(frozen=True)
class Shapes:
    """Fields on the form's grid, one a pass.

    Attributes
    ----------
    keys : tuple of str
        Passes, in the order of the fields.
    fields : ndarray of float32, shape (passes, height, width), range 0..1
        The 0.5 level of a field is the edge of its shape; a soft shape is the field itself.
    soft : ndarray of float32, shape (passes, forms + 1), range 0..1
        How soft the edges of each pass are on each form.
    """

    keys: tuple[str, ...]
    fields: Real
    soft: Real


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
    rim_width: float = RIM_WIDTH
    amount: float = SHADE_SHARE
    simple: float = 0.0
    lift: Real | None = None


@dataclass(frozen=True)
class Scene:
    """What shapes are drawn from: a figure under its lights.

    Attributes
    ----------
    subject : Subject
    rig : Rig
    received, shine : ndarray of float32, shape (height, width)
        Cosine of the light, and, in the lit inside of forms, of the halfway vector.
    counts : ndarray of int64
        As :func:`~wardrobe.core.light.lit.shine_counts` gives them.
    cast, near : ndarray of uint8, shape (height, width)
        Where a shadow is thrown, and where its caster is near.
    simple : Simplicity
    """

    subject: Subject
    rig: Rig
    received: Real
    shine: Real
    counts: NDArray[np.int64]
    cast: Byte
    near: Byte
    simple: Simplicity

    @property
    def labels(self) -> NDArray[np.int32]:
        """Form of each grid pixel."""
        return self.subject.form.labels

    def start(self, share: float) -> Real:
        """Cosine by form below which a tone lies that has this share of a ball."""
        return shade_starts(self.subject, self.rig, share)

    def below(self, start: Real) -> Byte:
        """Where less light is received, with the reflections of what is polished."""
        raw = _below(self.labels, self.received, start)
        polished = self.subject.gleaming("polish") & ~self.subject.recedes
        if polished.any():
            vector = self.rig.key.vector()
            far_x, far_y = (float(v) / max(1e-3, float(np.hypot(*vector[:2])))
                            for v in vector[:2])
            reflect(self.labels, self.subject.form.normals, polished, far_x, far_y, raw)
        return raw

    def simplified(self, raw: Byte, islands: float = ISLAND_LINE_WIDTHS_SQUARED,
                   close: bool = True, simple: Simplicity | None = None) -> Real:
        """A shape as an illustrator would draw it, without pieces under so many squared line
        widths."""
        return simplify(raw, self.labels, self.subject.form.grid.line_width, islands, close=close,
                        simple=simple or self.simple)


@dataclass(frozen=True)
class Shape:
    """How the shape of a pass is drawn.

    Attributes
    ----------
    draw : callable
        Gives its field on the form's grid.
    eyes : str or None
        Whether the glint of an eye is in it, or left out; None where it makes no difference.
    """

    draw: Callable[[Scene], Real]
    eyes: Literal["in", "out"] | None = "out"


def tone(share: float) -> Shape:
    """What this share of a ball has turned from the light, and the shadows that are thrown."""
    return Shape(lambda s: s.simplified(s.below(s.start(share)) | s.cast))


def ramp(share: float) -> Shape:
    """A gradient from where a tone of this share begins to the edge of the shade."""
    return Shape(lambda s: _ramp(s.labels, s.received, s.start(share), s.start(SHADE_SHARE)))


def deep(share: float) -> Shape:
    """The darkest; next to its caster a cast shadow is deep where the form itself turns away."""
    def draw(s: Scene) -> Real:
        raw = s.below(s.start(share))
        raw |= s.near & _below(s.labels, s.received, s.start(SHADE_SHARE) + np.float32(0.12))
        return s.simplified(raw, 2 * ISLAND_LINE_WIDTHS_SQUARED)
    return Shape(draw)


def bounced(share: float) -> Shape:
    """Where the bounce light falls into the shade."""
    return Shape(lambda s: s.simplified(
        s.below(s.start(share)) & _facing(s.subject.form, s.rig.bounce), 8.0))


def highlight(name: str, islands: float) -> Shape:
    """The light or the glint of materials."""
    def draw(s: Scene) -> Real:
        lw = s.subject.form.grid.line_width
        raw = draw_lit(s.subject, s.rig.key, name, s.received, s.shine, s.counts,
                       s.start(SHADE_SHARE), max(8.0, islands * lw**2))
        return s.simplified(raw, islands, close=False)
    return Shape(draw, "in")


def rim(islands: float) -> Shape:
    """Along the silhouette, where it turns to the rim light."""
    return Shape(lambda s: s.simplified(_rim(s.subject.form, s.rig), islands, False,
                                        Simplicity(reach=0.3)), None)


CAST = Shape(lambda s: s.simplified(s.cast), None)  # the part of the shade that is thrown


def draw_shapes(subject: Subject, rig: Rig, wanted: Mapping[str, Shape],
                softness: Mapping[str, float] = MappingProxyType({})) -> Shapes:
    """The shapes of passes, simplified as an illustrator would draw them.

    Parameters
    ----------
    subject : Subject
    rig : Rig
    wanted : mapping of str to Shape
        By the keys of passes.
    softness : mapping of str to float, 0..1
        Of passes whose edges are softer than those of the forms that they lie on.

    Returns
    -------
    Shapes

    References
    ----------
    J. H. Lambert, "Photometria", 1760: light received goes with the cosine N.L.
    J. F. Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977.
    """
    form, lw = subject.form, subject.form.grid.line_width
    received, shine = _measure(
        form.labels, form.normals, rig.key.vector(), rig.key.halfway(),
        shade_starts(subject, rig, SHADE_SHARE), form.edge, max(1.0, 0.9 * lw))
    if subject.recedes.any():
        back = subject.recedes[form.labels]
        received[back] = shade_starts(subject, rig, SHADE_SHARE)[form.labels[back]] - _RECEDED
        shine[back] = _NONE
    mirrors = subject.gleaming("horizon") & ~subject.recedes
    if mirrors.any():
        there = mirrors[form.labels] & (form.labels > 0)
        received[there] = mirror_horizon(form.normals[there])
        shine[there & (received < shade_starts(subject, rig, SHADE_SHARE)[form.labels])] = _NONE
    cast, near = cast_shadow(form.labels, form.depth, lifts_of(subject, rig), rig.key)
    cast |= subject.lids
    shine[cast > 0] = _NONE
    scene = Scene(subject, rig, received, shine,
                  shine_counts(form.labels, shine, len(subject.room)), cast, near,
                  Simplicity.of(rig.simple))
    glints = eye_glints(subject, rig.key)
    # As steep as the edges of other shapes.
    disc = None if glints is None else np.clip(
        0.5 + glints / (blur_sigma(lw) * np.float32(np.sqrt(2 * np.pi))), 0, 1)

    soft = np.stack([np.maximum(subject.soft, np.float32(softness.get(key, 0)))
                     for key in wanted]) if wanted else np.zeros((0, len(subject.soft)), np.float32)

    def finished(k: int) -> Real:
        shape = shapes[k]
        field = shape.draw(scene)
        if shape.eyes == "in" and subject.recedes.any():  # a band across hair lies on its skull
            field = np.where(subject.recedes[form.labels], np.float32(0), field)
        field = _softened(field, subject, soft[k])
        if disc is None or shape.eyes is None:
            return field
        return np.maximum(field, disc) if shape.eyes == "in" else np.minimum(field, 1 - disc)

    shapes = list(wanted.values())
    fields = each(finished, range(len(shapes)))
    return Shapes(tuple(wanted), np.stack(fields) if fields
                  else np.zeros((0, *form.labels.shape), np.float32), soft)


def shade_starts(subject: Subject, rig: Rig, share: float) -> Real:
    """The value of N.L below which each form is in shade, shape (forms + 1,)."""
    offset = np.array([m.shade_offset for m in subject.materials], np.float32)
    sine = float(rig.key.vector()[2])
    return np.float32(ball_quantile(sine, _scaled(share, rig.amount))) + offset


def _softened(field: Real, subject: Subject, soft: Real) -> Real:
    """Blur the field inside the forms whose edges are soft, each on its own."""
    form = subject.form
    if not soft.any():
        return field
    field = field.copy()
    for label, box in enumerate(subject.boxes, start=1):
        if box is None or not soft[label]:
            continue
        inside = (form.labels[box] == label).astype(np.float32)
        sigma = _SOFTEST * form.grid.line_width * float(soft[label])
        blurred, share = (cv2.GaussianBlur(image, (0, 0), sigma, borderType=cv2.BORDER_CONSTANT)
                          for image in (field[box] * inside, inside))
        np.divide(blurred, share, out=field[box], where=inside > 0)
    return field


def _scaled(share: float, amount: float) -> float:
    """The share of a ball for a tone, if more or less of it is in shade than usual."""
    if share <= SHADE_SHARE:
        return share * amount / SHADE_SHARE
    return 1 - (1 - share) * (1 - amount) / (1 - SHADE_SHARE)


def lifts_of(subject: Subject, rig: Rig) -> Real:
    """How far forms stand off each other, in grid pixels: never more than half as far as they
    are thick."""
    lw, thick = subject.form.grid.line_width, subject.room
    most = np.clip(0.5 * thick, LEAST_LIFT * lw, MOST_LIFT * lw).astype(np.float32)
    lift = np.full((len(thick), len(thick)), USUAL_LIFT, np.float32) if rig.lift is None \
        else rig.lift
    # Nor does a shadow swallow a form that is larger than a few lines: part of it stays lit.
    low = np.tan(np.radians(max(1.0, rig.key.height)))
    room = np.where(thick > _SWALLOWED * lw, _MOST_COVERED * thick * low, np.inf)
    result: Real = np.minimum(np.minimum(lift * lw, most[:, None]), room[None, :])
    return result.astype(np.float32)


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
             terminator: Real, edge: Real, inset: float) -> tuple[Real, Real]:
    """The cosine of the light received; and, in the lit inside of each form, that of the halfway
    vector."""
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
                shine[y, x] = n[0] * half[0] + n[1] * half[1] + n[2] * half[2]
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
