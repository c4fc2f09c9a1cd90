"""A flat coloured picture from elsewhere, opened as a piece."""

from wardrobe.recipe.exchange.coloured.begin import Opened, lines_picture, open_coloured
from wardrobe.recipe.exchange.coloured.left import laid_over

__all__ = ["Opened", "laid_over", "lines_picture", "open_coloured"]
