"""Lessons as pictures."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.srgb import decode, encode, from_hex
from wardrobe.core.learn.course import COURSE
from wardrobe.core.learn.lessons import Question
from wardrobe.core.learn.scenes import SIZE, Scene
from wardrobe.core.learn.truth import View, truth_of, view_of

Byte = NDArray[np.uint8]

PAPER, FLOOR, INK = (240, 233, 219), (222, 213, 196), (34, 29, 36)
_TINTS = {"skin": "#f0c9ab", "hair": "#a9683f", "leather": "#b5754a", "metal": "#b9bfc6",
          "glass": "#bfe0e0", "matte cloth": "#c9825f"}
_SECOND = ("#c9825f", "#6f8fb5", "#93a97a")  # parts of one material, told apart
_SHADE = (150, 138, 172)  # multiplied: muted violet
_SHINE = (255, 250, 236)
_SMALL = 320  # px of each of several pictures


def given(question: Question) -> Byte:
    """What a learner is shown, RGB."""
    ask = COURSE[question.key].ask
    if ask == "spot":
        return np.hstack([_shaded(scene, SIZE / _SMALL, None) for scene in question.others])
    if ask == "choice" and question.scene:
        return np.hstack([_shaded(question.scene, SIZE / _SMALL, pair)
                          for pair in (question.swatches[:2], question.swatches[2:])])
    if question.scene is None:
        return np.full((2, 2, 3), 255, np.uint8)
    if ask == "light":
        return _shaded(question.scene, 1.0, None)
    return _flat(view_of(question.scene), None)


def solved(question: Question) -> Byte:
    """The right answer as a picture, RGB; in grey where values are asked for."""
    asked = COURSE[question.key].asked
    if asked is None or question.scene is None:
        return _grey(given(question)) if COURSE[question.key].ask == "choice" else given(question)
    view = view_of(question.scene)
    truth, _ = truth_of(view, asked, question.scene.light)
    return _laid(view, _flat(view, None), truth, shine=asked == "highlight")


def _shaded(scene: Scene, scale: float, colours: tuple[str, ...] | None) -> Byte:
    view = view_of(scene, scale)
    truth, _ = truth_of(view, "shade", scene.light)
    return _laid(view, _flat(view, colours), truth, shine=False)


def _flat(view: View, colours: tuple[str, ...] | None) -> Byte:
    """Flats and lines."""
    scene = view.scene
    own = colours or [_TINTS[m] if scene.materials.count(m) == 1 else _SECOND[k % len(_SECOND)]
                      for k, m in enumerate(scene.materials)]
    table = np.array([PAPER, *(from_hex(c) for c in own)], np.uint8)
    picture = table[np.minimum(view.seen.parts, len(own))]
    picture[(view.seen.parts == 0) & (view.seen.solids > 0)] = FLOOR
    return _inked(picture, view.ink)


def _laid(view: View, picture: Byte, mask: NDArray[np.bool_], shine: bool) -> Byte:
    """The picture with a shade multiplied, or a highlight laid on, where a mask is."""
    cover = cv2.GaussianBlur(mask.astype(np.float32), (0, 0), 0.8)[..., None]
    tone = picture * (np.array(_SHADE, np.float32) / 255) if not shine else \
        np.broadcast_to(np.array(_SHINE, np.float32), picture.shape)
    laid = picture + cover * (tone - picture)
    return _inked(np.rint(laid).astype(np.uint8), view.ink)


def _inked(picture: Byte, ink: Byte) -> Byte:
    share = ink[..., None].astype(np.float32) / 255
    found: Byte = np.rint(picture + share * (np.array(INK, np.float32) - picture)).astype(np.uint8)
    return found


def _grey(picture: Byte) -> Byte:
    """The picture by its luminance (IEC 61966-2-1)."""
    light = decode(picture / 255) @ np.array([0.2126, 0.7152, 0.0722])
    found: Byte = np.repeat(np.rint(255 * encode(light))[..., None], 3, axis=-1).astype(np.uint8)
    return found
