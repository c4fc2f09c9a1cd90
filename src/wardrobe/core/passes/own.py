"""A part's own choices: colours that are to be seen in a pass, whatever the rule says."""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.srgb import to_bytes
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.seen import in_bytes, seen
from wardrobe.core.passes.table import PASSES


def with_own(coat: Coat, base: Rgb, own: Mapping[str, Rgb]) -> Coat:
    """A coat that shows these colours inside these passes, exactly.

    A layer keeps its blend mode, and so lets patterns through, where that can give the colour;
    else it becomes a normal one. Passes that the coat does not have are left out.

    Parameters
    ----------
    coat : Coat
    base : (int, int, int)
        The part's base.
    own : mapping of str to (int, int, int)
        Colours 0..255 by pass.
    """
    chosen = {key: colour for key, colour in own.items() if key in coat.shapes()}
    if not chosen:
        return coat
    coat = replace(coat, layers=tuple(replace(layer, over_figure=False)
                                      for layer in coat.layers))
    for key in PASSES:  # from the outer passes inwards: what lies inside follows
        if key in chosen:
            coat = _aimed(coat, base, key, chosen[key]) \
                or _spelled_out(coat, base, key, chosen[key])
    return coat


def _aimed(coat: Coat, base: Rgb, key: str, colour: Rgb) -> Coat | None:
    """The coat with one layer changed so that the pass shows the colour; None if none can."""
    at = next((k for k, layer in enumerate(coat.layers) if layer.name == key), None)
    if at is None or coat.layers[at].tones:
        return None
    under = seen(replace(coat, layers=coat.layers[:at]), base, key)
    for mode in dict.fromkeys((coat.layers[at].mode, "normal")):
        source = _source(mode, under, np.array(colour) / 255)
        if source is None:
            continue
        layer = replace(coat.layers[at], mode=mode, colour=source, strength=1.0)
        changed = replace(coat, layers=(*coat.layers[:at], layer, *coat.layers[at + 1:]))
        if in_bytes(seen(changed, base, key)) == colour:
            return changed
    return None


def _source(mode: str, under: NDArray[np.float64], wanted: NDArray[np.float64]) -> Rgb | None:
    """What to lay on at full strength to get a colour; None if the mode cannot give it."""
    if mode == "normal":
        return to_bytes(wanted)
    neutral = 1.0 if mode == "multiply" else 0.0
    source = wanted / np.maximum(under, 1e-9) if mode == "multiply" else \
        (wanted - under) / np.maximum(1 - under, 1e-9)
    source = np.where(np.abs(wanted - under) < 0.5 / 255, neutral, source)
    return to_bytes(source) if source.min() >= 0 and source.max() <= 1 else None


def _spelled_out(coat: Coat, base: Rgb, key: str, colour: Rgb) -> Coat:
    """Every pass as a normal layer in the colour that is seen, one of them in its own."""
    present = coat.shapes()
    layers = [PassLayer(k, "normal", k, colour if k == key else in_bytes(seen(coat, base, k)))
              for k in PASSES if k in present]
    return Coat(in_bytes(seen(coat, base, "base")), tuple(layers))
