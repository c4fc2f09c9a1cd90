"""What methods work with: the settings of a piece, and how a method describes itself."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from wardrobe.core.passes.layers import Coat, Rgb


@dataclass(frozen=True)
class Ink:
    """A colour and how strongly it is laid on.

    Attributes
    ----------
    colour : (int, int, int)
    strength : float, 0..1
    """

    colour: Rgb
    strength: float


@dataclass(frozen=True)
class Rules:
    """The settings from which methods derive colours.

    Attributes
    ----------
    washes : mapping of str to Ink
        By pass; also ``wash``, the tint over everything.
    amounts : mapping of str to float
        By the names in :data:`~wardrobe.core.passes.methods.AMOUNTS`.
    ambient : (int, int, int)
        Colour of the light that reaches the shade.
    turn_to : str
        What the hue of a picked shade turns to: ``red`` or ``ambient``.
    tones : int
        Steps from the shade to full light, 2 or 3.
    over_figure : bool
        Whether one shade for all is one layer over the figure.
    off : frozenset of str
        Passes that are switched off.
    """

    washes: Mapping[str, Ink]
    amounts: Mapping[str, float]
    ambient: Rgb = (143, 134, 184)
    turn_to: str = "red"
    tones: int = 2
    over_figure: bool = False
    off: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Column:
    """A pass as a method makes it.

    Attributes
    ----------
    key : str
        ``base``, a pass, or ``wash``.
    mode : str
        Blend mode that is delivered.
    wash : str or None
        Key of the wash whose colour and strength it takes.
    settings : tuple of str
        Names of its amounts.
    """

    key: str
    mode: str
    wash: str | None = None
    settings: tuple[str, ...] = ()


@dataclass(frozen=True)
class Method:
    """A school of deriving pass colours.

    Attributes
    ----------
    key : str
        Name in recipes.
    label : str
        Name on screens.
    when : str
        In plain words, when to choose it.
    columns : tuple of Column
        What it makes, in order.
    coat : callable
        From a base colour and rules to all that lies on the part.
    choices : tuple of str
        Which of ``over``, ``turn_to`` and ``tones`` it has.
    """

    key: str
    label: str
    when: str
    columns: tuple[Column, ...]
    coat: Callable[[Rgb, Rules], Coat]
    choices: tuple[str, ...] = ()
