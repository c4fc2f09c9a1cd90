"""Which level comes next: a transformed staircase, two up after two passes, one down after a fail.

A learner's level rises by one after each pass until the first fail, from then on after two passes
in a row, and falls by one after each fail: it settles where about 71 % are passed (H. Levitt,
"Transformed up-down methods in psychoacoustics", 1971).
"""

from collections.abc import Sequence

LOWEST, HIGHEST = 1, 10
# Score from which a lesson is passed, by level.
_NEEDED = (45, 55, 63, 70, 75, 80, 84, 88, 91, 94)
_IN_A_ROW = 2


def needed(level: int) -> float:
    """Score, 0..100, from which a lesson of a level is passed."""
    return float(_NEEDED[min(max(level, LOWEST), HIGHEST) - 1])


def level_after(answers: Sequence[tuple[int, float]]) -> int:
    """The level that comes next.

    Parameters
    ----------
    answers : sequence of (int, float)
        Level and score, 0..100, the oldest first. A level is only counted as it was given.
    """
    level, row, failed = LOWEST, 0, False
    for given, score in answers:
        if given < level:  # practised below: neither up nor down
            continue
        if score < needed(given):
            level, row, failed = max(LOWEST, level - 1), 0, True
            continue
        row += 1
        if not failed or row >= _IN_A_ROW:
            level, row = min(HIGHEST, level + 1), 0
    return level
