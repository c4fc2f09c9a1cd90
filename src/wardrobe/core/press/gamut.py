"""Which colours a press cannot print, and which of those it can are nearest."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import pyvips
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000
from wardrobe.core.colour.oklab import lab_d50_to_oklab
from wardrobe.core.press.inks import Press, measured, to_inks
from wardrobe.core.press.profile import Profile

Real = NDArray[np.float64]

SEEN = 2.0  # CIEDE2000 from which a colour is printed otherwise (common practice)
_GRID = np.array([0.0, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1.0])
_STARTS = 8  # places on the grid from which the nearest is looked for
_STEPS = (0.0625, 0.03125, 0.015625, 0.0078125, 0.00390625)
_HUE, _COLOURED = 4.0, 0.08  # weight of hue, for colours of this chroma and more
_TURNS = 8  # at each step


@dataclass(frozen=True)
class Printed:
    """A colour as a press prints it.

    Attributes
    ----------
    wanted, printed, nearest : (int, int, int)
        sRGB: as it is, as it looks printed, and the nearest that can be printed.
    distance, least : float
        CIEDE2000 from what is wanted to what is printed, and to the nearest.
    inks : (float, float, float, float)
        Percent of each ink for the nearest.
    """

    wanted: tuple[int, int, int]
    printed: tuple[int, int, int]
    distance: float
    nearest: tuple[int, int, int]
    least: float
    inks: tuple[float, float, float, float]


def printed(colours: Sequence[tuple[int, int, int]], press: Press) -> list[Printed]:
    """How colours are printed, and the nearest that can be.

    Distances are CIEDE2000 between CIELAB (D50) against the white of the paper, as ICC's relative
    colorimetric intent has it (ICC.1:2010, section 6.2). Where that intent by itself comes near
    enough, its inks are taken; elsewhere the nearest that keeps its hue is looked for among all
    inks within the limit: from the best places of a grid, by ever smaller steps in all inks.
    """
    if not colours:
        return []
    wanted = np.array(colours, np.uint8)
    lab = lab_of_colours(wanted)
    inks = to_inks(wanted[None], press)[0]
    best = to_inks(wanted[None], straight(press))[0] / 255.0
    near = np.asarray(delta_e_2000(lab, lab_of_inks(best, press.profile)))
    far = near > SEEN
    if far.any():
        best[far] = _nearest(lab[far], best[far], press)
        near = np.asarray(delta_e_2000(lab, lab_of_inks(best, press.profile)))
    shown = measured(inks[None], press.profile)[0]
    as_seen = measured(np.round(best * 255).astype(np.uint8)[None], press.profile)[0]
    away = np.asarray(delta_e_2000(lab, lab_of_inks(inks / 255.0, press.profile)))
    return [Printed(_rgb(wanted[k]), _rgb(shown[k]), float(away[k]), _rgb(as_seen[k]),
                    float(near[k]), tuple(np.round(best[k] * 100, 1).tolist()))
            for k in range(len(wanted))]


def straight(press: Press) -> Press:
    """The press, every colour printed as it is where that is possible."""
    return replace(press, intent="relative", black_point=False)


def _rgb(pixel: NDArray[np.uint8]) -> tuple[int, int, int]:
    red, green, blue = (int(v) for v in pixel)
    return red, green, blue


def _nearest(lab: Real, first: Real, press: Press) -> Real:
    """Inks whose colours are nearest; a change of hue counts for more than one of lightness or
    chroma."""
    wanted = lab_d50_to_oklab(lab)
    grid, of_grid = _grid(press.profile)
    fits = grid.sum(axis=1) * 100 <= press.most_ink + 1e-9
    grid = grid[fits]
    some = np.argsort(apart(wanted, np.broadcast_to(of_grid[fits], (len(lab), len(grid), 3))),
                      axis=1)[:, :_STARTS]
    at = np.concatenate([first[:, None], grid[some]], axis=1)
    off = _away(wanted, at[:, :, None], press)[..., 0]
    steps = np.array(np.meshgrid(*[[-1.0, 0.0, 1.0]] * 4)).reshape(4, -1).T
    for step in _STEPS:
        for _ in range(_TURNS):
            tried = np.clip(at[:, :, None] + step * steps, 0, 1)
            away = _away(wanted, tried, press)
            pick = away.argmin(axis=2)[..., None]
            least = np.take_along_axis(away, pick, 2)[..., 0]
            better = least < off - 1e-7
            if not better.any():
                break
            at = np.where(better[..., None],
                          np.take_along_axis(tried, pick[..., None], 2)[:, :, 0], at)
            off = np.where(better, least, off)
    best: Real = at[np.arange(len(lab)), off.argmin(axis=1)]
    return best


def _away(wanted: Real, inks: Real, press: Press) -> Real:
    """How far inks, shape (n, starts, tries, 4), are; infinite where they are too many."""
    seen = lab_d50_to_oklab(lab_of_inks(inks.reshape(-1, 4), press.profile))
    away = apart(wanted, seen.reshape(len(inks), -1, 3)).reshape(inks.shape[:3])
    return np.where(inks.sum(axis=3) * 100 <= press.most_ink + 0.5, away, np.inf)


def apart(wanted: Real, seen: Real) -> Real:
    """Distance in Oklab, in which what is across the hue of a colour weighs more.

    Parameters
    ----------
    wanted : ndarray of float64, shape (n, 3)
        Oklab.
    seen : ndarray of float64, shape (n, m, 3)

    References
    ----------
    CIE 156:2004, section 6: clipping that keeps the hue and is least otherwise (HPMINDE), here
    with a weight instead of a bound, so that little hue is given for much chroma.
    """
    chroma = np.linalg.norm(wanted[:, 1:], axis=1)
    along = wanted[:, 1:] / np.maximum(chroma, 1e-9)[:, None]
    off = seen - wanted[:, None]
    down = (off[..., 1:] * along[:, None]).sum(axis=2)
    across = off[..., 2] * along[:, None, 0] - off[..., 1] * along[:, None, 1]
    weight = 1 + (_HUE - 1) * np.minimum(1, chroma / _COLOURED)[:, None]
    return np.sqrt(off[..., 0]**2 + down**2 + (weight * across)**2)


@lru_cache(maxsize=4)
def _grid(profile: Profile) -> tuple[Real, Real]:
    places = np.array(np.meshgrid(*[_GRID] * 4)).reshape(4, -1).T
    return places, lab_d50_to_oklab(lab_of_inks(places, profile))


def lab_of_inks(inks: Real, profile: Profile) -> Real:
    """CIELAB (D50) of inks against the paper's white.

    Parameters
    ----------
    inks : ndarray of float64, shape (n, 4), 0..1
    profile : Profile
    """
    levels = np.round(np.clip(inks, 0, 1) * 65535).astype(np.uint16)
    image = pyvips.Image.new_from_array(levels[None]).copy(interpretation="cmyk")
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", profile.data)
    lab = image.icc_import(embedded=True, intent="relative", pcs="lab")
    return np.asarray(lab.numpy(), np.float64).reshape(-1, 3)


def lab_of_colours(rgb: NDArray[np.uint8]) -> Real:
    """CIELAB (D50) of sRGB colours, shape (n, 3)."""
    image = pyvips.Image.new_from_array(rgb[None]).copy(interpretation="srgb")
    lab = image.icc_import(input_profile="srgb", intent="relative", pcs="lab")
    return np.asarray(lab.numpy(), np.float64).reshape(-1, 3)

