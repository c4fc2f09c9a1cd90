"""Order and settings: lines on top, like passes alike, nothing hidden that matters."""

from collections import Counter, defaultdict
from collections.abc import Iterator

from wardrobe.core.stack.check.canvas import FAINT, Canvas, alpha_on
from wardrobe.core.stack.check.finding import StackFinding, about, box_of
from wardrobe.core.stack.roles import Placed

_DARK_STAYS = ("multiply", "darken", "color-burn")  # lines are seen through these
_COVERED = 0.02  # share of the lines that must lie under something to be worth a word
_MATTERS = 0.002  # share of the picture from which a hidden layer is worth a word
Settings = tuple[str, float]


def check_lines(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Lines that something covers."""
    for placed in layers:
        if placed.role != "lines" or not placed.shown:
            continue
        ink = alpha_on(placed, canvas.shape)[1] > 127
        for above in layers[placed.order + 1:]:
            if above.role not in ("flat", "shade") or not above.shown \
                    or above.layer.mode in _DARK_STAYS:
                continue
            where, cover = alpha_on(above, canvas.shape)
            over = canvas.lines[where] & (cover > 127)
            if over.sum() > _COVERED * max(1, ink.sum()):
                box = box_of(over, where[1].start, where[0].start)
                yield about(placed, "lines-not-on-top", int(over.sum()),
                            f"“{above.path}” lies over the lines and covers them.", box)


def usual_settings(layers: list[Placed]) -> dict[int, Settings]:
    """Mode and opacity that most layers of the same name have, for layers that differ."""
    alike: dict[str, list[Placed]] = defaultdict(list)
    for placed in layers:
        last = placed.layer.name.rpartition("/")[2].strip().casefold()
        if placed.role in ("shade", "light"):
            alike[last].append(placed)
    found: dict[int, Settings] = {}
    for group in alike.values():
        usual, most = Counter(map(_settings, group)).most_common(1)[0]
        if len(group) >= 3 and most >= 0.6 * len(group):
            found |= {p.order: usual for p in group if _settings(p) != usual}
    return found


def _settings(placed: Placed) -> Settings:
    return placed.layer.mode, round(placed.layer.opacity, 3)


def check_like(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Passes of one name have one mode and one opacity."""
    for order, (mode, opacity) in usual_settings(layers).items():
        placed = layers[order]
        mine = _settings(placed)
        yield about(placed, "differs", 1, f"{mine[0]} at {mine[1]:.0%}, while most layers of this "
                    f"kind are {mode} at {opacity:.0%}.")


def check_hidden(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Hidden paint that would change the picture."""
    size = canvas.shape[0] * canvas.shape[1]
    for placed in layers:
        if placed.shown or placed.role in ("silhouette", "background", "mask"):
            continue
        where, alpha = alpha_on(placed, canvas.shape)
        painted = alpha > FAINT
        if painted.sum() > _MATTERS * size:
            yield about(placed, "hidden", int(painted.sum()), "It is hidden, but would change the "
                        "picture: whoever shows all layers gets another one.",
                        box_of(painted, where[1].start, where[0].start))
