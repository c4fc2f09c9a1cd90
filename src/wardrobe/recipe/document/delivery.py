"""How a piece's stack is delivered."""

from typing import Annotated

from pydantic import AfterValidator, Field

from wardrobe.core.composite.modes import MODES
from wardrobe.core.stack.naming import DEFAULT_NAMES, NamePatternError, check_pattern
from wardrobe.core.stack.plan import Arrangement, Clipping, Extra, Layout, LineLayers, Place
from wardrobe.recipe.document.paper import PaperSetup, PressSetup
from wardrobe.recipe.document.types import Frozen, PartName, Share, one_of

MAX_EXTRAS = 24


def _pattern(text: str) -> str:
    try:
        return check_pattern(text)
    except NamePatternError as error:
        raise ValueError(error.message) from error


ModeName = Annotated[str, one_of("mode", MODES)]
NamePattern = Annotated[str, Field(max_length=400), AfterValidator(_pattern)]


class ExtraLayer(Frozen):
    """An empty layer to paint on later, where the stack is worked on further."""

    name: PartName
    mode: ModeName = "normal"
    opacity: Share = 1.0
    place: Place = "over figure"


class Delivery(Frozen):
    """What is chosen about the stack; the fields of :class:`~wardrobe.core.stack.plan.Layout`.

    Attributes
    ----------
    arrangement, clipping : str
    names : str
        Pattern of layer names.
    numbered, empties : bool
    lines : str
    extras : tuple of ExtraLayer
    dpi : int
        Resolution that files say they have, px per inch; a sheet of paper is made at it.
    paper : PaperSetup
    press : PressSetup
    """

    arrangement: Arrangement = "by part"
    clipping: Clipping = "limited"
    names: NamePattern = DEFAULT_NAMES
    numbered: bool = False
    empties: bool = False
    lines: LineLayers = "one layer"
    extras: Annotated[tuple[ExtraLayer, ...], Field(max_length=MAX_EXTRAS)] = ()
    dpi: Annotated[int, Field(ge=36, le=2400)] = 300
    paper: PaperSetup = PaperSetup()
    press: PressSetup = PressSetup()

    def layout(self) -> Layout:
        """As the core takes it."""
        extras = tuple(Extra(e.name, e.mode, e.opacity, e.place) for e in self.extras)
        return Layout(self.arrangement, self.clipping, self.names, self.numbered, self.empties,
                      extras, self.lines)
