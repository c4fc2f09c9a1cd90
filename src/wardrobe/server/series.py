"""Work on the pieces of a series: brought in, carried over, following what is shared."""

from collections.abc import Callable, Iterable, Sequence
from functools import partial
from pathlib import Path
from typing import TypeVar

from wardrobe.core.areas.claim import touched
from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.checks.report import check_piece
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import ChangePart, Edit, MoveLight, Several, SingleEdit, apply
from wardrobe.recipe.events import (
    CarriedParts,
    DoubtfulArea,
    Happened,
    Plan,
    claims_digest,
    dismissed,
    last_carried,
)
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.series.carry import MOST_SOURCES, CarriedOver, carry_over, path_of
from wardrobe.recipe.series.drift import Drifted, drift, measure
from wardrobe.recipe.series.shared import (
    FOLLOWED,
    Shared,
    What,
    follow,
    follow_change,
    of_its_own,
)
from wardrobe.server.arrivals import read_drawing
from wardrobe.server.db.series import Member, StoredSeries
from wardrobe.server.jobs import CancelledError, Job
from wardrobe.server.problems import NotFoundError, StaleEditError, problem_of
from wardrobe.server.schemas.series import PartChange, SeriesEdit, SeriesMember
from wardrobe.server.studio import Studio

T = TypeVar("T")
_BYTES_PER_PIXEL = 45
_ROOM_TO_CARRY = 60  # bytes a pixel
_LISTED = 12  # problems that are told in full
_TRIES = 3  # at a piece that somebody else is changing


class SomeFailedError(WardrobeError):
    """Some pictures could not be worked on; the others are done."""

    title = "Some pictures failed"


def members_of(studio: Studio, series: StoredSeries) -> list[SeriesMember]:
    """The pieces of a series as the wall shows them."""
    found = []
    events = studio.events.by_piece("carried")  # at once: a wall may have a thousand pictures
    for m in series.members:
        known = studio.overview.of(m)
        doubts = _open(studio, known.recipe, events.get(m.id, [])) if known.carried else ()
        found.append(SeriesMember(
            **vars(m), width=known.size[0], height=known.size[1],
            own=of_its_own(known.recipe, series.shared, m.scene), carried=known.carried,
            doubts=len(doubts), parts=known.parts, findings=studio.overview.findings(m)))
    return found


def open_doubts(studio: Studio, piece_id: int, recipe: Recipe) -> tuple[DoubtfulArea, ...]:
    """Areas whose carried part nobody has looked at yet."""
    return _open(studio, recipe, studio.events.of(piece_id, "carried"))


def _open(studio: Studio, recipe: Recipe, events: list[Happened]) -> tuple[DoubtfulArea, ...]:
    last = last_carried(events, recipe)
    if last is None or not last.doubts:
        return ()
    since = [s for c in recipe.claims[last.claims:] for s in c.strokes]
    if not since:
        return last.doubts
    areas = studio.deriver.areas(recipe)
    answered = set(touched(areas, since).tolist())
    return tuple(d for d in last.doubts
                 if not answered.intersection(touched(areas, [[d.place]]).tolist()))


def change_piece(studio: Studio, piece_id: int, make: Callable[[Recipe], Edit | None]) -> bool:
    """Make an edit that follows from how a piece is, whoever else is at it; whether anything was
    done."""
    for left in range(_TRIES, 0, -1):
        stored = studio.pieces.get(piece_id)
        edit = make(stored.recipe)
        if edit is None:
            return False
        try:
            studio.edit(piece_id, stored.revision, edit)
            return True
        except StaleEditError:
            if left == 1:
                raise
    return False


def each(job: Job, items: Sequence[T], title: Callable[[T], str],
         work: Callable[[T], object]) -> None:
    """Work on one picture after the other; one that cannot be worked on keeps no other from it,
    and is told in the end.

    Raises
    ------
    SomeFailedError
        If all of them failed.
    """
    failed = []
    for k, item in enumerate(items):
        job.report(k / len(items), f"{title(item)}, {k + 1} of {len(items)}")
        try:
            work(item)
        except WardrobeError as error:
            failed.append(f"{title(item)}: {error.message}")
    tell_failed(job, failed, len(failed) < len(items))


def tell_failed(job: Job, failed: Sequence[str], some_done: bool) -> None:
    """Tell what failed beside what is done; raise it if nothing is."""
    if not failed:
        return
    more = f" And {len(failed) - _LISTED} more." if len(failed) > _LISTED else ""
    problem = SomeFailedError(f"{' '.join(failed[:_LISTED])}{more}")
    if not some_done:
        raise problem
    job.problem = problem_of(problem)


def chosen(series: StoredSeries, pieces: Iterable[int]) -> list[Member]:
    """The named pieces of a series, or all."""
    wanted = set(pieces)
    if not wanted <= {m.id for m in series.members}:
        raise NotFoundError("This piece is not in the series.")
    return [m for m in series.members if not wanted or m.id in wanted]


def bring_drawings(studio: Studio, job: Job, series_id: int,
                   files: Sequence[tuple[Path, str]], scene: str, long_edge: int) -> None:
    """Drawings become pieces at the end of a series, in their order, with what is shared; parts
    are carried over where there is a coloured picture."""
    def bring(told: tuple[Path, str]) -> None:
        job.piece = _bring(studio, job, series_id, *told, scene, long_edge)

    try:
        with studio.one_at_a_time(f"series {series_id}", job.check):
            each(job, files, lambda told: told[1], bring)
    finally:
        for file, _ in files:
            file.unlink(missing_ok=True)


def _bring(studio: Studio, job: Job, series_id: int, file: Path, title: str, scene: str,
           long_edge: int) -> int:
    recipe = read_drawing(studio, file, long_edge, job.check)
    with studio.memory.reserved(_room(recipe), job.check):
        shared = studio.series.get(series_id).shared
        edits = begin_edits(studio, recipe, shared, scene)
    piece = studio.pieces.create(title, sum(shared.minutes.values()) or 40.0, recipe, edits)
    if shared.minutes:
        studio.note(piece, Plan(minutes=shared.minutes))
    studio.series.append(series_id, [piece], scene=scene)
    carry_into(studio, studio.series.get(series_id), piece)
    return piece


def begin_edits(studio: Studio, recipe: Recipe, shared: Shared, scene: str) -> tuple[Edit, ...]:
    """How a new picture of a series begins."""
    edits: list[Edit] = []
    following = follow(recipe, shared, scene)
    if following:
        edits.append(following)
        recipe = apply(recipe, following)
    return (*edits, *first_edits(studio.deriver, recipe))


def _room(recipe: Recipe) -> int:
    return _BYTES_PER_PIXEL * recipe.source.width * recipe.source.height


def sources_of(studio: Studio, series: StoredSeries, piece_id: int) -> list[int]:
    """Pieces with parts that somebody has kept, the nearest first."""
    order = [m.id for m in series.members]
    at = order.index(piece_id)
    kept = [(abs(k - at), k > at, m.id) for k, m in enumerate(series.members)
            if m.id != piece_id and not studio.overview.of(m).carried]
    return [i for _, _, i in sorted(kept)]


def carry_into(studio: Studio, series: StoredSeries, piece_id: int) -> CarriedOver | None:
    """Carry parts over to a piece from the nearest coloured ones, if there are any."""
    sources = sources_of(studio, series, piece_id)[:MOST_SOURCES]
    if not sources:
        return None
    recipes = [studio.pieces.recipe(i) for i in sources]
    found: list[CarriedOver] = []

    def make(recipe: Recipe) -> Edit | None:
        if not recipe.proposed and recipe.parts:
            return None  # somebody has kept its parts meanwhile
        found.append(carry_over(studio.deriver, recipes, recipe))
        return found[-1].edit

    if not change_piece(studio, piece_id, make) or not found:
        return None
    character = studio.characters.of_piece(sources[0])
    if character and studio.characters.of_piece(piece_id) is None:
        studio.characters.give(piece_id, character.id)
    note_carried(studio, piece_id, sources, found[-1].sure,
                 [DoubtfulArea.model_validate(vars(d)) for d in found[-1].doubts])
    return found[-1]


def note_carried(studio: Studio, piece_id: int, sources: Sequence[int], sure: float,
                 doubts: Sequence[DoubtfulArea]) -> None:
    """Keep on record from where a piece has its parts, and what of them is doubtful."""
    claims = studio.pieces.recipe(piece_id).claims
    studio.note(piece_id, CarriedParts(pieces=tuple(sources), sure=sure, doubts=tuple(doubts),
                                       claims=len(claims), made=claims_digest(claims)))


def carry_series(studio: Studio, job: Job, series_id: int, pieces: Sequence[int]) -> None:
    """Carry parts over to pieces whose parts are not kept yet."""
    series = studio.series.get(series_id)
    todo = [m for m in chosen(series, pieces) if studio.overview.of(m).carried]

    def carry(member: Member) -> None:
        width, height = studio.pieces.recipe(member.id).size
        with studio.memory.reserved(_ROOM_TO_CARRY * width * height, job.check):
            carry_into(studio, series, member.id)

    each(job, todo, _title, carry)


def _title(member: Member) -> str:
    return member.title


def share(studio: Studio, job: Job, series_id: int, after: Shared) -> None:
    """Share other things from now on; pieces follow but for what they have of their own. If it is
    cancelled, all is as it was."""
    with studio.one_at_a_time(f"series {series_id}", job.check):
        series = studio.series.get(series_id)
        before = series.shared
        concerned = [m for m in series.members if any(
            before.said(what, m.scene) != after.said(what, m.scene) for what in FOLLOWED)]

        def follow_on(m: Member, old: Shared = before, new: Shared = after) -> bool:
            return change_piece(studio, m.id, partial(
                follow_change, before=(old, m.scene), after=(new, m.scene)))

        done: list[Member] = []

        def follow_and_note(m: Member) -> None:
            if follow_on(m):
                done.append(m)

        try:
            each(job, concerned, _title, follow_and_note)
        except CancelledError:
            for m in done:
                follow_on(m, after, before)
            raise
        # At last: where the server dies before, doing it again completes it.
        studio.series.change(series_id, shared=after)


def follow_again(studio: Studio, job: Job, series_id: int, pieces: Sequence[int],
                 what: Sequence[What]) -> None:
    """Pieces give up what they have of their own."""
    series = studio.series.get(series_id)
    each(job, chosen(series, pieces), _title, lambda m: change_piece(studio, m.id, partial(
        follow, shared=series.shared, scene=m.scene, whats=what)))


def put_in_scene(studio: Studio, series: StoredSeries, member: Member, scene: str) -> None:
    """A piece plays in another scene: it takes on its light and ground."""
    studio.series.set_member(member.id, scene=scene)
    change_piece(studio, member.id, lambda recipe: follow_change(
        recipe, (series.shared, member.scene), (series.shared, scene)))


def edit_for(recipe: Recipe, wanted: SeriesEdit) -> Several | None:
    """What a change of a part, or of the light, comes to in one picture."""
    edits: list[SingleEdit] = []
    if wanted.change is not None:
        edits += _part_edits(recipe, wanted.change)
    if wanted.azimuth is not None and recipe.light.azimuth != wanted.azimuth:
        edits.append(MoveLight(light=recipe.light.model_copy(
            update={"azimuth": wanted.azimuth})))
    return Several(edits=tuple(edits)) if edits else None


def _part_edits(recipe: Recipe, change: PartChange) -> list[SingleEdit]:
    path = tuple(name.casefold() for name in change.part)
    return [ChangePart(part=p.id, base=change.base, material=change.material)
            for p in recipe.parts if path_of(recipe.parts, p.id) == path
            and (change.base not in (None, p.base) or change.material not in (None, p.material))]


def change_series(studio: Studio, job: Job, series_id: int, wanted: SeriesEdit) -> None:
    """Make a change in all pictures that it concerns."""
    series = studio.series.get(series_id)
    some = [m for m in chosen(series, wanted.pieces)
            if wanted.scene is None or m.scene == wanted.scene]
    each(job, some, _title,
         lambda m: change_piece(studio, m.id, lambda recipe: edit_for(recipe, wanted)))


def look_over(studio: Studio, job: Job, series_id: int, pieces: Sequence[int]) -> None:
    """See which checks notice something in pictures that changed since they were looked over."""
    series = studio.series.get(series_id)
    todo = [m for m in chosen(series, pieces) if studio.overview.findings(m) is None]

    def look(member: Member) -> None:
        recipe = studio.overview.of(member).recipe
        width, height = recipe.size
        card = studio.characters.of_piece(member.id)
        with studio.memory.reserved(_BYTES_PER_PIXEL * width * height, job.check):
            found = check_piece(studio.deriver, recipe, card=tuple(card.card) if card else (),
                                dismissals=dismissed(studio.events.of(member.id)), repairs=False)
        studio.overview.note_findings(member, tuple(dict.fromkeys(
            f.check for f in found if f.dismissed is None)))

    each(job, todo, _title, look)


def drift_of(studio: Studio, series: StoredSeries) -> list[Drifted]:
    """Which pictures differ from what is usual."""
    return drift([(m.id, m.scene, measure(studio.deriver, known.recipe))
                  for m in series.members if not (known := studio.overview.of(m)).carried])
