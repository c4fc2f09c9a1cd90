"""What a stack is made of, what is chosen about it, and its layers in their places."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

from wardrobe.core.passes.layers import Coat, Over, PassLayer, Rgb
from wardrobe.core.stack.naming import DEFAULT_NAMES

Arrangement = Literal["by part", "by pass", "whole figure"]
Clipping = Literal["limited", "masked"]
LineLayers = Literal["one layer", "by part"]
Place = Literal["behind", "in parts", "over figure", "over lines"]
Content = Literal["canvas", "figure", "silhouette", "ground", "pattern", "pass", "printed", "over",
                  "line", "clipped", "mask", "blank"]

SILHOUETTE_GREY = (128, 128, 128)
FIGURE = "figure"  # what layers over all parts are named after
LINES = "lines"  # and what is printed of the drawing


@dataclass(frozen=True)
class Extra:
    """An empty layer to paint on later.

    Attributes
    ----------
    name, mode : str
    opacity : float, 0..1
    place : str
        Behind the figure, in every part, over the figure and under the lines, or over the lines.
    """

    name: str
    mode: str = "normal"
    opacity: float = 1.0
    place: Place = "over figure"


@dataclass(frozen=True)
class Layout:
    """What is chosen about a stack.

    Attributes
    ----------
    arrangement : str
    clipping : str
        Limit the alpha of clipped layers to their base, or close groups with a mask.
    names : str
        Pattern of layer names, with ``{part}``, ``{pass}`` and ``{number}``.
    numbered : bool
        Numbers before all names, from the bottom.
    empties : bool
        Keep passes on which nothing is painted.
    extras : tuple of Extra
    lines : str
        In one layer, or in one for each part that owns some: of two parts that meet the one in
        front owns the line between them.
    """

    arrangement: Arrangement = "by part"
    clipping: Clipping = "limited"
    names: str = DEFAULT_NAMES
    numbered: bool = False
    empties: bool = False
    extras: tuple[Extra, ...] = ()
    lines: LineLayers = "one layer"


@dataclass(frozen=True)
class Figure:
    """What a stack is made of.

    Attributes
    ----------
    names : tuple of str
        Of the parts, from front to behind; the first is row 1 of the label map.
    coats : tuple of Coat
        What lies on each.
    bases : tuple of (int, int, int)
    background : (int, int, int)
    over : tuple of Over
        What lies over all parts, the lines among it.
    patterned, hidden : frozenset of int
        Rows.
    behind : tuple of PassLayer
        What lies on the background, under the figure.
    line_rows : tuple of int
        Rows that own lines, 0 for lines that no part owns.
    scenery : tuple of int
        Rows of what lies around the figure, the farthest first.
    """

    names: tuple[str, ...]
    coats: tuple[Coat, ...]
    bases: tuple[Rgb, ...]
    background: Rgb
    over: tuple[Over, ...]
    patterned: frozenset[int] = frozenset()
    hidden: frozenset[int] = frozenset()
    behind: tuple[PassLayer, ...] = ()
    line_rows: tuple[int, ...] = ()
    scenery: tuple[int, ...] = ()


@dataclass(frozen=True)
class PlannedLayer:
    """A layer in its place.

    Attributes
    ----------
    part, what : str
        Halves of its name.
    content : str
        What is painted on it.
    rows : tuple of int
        Parts that it covers; empty for what covers none.
    layer : PassLayer or None
    over : Over or None
    under : bool
        Goes on under the figure.
    within : tuple of int
        Parts that the mask of its group keeps; beyond them it may bleed. Empty without a mask.
    base : int
        Row whose ground it is clipped to; -1 for the silhouette, -2 for the lines, -3 and below
        for those of a row from 0 up, 0 for none.
    name : str
        Its final name, unique.
    """

    part: str
    what: str
    content: Content
    rows: tuple[int, ...] = ()
    colour: Rgb = (0, 0, 0)
    mode: str = "normal"
    opacity: float = 1.0
    layer: PassLayer | None = None
    over: Over | None = None
    under: bool = False
    within: tuple[int, ...] = ()
    base: int = 0
    visible: bool = True
    name: str = ""


@dataclass(frozen=True)
class PlannedGroup:
    """A group in its place; ``part`` may be empty, then it is named by ``what`` alone."""

    part: str
    what: str
    children: tuple["PlannedLayer | PlannedGroup", ...] = field(default=())
    rows: tuple[int, ...] = ()
    mode: str = "normal"
    opacity: float = 1.0
    visible: bool = True
    name: str = ""


Planned = PlannedLayer | PlannedGroup


def planned_layers(nodes: Sequence[Planned]) -> Iterator[PlannedLayer]:
    """All layers, bottom to top."""
    for node in nodes:
        if isinstance(node, PlannedGroup):
            yield from planned_layers(node.children)
        else:
            yield node
