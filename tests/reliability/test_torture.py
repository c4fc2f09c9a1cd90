"""A short form of ``make torture``, with a real server that is killed, filled and confused."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from tests.torture.clients import gone_before_answered, two_at_once
from tests.torture.disk import run_full
from tests.torture.kills import kill_again_and_again
from tests.torture.operations import ask_everything
from tests.torture.run import LIMITS, judged
from tests.torture.uploads import send_damaged
from tests.tries import THOROUGH, tries

TRIALS: dict[str, Callable[[Path], dict[str, Any]]] = {
    "kills": lambda folder: kill_again_and_again(folder, 11, tries(3, 20), seconds=1.0),
    "uploads": lambda folder: send_damaged(folder, 12, tries(100, 1000)),
    "disk": run_full,
    "two": lambda folder: two_at_once(folder, tries(16, 48)),
    "gone": lambda folder: gone_before_answered(folder, 16),
}
if THOROUGH:  # a few such requests are made by the tests of the server
    TRIALS["operations"] = lambda folder: ask_everything(folder, 13, 10, 40)
_SECONDS = {key for key in LIMITS if key.endswith(" s")}  # a busy machine is no fault


@pytest.mark.parametrize("name", TRIALS)
def test_nothing_that_was_answered_is_lost_and_nobody_gets_a_server_error(
        name: str, tmp_path: Path) -> None:
    figures = TRIALS[name](tmp_path / "data")
    quick = {key: value for key, value in figures.items() if not key.startswith("longest")}
    assert not judged(quick, {k: v for k, v in LIMITS.items() if k not in _SECONDS}), figures
