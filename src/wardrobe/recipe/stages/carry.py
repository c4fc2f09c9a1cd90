"""The areas of one piece by those of another."""

from dataclasses import dataclass

from wardrobe.core.carry.carried import Carried, Drawing, carry
from wardrobe.recipe.stages.cut import Assigned, Cut
from wardrobe.recipe.stages.lines import Coverage
from wardrobe.recipe.stages.stage import Get, Stage


@dataclass(frozen=True, eq=False)
class CutDrawing:
    """A piece as it is matched: an input of stages."""

    areas: Cut
    assigned: Assigned
    ink: Coverage

    def drawing(self, get: Get) -> Drawing:
        """Its areas, what of them is ground, and its ink."""
        return Drawing(get(self.areas), get(self.assigned).ground, get(self.ink))


@dataclass(frozen=True, eq=False)
class CarriedParts(Stage[Carried], keep="on disk"):
    """Which row of the first piece's parts each area of the second is."""

    one: CutDrawing
    other: CutDrawing

    def make(self, get: Get) -> Carried:
        one = self.one.drawing(get)
        parts = get(self.one.assigned).part_of_area
        return carry(one, parts.astype("int64"), self.other.drawing(get))
