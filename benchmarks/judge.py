"""Faults planted one at a time in random figures, and their repairs; writes docs/checks.md.

    python -m benchmarks.judge [FIGURES]
"""

import sys
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from tests.figures import Drawing, Planted, figure
from tests.planted import FAULTS

from wardrobe.recipe.checks import CHECKS, QUESTIONS
from wardrobe.recipe.checks.report import Finding, check_piece, middle_of
from wardrobe.recipe.edits import apply

FIGURES = 20
_OWN = {"clipping"}  # a layer that is weaker shows more of what it covered


@dataclass
class Outcome:
    """What came of one figure."""

    found: list[str] = field(default_factory=list)
    missed: list[str] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)
    repaired: list[str] = field(default_factory=list)
    left: list[str] = field(default_factory=list)
    added: list[str] = field(default_factory=list)
    beside: list[str] = field(default_factory=list)
    seconds: list[float] = field(default_factory=list)


def findings(p: Planted) -> list[Finding]:
    """All of a figure; colours that were changed on purpose are no drift here."""
    return check_piece(p.deriver, p.recipe, card=p.card)


def same(one: Finding, other: Finding) -> bool:
    """Whether two findings are of one thing."""
    return (one.check, one.ids) == (other.check, other.ids) and (
        bool(one.ids) or middle_of(one) == middle_of(other))


def judged(seed: int) -> Outcome:
    """All faults in one figure."""
    out, clean = Outcome(), {}
    for fault in FAULTS:
        if fault.how not in clean:
            clean[fault.how] = figure(seed, fault.how)
            if fault.how == Drawing():
                out.wrong += [f.check for f in findings(clean[fault.how])]
        planted = fault.plant(clean[fault.how])
        start = time.perf_counter()
        after = findings(planted)
        out.seconds.append(time.perf_counter() - start)
        mine = [f for f in after if f.check == fault.check]
        (out.found if mine else out.missed).append(fault.name)
        if mine and mine[0].repair:
            _repaired(planted, fault.name, mine[0], after, out)
    return out


def _repaired(planted: Planted, name: str, finding: Finding, before: list[Finding],
              out: Outcome) -> None:
    assert finding.repair
    mended = planted.edited()
    mended.recipe = apply(planted.recipe, finding.repair.edit)
    after = findings(mended)
    out.repaired.append(name)
    if any(same(f, finding) for f in after):
        out.left.append(name)
    if finding.check not in _OWN:
        out.added += [f"{name}: {f.check}" for f in after if f.check != "drifted"
                      and not any(same(f, g) or (f.check, f.ids) == (g.check, g.ids)
                                  for g in before)]


def words() -> list[str]:
    """The registry as a table."""
    lines = []
    for question, text in QUESTIONS.items():
        lines += [f"### {text}", "", "| finding | why | from | who says so | repair |",
                  "|---|---|---|---|---|"]
        for check in CHECKS.values():
            if check.question == question:
                limit = check.limit
                source = limit.basis if limit.source != "own" else f"our own: {limit.basis}"
                lines.append(f"| {check.label} | {check.why} | {limit.value:g} {limit.unit} | "
                             f"{source} | {'yes' if check.repair else ''} |")
        lines.append("")
    return lines


def main(count: int) -> None:
    """Measure, and write the report."""
    with ProcessPoolExecutor(2) as pool:
        outcomes = list(pool.map(judged, range(1000, 1000 + count)))
    missed = Counter(m for o in outcomes for m in o.missed)
    total = sum(len(o.found) + len(o.missed) for o in outcomes)
    wrong = Counter(w for o in outcomes for w in o.wrong)
    repaired = sum(len(o.repaired) for o in outcomes)
    left, added = (Counter(x for o in outcomes for x in getattr(o, k)) for k in ("left", "added"))
    seconds = np.array([s for o in outcomes for s in o.seconds])

    def told(counter: Counter[str]) -> str:
        return ", ".join(f"{name} ({n})" for name, n in counter.most_common()) or "none"

    text = ["# What is checked", "",
            "Written by `make accuracy` (`python -m benchmarks.judge`). Each check is one entry of "
            "`recipe/checks/table.py`; screen, shell, API and this page follow it.", "", *words(),
            "## Measured", "",
            f"{len(FAULTS)} kinds of fault (`tests/planted.py`), planted one at a time in {count} "
            f"random figures of {len(figure(0).ids)} parts:", "",
            f"- found and named rightly: {1 - sum(missed.values()) / total:.3f} of {total}; "
            f"missed: {told(missed)}",
            "- findings on a figure in which nothing was planted: "
            f"{sum(wrong.values()) / count:.2f} ({told(wrong)})",
            f"- repairs that remove their finding: {1 - sum(left.values()) / max(1, repaired):.3f} "
            f"of {repaired}; not: {told(left)}",
            f"- repairs that bring another finding: {len(list(added.elements()))} ({told(added)}); "
            "that a colour then differs from the colour card is not counted",
            f"- all checks of a figure that was changed, 600 x 840 px: {np.median(seconds):.2f} s, "
            f"at most {seconds.max():.2f} s", ""]
    Path("docs/checks.md").write_text("\n".join(text))
    print("\n".join(text[-8:]))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else FIGURES)
