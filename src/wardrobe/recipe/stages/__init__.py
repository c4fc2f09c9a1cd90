"""From a recipe and its assets to pictures: pure stages, and the store of what they give."""

from wardrobe.recipe.stages.cut import Assignment
from wardrobe.recipe.stages.deriver import Deriver
from wardrobe.recipe.stages.lines import prepare_lines
from wardrobe.recipe.stages.store import Store

__all__ = ["Assignment", "Deriver", "Store", "prepare_lines"]
