"""How lessons are measured, and how fast they open; writes docs/accuracy-learn.md.

    python -m benchmarks.learn
"""

import io
import time
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from wardrobe.core.formats.png import encode_png
from wardrobe.core.learn.ability import HIGHEST, LOWEST, level_after, needed
from wardrobe.core.learn.course import COURSE
from wardrobe.core.learn.judge import judge
from wardrobe.core.learn.lessons import question_of
from wardrobe.core.learn.pictures import given
from wardrobe.core.learn.scenes import SIZE
from wardrobe.core.learn.truth import truth_of, view_of
from wardrobe.core.light.rig import KeyLight

SEEDS = 8
LEARNERS = 200
LESSONS = 20
TURNS = (-15.0, 15.0)
_LESSON_HEAD = ["lesson", "perfect answers, least score", "told, median", "within 3°",
                "scribbles, mean", "most", "opens, ms", "95 %"]
_LEARNER_HEAD = ["mean score", "enough for level", "settles at", "scatter"]
OUT = Path(__file__).parent.parent / "docs" / "accuracy-learn.md"


def scribble(seed: int) -> np.ndarray:
    """Strokes anywhere."""
    random = np.random.default_rng(seed)
    drawn = np.zeros((SIZE, SIZE), np.uint8)
    for _ in range(14):
        points = random.integers(100, SIZE - 100, (4, 2)).astype(np.int32)
        cv2.polylines(drawn, [points], False, 1, int(random.integers(4, 18)))
    return drawn > 0


def opened(key: str, seed: int) -> float:
    """Milliseconds from a new seed to the bytes of its picture."""
    begin = time.perf_counter()
    encode_png(given(question_of(key, 4, seed)))
    return 1e3 * (time.perf_counter() - begin)


def pillow() -> float:
    """Milliseconds in which Pillow writes a picture as large, of as many colours."""
    pixels = np.random.default_rng(0).integers(0, 8, (SIZE, SIZE, 3), np.uint8).repeat(1, 0) * 30
    begin = time.perf_counter()
    Image.fromarray(pixels).save(io.BytesIO(), "PNG", compress_level=6)
    return 1e3 * (time.perf_counter() - begin)


def measured(key: str) -> list[str]:
    """A row of the table."""
    asked = COURSE[key].asked
    perfect, told, noise, took = [], [], [], []
    for seed in range(SEEDS):
        took.append(opened(key, 1000 + seed))
        scene = question_of(key, 1 + seed % HIGHEST, seed).scene
        if asked is None or scene is None:
            continue
        view, light = view_of(scene), scene.light
        truth, _ = truth_of(view, asked, light)
        perfect.append(judge(view, asked, light, truth).score)
        if asked != "highlight":
            noise.append(judge(view, asked, light, scribble(seed)).score)
            for turn in TURNS:
                drawn, _ = truth_of(view, asked, KeyLight(light.azimuth + turn, light.height))
                error = judge(view, asked, light, drawn).azimuth_error
                told.append(abs((180.0 if error is None else error) - turn))
    some = lambda values, how: f"{how(values):.1f}" if values else "–"  # noqa: E731
    share = f"{100 * np.mean(np.array(told) <= 3):.0f} %" if told else "–"
    return [COURSE[key].label, some(perfect, min), some(told, np.median), share,
            some(noise, np.mean), some(noise, max), f"{np.median(took):.0f}",
            f"{np.percentile(took, 95):.0f}"]


def learners(score: float) -> list[str]:
    """Where learners of an ability settle: mean level of the last eight of twenty lessons."""
    where = []
    for seed in range(LEARNERS):
        random = np.random.default_rng(seed)
        answers: list[tuple[int, float]] = []
        for _ in range(LESSONS):
            answers.append((level_after(answers), float(np.clip(random.normal(score, 4), 0, 100))))
        where.append(np.mean([level for level, _ in answers[12:]]))
    able = max((k for k in range(LOWEST, HIGHEST + 1) if needed(k) <= score), default=LOWEST)
    return [f"{score:.0f}", str(able), f"{np.mean(where):.1f}", f"{np.std(where):.1f}"]


def table(head: list[str], rows: list[list[str]]) -> str:
    line = "|" + "|".join("---" if k == 0 else "---:" for k in range(len(head))) + "|"
    return "\n".join(["| " + " | ".join(head) + " |", line,
                      *("| " + " | ".join(row) + " |" for row in rows)])


def main() -> None:
    for key in COURSE:  # kernels are loaded
        opened(key, 1)
    lessons = [measured(key) for key in COURSE]
    settled = [learners(score) for score in (40, 50, 60, 66, 72, 78, 83, 87, 90, 93, 97)]
    saved = np.median([pillow() for _ in range(9)])
    said = f"""# Lessons, measured

Written by `python -m benchmarks.learn`: {SEEDS} lessons of each kind at all levels. What is right
is worked out on solids whose surfaces are known. "Told" is by how many degrees the light that a
drawing implies is off, for drawings as a light 15° to either side would have them. Opening is from
a new seed to the bytes of its picture; Pillow writes a picture of that size in {saved:.0f} ms on
the same machine.

{table(_LESSON_HEAD, lessons)}

## Learners

{LEARNERS} simulated learners each, whose scores scatter around a mean (standard deviation 4),
over {LESSONS} lessons: the level that their mean is enough for, and where they are in the last
eight.

{table(_LEARNER_HEAD, settled)}
"""
    OUT.write_text(said, "utf-8")
    print(OUT.read_text("utf-8"))


if __name__ == "__main__":
    main()
