"""Paint that lies where it should not: beside the figure, beside its base, left behind."""

from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from wardrobe.core.stack.check.canvas import EDGE, FAINT, Canvas, alpha_on, where_on
from wardrobe.core.stack.check.finding import Mask, StackFinding, about, box_of, grown, pieces
from wardrobe.core.stack.model import Layer
from wardrobe.core.stack.roles import Placed

_LEFTOVER = 5  # px: a piece of paint below this was left by mistake (common practice)


def base_of(placed: Placed, layers: list[Placed], canvas: Canvas) -> Mask | None:
    """What the flats in a pass's own group cover, on the canvas; None if there are none."""
    if placed.role == "flat" or placed.group == 0:
        return None
    bases = [p for p in layers if p.role == "flat" and p.group == placed.group]
    if not bases:
        return None
    covered = np.zeros(canvas.shape, bool)
    for base in bases:
        where, alpha = where_on(base.layer, canvas.shape)
        covered[where] |= alpha > 0
    return covered


def check_bounds(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Paint beside the figure, and passes beside their base."""
    figure = grown(canvas.figure, EDGE)
    bases: dict[int, Mask | None] = defaultdict(lambda: None)
    for placed in layers:
        if not placed.shown or placed.role not in ("flat", "shade", "light"):
            continue
        where, alpha = alpha_on(placed, canvas.shape)
        painted = alpha > FAINT
        corner = where[1].start, where[0].start
        beside = painted & ~figure[where]
        if beside.any():
            yield about(placed, "outside-silhouette", int(beside.sum()),
                        "Paint lies outside the figure.", box_of(beside, *corner))
        if placed.role == "flat":
            continue
        if placed.group not in bases:
            based = base_of(placed, layers, canvas)
            bases[placed.group] = None if based is None else grown(based, 1)
        base = bases[placed.group]
        beyond = painted & ~base[where] if base is not None else painted[:0]
        if beyond.any():
            multiply = placed.laid == "multiply"
            yield about(placed, "not-clipped" if multiply else "outside-base", int(beyond.sum()),
                        "It reaches beyond its base and darkens what lies beside it."
                        if multiply else "It reaches beyond its base.", box_of(beyond, *corner))


def leftovers(layer: Layer, canvas: Canvas) -> Mask:
    """Pieces of paint too small to be meant, but for those that lie wholly under the lines."""
    numbers, sizes = pieces(layer.alpha > 0)
    small = (sizes > 0) & (sizes < _LEFTOVER)
    if len(sizes) <= 2 or not small.any():
        return np.zeros(layer.shape, bool)
    where, _ = where_on(layer, canvas.shape)
    bare = np.zeros(layer.shape, bool)
    bare[where[0].start - layer.y:where[0].stop - layer.y,
         where[1].start - layer.x:where[1].stop - layer.x] = ~canvas.inked[where]
    seen = np.zeros(len(sizes), bool)
    seen[numbers[bare]] = True
    found: Mask = (small & seen)[numbers]
    return found


def check_leftovers(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Pieces of a few pixels."""
    for placed in layers:
        if placed.role in ("lines", "silhouette", "mask"):
            continue
        small = leftovers(placed.layer, canvas)
        if small.any():
            count = len(pieces(small)[1]) - 1
            yield about(placed, "leftover", count, f"{count} pieces of less than {_LEFTOVER} px "
                        "were left behind.", box_of(small, placed.layer.x, placed.layer.y))
