"""Picked per part: normal layers, each part's shade derived from its own base."""

from wardrobe.core.colour.hsb import srgb_to_hsb
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.methods.rules import Column, Method, Rules
from wardrobe.core.passes.picking import RED, picked_light, picked_shade

_SECOND_LIGHT = 2.2  # a glint is that much brighter than the light


def _coat(base: Rgb, rules: Rules) -> Coat:
    a = rules.amounts
    towards = RED if rules.turn_to == "red" else srgb_to_hsb([v / 255 for v in rules.ambient])[0]
    deeper = 1 - (1 - a["darker"]) * (1 - a["deeper"])
    colours = {
        "shade": picked_shade(base, a["darker"], towards, a["shade turn"]),
        "deep shade": picked_shade(base, deeper, towards, 2 * a["shade turn"], 1 + a["richer"]),
        "light": picked_light(base, a["brighter"], a["light turn"]),
        "glint": picked_light(base, _SECOND_LIGHT * a["brighter"], a["light turn"]),
    }
    return Coat(base, tuple(PassLayer(key, "normal", key, colour)
                            for key, colour in colours.items() if key not in rules.off))


METHOD = Method(
    "picked", "Picked per part",
    "Every part gets a shade of its own: darker, its hue turned a little to red or to the light "
    "around. Colours stay clean and each can be corrected, and pale skin and dark hair read as "
    "well as everything else. Choose it for cel work and where colours come from a colour sheet; "
    "new base colours need new shades, which are worked out here at once.",
    (Column("base", "normal"),
     Column("shade", "normal", settings=("darker", "shade turn")),
     Column("deep shade", "normal", settings=("deeper", "richer")),
     Column("light", "normal", settings=("brighter", "light turn")),
     Column("glint", "normal")),
    _coat, choices=("turn_to",),
)
