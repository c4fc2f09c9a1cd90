"""The readable compositor: float64, one formula a line. The compiled one is tested against it."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.modes import MODES

Rgba = NDArray[np.float64]


def composite(backdrop: Rgba, source: Rgba, mode: str = "normal", opacity: float = 1.0,
              clip: bool = False) -> Rgba:
    """Lay ``source`` on ``backdrop``.

    Parameters
    ----------
    backdrop, source : ndarray of float64, shape (..., 4), range 0..1
        Straight (not premultiplied) colour and alpha.
    mode : str
        A name in :data:`~wardrobe.core.composite.modes.MODES`.
    opacity : float, 0..1
        Multiplies the source's alpha.
    clip : bool
        Composite with source-atop: the source shows only where the backdrop is, and the
        backdrop's alpha stays. Use inside an isolated group.

    Returns
    -------
    ndarray of float64, shape (..., 4), range 0..1
        Straight colour; colour is 0 where alpha is 0.

    References
    ----------
    W3C Compositing and Blending Level 1, sections 9.1 and 10.
    """
    cb, ab = backdrop[..., :3], backdrop[..., 3:]
    cs, as_ = source[..., :3], source[..., 3:] * opacity
    if mode == "plus-lighter":
        share = as_ * ab if clip else as_
        alpha = ab if clip else np.minimum(1, as_ + ab)
        premultiplied = np.minimum(alpha, cs * share + cb * ab)
    else:
        mixed = (1 - ab) * cs + ab * MODES[mode].blend(cb, cs)
        fa = ab if clip else 1.0
        alpha = as_ * fa + ab * (1 - as_)
        premultiplied = as_ * fa * mixed + (1 - as_) * ab * cb
    colour = np.where(alpha > 0, premultiplied / np.maximum(alpha, 1e-12), 0)
    return np.concatenate([np.clip(colour, 0, 1), alpha], axis=-1)
