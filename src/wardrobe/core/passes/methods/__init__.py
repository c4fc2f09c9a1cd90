"""The methods, one table entry each, and the amounts they can be set by."""

from wardrobe.core.passes.methods import (
    light_out_of_dark,
    one_shade,
    picked,
    soft_then_hard,
    values_first,
)
from wardrobe.core.passes.methods.rules import Column, Ink, Method, Rules
from wardrobe.core.setting import Setting

__all__ = ["AMOUNTS", "METHODS", "Column", "Ink", "Method", "Rules"]

METHODS: dict[str, Method] = {
    m.key: m
    for m in (one_shade.METHOD, picked.METHOD, light_out_of_dark.METHOD, soft_then_hard.METHOD,
              values_first.METHOD)
}

# Shares and turns: common practice, no published source.
AMOUNTS: dict[str, Setting] = {
    s.name: s
    for s in (
        Setting("darker", "Darker by", 0.02, 0.7, 0.25, "%"),
        Setting("shade turn", "Hue turned by", 0, 40, 8, "°"),
        Setting("deeper", "Again darker by", 0.02, 0.7, 0.28, "%"),
        Setting("richer", "More saturated by", 0, 0.6, 0.15, "%"),
        Setting("brighter", "Brighter by", 0.02, 0.7, 0.25, "%"),
        Setting("light turn", "Hue turned by", 0, 40, 8, "°"),
        Setting("half light", "Shade taken off", 0.1, 0.9, 0.55, "%"),
        Setting("gradient", "Strength", 0, 0.6, 0.16, "%"),
        Setting("soft shade", "Strength", 0, 0.6, 0.24, "%"),
    )
}
