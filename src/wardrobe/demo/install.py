"""Put the demo pieces into a store."""

from collections.abc import Callable, Sequence
from functools import reduce
from typing import Literal

from wardrobe.demo.moods import Mood
from wardrobe.demo.pieces import DEMO_PIECES, DemoPiece
from wardrobe.recipe.document.ink import Inking
from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.document.model import Closing, Part, Recipe, SplitArea
from wardrobe.recipe.edits import (
    AddFinish,
    AddLook,
    AddPart,
    AddRecut,
    ClaimAreas,
    CloseGaps,
    Edit,
    MoveLight,
    RemoveFinish,
    SetBackground,
    SetInk,
    apply,
    dressed,
)
from wardrobe.recipe.reports.finishes.lay_out import Ground
from wardrobe.recipe.reports.gaps import report_gaps
from wardrobe.recipe.reports.proposals import EvenOut, propose
from wardrobe.recipe.reports.scenery import share_ground
from wardrobe.recipe.stages import Deriver

ReadDrawing = Callable[[bytes], Recipe]
CreatePiece = Callable[[DemoPiece, Recipe, tuple[Edit, ...]], None]


def install_demo(read: ReadDrawing, create: CreatePiece, deriver: Deriver) -> None:
    """Draw every demo piece and hand it over with the edits that colour it.

    Parameters
    ----------
    read : callable
        From a file to a recipe without parts.
    create : callable
        Stores a piece.
    deriver : Deriver
        Sees what finishes are laid out by.
    """
    for piece in DEMO_PIECES:
        recipe = read(piece.draw())
        closed = _closed(recipe, deriver) if piece.closed else ()
        edits: tuple[Edit, ...] = (*closed, piece.claims(recipe.size[0]),
                                   SetBackground(colour=piece.background),
                                   MoveLight(light=piece.light))
        edits += _scenery(piece, recipe, edits, deriver)
        names: tuple[Literal["shade", "light"], ...] = ("shade", "light")
        for name in names:
            shown = reduce(apply, edits, recipe)
            edits += (propose(shown, EvenOut(name=name, own=False)).edit,)
        ids = {p.name: p.id for p in shown_parts(recipe, edits)}
        edits += tuple(AddLook(name=look.name, background=look.background,
                               bases={ids[name]: base for name, base in look.bases.items()})
                       for look in piece.looks)
        if piece.ink != Inking():
            edits += (SetInk(ink=piece.ink),)
        for mood in piece.moods:
            edits += _finished(mood, recipe, edits, deriver)
        create(piece, recipe, edits)


def _closed(recipe: Recipe, deriver: Deriver) -> tuple[Edit, ...]:
    """Likely gaps closed, and inked as if they had been drawn."""
    found = tuple(Closing(points=tuple(gap.curve), inked=True)
                  for gap in report_gaps(deriver, recipe).gaps
                  if gap.listed and gap.state == "undecided" and gap.doubt < 0.5)
    return (CloseGaps(closings=found),) if found else ()


def _scenery(piece: DemoPiece, recipe: Recipe, before: tuple[Edit, ...],
             deriver: Deriver) -> tuple[Edit, ...]:
    """The parts around the figure, from behind, each below its ridge."""
    scale, top = recipe.size[0] / piece.units[0], piece.units[1]

    def points(found: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        return tuple((round(x * scale, 1), round((y - top) * scale, 1)) for x, y in found)

    edits: tuple[Edit, ...] = ()
    for scenery in piece.scenery:
        edits += (AddPart(name=scenery.name, base=scenery.base, scenery=scenery.plane),)
        if scenery.ridge:
            edits += (AddRecut(recut=SplitArea(stroke=points(scenery.ridge), behind=True)),)
    if not edits:
        return ()
    shown = reduce(apply, (*before, *edits), recipe)
    ids = {p.name: p.id for p in shown.parts}
    edits += tuple(ClaimAreas(to=ids[s.name], strokes=tuple((place,) for place in points(s.spots)))
                   for s in piece.scenery)
    return (*edits, share_ground(deriver, reduce(apply, (*before, *edits), recipe)))


def _finished(mood: Mood, recipe: Recipe, before: tuple[Edit, ...],
              deriver: Deriver) -> tuple[Edit, ...]:
    """A mood of the piece, or of a look of its own."""
    piece = reduce(apply, before, recipe)
    ids = {p.name: p.id for p in piece.parts}
    edits: tuple[Edit, ...] = ()
    wearer: str = PIECE
    if mood.name is not None:
        edits = (AddLook(name=mood.name, bases={ids[n]: c for n, c in mood.bases.items()}),)
        wearer = apply(piece, edits[0]).looks[-1].id
    on = (wearer,)
    edits += (SetBackground(colour=mood.background, targets=on),
              MoveLight(light=mood.light, targets=on))
    shown = dressed(reduce(apply, edits, piece), wearer)
    if shown.finish:
        edits += (RemoveFinish(layers=tuple(f.id for f in shown.finish), targets=on),)
    layers = mood.finish(Ground.of(deriver, shown.model_copy(update={"finish": ()})))
    return (*edits, AddFinish(layers=layers, targets=on))


def shown_parts(recipe: Recipe, edits: tuple[Edit, ...]) -> tuple[Part, ...]:
    """The parts after some edits."""
    return reduce(apply, edits, recipe).parts
