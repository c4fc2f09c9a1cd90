"""From a recipe and its assets to pictures: calls into the core, cached by content."""

from wardrobe.recipe.derive.cut import Assignment
from wardrobe.recipe.derive.lines import prepare_lines
from wardrobe.recipe.derive.stack import Deriver

__all__ = ["Assignment", "Deriver", "prepare_lines"]
