"""How a picture will look printed."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.press.inks import Press, proof
from wardrobe.core.press.profile import Profile, coated
from wardrobe.core.press.unprintable import out_of_reach
from wardrobe.recipe.document.paper import PressSetup
from wardrobe.recipe.stages.picture import Picture
from wardrobe.recipe.stages.stage import Get, Stage

Byte = NDArray[np.uint8]

_ALARM = np.array([255, 92, 158], np.uint8)


@dataclass(frozen=True, eq=False)
class Proofed(Stage[Byte], keep="nowhere"):
    """The picture as it will look printed; ``marked`` shows what cannot be printed."""

    picture: Picture
    setup: PressSetup
    marked: bool

    def make(self, get: Get) -> Byte:
        rgb, press = get(self.picture), press_of(self.setup, get.load)
        if not self.marked:
            return proof(rgb, press, self.setup.paper)
        off = out_of_reach(rgb, press)
        grey = (rgb.mean(axis=2, keepdims=True) * 0.5 + 60).astype(np.uint8)
        return np.where(off[..., None], _ALARM, np.repeat(grey, 3, axis=2))


def press_of(setup: PressSetup, load: Callable[[str], Byte]) -> Press:
    """The press with its profile, whose bytes are loaded by their SHA-256."""
    kept = setup.profile
    profile = Profile(load(kept.asset).tobytes(), kept.name) if kept else coated()
    return Press(profile, setup.intent, setup.black_point, setup.most_ink)
