"""Names, and layers that hold nothing."""

import re
from collections import Counter
from collections.abc import Iterator

from wardrobe.core.stack.check.canvas import Canvas
from wardrobe.core.stack.check.finding import StackFinding, about
from wardrobe.core.stack.roles import Placed

_GENERIC = re.compile(r"(layer|group|copy|new|untitled|paint|[\s#\d._()-])*", re.IGNORECASE)


def check_names(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Layers without a name of their own, and layers that share one."""
    for placed in layers:
        if _GENERIC.fullmatch(placed.layer.name.strip()):
            yield about(placed, "unnamed", 1, "It has no name of its own: nobody can tell what "
                        "it is for.")
    first = {placed.path: placed for placed in reversed(layers)}
    for path, count in Counter(p.path for p in layers).items():
        if count > 1:
            yield about(first[path], "duplicate-name", count, f"{count} layers have this name: "
                        "painting on the wrong one is easily done.")


def check_empty(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Layers on which nothing is painted."""
    for placed in layers:
        if not placed.layer.alpha.any():
            yield about(placed, "empty", 1, "Nothing is painted on it.")
