"""A layered file that was painted on elsewhere comes home: areas, shapes, colours, layers."""

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.stack.model import Layer, Stack
from wardrobe.recipe.document.finish import MAX_FINISH, FinishDraft
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddFinish,
    ChangeFinish,
    ChangePart,
    ChooseColours,
    EditRefusedError,
    Several,
    SingleEdit,
    TouchUpPass,
    apply,
)
from wardrobe.recipe.exchange.layered.extras import added_layers, bring_home
from wardrobe.recipe.exchange.layered.finish_home import (
    AtHome,
    Keep,
    changed_finish,
    finish_at_home,
    painted_as,
)
from wardrobe.recipe.exchange.layered.flats import Handed, repainted_flats
from wardrobe.recipe.exchange.layered.take_back import LayerMatch, check_size, take_over
from wardrobe.recipe.stages import Deriver

_MOST_EDITS = 500  # that are one change
_EXACT = 1  # levels within which a picture is the same
_REST = "as painted"

Byte = NDArray[np.uint8]
Report = Callable[[float, str], None]


class Wishes(Frozen):
    """What of a file is taken over.

    Attributes
    ----------
    areas : bool
        Repainted flats, as areas that change hands.
    follow : bool
        Shades and lights of areas that change hands are worked out anew, not taken as painted.
    shapes : bool
        What was painted on passes, as touch-ups.
    colours : bool
        Colours of bases and passes.
    finish : bool
        What was changed about finish layers that the piece has.
    gone : bool
        Finish layers that are not in the file are hidden if that brings the picture closer.
    rest : bool
        Pixels that still differ become one layer over everything.
    """

    areas: bool = True
    follow: bool = False
    shapes: bool = True
    colours: bool = True
    finish: bool = True
    gone: bool = True
    rest: bool = False


@dataclass(frozen=True)
class BroughtHome:
    """What came of it.

    Attributes
    ----------
    changes : tuple of str
        What is another in the piece, in words.
    notes : tuple of str
        What could not be taken over, and why.
    areas, touch_ups, colours, layers : int
        How many changed hands, were made, changed, and were added.
    left : int
        Pixels by which the pictures still differ, by more than one level.
    """

    changes: tuple[str, ...]
    notes: tuple[str, ...]
    areas: int
    touch_ups: int
    colours: int
    layers: int
    left: int


def come_home(deriver: Deriver, recipe: Recipe, stack: Stack, flat: Byte,
              matches: Sequence[LayerMatch], added: Collection[int], wishes: Wishes, keep: Keep,
              report: Report = lambda share, doing: None) -> tuple[Several | None, BroughtHome]:
    """The change after which a piece is what was painted, and what came of it.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    stack : Stack
        What came back.
    flat : ndarray of uint8, shape (height, width, 3)
        Its picture, on white.
    matches : sequence of LayerMatch
    added : collection of int
        Layers that become layers of the piece.
    wishes : Wishes
    keep : callable
        Keeps pixels that layers are painted with.
    report : callable
        Called with a share 0..1 and what is being done; may raise to cancel.

    Returns
    -------
    edit : Several or None
        None if nothing differs.
    brought : BroughtHome

    Raises
    ------
    OtherSizeError
        If the file's canvas is not as large as the piece.
    """
    check_size(recipe, stack)
    home = finish_at_home(deriver, recipe, stack, matches)
    elsewhere = {h.placed.order for h in home if h.placed} | {*added}
    own = [m for m in matches if m.index not in elsewhere]
    work = _Home(deriver, recipe)
    leave = None
    if wishes.areas:
        report(0.05, "Comparing the flats")
        flats = repainted_flats(deriver, recipe, stack, own)
        work.make(flats.edits, [_in_words(h) for h in flats.handed], flats.notes)
        work.areas = sum(h.areas for h in flats.handed)
        if wishes.follow and flats.edits:
            leave = deriver.parts_map(work.now) != deriver.parts_map(recipe)
    report(0.2, "Comparing shapes and colours")
    room = _MOST_EDITS - len(work.edits) - 2 * MAX_FINISH - 1
    painted, notes = take_over(deriver, work.now, stack, own, wishes.colours, leave,
                               max(0, room) if wishes.shapes else 0)
    work.make(painted.edits if painted else (), _colours(work.now, painted),
              notes if wishes.shapes else ())
    report(0.5, "Comparing the layers of the finish")
    if wishes.finish:
        work.make(*changed_finish(work.now, home, stack, keep))
    chosen = added_layers(deriver, recipe, stack, matches, added)
    brought, notes = bring_home(work.now, chosen, keep,
                                {h.own.id: h.placed.order for h in home if h.placed})
    work.make(brought, [f"“{draft.name}” is a new layer." for edit in brought
                        for draft in edit.layers], notes)
    report(0.6, "Comparing the pictures")
    if wishes.gone:
        _hide_what_is_gone(work, home, flat)
    left = work.differs(flat)
    report(0.9, "Comparing the pictures")
    if wishes.rest and left.any():
        work.make(*_rest(work.now, flat, left, keep))
        left = work.differs(flat)
    made = work.edits
    if len(made) > _MOST_EDITS:
        raise EditRefusedError(f"The file changes {len(made)} things at once; at most "
                               f"{_MOST_EDITS} are one change. Take over less of it: areas first.")
    return (Several(edits=tuple(made)) if made else None), BroughtHome(
        tuple(work.changes), tuple(work.notes), work.areas,
        sum(isinstance(e, TouchUpPass) for e in made),
        sum(isinstance(e, ChangePart | ChooseColours) for e in made),
        sum(len(e.layers) for e in made if isinstance(e, AddFinish)), int(left.sum()))


class _Home:
    """The piece as it becomes, and the edits that make it so."""

    def __init__(self, deriver: Deriver, recipe: Recipe) -> None:
        self._deriver = deriver
        self.now = recipe
        self.edits: list[SingleEdit] = []
        self.changes: list[str] = []
        self.notes: list[str] = []
        self.areas = 0

    def make(self, edits: Sequence[SingleEdit], changes: Sequence[str] = (),
             notes: Sequence[str] = ()) -> None:
        for edit in edits:
            self.now = apply(self.now, edit)
        self.edits += edits
        self.changes += changes
        self.notes += notes

    def differs(self, flat: Byte, recipe: Recipe | None = None) -> NDArray[np.bool_]:
        """Where the piece's picture is another than a file's."""
        recipe = recipe or self.now
        now = self._deriver.picture(recipe, View.whole(*recipe.size))
        found: NDArray[np.bool_] = (np.abs(now.astype(np.int16) - flat) > _EXACT).any(axis=-1)
        return found


def _hide_what_is_gone(work: _Home, home: Sequence[AtHome], flat: Byte) -> None:
    missing = [h for h in home if h.placed is None]
    if not missing:
        return
    far = int(work.differs(flat).sum())
    for one in missing:
        draft = FinishDraft(**{n: getattr(one.own, n) for n in FinishDraft.model_fields})
        edit = ChangeFinish(layer=one.own.id, to=draft.model_copy(update={"visible": False}))
        closer = int(work.differs(flat, apply(work.now, edit)).sum())
        if closer <= far:
            far = closer
            work.make([edit], [f"“{one.own.name}” is not in the file, and is hidden."])


def _rest(recipe: Recipe, flat: Byte, left: NDArray[np.bool_], keep: Keep,
          ) -> tuple[list[SingleEdit], list[str], list[str]]:
    """What no layer of the piece explains, as a layer over everything."""
    if len(recipe.finish) >= MAX_FINISH:
        return [], [], [f"{int(left.sum()):,} px still differ: a piece has at most {MAX_FINISH} "
                        "layers over it."]
    pixels = np.dstack([flat, left.astype(np.uint8) * np.uint8(255)])
    notes = [] if recipe.finish_amount == 1 else [
        "All finish is weakened, so that pixels that are left cannot be quite the same."]
    draft = FinishDraft(name=_REST, paint=painted_as(Layer(_REST, pixels), keep),
                        over_lines=True)
    return [AddFinish(layers=(draft,))], [f"{int(left.sum()):,} px that no other layer explains "
                                          f"are the layer “{_REST}”."], notes


def _colours(recipe: Recipe, painted: Several | None) -> list[str]:
    names = {p.id: p.name for p in recipe.parts}
    edits = painted.edits if painted else ()
    return [f"“{names[e.part]}” is {e.base} now." for e in edits if isinstance(e, ChangePart)] + [
        f"“{names[e.part]}” has another {name} colour, {colour}." for e in edits
        if isinstance(e, ChooseColours) for name, colour in e.own.items()]


def _in_words(handed: Handed) -> str:
    areas = f"{handed.areas} {'area' if handed.areas == 1 else 'areas'} of “{handed.before}”" \
        if handed.before else f"{handed.areas} {'area' if handed.areas == 1 else 'areas'}"
    now = f"now “{handed.after}”" if handed.after else "in no part now"
    cut = "" if not handed.cut else f", {handed.cut} of them cut off"
    return f"{areas} ({handed.pixels:,} px{cut}): {now}."
