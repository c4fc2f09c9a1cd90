"""What is seen of parts, shapes and ink in a view."""



from wardrobe.core.light.rig import KeyLight
from wardrobe.core.passes.table import GROUND
from wardrobe.recipe.document.model import (
    ground_rows,
)
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import cut, picture
from wardrobe.recipe.stages.graph.ink import InkGraph

_NO_PART = 2**16 - 1  # a row that no pixel has


class SeenGraph(InkGraph):
    """What is seen of parts, shapes and ink in a view."""

    def sample(self, view: View, hidden_lines: bool = False) -> picture.Sample:
        """What is seen of areas and ink; work on the areas shows the lines of hidden parts, too."""
        kind = picture.Sample if view.scale == 1 else picture.SmallSample
        return kind(self.areas, self._weighed if hidden_lines else self.printed, view)

    def prints(self, view: View, draft: bool = False) -> picture.Prints:
        return picture.Prints(self.sample(view), self.shown,
                              self.draft_form if draft else self.form,
                              tuple(p.pattern for p in self.recipe.parts))

    def masks(self, view: View, draft: bool = False) -> picture.DrawnMasks:
        return self._masks(view, self.parts_seen(view), draft)

    def parts_seen(self, view: View) -> picture.PartsSeen:
        kind = picture.PartsSeen if view.scale == 1 else picture.SmallPartsSeen
        return kind(self.sample(view), self.shown)

    def figure_seen(self, view: View) -> picture.PartsSeen:
        """The parts without what lies around them."""
        if all(p.scenery is None for p in self.recipe.parts):
            return self.parts_seen(view)
        kind = picture.PartsSeen if view.scale == 1 else picture.SmallPartsSeen
        return kind(self.sample(view), self._figure)

    def stack_masks(self, view: View) -> picture.DrawnMasks:
        """Masks with hidden parts in them, and the shadow on the ground under the figure."""
        parts = self.parts_map if view.scale == 1 else \
            picture.PartsSeen(self.sample(view), self._all_parts)
        return self._masks(view, parts, under_figure=True)

    def _masks(self, view: View, parts: picture.PartsSeen | cut.PartsMap, draft: bool = False,
               under_figure: bool = False) -> picture.DrawnMasks:
        marked = () if not self.recipe.boundaries else (
            ("shade", cut.Marked(self.areas, self.assigned, self.hues, "shade edge")),
            ("light", cut.Marked(self.areas, self.assigned, self.hues, "light edge")))
        return picture.DrawnMasks(
            self.sample(view), self.assigned, parts, self.shapes(draft), marked,
            self._touches(view), self._ground(view), self.wanted, under_figure,
            ground_rows(self.recipe.parts))

    def _touches(self, view: View) -> tuple[picture.DrawnTouch, ...]:
        rows = {p.id: row for row, p in enumerate(self.recipe.parts, start=1)}
        return tuple(picture.DrawnTouch(
            t.name, t.act, rows.get(t.part, _NO_PART) if t.part else None, t.points, t.widths,
            view) for t in self.recipe.touch_ups)

    def _ground(self, view: View) -> picture.ShadowOnGround | None:
        light, ground = self.recipe.light, self.recipe.light.ground
        if ground is None or GROUND in self.recipe.passes.off:
            return None
        return picture.ShadowOnGround(self.form, KeyLight(light.azimuth, light.height),
                                      ground.pitch, ground.drop, ground.soft, view)
