"""Values first: greys, the base colours over them on ``color``, then a multiply wash."""

import numpy as np

from wardrobe.core.composite.modes import luminosity_of
from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.methods.rules import Column, Method, Rules


def _coat(base: Rgb, rules: Rules) -> Coat:
    a = rules.amounts
    value = float(luminosity_of(np.array(base, np.float64)))
    deeper = 1 - (1 - a["darker"]) * (1 - a["deeper"])
    values = {"shade": value * (1 - a["darker"]), "deep shade": value * (1 - deeper),
              "light": value + a["brighter"] * (255 - value),
              "glint": value + min(1.0, 2 * a["brighter"]) * (255 - value)}
    greys = tuple(PassLayer(key, "normal", key, _grey(v)) for key, v in values.items()
                  if key not in rules.off)
    wash = rules.washes["wash"]
    over = () if "wash" in rules.off else (
        PassLayer("wash", "multiply", None, wash.colour, wash.strength, over_figure=True),)
    return Coat(_grey(value), (*greys, PassLayer("colour", "color", None, base, printed=True),
                               *over), grey=True)


def _grey(value: float) -> Rgb:
    level = round(value)
    return level, level, level


METHOD = Method(
    "values first", "Values first",
    "The figure is lit in greys, the base colours lie over them and take their values, and one "
    "wash ties all together. Values can be judged before colour distracts. Choose it for "
    "products, vehicles and materials, and where many colour versions of one rendering are "
    "wanted; shades stay as saturated as their bases.",
    (Column("base", "color"),
     Column("shade", "normal", settings=("darker",)),
     Column("deep shade", "normal", settings=("deeper",)),
     Column("light", "normal", settings=("brighter",)),
     Column("glint", "normal"),
     Column("wash", "multiply", wash="wash")),
    _coat,
)
