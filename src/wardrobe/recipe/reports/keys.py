"""What each report rests on, as a key: as long as it stays, so does the answer."""

from collections.abc import Callable, Sequence
from typing import Literal

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports import ink, light, looks, neighbours, paper
from wardrobe.recipe.reports.finishes import SMALL
from wardrobe.recipe.reports.modes import EDGE as MODES_EDGE
from wardrobe.recipe.stages.digest import digest
from wardrobe.recipe.stages.graph import Graph
from wardrobe.recipe.stages.stage import Stage

ReportName = Literal["cut", "gaps", "figure", "hatching", "joins", "palettes", "completeness",
                     "sheet", "neighbours", "light", "ink", "finishes",
                     "modes", "shade_hues", "looks",
                     "stack", "areas", "paper", "unprintable"]

AREA_MAP_EDGE = 1400  # px of the map by which one points at areas


def _view(graph: Graph, edge: int) -> View:
    return View.whole(*graph.recipe.size, edge)


def _ids(recipe: Recipe) -> tuple[str, ...]:
    return tuple(p.id for p in recipe.parts)


# Stages stand for all that they can see; beside them, what a report itself reads of the recipe.
_RESTS: dict[ReportName, Callable[[Graph, Recipe], Sequence[object]]] = {
    "cut": lambda g, r: (g.areas, g.assigned, _ids(r), g.darkness, r.lines, g.solids,
                         r.coloured_blacks, g.hues),
    "gaps": lambda g, r: (g.gaps, g.coverage, g.areas, g.assigned, r.closings, r.left_open,
                          tuple(p.name for p in r.parts)),
    "figure": lambda g, r: (g.figure_and_ground, g.areas, g.assigned, r.closings, r.open_figure,
                            (r.parts, r.claims, g.coverage) if r.proposed else ()),
    "hatching": lambda g, r: (g.hatching, r.hatching, r.touch_ups, _ids(r)),
    "joins": lambda g, r: (g.areas, g.assigned, r.parts, r.claims, r.proposed),
    "palettes": lambda g, r: (g.areas, g.assigned, r.parts, r.claims),
    "completeness": lambda g, r: (g.completed,),
    "sheet": lambda g, r: (r.parts, r.passes, r.light, r.lines, r.background, r.touch_ups,
                           r.ink.shades),
    "neighbours": lambda g, r: (g.sample(_view(g, neighbours.EDGE)), g.shown, r.parts),
    "light": lambda g, r: (g.masks(_view(g, light.EDGE)), g.form, g.assigned, g.order, _ids(r),
                           r.light, r.touch_ups),
    "ink": lambda g, r: (g.line_image(_view(g, ink.EDGE)), r.ink, _ids(r), r.lines.colour),
    "finishes": lambda g, r: (g.figure_seen(_view(g, SMALL)), g.parts_seen(_view(g, SMALL)),
                              r.parts, r.light.azimuth, r.background, bool(r.focus), r.looks),
    "modes": lambda g, r: (g.picture(_view(g, MODES_EDGE)), g.masks(_view(g, MODES_EDGE)),
                           tuple(f.id for f in r.finish), r.looks, r.parts, r.passes, r.light,
                           r.background),
    "shade_hues": lambda g, r: (r.light, r.background),
    "looks": lambda g, r: (g.figure_seen(_view(g, looks.EDGE)), r.parts, r.looks, r.light,
                           r.passes, r.background, r.finish, r.ink),
    "stack": lambda g, r: (g.plan, r.parts),
    "areas": lambda g, r: (g.sample(_view(g, AREA_MAP_EDGE)),),
    "paper": lambda g, r: (r.delivery.paper, r.delivery.dpi, r.size,
                           g.silhouette if r.delivery.paper.subject == "figure" else ()),
    "unprintable": lambda g, r: (g.picture(_view(g, paper.EDGE)), r.parts, r.passes, r.light,
                                 r.lines, r.background, r.touch_ups, r.ink.shades,
                                 r.delivery.press),
}


def report_key(name: ReportName, graph: Graph) -> str:
    """The key of one report; nothing is worked out for it.

    Parameters
    ----------
    name : str
    graph : Graph
        The stages of the recipe.
    """
    return digest((name, *_RESTS[name](graph, graph.recipe)),
                  lambda v: v.name if isinstance(v, Stage) else None).hex()


def report_keys(graph: Graph) -> dict[ReportName, str]:
    """The keys of all reports."""
    return {name: report_key(name, graph) for name in _RESTS}
