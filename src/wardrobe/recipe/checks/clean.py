"""Is it clean? Gaps, places without a part, specks, islands, lines that do not show."""

from wardrobe.recipe.checks.filled import (
    SPECK,
    PixelFaults,
    Specks,
    closed,
    given_to_neighbour,
    open_outline,
    painted_white,
    swallowed,
    unpainted,
)
from wardrobe.recipe.checks.finding import Check, Limit
from wardrobe.recipe.checks.seen import ids_of
from wardrobe.recipe.checks.tidy import (
    MOST_ISLANDS,
    RAGGED,
    THIN,
    LostDrawing,
    ThinLines,
    fewer_islands,
    lines_shown,
    ragged_borders,
    scattered_shade,
    thicker,
)
from wardrobe.recipe.reports.ink import FAINT_WIDTHS, measured_ink

_CP = "common practice, no published source"

CLEAN: tuple[Check, ...] = (
    Check("open outline", "clean", "The outline is open",
          "One gap anywhere on the outline, and a fill floods the figure or the ground.",
          Limit(0.0, "px", "common practice", _CP), open_outline, closed),
    Check("no part", "clean", "An area has no part",
          "It is delivered as a hole: the ground shows through.",
          Limit(0.0, "px", "common practice", _CP), unpainted(False), given_to_neighbour),
    Check("whites", "clean", "A white is left unpainted",
          "Whites of eyes and teeth that show the ground turn dark on a dark one.",
          Limit(0.0, "px", "common practice", _CP), unpainted(True), painted_white),
    Check("pixels", "clean", "Single pixels are wrong",
          "Pinholes and bleeding show as soon as the ground or a colour changes.",
          Limit(0.0, "px", "common practice", _CP),
          lambda desk: PixelFaults(desk.graph.completed)),
    Check("speck", "clean", "A speck of another part",
          "Crumbs of another colour are what a client sees first.",
          Limit(SPECK, "line widths squared", "own", "a dot three line widths across"),
          lambda desk: Specks(desk.graph.areas, desk.graph.assigned, ids_of(desk.recipe)),
          swallowed),
    Check("scattered", "clean", "Shade in many islands",
          "Few, simple shapes read as light; many small ones read as dirt.",
          Limit(MOST_ISLANDS, "islands", "own", "about one for each large form"),
          scattered_shade, fewer_islands),
    Check("lost drawing", "clean", "Lines are lost within a part",
          "Folds and features that cannot be seen were drawn for nothing.",
          Limit(FAINT_WIDTHS, "line widths", "own", "shorter stretches are bridged by the eye"),
          lambda desk: LostDrawing(measured_ink(desk.graph)), lines_shown),
    Check("thin lines", "clean", "Lines are very thin",
          "Narrower than a pixel they break up, on paper before the screen.",
          Limit(THIN, "px", "common practice", _CP),
          lambda desk: ThinLines(desk.graph.areas, desk.recipe.lines.weight,
                                 desk.recipe.lines.edge == "hard"), thicker),
    Check("ragged", "clean", "A ragged border without a line",
          "Where no line covers it, every tooth of a border is seen.",
          Limit(RAGGED, "of its pixels", "own", "what a median of 7 px would move"),
          ragged_borders),
)
