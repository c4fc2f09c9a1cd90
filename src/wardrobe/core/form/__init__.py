"""Form: the volume guessed for every area, as a field of surface normals."""

from wardrobe.core.form.solve import Form, solve_form
from wardrobe.core.form.traits import VOLUMES, Edge, Traits, Volume

__all__ = ["VOLUMES", "Edge", "Form", "Traits", "Volume", "solve_form"]
