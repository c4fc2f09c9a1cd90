"""What of a drawing is skin, hair and the white of eyes, from the colours it was painted in."""

import json
from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray

from benchmarks.corpora import emoji
from benchmarks.corpora.hands import FOLDER, SIZE, Drawing

Mask = NDArray[np.bool_]

# As `avatars.mjs` has them painted.
_SKIN = ("f2d3b1", "ecad80", "f8dcc4")
_HAIR = ("e8c98a", "d9a066", "f0dfae", "c9b8d8", "a8d0c0")
_FACES = ("face-affection", "face-concerned", "face-glasses", "face-hand", "face-hat",
          "face-negative", "face-neutral-skeptical", "face-sleepy", "face-smiling", "face-tongue",
          "face-unwell")
_YELLOW = (0xFC, 0xEA, 0x2B)
_NEAR = 6  # of 255, by which a painted colour may be off
_LEAST_WHITE = 60  # px
_EYES_END = 0.6  # of the height of the skin, below which white is teeth


@dataclass(frozen=True)
class Person:
    """A drawing and what its person is made of.

    Attributes
    ----------
    drawing : Drawing
    kinds : ndarray of bool, shape (3, height, width)
        Skin, hair, whites of eyes.
    known : tuple of bool
        Of which of them the colours tell.
    """

    drawing: Drawing
    kinds: Mask
    known: tuple[bool, bool, bool]


def person(drawing: Drawing) -> Person | None:
    """What a drawing's colours say; None if they say nothing."""
    if drawing.source == "emoji":
        return _emoji(drawing)
    if drawing.source in ("adventurer", "open-peeps"):
        return _bust(drawing)
    if drawing.source == "croodles":
        return None  # one white for all
    return Person(drawing, np.zeros((3, *drawing.ink.shape), bool), (True, True, True))


def _bust(drawing: Drawing) -> Person:
    path = FOLDER / "avatars" / drawing.source / f"{drawing.name}.svg"
    image = pyvips.Image.thumbnail(str(path), SIZE)
    rgba = np.frombuffer(image.write_to_memory(), np.uint8).reshape(image.height, image.width, -1)
    margin = (drawing.ink.shape[0] - rgba.shape[0]) // 2
    rgba = np.pad(rgba, ((margin, margin), (margin, margin), (0, 0)))
    free = drawing.figure & (drawing.ink < 128)
    skin, hair = (_any_of(rgba, colours) & free for colours in (_SKIN, _HAIR))
    eyes = np.zeros_like(free)
    if drawing.source == "adventurer" and skin.any():
        rows = np.flatnonzero(skin.any(axis=1))
        end = rows[0] + _EYES_END * (rows[-1] - rows[0])
        white = (_any_of(rgba, ("ffffff",)) & free).astype(np.uint8)
        _, labels, stats, centres = cv2.connectedComponentsWithStats(white, connectivity=4)
        keep = (stats[:, cv2.CC_STAT_AREA] >= _LEAST_WHITE) & (centres[:, 1] < end)
        keep[0] = False
        eyes = keep[labels]
    return Person(drawing, np.stack([skin, hair, eyes]),
                  (True, True, drawing.source == "adventurer"))


def _any_of(rgba: NDArray[np.uint8], colours: tuple[str, ...]) -> Mask:
    out = np.zeros(rgba.shape[:2], bool)
    for colour in colours:
        rgb = np.frombuffer(bytes.fromhex(colour), np.uint8).astype(int)
        out |= np.abs(rgba[..., :3].astype(int) - rgb).max(axis=2) <= _NEAR
    return out & (rgba[..., 3] > 128)


def _emoji(drawing: Drawing) -> Person | None:
    group = _groups().get(drawing.name)
    if group is None:
        return None
    text = (emoji.SVG / f"{drawing.name}.svg").read_text()
    whole = emoji.groups_of(drawing.name)
    if whole is None:
        return None
    if group not in _FACES and not (emoji.group(text, "skin") or emoji.group(text, "hair")):
        return Person(drawing, np.zeros((3, *drawing.ink.shape), bool), (True, True, True))
    margin = (drawing.ink.shape[0] - emoji.SIZE) // 2
    rgba = emoji.render(whole[1], ' shape-rendering="crispEdges"')

    def painted(name: str) -> Mask:
        """Where a group of the drawing is what is seen."""
        part = emoji.group(text, name)
        if not part:
            return np.zeros(rgba.shape[:2], bool)
        own = emoji.render(part, ' shape-rendering="crispEdges"')
        same = (own[..., :3] == rgba[..., :3]).all(axis=2) & (own[..., 3] > 128)
        return np.asarray(same)

    skin, hair = painted("skin"), painted("hair")
    if group in _FACES:
        skin |= (rgba[..., :3] == _YELLOW).all(axis=2) & (rgba[..., 3] > 128)
    kinds = np.stack([skin, hair, np.zeros_like(skin)])
    kinds = np.pad(kinds, ((0, 0), (margin, margin), (margin, margin))) & (drawing.ink < 128)
    return Person(drawing, kinds, (True, True, not kinds.any()))


@cache
def _groups() -> dict[str, str]:
    data = json.loads((emoji.SVG.parents[1] / "data" / "openmoji.json").read_text("utf-8"))
    return {entry["hexcode"]: entry["subgroups"] for entry in data}
