"""Where the light of a drawn shade comes from, part by part, and whether all agree."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Real = NDArray[np.float64]

SURE = 0.6  # confidence from which an answer may be called sure
_ROUNDS = 12
_RIDGE = 0.02
_FEWEST = 100  # pixels on either side
_AGREE = 35.0  # degrees from what all say together at which confidence is halved


@dataclass(frozen=True)
class Implied:
    """The light that one part's shade implies.

    Attributes
    ----------
    label : int
    azimuth : float
        Degrees, counter-clockwise from the right, 0..360.
    confidence : float, 0..1
        How well a light separates lit from shaded pixels, and agrees with the other parts.
    """

    label: int
    azimuth: float
    confidence: float


def audit_light(normals: NDArray[np.float32], labels: NDArray[np.integer],
                shaded: NDArray[np.bool_]) -> list[Implied]:
    """Estimate the light of every label that has lit and shaded pixels.

    Parameters
    ----------
    normals : ndarray of float32, shape (height, width, 3)
    labels : ndarray of int, shape (height, width)
        0 is the ground.
    shaded : ndarray of bool, same shape

    Returns
    -------
    list of Implied

    References
    ----------
    J. H. Lambert, "Photometria", 1760: shade is where N.L is below a threshold, a plane in the
    space of normals. It is fitted by logistic regression (D. R. Cox 1958) with weights that
    count lit and shaded pixels alike, and that let go of pixels far on the wrong side (P. J.
    Huber, "Robust statistics", 1981).
    """
    found: list[tuple[int, Real, float, int]] = []
    for label in np.unique(labels[labels > 0]):
        here = labels == label
        n, dark = normals[here].astype(np.float64), shaded[here]
        if min(dark.sum(), (~dark).sum()) < _FEWEST:
            continue
        light, right = _fit(n, dark)
        if np.hypot(light[0], light[1]) > 1e-9:
            found.append((int(label), light, right, len(n)))
    weights = np.array([right**2 * np.sqrt(size) for _, _, right, size in found])
    ways = np.array([light[:2] / np.hypot(*light[:2]) for _, light, _, _ in found]).reshape(-1, 2)
    together = weights @ ways
    # How much all agree: 1 if they say the same, about 0 if each says something else.
    accord = float(np.hypot(*together) / max(weights.sum(), 1e-9)) if len(found) > 2 else 1.0
    answers = []
    for label, light, right, _ in found:
        azimuth = float(np.degrees(np.arctan2(-light[1], light[0])) % 360)
        agreement = 1.0
        if len(found) > 2:
            common = np.degrees(np.arctan2(-together[1], together[0]))
            away = abs((azimuth - common + 180) % 360 - 180)
            agreement = 1 / (1 + (away / _AGREE) ** 2)
        answers.append(Implied(label, round(azimuth, 2), round(right * agreement * accord, 3)))
    return answers


def _fit(normals: Real, dark: NDArray[np.bool_]) -> tuple[Real, float]:
    """The direction along which lit and shaded pixels part, and how well they do, 0..1."""
    x = np.concatenate([normals, np.ones((len(normals), 1))], axis=1)
    y = np.where(dark, 0.0, 1.0)
    fair = np.where(dark, 0.5 / dark.mean(), 0.5 / (1 - dark.mean()))
    weight, beta = fair.copy(), np.zeros(4)
    ridge = _RIDGE * len(x) * np.diag([1.0, 1, 1, 0])
    for _ in range(_ROUNDS):
        p = 1 / (1 + np.exp(-np.clip(x @ beta, -30, 30)))
        curve = weight * np.maximum(p * (1 - p), 1e-4)
        step = np.linalg.solve((x * curve[:, None]).T @ x + ridge,
                               x.T @ (weight * (y - p)) - ridge @ beta)
        beta += step
        # Pixels far on the wrong side were erased or smeared: they count less.
        wrong = np.where(dark, x @ beta, -(x @ beta))
        scale = max(1e-6, float(np.median(np.abs(x @ beta))))
        weight = fair / np.maximum(1, wrong / scale)
    lit = x @ beta > 0
    right = 0.5 * float((lit & ~dark).sum() / (~dark).sum() + (~lit & dark).sum() / dark.sum())
    return beta[:3], max(0.0, 2 * right - 1)
