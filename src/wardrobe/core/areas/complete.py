"""Whether a figure is filled to the pixel."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas


@dataclass(frozen=True)
class Completeness:
    """What was measured on the full-size picture.

    Attributes
    ----------
    silhouette : int
        Pixels of the figure, with and without a part.
    claimed : int
        Those of them that have a part.
    specks : int
        Crumbs between strokes that were given to a neighbour.
    bleed : int
        Pixels that show a part's colour beyond the line that bounds it.
    pinholes : int
        Pixels inside the figure that show the ground.
    """

    silhouette: int
    claimed: int
    specks: int
    bleed: int
    pinholes: int


def measure_completeness(areas: Areas, parts: NDArray[np.uint16], ground: NDArray[np.bool_],
                         ) -> tuple[Completeness, NDArray[np.uint8]]:
    """Measure a fill from its pixels, whatever made it.

    Parameters
    ----------
    areas : Areas
    parts : ndarray of uint16, shape (height, width)
        Row of each pixel's part, 0 for none, as it will be delivered.
    ground : ndarray of bool, shape (areas + 1,)
        What is not to be filled.

    Returns
    -------
    Completeness
    faults : ndarray of uint8, shape (height, width)
        1 without a part, 2 bleed, 3 pinhole.

    Notes
    -----
    Free of ink, connected pixels of one area must show one part: others have bled in. A pinhole
    is a hole without a part, smaller than a line is wide squared, in what is otherwise filled.
    """
    labels = areas.labels
    figure = ~ground[labels]
    faults = np.zeros(labels.shape, np.uint8)
    kinds = int(parts.max()) + 1
    codes = labels[areas.core].astype(np.int64) * kinds + parts[areas.core]
    votes = np.bincount(codes, minlength=(areas.count + 1) * kinds).reshape(-1, kinds)
    own = votes.argmax(axis=1)
    bled = areas.core & (parts != own[labels])
    faults[bled] = 2
    count, holes, stats, _ = cv2.connectedComponentsWithStats(
        ((parts == 0) & figure & areas.core).astype(np.uint8), connectivity=4)
    small = stats[:, cv2.CC_STAT_AREA] < max(12.0, areas.line_width**2)
    small[0] = False
    pinhole = small[holes] if count > 1 else np.zeros(labels.shape, bool)
    faults[figure & areas.core & (parts == 0)] = 1
    faults[pinhole] = 3
    inside = figure & areas.core
    total = int(np.count_nonzero(inside))
    return Completeness(total, total - int(np.count_nonzero(inside & (parts == 0))), areas.specks,
                        int(np.count_nonzero(bled)), int(np.count_nonzero(pinhole))), faults
