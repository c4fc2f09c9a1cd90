"""Times of the Lines step at 2480 x 3508 against a general-purpose library."""

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.filters import threshold_sauvola
from skimage.morphology import skeletonize

from benchmarks.layers import best_of
from wardrobe.core.formats.images import decode_image
from wardrobe.core.hatching.find import find_hatching
from wardrobe.core.lines.coverage import read_darkness
from wardrobe.core.lines.gaps import find_gaps
from wardrobe.demo import owl
from wardrobe.recipe.document.model import Lines
from wardrobe.recipe.stages import prepare_lines

SIZE = (2480, 3508)


def measure_lines(rgba: NDArray[np.uint8]) -> dict[str, float]:
    """Seconds: repair of a photo, Sauvola's threshold on it, gaps, hatching, and a skeleton
    alone."""
    photo = cv2.resize(decode_image(owl.draw()), SIZE, interpolation=cv2.INTER_CUBIC)
    grey = cv2.cvtColor(photo, cv2.COLOR_RGBA2GRAY)
    coverage = prepare_lines(read_darkness(rgba), Lines())
    return {
        "repair": best_of(lambda: prepare_lines(read_darkness(photo), Lines())),
        "sauvola": best_of(lambda: grey < threshold_sauvola(grey, 41), 2),
        "gaps": best_of(lambda: find_gaps(coverage)),
        "hatching": best_of(lambda: find_hatching(coverage)),
        "skeleton": best_of(lambda: skeletonize(coverage >= 128), 2),
    }
