"""The key light."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

RIM_WIDTH = 2.6  # line widths, unless told otherwise


@dataclass(frozen=True)
class KeyLight:
    """Where the light comes from.

    Attributes
    ----------
    azimuth : float
        Degrees, counter-clockwise from the right of the picture.
    height : float
        Degrees above the picture plane: 90 is face on, 0 grazes, below 0 is from behind.
    """

    azimuth: float
    height: float

    def vector(self) -> NDArray[np.float32]:
        """Unit vector towards the light: x right, y down, z towards the viewer."""
        a, h = np.radians(self.azimuth), np.radians(self.height)
        return np.array([np.cos(a) * np.cos(h), -np.sin(a) * np.cos(h), np.sin(h)], np.float32)

    def halfway(self) -> NDArray[np.float32]:
        """Unit vector halfway between the light and the viewer (Blinn 1977)."""
        half = self.vector() + np.array([0, 0, 1], np.float32)
        size = float(np.linalg.norm(half))
        return (half / max(size, 1e-6)).astype(np.float32)
