"""Compiled kernels are loaded before anybody waits for them.

``python -m wardrobe.server.warm`` compiles them on a machine that is new.
"""

import threading
from functools import reduce

import numpy as np
import structlog

from wardrobe.core.formats.png import encode_png
from wardrobe.core.ink.shading import STYLES
from wardrobe.core.learn.lessons import question_of
from wardrobe.core.learn.pictures import solved
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.ink import Inking, InkShade
from wardrobe.recipe.document.lighting import SideLight
from wardrobe.recipe.document.model import Recipe, ShareArea
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddRecut,
    ChangePart,
    MoveLight,
    SetInk,
    SetPattern,
    apply,
)
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.reports.gaps import report_gaps
from wardrobe.recipe.reports.proposals import EvenOut, propose
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.views import draw

log = structlog.get_logger()
_ONCE = threading.Event()


def warm_up() -> None:
    """Load the kernels in the background, once a process."""
    if not _ONCE.is_set():
        _ONCE.set()
        threading.Thread(target=exercise, name="warm-up", daemon=True).start()


def exercise() -> None:
    """Run the whole way once on a tiny drawing, and look at a lesson."""
    axis = np.arange(96)
    ring = np.abs(np.hypot(axis - 48, (axis - 48)[:, None]) - 30) < 3
    rgba = np.zeros((96, 96, 4), np.uint8)
    rgba[..., 3] = ring * np.uint8(255)
    rgba[46:49, 60:] = 0
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=96, height=96))
    recipe = reduce(apply, first_edits(deriver, recipe), recipe)
    report_gaps(deriver, recipe)
    deriver.completeness(recipe)
    propose(recipe, EvenOut())
    first = recipe.parts[0].id
    recipe = apply(recipe, SetPattern(part=first, pattern=Pattern()))
    # With more than four shapes masks are packed otherwise.
    side = SideLight(azimuth=0, height=0, colour="#ffffff", strength=0.5)
    lit = recipe.light.model_copy(update={"rim": side, "bounce": side})
    for material in ("hair", "glass", "metal"):  # each takes light in a way of its own
        worn = apply(recipe, ChangePart(part=first, material=material))
        draw(deriver, apply(worn, MoveLight(light=lit)), "picture", View.whole(96, 96))
    shades = tuple(InkShade(name="shade", style=style) for style in STYLES)
    inked = apply(recipe, SetInk(ink=Inking(on=True, weight=0.5, shades=shades)))
    draw(deriver, inked, "picture", View.whole(96, 96))
    shared = ShareArea(places=((40.0, 48.0), (56.0, 48.0)))
    recipe = apply(recipe, AddRecut(recut=shared))
    encode_png(draw(deriver, recipe, "picture", View.whole(96, 96)))
    solved(question_of("box", 1, 0))
    log.info("ready")


if __name__ == "__main__":
    exercise()
