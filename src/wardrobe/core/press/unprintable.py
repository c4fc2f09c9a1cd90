"""Where in a picture are colours that a press cannot print."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000
from wardrobe.core.press.gamut import SEEN, lab_of_colours, lab_of_inks, straight
from wardrobe.core.press.inks import Press, to_inks

Byte = NDArray[np.uint8]
_BLACK_L = 14.0  # L*: darker ones are black to any press


def out_of_reach(rgb: Byte, press: Press, least: float = SEEN) -> NDArray[np.bool_]:
    """Pixels whose colour the press cannot print: by CIEDE2000 from it to what comes of printing
    it straight. Blacks, which no press reaches, are left out.

    Parameters
    ----------
    rgb : ndarray of uint8, shape (height, width, 3)
    press : Press
    least : float
        CIEDE2000.
    """
    # Pictures have few colours: each is judged once.
    packed = rgb.reshape(-1, 3).astype(np.uint32) @ np.array([1, 256, 65536], np.uint32)
    _, first, back = np.unique(packed, return_index=True, return_inverse=True)
    some = np.ascontiguousarray(rgb.reshape(-1, 3)[first])
    wanted = lab_of_colours(some)
    seen = lab_of_inks(to_inks(some[None], straight(press))[0] / 255.0, press.profile)
    off = (np.asarray(delta_e_2000(wanted, seen)) > least) & (wanted[:, 0] > _BLACK_L)
    result: NDArray[np.bool_] = off[back].reshape(rgb.shape[:2])
    return result
