"""The passes: one table entry each, with all that belongs to it.

Adding a pass is adding an entry: its shape is drawn, its mask settled, it is composited where a
method lays it, seen on the sheet, delivered, and told to the screens.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from wardrobe.core.light.shapes import (
    SHADE_SHARE,
    Shape,
    bounced,
    deep,
    highlight,
    ramp,
    rim,
    tone,
)


@dataclass(frozen=True)
class Rule:
    """How the mask of a pass is kept in agreement with others.

    Attributes
    ----------
    does : str
        ``within``: nowhere more than the other; ``without``: nowhere where the other is;
        ``around``: everywhere where the other is; ``alone``: all others are nowhere where this is.
    others : tuple of str
        The first of these that is there counts; ``not shade`` is where the shade is not, and
        ``nothing`` is always there.
    turn : int
        Rules are applied in the order of their turns.
    """

    does: Literal["within", "without", "around", "alone"]
    others: tuple[str, ...] = ()
    turn: int = 0


@dataclass(frozen=True)
class Span:
    """CIEDE2000 steps of a pass from its base.

    The figures follow from common practice and from published work on colour differences;
    docs/steps.md derives them, and a test does so again.

    Attributes
    ----------
    wanted : float
        What a change of 25 % gives in the middle of a wide set of bases.
    faint : float
        Below this it is too faint: the lower quartile of a change of 20 %.
    heavy : float
        Above this it is too heavy: the 95th percentile of a change of 30 %.
    """

    wanted: float
    faint: float
    heavy: float


@dataclass(frozen=True)
class Pass:
    """A kind of layer.

    Attributes
    ----------
    key : str
        Name in recipes, of the shape that it fills, and in the names of delivered layers.
    label : str
        Name on screens.
    shape : Shape or None
        How it is drawn on the figure; None for what lies on the ground.
    within : tuple of str
        Shapes that are full wherever this one is: a deep shade lies inside the shade.
    soft : bool
        The shape is a gradient rather than an area with an edge.
    lit : bool
        It is light: what is put into it by hand comes out of the shade.
    takes_along : bool
        What is put into it by hand is put into what it lies within, too.
    rules : tuple of Rule
        How it agrees with other passes.
    lamp : str or None
        Name of the light of its own that it takes its colour from, and without which it is not
        drawn.
    span : Span or None
        How far it should be from its base.
    dark : bool
        It is lost where it is no longer told from the lines.
    words : tuple of str
        What artists call it in the names of layers, beside the words for shade and light at
        large (common practice, no published source).
    why : str
        What it is for, to learn from.
    """

    key: str
    label: str
    shape: Shape | None
    within: tuple[str, ...] = ()
    soft: bool = False
    lit: bool = False
    takes_along: bool = True
    rules: tuple[Rule, ...] = ()
    lamp: str | None = None
    span: Span | None = None
    dark: bool = False
    words: tuple[str, ...] = ()
    why: str = ""

    @property
    def alone(self) -> bool:
        """Whether nothing else is where this is."""
        return any(rule.does == "alone" for rule in self.rules)


_DARK, _BRIGHT = ("shade", "deep shade"), ("light", "glint")


def _outer(*inner: str, turn: int) -> tuple[Rule, ...]:
    """A tone around darker ones, and nowhere in the light."""
    return (Rule("without", _BRIGHT, turn), Rule("around", inner, turn))


# In the order in which they are laid on. Shares of a ball that are darker than where a tone
# begins: those but the shade's are common practice, no published source.
PASSES: dict[str, Pass] = {
    p.key: p
    for p in (
        Pass("gradient", "Gradient", ramp(0.98), soft=True,
             rules=_outer("soft shade", "half light", "low light", *_DARK, turn=8),
             why="A slow change of value over the whole form, before anything has an edge."),
        Pass("soft shade", "Soft shade", ramp(0.66), ("gradient",), soft=True,
             rules=_outer("half light", "low light", *_DARK, turn=7),
             why="Large and soft: where the form turns away, without saying yet where light ends."),
        Pass("half light", "Half light", tone(0.58), ("gradient", "soft shade"),
             rules=_outer("low light", *_DARK, turn=6),
             why="The first tone down from full light: the second face of a block."),
        Pass("low light", "Low light", tone(0.47), ("gradient", "soft shade", "half light"),
             rules=_outer(*_DARK, turn=5),
             why="Darker than half light and not yet shade; it makes the turn rounder."),
        Pass("shade", "Shade", tone(SHADE_SHARE),
             ("gradient", "soft shade", "half light", "low light"),
             span=Span(13.5, 7.0, 21.0), dark=True,
             why="Where the light does not reach. One hard edge, simple shapes: it "
                 "says where the light is."),
        Pass("deep shade", "Deep shade", deep(0.13),
             ("gradient", "soft shade", "half light", "low light", "shade"),
             rules=(Rule("within", ("shade",), 1), Rule("without", ("bounce",), 9)),
             span=Span(24.0, 12.5, 40.5), dark=True, words=("deep", "second", "occlusion", "core"),
             why="A smaller, darker shape inside the shade, where even the "
                 "surroundings give no light."),
        Pass("bounce", "Bounce", bounced(SHADE_SHARE),
             ("gradient", "soft shade", "half light", "low light", "shade"), takes_along=False,
             rules=(Rule("within", (*_DARK, "nothing"), 2),), lamp="bounce",
             words=("bounce", "bounced", "reflected"),
             why="Light that comes back from the ground or a wall and lifts the far "
                 "side of the shade."),
        Pass("light", "Light", highlight("light", 3.0), lit=True,
             rules=(Rule("without", _DARK, 3),), span=Span(11.5, 7.0, 18.5),
             why="Where the form faces the light most. As large as the material "
                 "allows, and no larger."),
        Pass("glint", "Glint", highlight("glint", 1.5), ("light",), lit=True,
             rules=(Rule("within", ("light", "not shade", "not deep shade"), 4),),
             words=("glint", "glints", "sparkle"),
             why="The sharpest reflection. Few and small, or the eye has nowhere to rest."),
        Pass("rim", "Rim", rim(3.0), rules=(Rule("alone"),), lamp="rim",
             words=("rim", "edge"),
             why="A second light from behind along one edge; it parts the figure from the ground."),
        Pass("ground", "Ground shadow", None, lamp="ground",
             why="The figure's shadow on what it stands on: without it, it floats."),
    )
}
GROUND = "ground"  # lies on the background, not on parts
LIT = tuple(p.key for p in PASSES.values() if p.lit)
BY_LAMP = {p.key: p.lamp for p in PASSES.values() if p.lamp and p.shape}  # on the figure


def drawn_shapes(keys: Iterable[str]) -> dict[str, Shape]:
    """How the shapes of passes are drawn, of those that lie on the figure."""
    return {key: shape for key in keys if (shape := PASSES[key].shape) is not None}
