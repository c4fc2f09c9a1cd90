"""What kind of drawing came in, and how each kind is read."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Kind = Literal["transparent", "black on white", "grey scan", "photo"]

_LUMA = np.array([[0.2126, 0.7152, 0.0722, 0]], np.float32)  # ITU-R BT.709, on encoded values
_CLEAR_SHARE = 0.005
_UNEVEN = 0.1
_GRID = 24


@dataclass(frozen=True)
class Intake:
    """How a kind of drawing is read unless the user says otherwise.

    Attributes
    ----------
    key, label : str
    says : str
        One sentence for the user.
    even : bool
        Whether the light on the paper is evened out.
    paper : float, 0..0.6
        Darkness against the paper that still counts as paper.
    grain : float
        Marks smaller than this many px across are dust.
    soften : float
        Standard deviation of the blur against sensor noise, px.
    """

    key: Kind
    label: str
    says: str
    even: bool
    paper: float
    grain: float
    soften: float


INTAKES: dict[str, Intake] = {i.key: i for i in (
    Intake("transparent", "Clean lines, transparent",
           "Lines on a transparent ground: their opacity is the ink.", False, 0.0, 0, 0),
    Intake("black on white", "Clean lines on white",
           "Dark lines on white: their darkness is the ink.", False, 0.09, 0, 0),
    Intake("grey scan", "Scan",
           "A scan: the paper's tone counts as white, the darkest marks as full ink.",
           True, 0.1, 4, 0.6),
    Intake("photo", "Photo of a drawing",
           "A photo: the light on the paper is evened out before ink is told from paper.",
           True, 0.1, 7, 0.9),
)}


def luma_of(rgba: Byte) -> Byte:
    """Luma of encoded sRGB, 0..255."""
    return cv2.transform(rgba, _LUMA)


def recognise(rgba: Byte) -> Kind:
    """Recognise what kind of drawing a picture is.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)

    Returns
    -------
    str
        A key of INTAKES: transparent if enough of it is; black on white if nearly all of it is
        either; a photo if the paper's tone differs over the picture, else a scan.
    """
    if np.count_nonzero(rgba[..., 3] < 128) > _CLEAR_SHARE * rgba[..., 3].size:
        return "transparent"
    luma = luma_of(rgba)
    histogram = np.bincount(luma.ravel(), minlength=256)
    paper = 128 + int(np.argmax(histogram[128:]))
    if paper >= 251 and histogram[8:248].sum() < 0.35 * luma.size:
        return "black on white"
    # The paper's tone in each field of a grid: a high percentile, so that lines do not count.
    side = max(8, 6 * _GRID)
    small = cv2.resize(luma, (side, side), interpolation=cv2.INTER_AREA)
    fields = small.reshape(_GRID, 6, _GRID, 6).swapaxes(1, 2).reshape(_GRID * _GRID, 36)
    tone = np.percentile(fields, 80, axis=1)
    low, high = np.percentile(tone, [8, 95])
    return "photo" if high - low > _UNEVEN * high else "grey scan"
