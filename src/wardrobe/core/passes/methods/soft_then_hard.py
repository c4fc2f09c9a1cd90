"""Soft first, then hard: a gradient and a broad soft shade under the hard shade."""

from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.methods.one_shade import MODE, wash_layers
from wardrobe.core.passes.methods.rules import Column, Method, Rules


def _coat(base: Rgb, rules: Rules) -> Coat:
    colour = rules.washes["shade"].colour
    soft = tuple(PassLayer(key, "multiply", key, colour, rules.amounts[key])
                 for key in ("gradient", "soft shade") if key not in rules.off)
    return Coat(base, (*soft, *wash_layers(rules)))


METHOD = Method(
    "soft then hard", "Soft first, then hard",
    "A soft gradient turns each part, a broad soft shade gathers its dark side, and the hard "
    "shade comes last. Large plain areas no longer look flat. Choose it for single illustrations "
    "and covers, less for frames and pages that have to match.",
    (Column("base", "normal"),
     Column("gradient", "multiply", settings=("gradient",)),
     Column("soft shade", "multiply", settings=("soft shade",)),
     *(Column(key, mode, wash=key) for key, mode in MODE.items())),
    _coat,
)
