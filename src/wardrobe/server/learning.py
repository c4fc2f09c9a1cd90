"""Lessons given, answers measured, progress."""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from wardrobe.core.learn.ability import LOWEST, level_after, needed
from wardrobe.core.learn.answers import (
    Measured,
    judge_choice,
    judge_colour,
    judge_light,
    judge_order,
)
from wardrobe.core.learn.course import COURSE, OWN_LABEL, OWN_SKILL, SKILLS
from wardrobe.core.learn.judge import Verdict, judge
from wardrobe.core.learn.lessons import Question
from wardrobe.core.learn.pictures import given
from wardrobe.core.learn.scenes import SIZE
from wardrobe.core.learn.strokes import drawn_mask
from wardrobe.core.learn.truth import view_of
from wardrobe.core.learn.words import of_drawing, of_other
from wardrobe.core.light.rig import KeyLight
from wardrobe.recipe.edits import EditRefusedError
from wardrobe.server.db.practice import Answered
from wardrobe.server.schemas.learn import (
    Course,
    Lamp,
    LessonAnswer,
    LessonCard,
    LessonGiven,
    LessonResult,
    MarkedPiece,
    SkillCard,
)

_LATEST = 20  # answers that are shown of a skill
_SETTLED = 5  # latest answers whose errors are summed up
_ANSWERED_BY = {"draw": "strokes", "light": "light", "spot": "choice", "colour": "colour",
                "order": "order", "choice": "choice"}


@dataclass(frozen=True)
class Judged:
    """What was measured of an answer: the score, figures by name, and all that is shown."""

    score: float
    figures: dict[str, float | None]
    said: list[str]
    near: tuple[float, ...] = ()
    pieces: tuple[MarkedPiece, ...] = ()


def course_of(answers: Sequence[Answered]) -> Course:
    """The course as far as one is in it."""
    skills = []
    for key, label in (*SKILLS.items(), (OWN_SKILL, OWN_LABEL)):
        mine = [a for a in answers if a.skill == key]
        level = level_after([(a.level, a.score) for a in mine])
        errors = [abs(off) for a in mine[-_SETTLED:]
                  if (off := a.figures.get("azimuth")) is not None]
        skills.append(SkillCard(
            key=key, label=label, level=level, needed=needed(level),
            scores=[a.score for a in mine[-_LATEST:]],
            off=round(median(errors), 1) if errors else None,
            lessons=[_card(k, [a for a in mine if a.lesson == k])
                     for k, lesson in COURSE.items() if lesson.skill == key]))
    return Course(skills=skills, following=_following(skills), answered=len(answers))


def _card(key: str, answers: Sequence[Answered]) -> LessonCard:
    lesson = COURSE[key]
    return LessonCard(key=key, label=lesson.label, ask=lesson.ask, answered=len(answers),
                      best=max((a.score for a in answers), default=None))


def _following(skills: Sequence[SkillCard]) -> str:
    """The lesson that was answered least in the skill that is the weakest, in their order."""
    weakest = min((s for s in skills if s.lessons), key=lambda s: (s.level, len(s.scores)))
    return min(weakest.lessons, key=lambda lesson: lesson.answered).key


def lesson_of(question: Question) -> LessonGiven:
    """A lesson as it is given: what is asked stays unsaid."""
    lesson, scene = COURSE[question.key], question.scene
    height, width = given(question).shape[:2]
    told = scene is not None and lesson.ask == "draw"
    return LessonGiven(
        key=question.key, level=question.level, seed=question.seed,
        needed=needed(question.level), label=lesson.label, what=scene.what if scene else "",
        ask=lesson.ask, asked=lesson.asked, question=lesson.question, look=lesson.look,
        light=_lamp(scene.light) if scene and told else None,
        rim=_lamp(scene.rim) if scene and scene.rim else None,
        swatches=list(question.swatches), step=question.step, turn=question.turn, width=width,
        height=height, choices=len(question.others) or (2 if lesson.ask == "choice" else 0))


def _lamp(light: KeyLight) -> Lamp:
    return Lamp(azimuth=light.azimuth, height=light.height)


def judged(question: Question, answer: LessonAnswer) -> Judged:
    """Measure an answer.

    Raises
    ------
    EditRefusedError
        If the lesson asks for another kind of answer.
    """
    lesson = COURSE[question.key]
    wanted = _ANSWERED_BY[lesson.ask]
    if getattr(answer, wanted) is None:
        raise EditRefusedError(f"This lesson is answered by {wanted}.")
    if answer.strokes is not None and question.scene is not None and lesson.asked:
        drawn = drawn_mask([(s.stroke, s.erases) for s in answer.strokes], (SIZE, SIZE))
        verdict = judge(view_of(question.scene), lesson.asked, question.scene.light, drawn)
        return Judged(verdict.score, figures_of(verdict), of_drawing(verdict, lesson.asked),
                      verdict.near, marked(verdict))
    measured = _measured(question, answer)
    return Judged(measured.score, {
        "off": measured.off, "hue": measured.hue, "azimuth": measured.azimuth,
        "height": measured.height}, of_other(question, measured))


def _measured(question: Question, answer: LessonAnswer) -> Measured:
    if answer.light is not None and question.scene is not None:
        return judge_light(question.scene.light,
                           KeyLight(answer.light.azimuth, answer.light.height))
    if answer.colour is not None:
        return judge_colour(question.colour, answer.colour)
    if answer.order is not None:
        return judge_order(question.answer, answer.order)
    return judge_choice(question, answer.choice or 0)


def figures_of(verdict: Verdict) -> dict[str, float | None]:
    """What was measured, by name."""
    return {"azimuth": verdict.azimuth_error, "amount": verdict.amount, "wanted": verdict.wanted,
            "agreement": verdict.agreement, "edge": verdict.near[1],
            "missing": len(verdict.missing), "extra": len(verdict.extra),
            "shadow turn": verdict.shadow_turn, "shadow length": verdict.shadow_length}


def marked(verdict: Verdict) -> tuple[MarkedPiece, ...]:
    """What is missing and too much."""
    return tuple(MarkedPiece(x=x, y=y, width=w, height=h, missing=missing)
                 for missing, pieces in ((True, verdict.missing), (False, verdict.extra))
                 for x, y, w, h in (p.box for p in pieces))


def result_of(question: Question, found: Judged, level: int) -> LessonResult:
    """What a learner is told."""
    scene = question.scene
    light = scene.light if scene and COURSE[question.key].ask in ("light", "draw") else None
    return LessonResult(
        score=found.score, needed=needed(question.level),
        passed=found.score >= needed(question.level), level=level, said=found.said,
        figures=found.figures, near=list(found.near), pieces=list(found.pieces),
        right_light=_lamp(light) if light else None, right_colour=question.colour or None,
        right_order=list(question.answer))


def progress_csv(answers: Sequence[Answered]) -> str:
    """All answers as CSV (RFC 4180)."""
    names = sorted({name for a in answers for name in a.figures})
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(["at", "skill", "lesson", "level", "needed", "score", "passed", "seed", *names])
    for a in answers:
        table.writerow([a.at.isoformat(), a.skill, a.lesson, a.level, needed(a.level), a.score,
                        a.score >= needed(a.level), a.seed,
                        *("" if a.figures.get(n) is None else a.figures[n] for n in names)])
    return out.getvalue()


def usual(key: str, level: int | None, answers: Sequence[Answered]) -> int:
    """The level of a lesson: as asked for, or that which comes next in its skill."""
    if level is not None:
        return level
    skill = COURSE[key].skill
    return max(LOWEST, level_after([(a.level, a.score) for a in answers if a.skill == skill]))
