"""Check a layered file as an orderly artist would: is it named, clipped, flat, clean, in order?"""

from collections.abc import Callable, Iterator
from dataclasses import replace

from wardrobe.core.stack.check.bounds import check_bounds, check_leftovers
from wardrobe.core.stack.check.canvas import Canvas
from wardrobe.core.stack.check.finding import StackFinding
from wardrobe.core.stack.check.flats import check_complete, check_flats
from wardrobe.core.stack.check.ink import check_ink_colour
from wardrobe.core.stack.check.names import check_empty, check_names
from wardrobe.core.stack.check.order import check_hidden, check_like, check_lines
from wardrobe.core.stack.check.passes import check_direction, check_light
from wardrobe.core.stack.check.repair import REPAIRS
from wardrobe.core.stack.model import Stack
from wardrobe.core.stack.roles import Placed, placed_layers

__all__ = ["StackFinding", "check_stack"]

_CHECKS: tuple[Callable[[list[Placed], Canvas], Iterator[StackFinding]], ...] = (
    check_names, check_empty, check_lines, check_ink_colour, check_flats, check_complete,
    check_bounds, check_direction, check_light, check_like, check_leftovers, check_hidden)


def check_stack(stack: Stack,
                on_progress: Callable[[float], None] = lambda share: None) -> list[StackFinding]:
    """All findings, in the order of the questions: names, order, flats, passes, leftovers.

    Parameters
    ----------
    stack : Stack
    on_progress : callable
        Called with a share 0..1; may raise to cancel.
    """
    layers = placed_layers(stack)
    canvas = Canvas.of(stack, layers)
    found: list[StackFinding] = []
    for done, check in enumerate(_CHECKS):
        on_progress(done / len(_CHECKS))
        found += check(layers, canvas)
    return [replace(f, repair=REPAIRS[f.code].label) if f.code in REPAIRS else f for f in found]
