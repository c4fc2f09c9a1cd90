"""Oklab and its cylindrical form OKLCH."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from wardrobe.core.colour.srgb import Float, decode, encode
from wardrobe.core.kernel import kernel

_TO_LMS = np.array([
    [0.4122214708, 0.5363325363, 0.0514459929],
    [0.2119034982, 0.6806995451, 0.1073969566],
    [0.0883024619, 0.2817188376, 0.6299787005],
])
_TO_LAB = np.array([
    [0.2104542553, 0.7936177850, -0.0040720468],
    [1.9779984951, -2.4285922050, 0.4505937099],
    [0.0259040371, 0.7827717662, -0.8086757660],
])
# From XYZ under D65, and from D50 to D65.
_XYZ_TO_LMS = np.array([
    [0.8190224379967030, 0.3619062600528904, -0.1288737815209879],
    [0.0329836539323885, 0.9292868615863434, 0.0361446663506424],
    [0.0481771893596242, 0.2642395317527308, 0.6335478284694309],
])
_BRADFORD = np.array([
    [0.9554734527042182, -0.0230985368742614, 0.0632593086610217],
    [-0.0283697069632081, 1.0099954580058226, 0.0210413989669430],
    [0.0123140016883199, -0.0205076964334779, 1.3303659366080753],
])
_D50 = np.array([0.9642956764295677, 1.0, 0.8251046025104602])
_FROM_LMS = np.linalg.inv(_TO_LMS)
_FROM_LAB = np.linalg.inv(_TO_LAB)


def srgb_to_oklab(srgb: ArrayLike) -> Float:
    """Encoded sRGB, shape (..., 3), 0..1, to Oklab (L 0..1, a, b).

    References
    ----------
    B. Ottosson, "A perceptual color space for image processing", 2020.
    """
    result: Float = np.cbrt(decode(srgb) @ _TO_LMS.T) @ _TO_LAB.T
    return result


def lab_d50_to_oklab(lab: ArrayLike) -> Float:
    """CIELAB under D50, as ICC profiles connect by, shape (..., 3), to Oklab.

    References
    ----------
    CIE 15:2004, section 8.2.1, inverted; Bradford adaptation to D65 (ICC.1:2010, annex E);
    Ottosson as above.
    """
    lab = np.asarray(lab, np.float64)
    f_y = (lab[..., 0] + 16) / 116
    f = np.stack([f_y + lab[..., 1] / 500, f_y, f_y - lab[..., 2] / 200], axis=-1)
    xyz = np.where(f > 6 / 29, f**3, (116 * f - 16) * 27 / 24389) * _D50
    result: Float = np.cbrt(xyz @ (_XYZ_TO_LMS @ _BRADFORD).T) @ _TO_LAB.T
    return result


def oklab_to_srgb(lab: ArrayLike) -> Float:
    """The inverse of :func:`srgb_to_oklab`; values may leave 0..1 outside the gamut."""
    return encode(oklab_to_linear(lab))


def oklab_to_linear(lab: ArrayLike) -> Float:
    """Oklab to linear light of sRGB; values may leave 0..1 outside the gamut."""
    root = np.asarray(lab, np.float64) @ _FROM_LAB.T
    result: Float = (root * root * root) @ _FROM_LMS.T
    return result


def srgb_to_oklch(srgb: ArrayLike) -> Float:
    """Encoded sRGB to OKLCH: lightness 0..1, chroma, hue in degrees 0..360."""
    lab = srgb_to_oklab(srgb)
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    return np.stack([lab[..., 0], np.hypot(lab[..., 1], lab[..., 2]), hue], axis=-1)


def oklch_to_srgb(lch: ArrayLike) -> Float:
    """OKLCH to encoded sRGB; what lies outside is brought in.

    Parameters
    ----------
    lch : array_like, shape (..., 3)
        Lightness 0..1, chroma, hue in degrees.

    Returns
    -------
    ndarray of float64, same shape, range 0..1

    References
    ----------
    CSS Color Module Level 4, section 13.2: gamut mapping by chroma reduction with local
    clipping where that changes a colour by less than is noticed.
    """
    wanted = np.asarray(lch, np.float64)
    lightness, chroma, hue = wanted.reshape(-1, 3).T
    hue = np.radians(hue)
    direction = np.stack([np.zeros_like(hue), np.cos(hue), np.sin(hue)], axis=1)
    base = np.stack([lightness, np.zeros_like(hue), np.zeros_like(hue)], axis=1)

    def shown(rows: NDArray[np.intp], c: Float) -> tuple[Float, NDArray[np.bool_], Float]:
        """Clipped colours of a chroma, whether they were inside, and how far clipping moved."""
        lab = base[rows] + c[:, None] * direction[rows]
        rgb = oklab_to_srgb(lab)
        inside: NDArray[np.bool_] = np.all((rgb >= -1e-6) & (rgb <= 1 + 1e-6), axis=1)
        clipped = np.clip(rgb, 0, 1)
        off: Float = np.linalg.norm(srgb_to_oklab(clipped) - lab, axis=1)
        return clipped, inside, off

    every = np.arange(len(hue))
    out, inside, off = shown(every, chroma)
    rows = np.flatnonzero(~inside & (off >= _NOTICED) & (lightness > 0) & (lightness < 1))
    low, high = np.zeros(len(rows)), chroma[rows].copy()
    low_inside, stopped = np.ones(len(rows), bool), np.zeros(len(rows), bool)
    while (live := ~stopped & (high - low > _EPSILON)).any():
        middle = (low + high) / 2
        clipped, inside, off = shown(rows, middle)
        inside &= low_inside
        seen, far = live & ~inside, off >= _NOTICED
        out[rows[seen]] = clipped[seen]
        near = seen & ~far & (_NOTICED - off < _EPSILON)
        stopped |= near
        high[seen & far] = middle[seen & far]
        up = (live & inside) | (seen & ~far & ~near)
        low[up] = middle[up]
        low_inside[seen & up] = False
    out[lightness <= 0], out[lightness >= 1] = 0.0, 1.0
    return out.reshape(wanted.shape)


def oklch_within_gamut(lightness: ArrayLike, chroma: ArrayLike, hue: ArrayLike) -> Float:
    """OKLCH to linear light of sRGB, with as much of the chroma as the gamut has: lightness and
    hue stay as they are.

    Parameters
    ----------
    lightness, chroma, hue : array_like, of shapes that broadcast
        0..1, 0 and more, degrees.

    Returns
    -------
    ndarray of float64, shape (..., 3), range 0..1
        Chroma is given up to a thirty-second of what was asked for.
    """
    flat = [np.ascontiguousarray(v, np.float64) for v in np.broadcast_arrays(
        np.asarray(lightness, float), np.asarray(chroma, float), np.radians(hue))]
    found: Float = _within(flat[0].ravel(), flat[1].ravel(), flat[2].ravel(), _FROM_LAB, _FROM_LMS)
    return found.reshape(*flat[0].shape, 3)


@kernel
def _within(lightness: Float, chroma: Float, hue: Float, from_lab: Float,
            from_lms: Float) -> Float:
    out = np.empty((len(lightness), 3))
    root, rgb = np.empty(3), np.empty(3)
    for k in range(len(lightness)):
        a, b = np.cos(hue[k]), np.sin(hue[k])
        low, high, tried = 0.0, chroma[k], chroma[k]
        for halving in range(_HALVINGS + 2):
            for i in range(3):
                root[i] = (from_lab[i, 0] * lightness[k]
                           + tried * (from_lab[i, 1] * a + from_lab[i, 2] * b)) ** 3
            inside = True
            for i in range(3):
                rgb[i] = (from_lms[i, 0] * root[0] + from_lms[i, 1] * root[1]
                          + from_lms[i, 2] * root[2])
                inside = inside and 0 <= rgb[i] <= 1
            # All of it if it fits; else halved between what does and what does not.
            if (inside and halving == 0) or halving > _HALVINGS:
                break
            if inside:
                low = tried
            else:
                high = tried
            tried = low if halving == _HALVINGS else (low + high) / 2
        for i in range(3):
            out[k, i] = min(1.0, max(0.0, rgb[i]))
    return out


_HALVINGS = 5
_NOTICED, _EPSILON = 0.02, 1e-4  # Oklab distances; section 13.2
