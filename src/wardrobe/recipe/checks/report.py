"""What the checks say of a piece, and what was dismissed."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.formats.tokens import CardColour
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.checks.finding import (
    Box,
    Check,
    Desk,
    Found,
    Noticed,
    Points,
    QuestionKey,
    Repair,
    Subject,
    told,
)
from wardrobe.recipe.checks.table import CHECKS
from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import Edit, Several, dressed
from wardrobe.recipe.edits.target import Targeted
from wardrobe.recipe.stages import Deriver

_MOVED = 0.15  # of a measure: by less it is still what was dismissed
_NEAR = 0.03  # of the longer edge: places nearer than that are the same


@dataclass(frozen=True)
class Dismissed:
    """What was dismissed: a finding as it was then.

    Attributes
    ----------
    number : int
        Of the event by which it was.
    check : str
    look : str
        ``piece``, or the look that it was found in.
    ids : tuple of str
    measured : float
    place : (float, float) or None
        Middle of its box.
    reason : str
    """

    number: int
    check: str
    look: str
    ids: tuple[str, ...]
    measured: float
    place: tuple[float, float] | None
    reason: str


@dataclass(frozen=True)
class Finding:
    """Something that is wrong with a piece, where, by how much, and what would mend it.

    Attributes
    ----------
    check, question : str
        Keys of CHECKS and QUESTIONS.
    subject : str
    ids : tuple of str
        What it is about.
    names : tuple of str
        What these are called.
    measured, limit : float
    unit : str
    words : str
        What was measured, in a sentence.
    weight : float, 0..1
        How much it matters beside others.
    box : (x, y, width, height) or None
    marks : tuple of tuples of (x, y)
        Lines and dots on the picture, px.
    repair : Repair or None
    dismissed : Dismissed or None
    """

    check: str
    question: QuestionKey
    subject: Subject
    ids: tuple[str, ...]
    names: tuple[str, ...]
    measured: float
    limit: float
    unit: str
    words: str
    weight: float
    box: Box | None
    marks: tuple[Points, ...]
    repair: Repair | None
    dismissed: Dismissed | None


def check_piece(deriver: Deriver, recipe: Recipe, question: QuestionKey | None = None,
                look: str = PIECE, card: Sequence[CardColour] = (),
                dismissals: Iterable[Dismissed] = (), repairs: bool = True) -> list[Finding]:
    """All findings of a piece, or those of one question, what matters most first.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    question : str, optional
    look : str
        The look that is judged.
    card : sequence of CardColour
        The colour card of its character.
    dismissals : iterable of Dismissed
        Those that stand.
    repairs : bool
        Work out what would mend them, too.
    """
    desk = Desk(deriver, dressed(recipe, look), tuple(card))
    names = names_of(recipe)
    of_look = [d for d in dismissals if d.look == look]
    found = [_finding(desk, check, noticed, names, look, of_look, repairs)
             for check in CHECKS.values() if question in (None, check.question)
             for noticed in noticed_by(check, desk)]
    return sorted(found, key=lambda f: (f.dismissed is not None, -f.weight))


def noticed_by(check: Check, desk: Desk) -> tuple[Noticed, ...]:
    """What one check notices; nothing where there is nothing to look at yet."""
    try:
        found: Found = desk.deriver.store(check.stage(desk))
    except NoClosedAreaError:
        return ()
    return found.noticed


def names_of(recipe: Recipe) -> dict[str, str]:
    """What parts, layers, looks and passes are called."""
    layers = (*recipe.finish, *(f for k in recipe.looks for f in k.finish or ()))
    return {PIECE: "The piece", "": "the ground"} | {k: p.label for k, p in PASSES.items()} \
        | {f.id: f.name for f in layers} | {k.id: k.name for k in recipe.looks} \
        | {p.id: p.name for p in recipe.parts}


def _finding(desk: Desk, check: Check, noticed: Noticed, names: dict[str, str], look: str,
             dismissals: list[Dismissed], repairs: bool) -> Finding:
    repair = check.repair(desk, noticed) if repairs and check.repair else None
    words = told(noticed, names)
    return Finding(
        check.key, check.question, noticed.subject, noticed.ids,
        tuple(names.get(i, i) for i in noticed.ids), noticed.measured, check.limit.value,
        check.limit.unit, words[:1].upper() + words[1:], noticed.weight, noticed.box,
        noticed.marks, repair and Repair(repair.label, on_look(repair.edit, look)),
        next((d for d in dismissals if _same(d, check.key, noticed, max(desk.recipe.size))), None))


def on_look(edit: Edit, look: str) -> Edit:
    """An edit of the piece, made on a look instead, as far as looks can differ in it."""
    if look == PIECE:
        return edit
    if isinstance(edit, Several):
        return edit.model_copy(update={"edits": tuple(on_look(e, look) for e in edit.edits)})
    return edit.model_copy(update={"targets": (look,)}) if isinstance(edit, Targeted) else edit


def _same(dismissed: Dismissed, check: str, noticed: Noticed, edge: int) -> bool:
    """Whether a finding is the one that was dismissed: it has changed if what it measured has."""
    if (dismissed.check, dismissed.ids) != (check, noticed.ids):
        return False
    if abs(dismissed.measured - noticed.measured) > _MOVED * max(
            abs(dismissed.measured), abs(noticed.measured)):
        return False
    place = middle_of(noticed)
    if dismissed.place is None or place is None:
        return dismissed.place is place
    return max(abs(a - b) for a, b in zip(dismissed.place, place, strict=True)) < _NEAR * edge


def middle_of(noticed: Noticed | Finding) -> tuple[float, float] | None:
    """Where it is."""
    if noticed.box is not None:
        x, y, width, height = noticed.box
        return round(x + width / 2, 1), round(y + height / 2, 1)
    return noticed.marks[0][0] if len(noticed.marks) == 1 else None
