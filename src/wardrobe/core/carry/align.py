"""Laying the figure of one drawing on that of another, as a whole."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import fft

from wardrobe.core.carry.side import FRAME, Side

Matrix = NDArray[np.float64]
Floats = NDArray[np.float32]

_SIZE = 56  # px of the square in which all shifts are tried
_TURNS = range(-30, 31, 6)
_SCALES = (0.86, 0.93, 1.0, 1.08, 1.16)
_LEAST = 0.3  # share of the smaller figure that must lie within both pictures


@dataclass(frozen=True)
class Alignment:
    """How one figure lies on another.

    Attributes
    ----------
    matrix : ndarray of float64, shape (2, 3)
        From the square of the second to that of the first.
    agreement : float, up to 1
        Normalised correlation of outline and lines where both pictures reach.
    """

    matrix: Matrix
    agreement: float


def align(one: Side, other: Side) -> Alignment:
    """Lay a drawing on another: by 11 turns within 30 degrees, sizes about that at which both
    figures are equally large and that at which both pictures are, and all shifts.

    References
    ----------
    D. Padfield, "Masked object registration in the Fourier domain", IEEE Transactions on Image
    Processing 21, 2012: correlation over what both pictures show, for all shifts at once.
    """
    pictures = one.scale / other.scale
    scales = _SCALES if 0.9 < pictures < 1.1 else (
        *_SCALES, *(pictures * k for k in (0.93, 1.0, 1.07) if 0.3 < pictures < 3.5))
    half, padded = _SIZE // 2, (2 * _SIZE, 2 * _SIZE)

    def spectrum(planes: Floats, offset: int = 0) -> NDArray[np.complex64]:
        pad = np.zeros((*planes.shape[:-2], *padded), np.float32)
        pad[..., offset:offset + _SIZE, offset:offset + _SIZE] = planes
        found: NDArray[np.complex64] = fft.rfft2(pad)
        return found

    felt, seen = _small(one)
    fixed = spectrum(felt, half), spectrum((felt**2).sum(axis=0), half), spectrum(seen, half)
    moving, window = _small(other)
    whole = float(min((felt**2).sum(), (moving**2).sum()))
    best = Alignment(np.eye(2, 3), -1.0)
    for scale in scales:
        turned = [cv2.getRotationMatrix2D((_SIZE / 2 - 0.5,) * 2, turn, scale) for turn in _TURNS]
        planes = np.stack([[cv2.warpAffine(p, m, (_SIZE, _SIZE)) for p in (*moving, window)]
                           for m in turned])
        a, w = planes[:, :2], planes[:, 2]
        spectra, squares, windows = spectrum(a), spectrum((a**2).sum(axis=1)), spectrum(w)
        both = _correlated((fixed[0] * np.conj(spectra)).sum(axis=1), padded)
        there = _correlated(fixed[1] * np.conj(windows), padded)
        here = _correlated(fixed[2] * np.conj(squares), padded)
        score = both / np.sqrt(np.maximum(there, 1e-3) * np.maximum(here, 1e-3))
        score = np.where(np.minimum(there, here) > _LEAST * whole, score, -1.0)
        k, dy, dx = np.unravel_index(int(score.argmax()), score.shape)
        if score[k, dy, dx] > best.agreement:
            matrix = turned[k].copy()
            matrix[:, 2] += (_signed(int(dx)) - half, _signed(int(dy)) - half)
            best = Alignment(_in_square(matrix), float(score[k, dy, dx]))
    return best


def _correlated(product: NDArray[np.complex64], size: tuple[int, int]) -> Floats:
    found: Floats = fft.irfft2(product, s=size)
    return found


def _signed(shift: int) -> int:
    return shift if shift < 3 * _SIZE // 2 else shift - 2 * _SIZE


def _small(side: Side) -> tuple[Floats, Floats]:
    """Outline and lines, nothing outside of the figure, and where the picture reaches."""
    felt = cv2.resize(side.felt, (_SIZE, _SIZE), interpolation=cv2.INTER_AREA)
    planes = np.stack([np.clip(1.5 * felt[..., 0], -0.6, 1) + 0.6,
                       1.2 * (felt[..., 1] - 0.2) * (felt[..., 0] > -0.5)])
    seen = cv2.resize(side.seen.astype(np.float32), (_SIZE, _SIZE), interpolation=cv2.INTER_AREA)
    return (planes * seen).astype(np.float32), seen


def _in_square(matrix: Matrix) -> Matrix:
    """The map between small squares as one between whole ones; pixel centres at whole numbers."""
    k = FRAME / _SIZE
    whole = np.array([[k, 0, 0.5 * k - 0.5], [0, k, 0.5 * k - 0.5], [0, 0, 1]])
    found: Matrix = (whole @ np.vstack([matrix, [0, 0, 1]]) @ np.linalg.inv(whole))[:2]
    return found
