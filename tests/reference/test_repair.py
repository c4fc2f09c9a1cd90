"""Repair of uneven light, against scikit-image's samples and threshold, and a known drawing.

Sources: J. Sauvola, M. Pietikäinen, "Adaptive document image binarization", Pattern Recognition
33, 2000, as implemented in scikit-image; its sample pictures ``page`` and ``text``.
"""

import numpy as np
import pytest
from skimage import data
from skimage.filters import threshold_otsu, threshold_sauvola

from wardrobe.core.formats.images import decode_image
from wardrobe.core.lines.coverage import ink_coverage, read_darkness
from wardrobe.core.lines.stroke import remove_grain
from wardrobe.demo import owl


def shares(found: np.ndarray, true: np.ndarray) -> tuple[float, float]:
    """Precision and recall."""
    both = np.count_nonzero(found & true)
    return both / np.count_nonzero(found), both / np.count_nonzero(true)


@pytest.mark.parametrize(("name", "threshold"), [("page", 0.4), ("text", 0.4)])
def test_uneven_pages_come_out_as_a_known_good_threshold_has_them(name: str,
                                                                  threshold: float) -> None:
    grey = getattr(data, name)()
    darkness = read_darkness(np.dstack([grey, grey, grey, np.full_like(grey, 255)]))
    assert darkness.kind == "photo"
    ours = ink_coverage(darkness, threshold) >= 128
    good = grey < threshold_sauvola(grey, 25)
    precision, recall = shares(ours, good)
    assert precision > 0.97 and recall > 0.72
    # One threshold for the whole page floods the dark side: what evening out is for.
    assert precision > shares(grey < threshold_otsu(grey), good)[0] + 0.2


def test_the_ink_of_a_photographed_drawing_is_found() -> None:
    photo = decode_image(owl.draw())
    ours = remove_grain(ink_coverage(read_darkness(photo)), 7) >= 128
    precision, recall = shares(ours, owl.graphite() >= 0.5)
    assert precision > 0.99 and recall > 0.95
