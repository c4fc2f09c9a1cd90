"""How pieces come in: from a drawing, from an archive, from a layered file."""

from collections.abc import Callable
from functools import reduce
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.flats import over_white, separate
from wardrobe.core.formats.images import check_size, decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.model import Stack
from wardrobe.core.timing.plan import STEPS, scaled
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    Edit,
    MoveLight,
    SetBackground,
    SetDelivery,
    SetPasses,
    apply,
)
from wardrobe.recipe.events import Plan, plan_of
from wardrobe.recipe.exchange.archive import ArchivedSitting, PieceFacts
from wardrobe.recipe.exchange.coloured import laid_over, lines_picture, open_coloured
from wardrobe.recipe.exchange.layered.begin import background_of, lines_of, parts_of
from wardrobe.recipe.exchange.layered.home import come_home
from wardrobe.recipe.exchange.layered.take_back import match_returned, take_over
from wardrobe.recipe.reports.corrected import lay_corrected
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.server.db.models import now
from wardrobe.server.db.sittings import Sitting
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.characters import Outfit
from wardrobe.server.schemas.layered import TakeOverRequest
from wardrobe.server.schemas.time import KeptPlan
from wardrobe.server.studio import Studio

_PLANNED_MINUTES = 40
_BYTES_PER_PIXEL = 45  # as measured: of a drawing, and of a coloured picture
_BYTES_PER_COLOURED = 90
_SEEN_EDGE = 480  # px of the pictures that are seen on the way


def import_drawing(studio: Studio, job: Job, file: Path, title: str, planned_minutes: float,
                   long_edge: int, like: int | None = None,
                   by: KeptPlan | None = None) -> None:
    """From an uploaded file to a piece with its first parts.

    ``like`` names a piece whose card, light, method, stack settings and plan it begins with;
    ``by`` is another plan.
    """
    job.report(0.05, "Reading the file")
    recipe = read_drawing(studio, file, long_edge, job.check)
    with studio.memory.reserved(_room(recipe), job.check):
        edits = _first_look(studio, job, recipe, like)
    job.report(0.98, "Saving")
    piece = studio.pieces.create(title, planned_minutes, recipe, edits)
    character = studio.characters.of_piece(like) if like is not None else None
    if character:
        studio.characters.give(piece, character.id)
    if by is not None:
        _plan_by(studio, piece, by, planned_minutes)
    elif like is not None:
        # Date and occasion are its own.
        plan = plan_of(studio.events.of(like, "plan"), planned_minutes)
        studio.note(piece, Plan(minutes=scaled(plan.minutes, planned_minutes),
                                rounds=plan.rounds, leave_out=plan.leave_out))
    job.piece = piece


def _plan_by(studio: Studio, piece: int, by: KeptPlan, minutes: float) -> None:
    studio.note(piece, Plan(minutes=scaled(by.minutes, minutes), rounds=by.rounds))


def _first_look(studio: Studio, job: Job, recipe: Recipe, like: int | None) -> tuple[Edit, ...]:
    """The edits that colour a new drawing; its card is drawn."""
    job.report(0.3, "Finding the lines")
    view = View.whole(*recipe.size, _SEEN_EDGE)
    job.show(studio.picture(recipe, "lines", view))
    job.report(0.4, "Cutting areas")
    edits = first_edits(studio.deriver, recipe)
    cut = reduce(apply, edits, recipe)
    job.show(studio.picture(cut, "parts", view))
    if like is not None:
        edits += begun_like(studio.pieces.recipe(like))
    job.report(0.7, "Guessing forms")
    job.show(studio.store(studio.card(reduce(apply, edits, recipe))))
    return edits


def import_coloured(studio: Studio, job: Job, file: Path, title: str, planned_minutes: float,
                    long_edge: int, by: KeptPlan | None = None) -> None:
    """From a flat coloured picture to a piece that looks like it, for review."""
    job.report(0.05, "Reading the file")
    read = studio.read_picture(file, long_edge, check=job.check)
    original = studio.assets.put(file.read_bytes())
    with studio.memory.reserved(_BYTES_PER_COLOURED * read.width * read.height, job.check):
        rgba = decode_image(read.png, ImageLimits(file_bytes=2**40, shortest_edge=1))
        job.report(0.15, "Telling lines from flats")
        found = separate(rgba)
        lines = studio.assets.put(encode_png(lines_picture(found), level=2))
        first = Recipe(source=Source(asset=lines, original=original, width=read.width,
                                     height=read.height))
        job.show(studio.picture(first, "lines", View.whole(*first.size, _SEEN_EDGE)))

        def report(done: float, doing: str) -> None:
            job.check()
            job.report(0.25 + 0.65 * done, doing)

        opened = open_coloured(studio.deriver, first, over_white(rgba), found, report)
        edits = opened.edits
        painted = reduce(apply, edits, first)
        job.show(studio.picture(painted, "parts", View.whole(*first.size, _SEEN_EDGE)))
        laid = laid_over(*(_kept_picture(studio, p) for p in (opened.left.darker,
                                                              opened.left.lighter)))
        if laid:
            edits += (laid,)
        job.report(0.92, "Drawing the piece")
        job.show(studio.store(studio.card(reduce(apply, edits, first))))
    job.report(0.98, "Saving")
    piece = studio.pieces.create(title, planned_minutes, first, edits)
    if by is not None:
        _plan_by(studio, piece, by, planned_minutes)
    job.piece = piece


def _kept_picture(studio: Studio, pixels: NDArray[np.uint8] | None) -> PlacedPicture | None:
    return None if pixels is None else studio.keep_pixels(pixels)


def begin_from(studio: Studio, job: Job, file_id: int) -> None:
    """From a layered file to a piece with its parts, colours, and painted shapes."""
    title, stack = studio.layered.get(file_id).title, studio.layered.stack(file_id)
    job.report(0.1, "Reading the lines")
    check_size(stack.width, stack.height, studio.settings.limits)
    lines = encode_png(lines_of(stack), level=2)
    asset = studio.assets.put(lines)
    first = Recipe(source=Source(asset=asset, original=asset, width=stack.width,
                                 height=stack.height))
    with studio.memory.reserved(_room(first), job.check):
        edits = _parts_and_paint(studio, job, first, stack)
    job.report(0.95, "Saving")
    job.piece = studio.pieces.create(title, _PLANNED_MINUTES, first, tuple(edits))
    studio.layered.belongs_to(file_id, job.piece)


def _parts_and_paint(studio: Studio, job: Job, first: Recipe, stack: Stack) -> list[Edit]:
    """What a stack says of a drawing: its parts, its ground, and what was painted."""
    job.report(0.3, "Cutting areas")
    edits: list[Edit] = [parts_of(stack, studio.deriver.areas(first))]
    ground = background_of(stack)
    if ground:
        edits.append(ground)
    recipe = reduce(apply, edits, first)
    job.report(0.6, "Taking over what was painted")
    matches = [r.match for r in match_returned(studio.deriver, recipe, stack)]
    painted, _ = take_over(studio.deriver, recipe, stack, matches)
    return [*edits, painted] if painted else edits


def take_home(studio: Studio, job: Job, file_id: int, request: TakeOverRequest) -> None:
    """Bring what was painted in a layered file into a piece; the answer is what came of it."""
    recipe = studio.pieces.recipe(request.piece, request.seen)
    job.report(0.02, "Reading the layers")
    stack, flat = studio.layered.stack(file_id), studio.layered.flat(file_id)
    with studio.memory.reserved(_room(recipe), job.check):
        edit, job.answer = come_home(studio.deriver, recipe, stack, flat, request.matches,
                                     {*request.added}, request.wishes, studio.keep_pixels,
                                     job.report)
    if edit is not None:
        job.report(0.98, "Saving")
        studio.pieces.edit(request.piece, request.seen, edit)
    job.piece = request.piece


def correct_drawing(studio: Studio, job: Job, file: Path, piece_id: int) -> None:
    """Lay a corrected drawing under a piece; nothing is changed until its edit is made."""
    recipe = studio.pieces.recipe(piece_id)
    job.report(0.05, "Reading the file")
    longest = max(recipe.source.width, recipe.source.height)
    drawing = read_drawing(studio, file, longest, job.check).source
    with studio.memory.reserved(_room(recipe), job.check):
        found = lay_corrected(studio.deriver, recipe, drawing, job.report)
        job.report(0.85, "Drawing the piece")
        job.show(studio.store(studio.card(apply(recipe, found.edit))))
    job.answer, job.piece = found, piece_id


def _sat(facts: PieceFacts, piece: int) -> list[Sitting]:
    """The sittings of an archive; of an earlier version's, one for each step."""
    told = facts.sittings or tuple(
        ArchivedSitting(number=k, step=step, began=now(), seconds=minutes * 60)
        for k, (step, minutes) in enumerate(facts.spent_minutes.items(), start=1)
        if step in STEPS and minutes > 0)
    return [Sitting(s.number, piece, s.step, s.began, s.seconds, s.kind, s.note, s.corrects)
            for s in told]


def restore(studio: Studio, job: Job, file: Path) -> None:
    """From an archive to a piece."""
    job.report(0.1, "Reading the archive")
    archived = studio.read_piece(file, job.check)
    job.report(0.5, "Storing its pictures")
    for asset in archived.assets.values():
        studio.assets.put(asset)
    facts = archived.facts
    job.report(0.7, "Drawing the piece")
    with studio.memory.reserved(_room(archived.recipe), job.check):
        studio.store(studio.card(archived.recipe))
    piece = studio.pieces.create(facts.title, facts.planned_minutes, archived.first,
                               archived.edits)
    studio.events.take_over(piece, archived.events)
    studio.sittings.take_over(piece, _sat(facts, piece))
    if facts.character:
        known = {c.name: c.id for c in studio.characters.all()}
        character = known.get(facts.character.name)
        if character is None:
            character = studio.characters.create(
                facts.character.name, list(facts.character.card), facts.character.washes).id
            for name, colours in facts.character.outfits.items():
                studio.characters.keep_outfit(character, Outfit(name=name, colours=colours))
        studio.characters.give(piece, character)
    job.piece = piece


def read_drawing(studio: Studio, file: Path, long_edge: int,
                 check: Callable[[], None] = lambda: None) -> Recipe:
    """Decode a file, store it and its pixels, and begin a recipe."""
    read = studio.read_picture(file, long_edge, check=check)
    original = studio.assets.put(file.read_bytes())
    return Recipe(source=Source(asset=studio.assets.put(read.png), original=original,
                                width=read.width, height=read.height))


def _room(recipe: Recipe) -> int:
    """Bytes that working out the parts of a drawing takes at its peak, as measured."""
    return _BYTES_PER_PIXEL * recipe.source.width * recipe.source.height


def begun_like(other: Recipe) -> tuple[Edit, ...]:
    """What a new piece takes over from another: its light, method and stack settings."""
    # Pairs name parts of the other drawing.
    light = other.light.model_copy(update={"pairs": ()})
    return (MoveLight(light=light), SetPasses(passes=other.passes),
            SetDelivery(delivery=other.delivery), SetBackground(colour=other.background))
