"""What the shapes of light depend on beside the light: form, materials, eyes, the skull."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.form import Form
from wardrobe.core.light.materials import Gleam, Material
from wardrobe.core.words.parts import Role

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

# Common practice, no published source: the upper lid shades about a third of the eye.
_LID_SHARE = 0.3
_BRIDGED = 5.0  # line widths: bands across the hair up to twice as wide do not divide the head
_SMALLEST_SKULL = 4.0  # line widths
_HAIRY = 0.12  # share of hair around the middle of a head
_HEAD_TURN, _HEAD_REACH = 0.45, 1.35


@dataclass(frozen=True)
class Disc:
    """A disc on the form's grid: where it is, in grid pixels."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Surface:
    """How one part takes light.

    Attributes
    ----------
    material : Material
    role : Role or None
        What its name tells.
    soft : float, 0..1
        How soft the edges of its shapes are.
    highlight : float or None
        Factor on how much light it shows; None as the material usually does.
    recedes : bool
        It lies back, in shade as a whole.
    """

    material: Material
    role: Role | None = None
    soft: float = 0.0
    highlight: float | None = None
    recedes: bool = False


@dataclass(frozen=True)
class Subject:
    """A form, and what is known of its parts.

    Attributes
    ----------
    form : Form
    part_of_form : ndarray of uint16, shape (forms + 1,)
        Row of the part that each form belongs to.
    materials : tuple of Material
        By form; entry 0, the ground, is not used.
    soft, highlight, recedes : ndarray of float32, float32 and bool, shape (forms + 1,)
        As in Surface.
    lids : ndarray of uint8, shape (height, width)
        1 where the upper lid shades an eye, wherever the light is.
    irises : tuple of Disc
    skulls : tuple of Disc
        The ball under the hair of each head.
    room : ndarray of float32, shape (forms + 1,)
        How far from its edge the innermost pixel of each form lies.
    pixels : ndarray of int64, shape (forms + 1,)
    boxes : tuple of (slice, slice) or None
        Of each form, from the first on.
    forms_of_part : tuple of ndarray of int64
        Of every part that has any.
    """

    form: Form
    part_of_form: NDArray[np.uint16]
    materials: tuple[Material, ...]
    soft: Real
    highlight: Real
    recedes: NDArray[np.bool_]
    lids: Byte
    irises: tuple[Disc, ...]
    skulls: tuple[Disc, ...]
    room: Real
    pixels: NDArray[np.int64]
    boxes: tuple[tuple[slice, slice] | None, ...]
    forms_of_part: tuple[NDArray[np.int64], ...]

    @classmethod
    def of(cls, form: Form, part_of_form: NDArray[np.uint16],
           surfaces: Sequence[Surface]) -> "Subject":
        """Look for eyes and heads.

        Parameters
        ----------
        form : Form
        part_of_form : ndarray of uint16, shape (forms + 1,)
        surfaces : sequence of Surface
            By part; entry 0, the ground, is not used.
        """
        found = [surfaces[part] for part in part_of_form]
        role = np.array([s.role or "" for s in found])
        role[0] = ""
        iris = (role == "iris")[form.labels]
        eyes = iris | (role == "eye white")[form.labels]
        room = np.zeros(len(part_of_form), np.float32)
        np.maximum.at(room, form.labels, form.edge)
        boxes = ndimage.find_objects(form.labels, len(part_of_form) - 1)
        subject = cls(
            form, part_of_form, tuple(s.material for s in found),
            np.array([s.soft for s in found], np.float32),
            np.array([s.material.highlight if s.highlight is None else s.highlight
                      for s in found], np.float32),
            np.array([s.recedes for s in found]) & (part_of_form > 0),
            _under_lids(eyes), _discs(iris), (), room,
            np.bincount(form.labels.ravel(), minlength=len(part_of_form)), tuple(boxes),
            tuple(np.flatnonzero(part_of_form == part)
                  for part in np.unique(part_of_form[part_of_form > 0])))
        skin = np.array([s.material.key == "skin" for s in found])
        hair = subject.gleaming("band")
        skulls = _skulls(form, hair, skin)
        return replace(subject, skulls=skulls, form=_with_heads(form, skulls, hair))

    def gleaming(self, gleam: Gleam) -> NDArray[np.bool_]:
        """Which forms take light in a way, shape (forms + 1,)."""
        found = np.array([m.gleam == gleam for m in self.materials])
        found[0] = False
        return found


def _under_lids(eyes: NDArray[np.bool_]) -> Byte:
    """The top of every eye, as far as its upper edge reaches down when it is moved."""
    shade = np.zeros(eyes.shape, np.uint8)
    pieces, _ = ndimage.label(eyes, np.ones((3, 3)))
    for number, box in enumerate(ndimage.find_objects(pieces), start=1):
        eye = pieces[box] == number
        down = max(1, round(_LID_SHARE * eye.shape[0]))
        lower = np.zeros_like(eye)
        lower[down:] = eye[:-down]
        shade[box] |= eye & ~lower
    return shade


def _discs(mask: NDArray[np.bool_]) -> tuple[Disc, ...]:
    pieces, count = ndimage.label(mask)
    if not count:
        return ()
    which = np.arange(1, count + 1)
    sizes = ndimage.sum_labels(mask, pieces, which)
    centres = ndimage.center_of_mass(mask, pieces, which)
    return tuple(Disc(float(x), float(y), float(np.sqrt(size / np.pi)))
                 for (y, x), size in zip(centres, sizes, strict=True))


def _with_heads(form: Form, skulls: tuple[Disc, ...], hair: NDArray[np.bool_]) -> Form:
    """Locks of hair turn with the ball of their head, as far as they do not by themselves."""
    if not skulls:
        return form
    normals = form.normals.copy()
    for skull in skulls:
        y, x = np.ogrid[:form.labels.shape[0], :form.labels.shape[1]]
        dx, dy = (x - skull.x) / skull.radius, (y - skull.y) / skull.radius
        far = np.hypot(dx, dy)
        # Beyond the ball's edge, its influence fades: a plait does not turn with the head.
        share = _HEAD_TURN * np.clip((_HEAD_REACH - far) / (_HEAD_REACH - 1), 0, 1)
        inside = hair[form.labels] & (share > 0)
        ball = np.stack(np.broadcast_arrays(dx, dy), axis=-1) / np.maximum(1, far)[..., None]
        tilt = normals[inside, :2]
        rest = np.broadcast_to(share, inside.shape)[inside] * (1 - (tilt**2).sum(axis=-1))
        tilt = tilt + rest[:, None] * ball[inside]
        size = np.maximum(1, np.hypot(*tilt.T))
        tilt /= size[:, None]
        normals[inside, :2] = tilt
        normals[inside, 2] = np.sqrt(np.maximum(0, 1 - (tilt**2).sum(axis=-1)))
    return replace(form, normals=normals)


def _skulls(form: Form, hair: NDArray[np.bool_], skin: NDArray[np.bool_]) -> tuple[Disc, ...]:
    """The largest disc in hair and face that is hair in good part, for every head."""
    if not hair.any():
        return ()
    skin[0] = False
    on_hair = hair[form.labels]
    radius = max(1, round(_BRIDGED * form.grid.line_width))
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1,) * 2)
    padded = np.pad((on_hair | skin[form.labels]).astype(np.uint8), 2 * radius)
    head = cv2.morphologyEx(padded, cv2.MORPH_CLOSE, kernel)[2 * radius:-2 * radius,
                                                            2 * radius:-2 * radius]
    head &= (form.labels > 0).astype(np.uint8)
    room = cv2.distanceTransform(np.pad(head, 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
    pieces, _ = ndimage.label(head)
    found = []
    for number, box in enumerate(ndimage.find_objects(pieces), start=1):
        inside = np.where(pieces[box] == number, room[box], 0)
        largest = float(inside.max())
        hairy = (on_hair[box] & (pieces[box] == number)).astype(np.float32)
        if largest < _SMALLEST_SKULL * form.grid.line_width or hairy.mean() < 0.02:
            continue
        score = inside * (cv2.GaussianBlur(hairy, (0, 0), 0.6 * largest) > _HAIRY)
        if not score.any():
            continue
        y, x = np.unravel_index(int(np.argmax(score)), score.shape)
        found.append(Disc(float(x + box[1].start), float(y + box[0].start),
                          float(inside[y, x])))
    return tuple(found)
