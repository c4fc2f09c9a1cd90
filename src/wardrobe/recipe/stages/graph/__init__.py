"""Which stages a recipe makes: the only place where stages meet the document."""

from wardrobe.recipe.stages.graph.whole import Graph

__all__ = ["Graph"]
