"""The shapes of light and glint: each material in its own way, and every part reached."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import VOLUMES
from wardrobe.core.kernel import kernel
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.gleam import draw_window, hair_band, split_patches
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.subject import Subject

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

_FACE_LIT = 0.3  # share of a ball whose directions are those of faces in full light
_FOLDED = list(VOLUMES).index("folded")
_BINS = 1024  # of the shine, to find thresholds
_BIN = 2 / _BINS


def draw_lit(subject: Subject, key: KeyLight, name: str, received: Real, shine: Real,
             counts: NDArray[np.int64], terminator: Real, least: float) -> Byte:
    """Where a light or glint lies.

    Parameters
    ----------
    subject : Subject
    key : KeyLight
    name : str
        ``light`` or ``glint``.
    received, shine : ndarray of float32, shape (height, width)
        Cosine of the light, and, in the lit inside of forms, of the halfway vector.
    counts : ndarray of int64
        As :func:`shine_counts` gives them.
    terminator : ndarray of float32, shape (forms + 1,)
        Cosine at which each form's shade begins.
    least : float
        Pixels below which the light on a part counts as none.

    Returns
    -------
    ndarray of uint8, shape (height, width)
    """
    form, half = subject.form, key.halfway()
    shares = np.array([m.light_share if name == "light" else m.glint_share
                       for m in subject.materials], np.float32)
    shares = np.minimum(0.6, shares * subject.highlight)
    shares[form.volume == _FOLDED] = 0
    sine = float(half[2])
    tops = np.array([ball_quantile(sine, 1 - float(s)) if s > 0 else 2.0 for s in shares],
                    np.float32)
    raw, pixels = _above(form.labels, shine, tops)
    if _reach_every_part(tops, pixels, subject, counts, least):
        raw, _ = _above(form.labels, shine, tops)
    split_patches(form.labels, form.normals, subject.gleaming("patches"), half, tops, raw)
    glass = subject.gleaming("window") & (shares > 0)
    if glass.any():
        vector = key.vector()
        size = max(1e-3, float(np.hypot(*vector[:2])))
        if name == "light":
            draw_window(form.labels, form.normals, form.edge, glass, float(vector[0]) / size,
                        float(vector[1]) / size, form.grid.line_width, subject.room,
                        raw)
    if name == "light":
        hair_band(subject, key, raw)
        _lit_faces(form.labels, received, terminator, _face_light(key),
                   (form.volume == _FOLDED) & (subject.highlight > 0), raw)
    return raw


def _face_light(key: KeyLight) -> float:
    """The cosine from which a plane face is in light rather than in half light."""
    return ball_quantile(float(key.vector()[2]), 1 - _FACE_LIT)


@kernel
def _lit_faces(labels: NDArray[np.int32], received: Real, terminator: Real, top: float,
               folded: NDArray[np.bool_], out: Byte) -> None:
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if folded[form] and received[y, x] > max(top, terminator[form]):
                out[y, x] = 1


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


def _reach_every_part(tops: Real, pixels: NDArray[np.int64], subject: Subject,
                      counts: NDArray[np.int64], least: float) -> bool:
    """Lower thresholds, in place, so that a part of any size gets some light; True if it did."""
    changed = False
    for all_forms in subject.forms_of_part:
        forms = all_forms[tops[all_forms] < 1.5]
        if len(forms) == 0 or pixels[forms].max() >= least:
            continue
        form = forms[np.argmax(subject.pixels[forms])]
        if subject.pixels[form] < 12 * least or counts[form, 0] <= 2 * least:
            continue
        tops[form] = -1 + np.searchsorted(-counts[form], -2 * least, side="right") * _BIN - _BIN
        changed = True
    return changed


@kernel
def shine_counts(labels: NDArray[np.int32], shine: Real, forms: int) -> NDArray[np.int64]:
    """Pixels of each form whose shine is at least that of a bin."""
    counts = np.zeros((forms, _BINS + 1), np.int64)
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            if shine[y, x] >= -1:
                counts[labels[y, x], min(_BINS - 1, int((shine[y, x] + 1) / _BIN))] += 1
    for form in range(forms):
        for k in range(_BINS - 2, -1, -1):
            counts[form, k] += counts[form, k + 1]
    return counts
