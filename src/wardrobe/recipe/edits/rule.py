"""What every edit's rule is, and how it refuses."""

from collections.abc import Callable
from typing import Any

from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.model import Frozen, Recipe

Rules = dict[type[Frozen], Callable[[Recipe, Any], Recipe]]


class EditRefusedError(WardrobeError):
    """The edit does not fit the recipe; nothing was changed."""

    title = "This change was not made"
