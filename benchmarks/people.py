"""Accuracy of telling a person's skin and hair; writes docs/accuracy-people.md.

    python -m benchmarks.people
"""

from collections.abc import Iterator
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import Drawing, hands
from benchmarks.corpora.people import person
from benchmarks.figure import arrived, framings, tried
from wardrobe.core.errors import NoClosedAreaError

LIMIT, THINGS = 24, 60
PARTS = ("skin", "hair")


def found(drawing: Drawing) -> list[NDArray[np.bool_]]:
    """Where the parts lie that are called skin and hair at arrival."""
    try:
        deriver, recipe = arrived(drawing)
    except NoClosedAreaError:
        return [np.zeros(drawing.ink.shape, bool)] * len(PARTS)
    part_of = deriver.assignment(recipe).part_of_area[deriver.areas(recipe).labels]
    return [np.isin(part_of, [row for row, part in enumerate(recipe.parts, start=1)
                              if part.name == which]) for which in PARTS]


def measure(half: int) -> list[str]:
    """Lines of the report."""
    lines = ["| source | drawings | part | there in | found in | of its pixels | of those found, "
             "right |", "|---|---|---|---|---|---|---|"]
    for source in ("adventurer", "open-peeps", "emoji"):
        for framing in framings(source):
            lines += _people(f"{source}, {framing}" if source != "emoji" else "emoji of people",
                             tried(source, half, LIMIT if source != "emoji" else THINGS, framing))
    lines += ["", "| source | drawings | nobody is in | taken for somebody |", "|---|---|---|---|"]
    for source in ("objects", "emoji"):
        nobody = [d for d in hands(source, half, THINGS)
                  if (known := person(d)) is not None and not known.kinds.any()]
        wrong = sum(bool(found(d)[0].any()) for d in nobody)
        lines.append(f"| {source} | {THINGS if source == 'emoji' else len(nobody)} | "
                     f"{len(nobody)} | {wrong} |")
    return lines


def _people(name: str, drawings: Iterator[Drawing]) -> Iterator[str]:
    scores: dict[str, list[tuple[float, float]]] = {part: [] for part in PARTS}
    count = 0
    for drawing in drawings:
        known = person(drawing)
        if known is None or not known.kinds[0].any():
            continue
        count += 1
        judged = drawing.judged & drawing.figure
        for part, true, there in zip(PARTS, known.kinds, found(drawing), strict=False):
            both = float((there & true & judged).sum())
            if (true & judged).sum() > 0.002 * judged.size or (there & judged).any():
                scores[part].append((both / max(1, (true & judged).sum()),
                                     both / (there & judged).sum() if there.any() else np.nan))
    for part, rows in scores.items():
        v = np.array(rows)
        seen = ~np.isnan(v[:, 1])
        yield (f"| {name} | {count} | {part} | {len(v)} | {seen.sum()} | {v[:, 0].mean():.2f} | "
               f"{v[seen, 1].mean():.2f} |")


if __name__ == "__main__":
    text = ["# Accuracy of skin and hair", "",
            "Written by `make accuracy`, on drawings that nothing was fitted to: what is named "
            "skin and hair at arrival, without a click, against the colours the drawing was "
            "painted in. Lines are black and nothing else is seen.", "", *measure(1), ""]
    Path("docs/accuracy-people.md").write_text("\n".join(text))
    print("\n".join(text))
