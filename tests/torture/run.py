"""``make torture``: breaks runs and sends bad files, prints, and writes docs/reliability.md."""

import argparse
import platform
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests.torture.clients import gone_before_answered, large_work, two_at_once
from tests.torture.disk import run_full
from tests.torture.kills import kill_again_and_again
from tests.torture.operations import ask_everything
from tests.torture.plain import plain_install
from tests.torture.uploads import send_damaged, send_hostile

REPORT = Path(__file__).parents[2] / "docs" / "reliability.md"
_MARK = "<!-- figures below are written by make torture -->\n"
_SMALL_SECONDS = 2.0  # that a small request may wait
Trial = Callable[[Path], dict[str, Any]]


def trials(seed: int, scale: float) -> dict[str, tuple[str, Trial]]:
    """What is tried, in words, and how often at a scale."""
    def many(count: int) -> int:
        return max(1, round(count * scale))

    return {
        "kills": ("Killed (SIGKILL) at random moments of edits, imports, restores, answers",
                  lambda folder: kill_again_and_again(folder, seed, many(60))),
        "uploads": ("Damaged uploads: drawings in every format, layered files, archives, cards",
                    lambda folder: send_damaged(folder, seed, many(3000))),
        "hostile": ("Files that ask for minutes of work, and a stop while two are read",
                    send_hostile),
        "operations": ("Generated requests to every operation of the API",
                       lambda folder: ask_everything(folder, seed, many(20), many(75))),
        "disk": ("A disk that runs full under work, and a read-only one", run_full),
        "two": ("Two clients change the same piece", lambda folder: two_at_once(folder, many(80))),
        "gone": ("Full-size previews whose clients go at once", gone_before_answered),
        "plain": ("`pip install .` in a fresh environment, then every module imported",
                  plain_install),
        "large": ("The largest files that may be asked for, all at once", large_work),
    }


def judged(figures: dict[str, Any], limits: dict[str, float]) -> list[str]:
    """What does not hold."""
    wrong = [str(w) for key in ("wrong", "lost or wrong") for w in figures.get(key, [])]
    wrong += [f"{key}: {figures[key]}" for key in figures
              if key.startswith("longest small") and figures[key] > _SMALL_SECONDS]
    wrong += [f"{key}: {figures[key]} (at most {most})" for key, most in limits.items()
              if figures.get(key, 0) > most]
    return wrong


LIMITS = {"unforeseen by a reader": 0, "unforeseen by the server": 0, "end s": 13,
          "longest upload s": 10, "longest s": 10}


def main() -> None:
    """Run all or some trials."""
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--seed", type=int, default=1)
    arguments.add_argument("--scale", type=float, default=1.0,
                           help="how much of everything; 1 takes about ten minutes")
    arguments.add_argument("--only", nargs="*", default=[])
    given = arguments.parse_args()
    rows, failed = [], 0
    for key, (what, trial) in trials(given.seed, given.scale).items():
        if given.only and key not in given.only:
            continue
        begin = time.monotonic()
        with tempfile.TemporaryDirectory() as folder:
            figures = trial(Path(folder) / "data")
        wrong = judged(figures, LIMITS)
        if "ceiling GB" in figures and figures["peak GB"] > figures["ceiling GB"]:
            wrong.append("memory above the ceiling")
        failed += len(wrong)
        told = ", ".join(f"{name} {value}" for name, value in figures.items()
                         if not isinstance(value, list))
        print(f"{what} ({time.monotonic() - begin:.0f} s): {told}"
              + "".join(f"\n  WRONG: {w}" for w in wrong), flush=True)
        rows.append(f"| {what} | {told} | {'; '.join(w[:120] for w in wrong) or 'nothing'} |")
    if not given.only:
        head = REPORT.read_text().partition(_MARK)[0]
        REPORT.write_text(
            f"{head}{_MARK}\nSeed {given.seed}, scale {given.scale:g}, {platform.machine()}, "
            f"Python {platform.python_version()}.\n\n"
            "| Trial | Figures | Did not hold |\n|---|---|---|\n" + "\n".join(rows) + "\n")
    sys.exit(1 if failed else 0)


if __name__ == "__main__":
    main()
