"""CIELAB under D65."""

import numpy as np
from numpy.typing import ArrayLike

from wardrobe.core.colour.srgb import Float, decode

# IEC 61966-2-1 primaries; rows give X, Y, Z.
_TO_XYZ = np.array([
    [0.4123907992659595, 0.3575843393838780, 0.1804807884018343],
    [0.2126390058715104, 0.7151686787677559, 0.0721923153607337],
    [0.0193308187155918, 0.1191947797946259, 0.9505321522496608],
])
_WHITE = _TO_XYZ.sum(axis=1)
_EPSILON = 216 / 24389
_KAPPA = 24389 / 27


def srgb_to_lab(srgb: ArrayLike) -> Float:
    """Encoded sRGB to CIELAB, white point D65.

    Parameters
    ----------
    srgb : array_like, shape (..., 3), range 0..1

    Returns
    -------
    ndarray of float64, shape (..., 3)
        L* 0..100, a* and b*.

    References
    ----------
    CIE 15:2004, section 8.2.1, with the exact constants 216/24389 and 24389/27.
    """
    xyz = decode(srgb) @ _TO_XYZ.T / _WHITE
    f = np.where(xyz > _EPSILON, np.cbrt(xyz), (_KAPPA * xyz + 16) / 116)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)
