"""Lessons: the course, lessons made anew, answers measured, progress."""

import secrets
from typing import Annotated, Literal

import cv2
import numpy as np
from fastapi import APIRouter, Path, Query, Response

from wardrobe.core.formats.png import encode_png
from wardrobe.core.learn.ability import LOWEST
from wardrobe.core.learn.course import OWN
from wardrobe.core.learn.lessons import Question, question_of
from wardrobe.core.learn.pictures import given, solved
from wardrobe.core.learn.words import of_drawing
from wardrobe.recipe.reports.practice import practise
from wardrobe.recipe.reports.why import Why, why
from wardrobe.server.learning import (
    course_of,
    figures_of,
    judged,
    lesson_of,
    marked,
    progress_csv,
    result_of,
    usual,
)
from wardrobe.server.routes.common import (
    KEPT_PNG,
    WORK,
    HeldDep,
    PathId,
    StudioDep,
    as_file,
    view_of,
)
from wardrobe.server.schemas.learn import (
    Course,
    LessonAnswer,
    LessonGiven,
    LessonKey,
    LessonResult,
    Level,
    PracticeRequest,
    PracticeResult,
    PractisedLesson,
    Seed,
)
from wardrobe.server.schemas.pictures import ViewRequest

router = APIRouter(prefix="/api/learn", tags=["learn"])
own = APIRouter(prefix="/api/pieces", tags=["learn"])

KeyPath = Annotated[LessonKey, Path()]
LevelPath = Annotated[Level, Path()]
SeedPath = Annotated[Seed, Path()]


@router.get("/course")
def get_course(studio: StudioDep) -> Course:
    """The lessons by skill, how far one is, and what to go on with."""
    return course_of(studio.practice.all())


@router.get("/progress")
def get_progress(studio: StudioDep) -> list[PractisedLesson]:
    """All answers, the oldest first."""
    return [PractisedLesson.model_validate(a, from_attributes=True)
            for a in studio.practice.all()]


@router.get("/progress.csv", response_class=Response, responses={
    200: {"content": {"text/csv": {"schema": {"type": "string"}}}}})
def get_progress_csv(studio: StudioDep) -> Response:
    """All answers and what was measured, as CSV."""
    return Response(progress_csv(studio.practice.all()), media_type="text/csv; charset=utf-8",
                    headers=as_file("practice.csv"))


@router.get("/lessons/{key}", dependencies=[WORK])
def get_lesson(studio: StudioDep, key: KeyPath, level: Annotated[Level | None, Query()] = None,
               seed: Annotated[Seed | None, Query()] = None) -> LessonGiven:
    """A lesson made anew, at the level that comes next; or that of a level and a seed."""
    chosen = usual(key, level, studio.practice.all())
    return lesson_of(question_of(key, chosen, secrets.randbelow(2**31) if seed is None else seed))


@router.get("/lessons/{key}/{level}/{seed}/{which}/picture", dependencies=[WORK],
            response_class=Response, responses=KEPT_PNG)
def get_lesson_picture(key: KeyPath, level: LevelPath, seed: SeedPath,
                       which: Literal["given", "solved"], held: HeldDep,
                       view: Annotated[ViewRequest, Query()]) -> Response:
    """A rectangle of a lesson as it is given, or solved, at a scale."""
    def draw() -> bytes:
        question = question_of(key, level, seed)
        whole = given(question) if which == "given" else solved(question)
        seen = view_of(view).within(whole.shape[1], whole.shape[0])
        part = whole[seen.y:seen.y + seen.height, seen.x:seen.x + seen.width]
        if seen.scale < 1:
            part = cv2.resize(part, seen.shape[::-1], interpolation=cv2.INTER_AREA)
        return encode_png(np.ascontiguousarray(part))

    return held.png(draw, "lesson", key, level, seed, which, view)


@router.post("/lessons/{key}/{level}/{seed}/answers", dependencies=[WORK])
def answer_lesson(studio: StudioDep, key: KeyPath, level: LevelPath, seed: SeedPath,
                  answer: LessonAnswer) -> LessonResult:
    """Measure an answer, and keep what was measured."""
    question: Question = question_of(key, level, seed)
    found = judged(question, answer)
    studio.practice.add(key, level, seed, found.score, found.figures)
    return result_of(question, found, usual(key, None, studio.practice.all()))


@own.post("/{piece_id}/practice", dependencies=[WORK])
def practise_on_piece(studio: StudioDep, piece_id: PathId,
                      request: PracticeRequest) -> PracticeResult:
    """Measure a pass that was drawn for a part against the piece's own; the piece stays as it
    is, and what was measured is kept."""
    recipe = studio.pieces.recipe(piece_id, request.seen)
    found = practise(studio.deriver, recipe, request.part, request.name,
                     [(s.stroke, s.erases) for s in request.strokes])
    verdict = found.verdict
    studio.practice.add(OWN, LOWEST, 0, verdict.score, figures_of(verdict))
    return PracticeResult(score=verdict.score, said=of_drawing(verdict, "shade"),
                          figures=figures_of(verdict), near=list(verdict.near),
                          pieces=list(marked(verdict)), edit=found.edit)


@own.get("/{piece_id}/why", dependencies=[WORK])
def get_why(studio: StudioDep, piece_id: PathId, x: Annotated[float, Query(ge=0, le=60_000)],
            y: Annotated[float, Query(ge=0, le=60_000)]) -> Why:
    """Why a place of the picture is in shade or in light."""
    return why(studio.deriver, studio.pieces.recipe(piece_id), x, y)
