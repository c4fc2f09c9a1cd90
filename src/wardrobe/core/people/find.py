"""Which areas of a drawing are a person's skin, hair, eyes and mouth."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.areas.segment import Areas
from wardrobe.core.people.face import Face, find_face
from wardrobe.core.people.look import look

Byte = NDArray[np.uint8]
Int = NDArray[np.int64]

_GRID = 1000  # px of the longer edge at which areas are looked at
_INK = 96
_LEAST = 0.015  # share of the figure that skin has
_SKIN, _HAIR, _EYES, _MOUTH, _NONE = 0, 1, 2, 3, -1
_CHANCE, _SURELY = 0.5, 0.9  # of one area
_CLEARLY = 0.8  # in the mean, where no face is found
_AT_ALL = 0.15  # of a face
_ABOUT = 0.6  # of a face's width and height, that is looked at on every side of it
_HELD = 0.9  # share of an area that is seen there, for what is said of it to count
# Widths, heights, middles and sizes of areas against those of the face.
_EAR_SIZE, _EAR_WIDTH, _EAR_ASIDE = 0.2, 0.35, 0.38  # at most, at most, at least
_EAR_DOWN = 0.2, 0.8
_NECK_SIZE, _NECK_ASIDE, _NECK_TOP = 0.6, 0.4, 1.15  # at most
_NECK_WIDTH = 0.2, 0.75
_CHIN = 0.95
_LIPS_SIZE, _LIPS_ASIDE = 0.15, 0.3  # at most
_LIPS_BELOW = 0.1  # the eyes, at least


@dataclass(frozen=True)
class Person:
    """Areas of a person.

    Attributes
    ----------
    skin, hair, eyes, mouth : tuple of int
        Numbers of areas, the largest first; only skin there is always.
    """

    skin: tuple[int, ...]
    hair: tuple[int, ...]
    eyes: tuple[int, ...]
    mouth: tuple[int, ...]


def find_person(areas: Areas, coverage: Byte) -> Person | None:
    """Look for a person, by what a network takes for one and by eyes above a mouth.

    Parameters
    ----------
    areas : Areas
    coverage : ndarray of uint8, shape (height, width)
        Ink.

    Returns
    -------
    Person or None
    """
    chance = _chances(areas, coverage)
    face = find_face(areas, coverage)
    if face is not None and chance[_SKIN, face.area] < _AT_ALL:
        # The head of a standing figure is too small to be told in the whole.
        chance = np.maximum(chance, _chances(areas, coverage, _about(areas, face)))
    kinds = np.where(chance.max(axis=0) > _CHANCE, chance.argmax(axis=0), _NONE)
    if face is not None and chance[_SKIN, face.area] >= _AT_ALL:
        kinds = _with_face(kinds, face)
    elif not _sure(areas, kinds, chance):
        return None
    kinds = _about_the_face(areas, kinds, chance)
    figure = max(1, int(areas.pixels[~areas.ground].sum()))
    found = [np.flatnonzero(kinds == kind) for kind in (_SKIN, _HAIR, _EYES, _MOUTH)]
    if areas.pixels[found[_SKIN]].sum() < _LEAST * figure:
        return None
    return Person(*(_ranked(areas, some) for some in found))


def _sure(areas: Areas, kinds: Int, chance: NDArray[np.float64]) -> bool:
    """Whether what seems to be skin does so clearly."""
    skin = kinds == _SKIN
    return bool(skin.any()
                and np.average(chance[_SKIN, skin], weights=areas.pixels[skin]) >= _CLEARLY)


def _ranked(areas: Areas, some: Int) -> tuple[int, ...]:
    return tuple(some[np.argsort(-areas.pixels[some], kind="stable")].tolist())


def _chances(areas: Areas, coverage: Byte,
             place: tuple[slice, slice] = np.s_[:, :]) -> NDArray[np.float64]:
    """How likely each area is skin, hair, the white of an eye, by what a place of the drawing
    looks like; ground, and what is not in that place, is nothing of these."""
    here = areas.labels[place]
    step = max(1, max(here.shape) // _GRID)
    size = here.shape[1] // step, here.shape[0] // step
    cover = np.asarray(cv2.resize(coverage[place], size, interpolation=cv2.INTER_AREA), np.uint8)
    ink = (cover >= _INK).astype(np.uint8)
    count = len(areas.pixels)
    if not ink.any():
        return np.zeros((3, count))
    rows, columns = (np.arange(n) * step + step // 2 for n in cover.shape)
    labels = here[np.ix_(rows, columns)]
    free = ink == 0
    there = np.maximum(np.bincount(labels[free], minlength=count), 1)
    chance = np.stack([np.bincount(labels[free], 1 / (1 + np.exp(-odds[free])), count)
                       for odds in look(cover, ink)]) / there
    if here.shape != areas.labels.shape:
        held = np.bincount(here.ravel(), minlength=count) / np.maximum(areas.pixels, 1)
        chance[:, held < _HELD] = 0
    chance[:, areas.ground] = 0
    chance[:, 0] = 0
    return chance


def _about(areas: Areas, face: Face) -> tuple[slice, slice]:
    """A face with what lies around it."""
    x, y, width, height = cv2.boundingRect((areas.labels == face.area).astype(np.uint8))
    across, down = round(_ABOUT * width), round(_ABOUT * height)
    return (slice(max(0, y - down), y + height + down),
            slice(max(0, x - across), x + width + across))


def _with_face(kinds: Int, face: Face) -> Int:
    """What eyes above a mouth say goes before what the network says."""
    out = kinds.copy()
    out[face.area] = _SKIN
    out[list(face.eyes)] = _EYES
    out[list(face.mouth)] = _MOUTH
    return out


def _about_the_face(areas: Areas, kinds: Int, chance: NDArray[np.float64]) -> Int:
    """What stands out from a face at the height of its eyes, and what is below its chin, is skin
    unless it is surely hair; what lies above it is not, unless it surely is; what lies in its
    middle, below the eyes, is its mouth."""
    step = max(1, max(areas.labels.shape) // _GRID)
    labels = areas.labels[::step, ::step]
    boxes = _boxes(labels, len(kinds))
    eyes = areas.seeds[kinds == _EYES] / step
    face = _face_about(eyes, kinds, boxes, areas)
    if face is None:
        return kinds
    x0, y0, width, height = boxes[face]
    line = (eyes[:, 1].max() - y0) / height
    across = (boxes[:, 0] + boxes[:, 2] / 2 - x0) / width
    down = (boxes[:, 1] + boxes[:, 3] / 2 - y0) / height
    wide, size = boxes[:, 2] / width, areas.pixels / areas.pixels[face]
    inside = (across > 0) & (across < 1) & (down > 0) & (down < 1)
    inside[_neighbours(labels, face)] = True
    free = inside & ~areas.ground & (kinds != _EYES) & (kinds != _MOUTH) & (boxes[:, 2] > 0)
    free[[0, face]] = False
    aside = np.abs(across - 0.5)
    ear = ((size < _EAR_SIZE) & (wide < _EAR_WIDTH) & (aside > _EAR_ASIDE)
           & (down > _EAR_DOWN[0]) & (down < _EAR_DOWN[1]))
    neck = ((size < _NECK_SIZE) & (wide > _NECK_WIDTH[0]) & (wide < _NECK_WIDTH[1])
            & (aside < _NECK_ASIDE) & (down > _CHIN)
            & (boxes[:, 1] < y0 + _NECK_TOP * height))
    loose = (kinds == _NONE) | ((kinds == _HAIR) & (chance[_HAIR] <= _SURELY))  # no beard
    lips = (loose & (size < _LIPS_SIZE) & (aside < _LIPS_ASIDE)
            & (down > line + _LIPS_BELOW) & (down < _CHIN))
    above = (kinds == _SKIN) & (down < 0) & (chance[_SKIN] <= _SURELY)
    out = kinds.copy()
    out[free & above] = _NONE
    out[free & lips] = _MOUTH
    out[free & (ear | neck) & (chance[_HAIR] <= _SURELY)] = _SKIN
    return out


def _boxes(labels: NDArray[np.uint16], count: int) -> NDArray[np.int64]:
    """x, y, width, height of each area; width 0 where it is not seen."""
    out = np.zeros((count, 4), np.int64)
    for area, found in enumerate(ndimage.find_objects(labels), start=1):
        if found is not None:
            rows, columns = found
            out[area] = (columns.start, rows.start, columns.stop - columns.start,
                         rows.stop - rows.start)
    return out


def _face_about(eyes: NDArray[np.float64], kinds: Int, boxes: NDArray[np.int64],
                areas: Areas) -> int | None:
    """The largest area of skin that most eyes lie in."""
    skin = np.flatnonzero((kinds == _SKIN) & (boxes[:, 2] > 0))
    if not len(eyes) or not len(skin):
        return None
    low, high = boxes[skin, :2], boxes[skin, :2] + boxes[skin, 2:]
    held = ((eyes[None] > low[:, None]) & (eyes[None] < high[:, None])).all(axis=2).sum(axis=1)
    if not held.any():
        return None
    most = skin[held == held.max()]
    return int(most[areas.pixels[most].argmax()])


def _neighbours(labels: NDArray[np.uint16], area: int) -> Int:
    """Areas that meet an area."""
    own = (labels == area).astype(np.uint8)
    rim = (cv2.dilate(own, np.ones((3, 3), np.uint8)) > 0) & (own == 0)
    met = np.unique(labels[rim]).astype(np.int64)
    return met[met > 0]
