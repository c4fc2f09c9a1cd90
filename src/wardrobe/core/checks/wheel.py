"""The colours of a picture on the hue wheel, by area."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import to_hex

_HUES = 36
_CHROMA = 10.0  # CIELAB, of a ring
_RINGS = 13
_GREY = 5.0  # chroma below which no hue is seen
_WARM = (-70.0, 110.0)  # CIELAB hue: from magenta over red to yellow (common practice)


@dataclass(frozen=True)
class HueField:
    """One field of the wheel.

    Attributes
    ----------
    hue : float
        Of its middle: CIELAB, degrees.
    chroma : float
        CIELAB; 0 for all greys together.
    share : float, 0..1
        Of the picture.
    colour : str
        The mean of what lies in it, ``#rrggbb``.
    """

    hue: float
    chroma: float
    share: float
    colour: str


@dataclass(frozen=True)
class HueWheel:
    """The fields that hold something, the largest first, and how much is warm, cool and grey.

    Attributes
    ----------
    fields : tuple of HueField
    warm, cool, grey : float, 0..1
        Shares of the picture.
    """

    fields: tuple[HueField, ...]
    warm: float
    cool: float
    grey: float


def hue_wheel(picture: NDArray[np.uint8], lab: NDArray[np.floating]) -> HueWheel:
    """Count the pixels of a picture by hue and chroma.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)
        sRGB.
    lab : ndarray of float, same shape
        The same in CIELAB.

    References
    ----------
    CIE 15:2018, Colorimetry: hue angle and chroma of CIELAB.
    """
    a, b = lab[..., 1].ravel(), lab[..., 2].ravel()
    chroma, hue = np.hypot(a, b), np.degrees(np.arctan2(b, a)) % 360
    grey = chroma < _GREY
    ring = np.clip((chroma / _CHROMA).astype(int), 0, _RINGS - 1)
    field = 1 + (hue * _HUES / 360).astype(int) % _HUES * _RINGS + ring
    field[grey] = 0
    count = np.bincount(field, minlength=1 + _HUES * _RINGS)
    sums = [np.bincount(field, picture[..., c].ravel(), minlength=len(count)) for c in range(3)]
    found = []
    for k in np.flatnonzero(count)[np.argsort(-count[count > 0], kind="stable")].tolist():
        at, out = divmod(k - 1, _RINGS)
        r, g, blue = (int(s[k] / count[k] + 0.5) for s in sums)
        found.append(HueField(
            0.0 if k == 0 else (at + 0.5) * 360 / _HUES, 0.0 if k == 0 else (out + 0.5) * _CHROMA,
            round(float(count[k] / len(field)), 5), to_hex((r, g, blue))))
    warm = ~grey & (((hue - _WARM[0]) % 360) < _WARM[1] - _WARM[0])
    return HueWheel(tuple(found), float(warm.mean()), float((~grey & ~warm).mean()),
                    float(grey.mean()))
