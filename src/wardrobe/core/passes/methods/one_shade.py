"""One shade for all: multiply and screen, the same colour on every part."""

from wardrobe.core.passes.layers import Coat, PassLayer
from wardrobe.core.passes.methods.rules import Column, Method, Rules

MODE = {"shade": "multiply", "deep shade": "multiply", "light": "screen", "glint": "screen"}


def wash_layers(rules: Rules, passes: tuple[str, ...] = tuple(MODE),
                over_figure: bool = False) -> tuple[PassLayer, ...]:
    """One layer a pass, in the wash of its name."""
    return tuple(
        PassLayer(key, MODE[key], key, rules.washes[key].colour, rules.washes[key].strength,
                  over_figure=over_figure)
        for key in passes if key not in rules.off)


METHOD = Method(
    "one shade", "One shade for all",
    "One muted colour shades everything and one light colour lights everything. It follows every "
    "base and pattern beneath, ties the palette together and survives recolouring. Choose it for "
    "most pieces, and for several colour versions of one figure; look out for very pale and very "
    "dark parts, on which one shade shows too little or too much.",
    (Column("base", "normal"),
     *(Column(key, mode, wash=key) for key, mode in MODE.items())),
    lambda base, rules: Coat(base, wash_layers(rules, over_figure=rules.over_figure)),
    choices=("over",),
)
