"""Where the light of a drawn shade comes from, part by part, and whether all agree."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Real = NDArray[np.float64]

SURE = 0.65  # confidence from which an answer may be called sure
ASTRAY = 40.0  # degrees from the light of all from which a part's own is worth a word
CLEAR = 0.55  # how clearly it must be told
_ROUNDS = 12
_REFINEMENTS = 1
_STEPS = (10.0, 5.0, 2.5, 1.2)  # degrees
_STILL = 0.01  # share of a change that no longer matters
_RIDGE = 0.004
_FEWEST = 100  # pixels on either side
_MOST, _FEW = 2000, 500  # pixels of a label that are looked at, alone and among all
_AGREE = 35.0  # degrees from what all say together at which confidence is halved
# How much better its own light must part a label's pixels than the one that all share, before it
# is believed, and until it is believed alone.
_OWN, _ALONE = 0.12, 0.3


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
    clear : float, 0..1
        How well it separates them, whatever the others say.
    """

    label: int
    azimuth: float
    confidence: float
    clear: float


@dataclass(frozen=True)
class _Sample:
    """Pixels of one label: normals, whether they are shaded, and the label's size."""

    label: int
    normals: Real
    dark: NDArray[np.bool_]
    size: int

    def fair(self) -> Real:
        """Weights that count lit and shaded pixels alike; they sum to the number of pixels."""
        return np.where(self.dark, 0.5 / self.dark.mean(), 0.5 / (1 - self.dark.mean()))

    def thinned(self) -> "_Sample":
        """Fewer of the pixels, as long as both kinds are among them."""
        few = _Sample(self.label, self.normals[:_FEW], self.dark[:_FEW], self.size)
        return few if 0 < few.dark.sum() < len(few.dark) else self

    def centred(self) -> Real:
        """Normals from halfway between the means of the lit and the shaded ones."""
        middle = 0.5 * (self.normals[self.dark].mean(axis=0)
                        + self.normals[~self.dark].mean(axis=0))
        centred: Real = self.normals - middle
        return centred

    def within(self) -> Real:
        """Normals from the mean of the lit ones, or of the shaded ones."""
        lit, dark = self.normals[~self.dark].mean(axis=0), self.normals[self.dark].mean(axis=0)
        within: Real = self.normals - np.where(self.dark[:, None], dark, lit)
        return within


def audit_light(normals: NDArray[np.float32], labels: NDArray[np.integer],
                shaded: NDArray[np.bool_]) -> list[Implied]:
    """Estimate the light of every label that has lit and shaded pixels.

    A piece has one light: what all labels say together stands for each of them, unless a light of
    its own explains a label's shade clearly better.

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
    samples = _samples(normals, labels, shaded)
    if not samples:
        return []
    own = [_light_of([sample]) for sample in samples]
    shared = _light_of([s.thinned() for s in samples])
    # How much all agree: 1 if each says the same on its own, about 0 if each something else.
    weights = np.array([_clear(s, light)**2 * np.sqrt(s.size)
                        for s, light in zip(samples, own, strict=True)])
    together = weights @ np.array([_unit(light[:2]) for light in own])
    accord = float(np.hypot(*together) / max(weights.sum(), 1e-9)) if len(samples) > 1 else 1.0
    common = np.degrees(np.arctan2(-together[1], together[0]))
    answers = []
    for sample, alone in zip(samples, own, strict=True):
        better = (_clear(sample, alone) - _clear(sample, shared)) / 2
        share = float(np.clip((better - _OWN) / (_ALONE - _OWN), 0, 1)) \
            if len(samples) > 1 else 1.0
        light = share * alone + (1 - share) * shared
        clear = _clear(sample, light)
        azimuth = float(np.degrees(np.arctan2(-light[1], light[0])) % 360)
        away = abs((azimuth - common + 180) % 360 - 180)
        agreement = 1 / (1 + (away / _AGREE) ** 2) if len(samples) > 1 else 1.0
        answers.append(Implied(sample.label, round(azimuth, 2),
                               round(clear * agreement * accord, 3), round(clear, 3)))
    return answers


def _samples(normals: NDArray[np.float32], labels: NDArray[np.integer],
             shaded: NDArray[np.bool_]) -> list[_Sample]:
    where = np.flatnonzero(labels)
    order = where[np.argsort(labels.flat[where], kind="stable")]
    flat, dark = normals.reshape(-1, 3), shaded.ravel()
    # A fixed mixture: every n-th pixel would lie in stripes.
    mixed = np.random.default_rng(0)
    found = []
    for pixels in np.split(order, np.flatnonzero(np.diff(labels.flat[order])) + 1):
        shade = int(dark[pixels].sum())
        if min(shade, len(pixels) - shade) < _FEWEST:
            continue
        kept = mixed.permutation(pixels)[:_MOST]
        found.append(_Sample(int(labels.flat[pixels[0]]), flat[kept].astype(np.float64),
                             dark[kept], len(pixels)))
    return [s for s in found if 0 < s.dark.sum() < len(s.dark)]


def _unit(vector: Real) -> Real:
    unit: Real = vector / max(float(np.linalg.norm(vector)), 1e-12)
    return unit


def _plane(sample: _Sample, light: Real) -> tuple[float, float]:
    """The cosine at which the plane square to a light parts the pixels best, and the share on
    its right side, lit and shaded ones counted alike; 0.5 tells nothing."""
    received = sample.normals @ light
    order = np.argsort(received)
    weight = np.where(sample.dark, 1 / sample.dark.sum(), -1 / (~sample.dark).sum())
    below = np.cumsum(weight[order])
    best = int(np.argmax(below))
    return float(received[order[best]]), 0.5 + 0.5 * float(max(0.0, below[best]))


def _clear(sample: _Sample, light: Real) -> float:
    return 2 * _plane(sample, light)[1] - 1


def _light_of(samples: Sequence[_Sample]) -> Real:
    """The direction along which lit and shaded pixels part, each label at a cosine of its own."""
    normals = np.concatenate([s.normals for s in samples])
    dark = np.concatenate([s.dark for s in samples])
    fair = np.concatenate([s.fair() / len(s.dark) for s in samples])
    # In directions in which normals vary as much as in any other, none is preferred.
    within = np.concatenate([s.within() for s in samples])
    spread = (within * fair[:, None]).T @ within / fair.sum()
    whiten = np.linalg.cholesky(np.linalg.inv(spread + 1e-4 * np.eye(3)))
    middle = np.concatenate([s.centred() for s in samples])
    light = _unit(whiten @ _fit(middle @ whiten, np.ones(len(dark)), dark, fair))
    for _ in range(_REFINEMENTS):
        planes = [_plane(s, light) for s in samples]
        level = np.concatenate([np.full(len(s.dark), -at)
                                for s, (at, _) in zip(samples, planes, strict=True)])
        trust = np.concatenate([np.full(len(s.dark), max(0.05, 2 * right - 1) ** 2)
                                for s, (_, right) in zip(samples, planes, strict=True)])
        light = _unit(whiten @ _fit(normals @ whiten, level, dark, fair * trust))
    return _climbed(samples, light)


def _climbed(samples: Sequence[_Sample], light: Real) -> Real:
    """Turn a light, a few degrees at a time, while more pixels come to lie on the right side."""
    azimuth = float(np.degrees(np.arctan2(-light[1], light[0])))
    height = float(np.degrees(np.arcsin(np.clip(light[2], -1, 1))))

    def right(azimuth: float, height: float) -> float:
        a, h = np.radians(azimuth), np.radians(height)
        way = np.array([np.cos(a) * np.cos(h), -np.sin(a) * np.cos(h), np.sin(h)])
        return float(np.mean([_plane(s, way)[1] for s in samples]))

    best = right(azimuth, height)
    for step in _STEPS:
        improved = True
        while improved:
            improved = False
            for turn, lift in ((step, 0), (-step, 0), (0, step), (0, -step)):
                tried = right(azimuth + turn, min(88.0, height + lift))
                if tried > best + 1e-6:
                    best, improved = tried, True
                    azimuth, height = azimuth + turn, min(88.0, height + lift)
    a, h = np.radians(azimuth), np.radians(height)
    return np.array([np.cos(a) * np.cos(h), -np.sin(a) * np.cos(h), np.sin(h)])


def _fit(normals: Real, level: Real, dark: NDArray[np.bool_], fair: Real) -> Real:
    """Logistic regression of being lit on normals and a level, weighted; what goes with the
    normals."""
    x = np.concatenate([normals, level[:, None]], axis=1)
    y = np.where(dark, 0.0, 1.0)
    fair = fair * (len(fair) / fair.sum())
    weight, beta = fair.copy(), np.zeros(4)
    ridge = _RIDGE * len(x) * np.diag([1.0, 1, 1, 0.1])
    for _ in range(_ROUNDS):
        p = 1 / (1 + np.exp(-np.clip(x @ beta, -30, 30)))
        curve = weight * np.maximum(p * (1 - p), 1e-4)
        step = np.linalg.solve((x * curve[:, None]).T @ x + ridge,
                               x.T @ (weight * (y - p)) - ridge @ beta)
        beta += step
        if np.abs(step).max() < _STILL * np.abs(beta).max():
            break
        # Pixels far on the wrong side were erased or smeared: they count less.
        wrong = np.where(dark, x @ beta, -(x @ beta))
        scale = max(1e-6, float(np.median(np.abs(x @ beta))))
        weight = fair / np.maximum(1, wrong / scale)
    return beta[:3]
