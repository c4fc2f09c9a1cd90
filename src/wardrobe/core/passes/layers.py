"""What lies on a part: a bottom colour and layers over it. All pictures are made from this.

The compositor, the sheet and the delivered stack read the same description, so that they cannot
differ.
"""

from dataclasses import dataclass

from wardrobe.core.layers.layer import Gradient

Rgb = tuple[int, int, int]


@dataclass(frozen=True)
class PassLayer:
    """One layer over a part.

    Attributes
    ----------
    name : str
        Second half of the delivered layer's name; the key of its pass if it belongs to one.
    mode : str
        W3C blend mode.
    shape : str or None
        Key of the pass whose shape it fills; None for the whole part.
    colour : (int, int, int)
        0..255.
    strength : float, 0..1
        Opacity.
    outside : bool
        Fills the part except the shape.
    tones : tuple of PassLayer
        If not empty this is an isolated group that fills the part, and these, on normal, are
        what it holds, bottom to top. ``colour`` and ``shape`` are not used then.
    printed : bool
        Carries the part's pattern as well.
    over_figure : bool
        Delivered as one layer over all parts that have it, not in each part's group.
    """

    name: str
    mode: str
    shape: str | None
    colour: Rgb = (0, 0, 0)
    strength: float = 1.0
    outside: bool = False
    tones: tuple["PassLayer", ...] = ()
    printed: bool = False
    over_figure: bool = False


@dataclass(frozen=True)
class Coat:
    """All that lies on one part.

    Attributes
    ----------
    ground : (int, int, int)
        The bottom colour: the base, or its grey value.
    layers : tuple of PassLayer
        Bottom to top; those over the whole figure last.
    grey : bool
        The pattern, too, is laid on the bottom in grey.
    """

    ground: Rgb
    layers: tuple[PassLayer, ...]
    grey: bool = False

    def shapes(self) -> set[str]:
        """Keys of all shapes that the layers fill."""
        flat = [inner for layer in self.layers for inner in (layer, *layer.tones)]
        return {layer.shape for layer in flat if layer.shape}


@dataclass(frozen=True)
class Clipped:
    """A layer clipped to another one.

    Attributes
    ----------
    what : str
        Second half of its name.
    image : str
        Name of its image.
    strength : float, 0..1
    """

    what: str
    image: str
    strength: float = 1.0


@dataclass(frozen=True)
class Over:
    """A layer over the picture as a whole, or over several parts as one: the lines, what
    finishes the picture.

    Attributes
    ----------
    part, what : str
        Halves of the delivered layer's name.
    source : (int, int, int), Gradient or str
        One colour, colours by place, opaque, or the name of an image.
    mode : str
        W3C blend mode.
    strength : float, 0..1
    shape : str or None
        A pass whose shape it fills, or INK.
    outside : bool
        Fills everything but the shape.
    soft : str or None
        Name of the soft plane that it is laid by.
    rows : frozenset of int or None
        Parts that it lies on, 0 for the background; None for all.
    clipped : Clipped or None
        What is laid on it, by W3C's source-atop, before it meets what lies below.
    """

    part: str
    what: str
    source: Rgb | Gradient | str
    mode: str = "normal"
    strength: float = 1.0
    shape: str | None = None
    outside: bool = False
    soft: str | None = None
    rows: frozenset[int] | None = None
    clipped: Clipped | None = None
