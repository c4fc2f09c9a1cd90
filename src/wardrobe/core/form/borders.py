"""Who borders on whom, with how much ink between, and who is probably in front."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Real = NDArray[np.float32]

SURE_FRONT = 0.7
# Weights of what front_cues gives, by logistic regression on pairs of areas whose order their
# drawing tells; see docs/accuracy-light.md.
_CUES = (1.96, -1.12, 2.81, 0.9, 0.95)
_TOLD, _TOLD_MOST = 2.0, 3.0  # what is said counts for more than any single cue


@kernel
def _border_sums(labels: Int, ink: Real, count: int, radius: int) -> Real:
    """Sums over border contacts by ordered pair (a, b).

    Layer 0 counts contacts, 1 sums ink, 2 sums how much less of a disk around the contact
    belongs to a than to b (a bulges into b where this is positive), 3 counts corners at which
    a holds about half of the circle while b and a third share the rest (a covers b there).
    """
    height, width = labels.shape
    sums = np.zeros((4, count + 1, count + 1), np.float32)
    share = np.zeros(count + 1, np.float32)
    for y in range(height - 1):
        for x in range(width - 1):
            a = labels[y, x]
            for right in range(2):
                b = labels[y + 1 - right, x + right]
                if a == b:
                    continue
                mine, yours = 0.0, 0.0
                for dy in range(-radius, radius + 1):
                    for dx in range(-radius, radius + 1):
                        v, u = y + dy, x + dx
                        if dy * dy + dx * dx > radius * radius or v < 0 or u < 0 \
                                or v >= height or u >= width:
                            continue
                        if labels[v, u] == a:
                            mine += 1
                        elif labels[v, u] == b:
                            yours += 1
                bulge = (yours - mine) / max(mine + yours, 1.0)
                dark = max(ink[y, x], ink[y + 1 - right, x + right])
                sums[0, a, b] += 1
                sums[0, b, a] += 1
                sums[1, a, b] += dark
                sums[1, b, a] += dark
                sums[2, a, b] += bulge
                sums[2, b, a] -= bulge
            b, c, d = labels[y, x + 1], labels[y + 1, x], labels[y + 1, x + 1]
            kinds = 1
            if b != a:
                kinds += 1
            if c not in (a, b):
                kinds += 1
            if d not in (a, b, c):
                kinds += 1
            if kinds < 3:
                continue
            total = 0
            for step in range(48):
                angle = step * (2 * np.pi / 48)
                v = int(y + 1 + 1.5 * radius * np.sin(angle))
                u = int(x + 1 + 1.5 * radius * np.cos(angle))
                if 0 <= v < height and 0 <= u < width:
                    share[labels[v, u]] += 1
                    total += 1
            for front in (a, b, c, d):
                part = share[front] / max(total, 1)
                if 0.42 < part < 0.62:
                    for behind in (a, b, c, d):
                        if behind != front:
                            sums[3, front, behind] += 1
            for step in range(48):
                angle = step * (2 * np.pi / 48)
                v = int(y + 1 + 1.5 * radius * np.sin(angle))
                u = int(x + 1 + 1.5 * radius * np.cos(angle))
                if 0 <= v < height and 0 <= u < width:
                    share[labels[v, u]] = 0
    return sums


def measure_borders(labels: Int, ink: Real, count: int, line_width: float) -> Real:
    """Sums over the borders between labels; see :func:`_border_sums`.

    Parameters
    ----------
    labels : ndarray of int32, shape (height, width)
        0 is the ground.
    ink : ndarray of float32, same shape, range 0..1
    count : int
        Largest label.
    line_width : float
        In the same pixels.

    Returns
    -------
    ndarray of float32, shape (4, count + 1, count + 1)
    """
    radius = int(np.clip(round(2.5 * line_width), 4, 14))
    sums: Real = _border_sums(labels, ink, count, radius)
    return sums


def joined_forms(sums: Real, kin: Int, open_ink: float = 0.25) -> Int:
    """Number the forms: areas with hardly any ink along their common border are one form, and
    so are kin that touch.

    Parameters
    ----------
    sums : ndarray of float32, shape (4, count + 1, count + 1)
    kin : ndarray of int32, shape (count + 1, 2)
        Family of each label, 0 for none, and its member: two members of a family are kin.
    open_ink : float, 0..1

    Returns
    -------
    ndarray of int32, shape (count + 1,)
        Form of each label; the ground keeps 0.
    """
    count = sums.shape[1] - 1
    parent = np.arange(count + 1)

    def find(i: int) -> int:
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = parent[i]
        return i

    contacts = sums[0]
    for a, b in np.argwhere(np.triu(contacts > 3, 1)):
        related = kin[a, 0] > 0 and kin[a, 0] == kin[b, 0] and kin[a, 1] != kin[b, 1]
        if a and (related or sums[1, a, b] < open_ink * contacts[a, b]):
            parent[find(int(b))] = find(int(a))
    roots = np.array([find(i) for i in range(count + 1)])
    _, forms = np.unique(roots, return_inverse=True)
    return np.asarray(forms, np.int32)


def depth_ranks(sums: Real, front: Real) -> Real:
    """How far in front each label lies, as far as pairwise guesses agree.

    Parameters
    ----------
    sums : ndarray of float32, shape (4, count + 1, count + 1)
    front : ndarray of float32, shape (count + 1, count + 1), range -1..1
        As :func:`in_front` gives it.

    Returns
    -------
    ndarray of float32, shape (count + 1,)
        The differences of ranks that fit the guesses best in the least squares, weighted by how
        long the borders are; larger is further in front. The ground is behind everything.
    """
    count = front.shape[0] - 1
    ranks = np.zeros(count + 1)
    if count > 0:
        weight = sums[0, 1:, 1:] / np.maximum(sums[0, 1:, 1:].sum(axis=1, keepdims=True), 1)
        weight = (weight + weight.T) * np.abs(front[1:, 1:])
        # Normal equations of a weighted graph; a little ridge holds what is not connected.
        laplacian = np.diag(weight.sum(axis=1) + 1e-3) - weight
        ranks[1:] = np.linalg.solve(laplacian, (weight * front[1:, 1:]).sum(axis=1))
    ranks[0] = ranks[1:].min(initial=0.0) - 1
    return ranks.astype(np.float32)


def front_cues(sums: Real, pixels: Real) -> Real:
    """What the drawing tells of who is in front: corners at which one covers the others,
    bulging, shares of the outline, size, being enclosed.

    Parameters
    ----------
    sums : ndarray of float32, shape (4, count + 1, count + 1)
    pixels : ndarray of float32, shape (count + 1,)
        Area of each label.

    Returns
    -------
    ndarray of float32, shape (5, count + 1, count + 1)
        Antisymmetric, about -1..1; larger where the first is in front.
    """
    contacts = np.maximum(sums[0], 1)
    perimeter = np.maximum(sums[0].sum(axis=1), 1)
    share = sums[0] / perimeter[:, None]
    enclosed = (share > 0.85).astype(np.float32)
    ratio = np.log(np.maximum(pixels[None, :], 1) / np.maximum(pixels[:, None], 1))
    return np.stack([np.tanh((sums[3] - sums[3].T) / 2), np.clip(sums[2] / contacts, -1, 1),
                     share - share.T, np.tanh(ratio / 2),
                     enclosed - enclosed.T]).astype(np.float32)


def in_front(sums: Real, pixels: Real, told: Real | None = None) -> Real:
    """How surely each label is in front of each other.

    Parameters
    ----------
    sums : ndarray of float32, shape (4, count + 1, count + 1)
    pixels : ndarray of float32, shape (count + 1,)
    told : ndarray of float32, shape (count + 1,), optional
        How far in front each label is said to be, NaN if nothing is said: beside what the
        drawing tells.

    Returns
    -------
    ndarray of float32, shape (count + 1, count + 1)
        -1 (behind) .. 1 (in front), 0 unknown or not touching; antisymmetric. From SURE_FRONT
        on it may be called sure.
    """
    score = np.tensordot(np.array(_CUES, np.float32), front_cues(sums, pixels), 1)
    if told is not None:
        hint = _TOLD * (told[:, None] - told[None, :])
        score = score + np.nan_to_num(np.clip(hint, -_TOLD_MOST, _TOLD_MOST))
    return np.where(sums[0] > 0, np.tanh(score / 2), 0).astype(np.float32)
