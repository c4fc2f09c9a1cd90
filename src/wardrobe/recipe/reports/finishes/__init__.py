"""Finishes that are offered: moods, and what is worked out from the parts."""

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.reports.finishes.lay_out import SMALL, Finish, Ground
from wardrobe.recipe.reports.finishes.moods import MOODS
from wardrobe.recipe.reports.finishes.proposed import proposed
from wardrobe.recipe.stages import Deriver

__all__ = ["SMALL", "Finish", "ready_finishes"]


def ready_finishes(deriver: Deriver, recipe: Recipe) -> list[Finish]:
    """All of them, laid out for this piece."""
    ground = Ground.of(deriver, recipe)
    moods = [Finish(key, label, why, lay(ground), mood=True) for key, label, why, lay in MOODS]
    return [*moods, *proposed(ground)]
