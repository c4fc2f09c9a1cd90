"""Light out of dark: the shade covers the part, and lighter and lighter tones take it off."""

from wardrobe.core.passes.layers import Coat, PassLayer, Rgb
from wardrobe.core.passes.methods.one_shade import MODE, wash_layers
from wardrobe.core.passes.methods.rules import Column, Method, Rules

_WHITE = (255, 255, 255)


def _tone(shade: Rgb, share: float) -> Rgb:
    """The shade with a share of it taken off."""
    r, g, b = (round(v + share * (255 - v)) for v in shade)
    return r, g, b


def _coat(base: Rgb, rules: Rules) -> Coat:
    wash, kept = rules.washes["shade"], rules.amounts["half light"]
    if "shade" in rules.off:
        return Coat(base, wash_layers(rules, ("deep shade", "light", "glint")))
    tones = [PassLayer("dark", "normal", None, wash.colour)]
    inner = "shade"  # what the next lighter tone leaves out
    if rules.tones == 3 and "low light" not in rules.off:
        tones.append(PassLayer("low light", "normal", inner, _tone(wash.colour, kept / 2),
                               outside=True))
        inner = "low light"
    if "half light" not in rules.off:
        tones.append(PassLayer("half light", "normal", inner, _tone(wash.colour, kept),
                               outside=True))
        inner = "half light"
    tones.append(PassLayer("full light", "normal", inner, _WHITE, outside=True))
    shade = PassLayer("shade", "multiply", None, strength=wash.strength, tones=tuple(tones))
    return Coat(base, (shade, *wash_layers(rules, ("deep shade", "light", "glint"))))


METHOD = Method(
    "light out of dark", "Light out of dark",
    "The whole figure lies in shade and light is taken out of it in two or three tones, up to "
    "none. Light becomes the thing that is designed. Choose it for night, dramatic and "
    "single-source scenes, where more is dark than lit.",
    (Column("base", "normal"),
     Column("half light", "normal", settings=("half light",)),
     Column("low light", "normal"),
     Column("shade", "multiply", wash="shade"),
     *(Column(key, mode, wash=key) for key, mode in MODE.items() if key != "shade")),
    _coat, choices=("tones",),
)
