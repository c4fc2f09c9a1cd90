"""Form: the volume guessed for every area, as a field of surface normals."""

from wardrobe.core.form.solve import Form, solve_form

__all__ = ["Form", "solve_form"]
