"""Where a view lies in the picture."""

from typing import NamedTuple


class Origin(NamedTuple):
    """Of the first pixel of a view.

    Attributes
    ----------
    x, y : float
        In pixels of the view from the picture's corner. Where they are whole, what is worked
        out from them is the same in every view to the last bit.
    scale : float
        Pixels of the view per picture pixel.
    """

    x: float = 0.0
    y: float = 0.0
    scale: float = 1.0


CORNER = Origin()
