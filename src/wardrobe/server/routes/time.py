"""Time and records: plans, the clock, sittings, the log, dates."""

from datetime import date, datetime, timedelta
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from pydantic import AwareDatetime, TypeAdapter

from wardrobe.core.formats.calendar import Dated, write_calendar
from wardrobe.core.timing.clock import Beat
from wardrobe.core.timing.estimate import Estimate, estimate
from wardrobe.core.timing.figures import Figures
from wardrobe.core.timing.pace import minutes_in_words, pace_of
from wardrobe.recipe.edits import dressed
from wardrobe.recipe.events import (
    EventRefusedError,
    Since,
    Verdict,
    changed_since,
    plan_of,
)
from wardrobe.recipe.reports.traits import traits_of_drawing
from wardrobe.server.db.models import in_utc, now
from wardrobe.server.filing import file_many
from wardrobe.server.problems import NotFoundError
from wardrobe.server.records import is_open
from wardrobe.server.routes.common import WORK, PathId, StudioDep, as_file, job_state
from wardrobe.server.schemas.pieces import MOST_ID, JobState
from wardrobe.server.schemas.time import (
    BeatReport,
    ClockState,
    Correction,
    DayPlan,
    FileMany,
    HandTime,
    KeptPlan,
    LogKind,
    LogLine,
    LogPage,
    SavePlan,
    SittingLine,
)
from wardrobe.server.studio import Studio
from wardrobe.server.timesheet import by_day, log_csv, sheet_csv, sheet_pdf

router = APIRouter(prefix="/api", tags=["time"])

PieceQuery = Annotated[int | None, Query(ge=1, le=MOST_ID)]
LOG_JSON: TypeAdapter[list[LogLine]] = TypeAdapter(list[LogLine])
Month = Annotated[str | None, Query(pattern=r"^(19|20|21)\d\d-(0[1-9]|1[0-2])$")]
Text = Annotated[str, Query(max_length=200)]
_MOST_LINES = 10**7  # of a log that is saved: all of them


@router.post("/beats")
def beat(studio: StudioDep, report: BeatReport) -> ClockState:
    """Take what a window has been doing; the answer says how the piece stands. What two windows
    say of the same time counts once."""
    studio.timekeeper.hear(Beat(report.window, report.piece, report.step, report.doing,
                                report.since))
    return _clock(studio, report.piece)


@router.get("/pieces/{piece_id}/clock")
def get_clock(studio: StudioDep, piece_id: PathId) -> ClockState:
    """How a piece stands against its plan."""
    return _clock(studio, piece_id)


def _clock(studio: Studio, piece_id: int) -> ClockState:
    facts = studio.pieces.facts(piece_id)
    plan = plan_of(studio.events.of(piece_id, "plan"), facts.planned_minutes)
    spent = {step: s / 60 for step, s in studio.sittings.spent(piece_id).items()}
    return ClockState(plan=plan, state=facts.state, spent=spent,
                      since_break=studio.timekeeper.since_break(),
                      pace=pace_of(plan.minutes, spent, facts.step, plan.leave_out))


@router.get("/pieces/{piece_id}/estimate", dependencies=[WORK])
def get_estimate(studio: StudioDep, piece_id: PathId) -> Estimate:
    """How long the drawing will take, from finished pieces that are like it; with too few of
    them, what is planned."""
    facts = studio.pieces.facts(piece_id)
    plan = plan_of(studio.events.of(piece_id, "plan"), facts.planned_minutes)
    traits = traits_of_drawing(studio.deriver, studio.pieces.recipe(piece_id))
    return estimate(traits, studio.records.history(but=piece_id), plan.minutes)


@router.get("/pieces/{piece_id}/sittings")
def list_sittings(studio: StudioDep, piece_id: PathId) -> list[SittingLine]:
    """Time that was given to a piece, latest first, with its corrections."""
    studio.pieces.facts(piece_id)
    return studio.records.sittings(piece_id)


@router.post("/pieces/{piece_id}/sittings", status_code=201)
def add_sitting(studio: StudioDep, piece_id: PathId, time: HandTime) -> list[SittingLine]:
    """Note time that was given to a piece elsewhere."""
    began = time.began or now() - timedelta(minutes=time.minutes)
    if in_utc(began) > now() + timedelta(days=1):
        raise EventRefusedError("Time that is yet to come cannot be noted.")
    studio.sittings.begin(piece_id, time.step, began, time.minutes * 60, "by hand", time.note)
    return studio.records.sittings(piece_id)


@router.post("/sittings/{sitting_id}/corrections", status_code=201)
def correct_sitting(studio: StudioDep, sitting_id: PathId,
                    correction: Correction) -> list[SittingLine]:
    """Say how long a sitting really was; what was counted stays on record."""
    corrected = studio.sittings.correct(sitting_id, correction.minutes * 60, correction.note)
    return studio.records.sittings(corrected.piece)


@router.get("/pieces/{piece_id}/events/{number}/since")
def get_since(studio: StudioDep, piece_id: PathId, number: PathId) -> list[Since]:
    """What has changed since a verdict was given."""
    found = next((h.event for h in studio.events.of(piece_id) if h.number == number), None)
    if not isinstance(found, Verdict):
        raise NotFoundError("There is no such verdict.")
    recipe = studio.pieces.recipe(piece_id)
    worn = dressed(recipe, found.look)
    return changed_since(found.shown, worn) if found.shown else []


@router.get("/plans")
def list_plans(studio: StudioDep) -> list[KeptPlan]:
    """Plans to begin from."""
    return studio.plans.all()


@router.post("/plans", status_code=201)
def save_plan(studio: StudioDep, plan: SavePlan) -> KeptPlan:
    """Keep a plan under a name; one of the same name is replaced."""
    return studio.plans.save(plan)


@router.delete("/plans/{plan_id}", status_code=204)
def delete_plan(studio: StudioDep, plan_id: PathId) -> None:
    """Throw a plan of one's own away."""
    studio.plans.remove(plan_id)


@router.get("/today")
def get_today(studio: StudioDep,
              minutes: Annotated[float, Query(ge=0, le=1440)] = 240) -> DayPlan:
    """What is next, and what fits so many minutes of work."""
    today = date.today()
    day = studio.records.day(minutes, today)
    return DayPlan(today, day.order, day.fits, day.minutes, day.late)


@router.post("/filings", status_code=202)
def start_filing(studio: StudioDep, filing: FileMany) -> JobState:
    """Start to tag several pieces, put them away or back, call them done or not."""
    return job_state(studio.jobs.start("filing", lambda job: file_many(studio, job, filing)))


@router.get("/log")
def get_log(studio: StudioDep, piece: PieceQuery = None, character: PieceQuery = None,
            month: Month = None, text: Text = "",
            kind: Annotated[list[LogKind] | None, Query(max_length=4)] = None,
            before: AwareDatetime | None = None,
            most: Annotated[int, Query(ge=1, le=1000)] = 100) -> LogPage:
    """What happened, latest first."""
    since, until = _month(month)
    return studio.records.log(_pieces(studio, piece, character), text,
                              min(filter(None, (before, until)), default=None), since,
                              frozenset(kind or ()), most)


@router.get("/log/file", response_class=Response)
def save_log(studio: StudioDep, form: Literal["csv", "json"] = "csv", piece: PieceQuery = None,
             character: PieceQuery = None, month: Month = None, text: Text = "") -> Response:
    """The log as a file."""
    since, until = _month(month)
    page = studio.records.log(_pieces(studio, piece, character), text, until, since,
                              most=_MOST_LINES)
    if form == "csv":
        return Response(log_csv(page.lines), media_type="text/csv",
                        headers=as_file("wardrobe-log.csv"))
    return Response(LOG_JSON.dump_json(page.lines, indent=1), media_type="application/json",
                    headers=as_file("wardrobe-log.json"))


@router.get("/figures")
def get_figures(studio: StudioDep, piece: PieceQuery = None, character: PieceQuery = None,
                month: Month = None) -> Figures:
    """What the records come to."""
    return studio.records.figures(_pieces(studio, piece, character), *_month(month))


@router.get("/timesheet", response_class=Response)
def get_timesheet(studio: StudioDep, form: Literal["csv", "pdf"] = "pdf",
                  piece: PieceQuery = None, character: PieceQuery = None,
                  month: Month = None) -> Response:
    """Minutes by day, piece and step as a file."""
    wanted = _pieces(studio, piece, character)
    rows = by_day(s for s in studio.records.sittings(None, *_month(month))
                  if wanted is None or s.piece in wanted)
    titles, name = studio.pieces.titles(), f"time-sheet{f'-{month}' if month else ''}.{form}"
    if form == "csv":
        return Response(sheet_csv(rows, titles), media_type="text/csv", headers=as_file(name))
    heading = f"Time sheet{f', {month}' if month else ''}"
    return Response(sheet_pdf(rows, titles, heading), media_type="application/pdf",
                    headers=as_file(name))


@router.get("/calendar.ics", response_class=Response)
def get_calendar(studio: StudioDep) -> Response:
    """The dates of pieces that are not done, for a calendar."""
    dates = [Dated(f"piece-{f.id}@wardrobe", f.due, f.title, _left(f.planned_minutes
                                                                   - f.spent / 60), f.changed)
             for f in studio.pieces.all() if f.due is not None and is_open(f)]
    return Response(write_calendar(dates), media_type="text/calendar; charset=utf-8",
                    headers=as_file("wardrobe.ics"))


def _left(minutes: float) -> str:
    return f"{minutes_in_words(minutes)} left of the plan" if minutes > 0 \
        else "The plan is used up"


def _month(month: str | None) -> tuple[datetime | None, datetime | None]:
    """Beginning and end of a month on this machine."""
    if month is None:
        return None, None
    first = date.fromisoformat(f"{month}-01")
    after = (first + timedelta(days=32)).replace(day=1)
    return (datetime(first.year, first.month, 1).astimezone(),
            datetime(after.year, after.month, 1).astimezone())


def _pieces(studio: Studio, piece: int | None, character: int | None) -> set[int] | None:
    if piece is None and character is None:
        return None
    of_character = None if character is None else set(studio.characters.get(character).pieces)
    if piece is None:
        return of_character
    return {piece} if of_character is None else {piece} & of_character
