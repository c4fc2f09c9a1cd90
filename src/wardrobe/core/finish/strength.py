"""How strongly a colour is to be laid on for a wanted step."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.composite.modes import MODES, PLUS_LIGHTER

Real = NDArray[np.float64]

_TRIES = np.linspace(0, 1, 401)


def laid_on(base: Real, colour: Real, mode: str, strength: Real) -> Real:
    """A colour laid on another by W3C Compositing and Blending Level 1, opaque below.

    Parameters
    ----------
    base, colour : ndarray of float64, shape (..., 3), range 0..1
    mode : str
        A key of MODES.
    strength : ndarray of float64, shape (..., 1), range 0..1
    """
    found = MODES[mode]
    if found.code == PLUS_LIGHTER:
        added: Real = np.minimum(1, base + strength * colour)
        return added
    base, colour = np.broadcast_arrays(base, colour)
    laid: Real = base + strength * (found.blend(base, colour) - base)
    return laid


def strength_for(base: Real, colour: Real, mode: str, step: float) -> tuple[float, float]:
    """The least strength at which a colour on a base is so far from it.

    Parameters
    ----------
    base, colour : ndarray of float64, shape (3,), range 0..1
    mode : str
    step : float
        Wanted CIEDE2000.

    Returns
    -------
    strength : float, 0..1
        To a four hundredth; 1 where the step cannot be reached.
    reached : float
        CIEDE2000.
    """
    seen = laid_on(base, colour, mode, _TRIES[:, None])
    steps = delta_e_2000(srgb_to_lab(base), srgb_to_lab(seen))
    enough = np.flatnonzero(steps >= step)
    k = int(enough[0]) if len(enough) else len(_TRIES) - 1
    return float(_TRIES[k]), float(steps[k])
