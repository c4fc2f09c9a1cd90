"""Where a form ends openly: tubes at both ends, hems out of which something comes."""

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.form.traits import VOLUMES

Int = NDArray[np.int32]
Real = NDArray[np.float32]

_GUESSED, _TUBE = list(VOLUMES).index("as drawn"), list(VOLUMES).index("tube")
_TUBE_LOSS, _HEM_LOSS = 1.0, 0.85
_EMERGES = 0.3  # share of an end that must border something behind
_ELSEWHERE = 0.35  # and of all else at most
_SHORTEST = 0.75  # lengths along the end's direction, in widths across
_END = 0.4  # of the length
_BEHIND = 0.2  # how surely
_WAYS = np.array([(np.cos(a), np.sin(a)) for a in np.arange(8) * np.pi / 4])


def open_ends(labels: Int, volume: NDArray[np.uint8], front: Real) -> Real:
    """Directions in which forms end openly.

    A tube does at both ends of its longer axis. A form as drawn does at a hem: an end where
    something behind comes out of it, while little of the rest of its outline lies on anything.

    Parameters
    ----------
    labels : ndarray of int32, shape (height, width)
    volume : ndarray of uint8, shape (forms + 1,)
        Index in VOLUMES.
    front : ndarray of float32, shape (forms + 1, forms + 1), range -1..1

    Returns
    -------
    ndarray of float32, shape (forms + 1, 4)
        As :func:`border_pull` takes it: direction, loss, whether both ends.
    """
    ends = np.zeros((len(volume), 4), np.float32)
    mine, other, places, ways = _contacts(labels)
    behind = front[mine, other] > _BEHIND
    behind[other == 0] = False
    order = np.argsort(mine, kind="stable")
    starts = np.searchsorted(mine[order], np.arange(len(volume) + 1))
    for label, box in enumerate(ndimage.find_objects(labels), start=1):
        if box is None:
            continue
        if volume[label] == _TUBE:
            ends[label] = (*_axis(labels[box] == label), _TUBE_LOSS, 1)
        elif volume[label] == _GUESSED:
            of_it = order[starts[label]:starts[label + 1]]
            way = _hem(places[of_it], ways[of_it], behind[of_it])
            if way is not None:
                ends[label] = (*way, _HEM_LOSS, 0)
    return ends


def _contacts(labels: Int) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.float32],
                                    NDArray[np.float32]]:
    """Every pair of neighbouring pixels of two labels, from both sides: its label, the other,
    its place and the direction outwards (x, y)."""
    found = []
    for dy, dx in ((0, 1), (1, 0)):
        a, b = labels[:labels.shape[0] - dy, :labels.shape[1] - dx], labels[dy:, dx:]
        ys, xs = np.nonzero(a != b)
        place = np.stack([xs, ys], axis=1).astype(np.float32)
        way = np.broadcast_to(np.array([dx, dy], np.float32), place.shape)
        found += [(a[ys, xs], b[ys, xs], place, way), (b[ys, xs], a[ys, xs], place, -way)]
    mine, other, places, ways = (np.concatenate(column) for column in zip(*found, strict=True))
    return mine, other, places, ways


def _axis(inside: NDArray[np.bool_]) -> tuple[float, float]:
    """The longer principal axis."""
    ys, xs = np.nonzero(inside)
    spread = np.cov(np.stack([xs, ys])) if len(xs) > 2 else np.eye(2)
    _, vectors = np.linalg.eigh(spread)
    return float(vectors[0, 1]), float(vectors[1, 1])


def _hem(places: Real, ways: Real, behind: NDArray[np.bool_]) -> tuple[float, float] | None:
    """The direction of a form's hem, from the contacts along its outline."""
    if not behind.any():
        return None
    best, found = _EMERGES, None
    for way in _WAYS:
        along, across = places @ way, places @ np.array([-way[1], way[0]])
        length = float(np.ptp(along))
        if length < _SHORTEST * np.ptp(across):
            continue
        outwards = np.maximum(0, ways @ way) ** 2
        weight = np.where(along > along.max() - _END * length, outwards, 0)
        share = float(weight @ behind / max(weight.sum(), 1e-6))
        rest = 1 - weight
        if share > best and rest @ behind < _ELSEWHERE * rest.sum():
            best, found = share, (float(way[0]), float(way[1]))
    return found
