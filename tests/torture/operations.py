"""Every operation of the API with generated requests: no server error, nothing undocumented."""

import re
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from tests.torture.drawings import drawings, layered_and_archives
from tests.torture.machine import Machine

_CHECKS = ("not_a_server_error,status_code_conformance,content_type_conformance,"
           "response_schema_conformance")


def ask_everything(folder: Path, seed: int, examples: int, seconds: int) -> dict[str, Any]:
    """Generated requests to all operations; return figures.

    Requests name a piece, a character and a layered file that are there half of the time: without
    that nearly all would end at "not found".
    """
    machine = Machine(folder)
    machine.start()
    piece = machine.new_piece(drawings(120)["png"])
    file = layered_and_archives(machine, piece["id"])["openraster"]
    machine.finished(machine.client.post("/api/layered", files={"file": ("f", file)},
                                         data={"title": "Kite"}).json())
    machine.client.post("/api/characters", json={"name": "Ilse", "from_piece": piece["id"]})
    with machine.watched("/api/characters") as taken:
        found = [_ask(machine, seed, examples, seconds, "--exclude-method", "DELETE"),
                 _ask(machine, seed, examples, max(5, seconds // 10), "--include-method", "DELETE")]
    unforeseen = machine.log.read_text().count("unexpected error")
    machine.stop()
    return {"requests": sum(asked for asked, _ in found),
            "wrong": [line for _, wrong in found for line in wrong],
            "unforeseen by the server": unforeseen,
            "longest small request s": round(taken.longest, 2),
            "peak GB": round(taken.peak_bytes / 1e9, 2)}


def _ask(machine: Machine, seed: int, examples: int, seconds: int,
         *which: str) -> tuple[int, list[str]]:
    """How many requests were made, and what was wrong with their answers."""
    with tempfile.TemporaryDirectory() as cwd:
        (Path(cwd) / "schemathesis.toml").write_text(
            "[parameters]\npiece_id = 1\ncharacter_id = 1\nfile_id = 1\n")
        run = subprocess.run(
            [Path(sys.executable).with_name("schemathesis"), "run",
             f"{machine.url}/api/openapi.json", "--checks", _CHECKS, "--seed", str(seed),
             # One worker: two threads that parse at once can trip CPython 3.11's `ast` module.
             "--max-examples", str(examples), "--workers", "1", "--continue-on-failure",
             "--max-time", str(seconds), "--request-timeout", "60", "--no-color",
             "--phases", "examples,coverage,fuzzing", *which],
            cwd=cwd, capture_output=True, text=True, timeout=seconds + 600, check=False)
    cases = re.search(r"([0-9,]+) generated", run.stdout)
    failures = re.findall(r"(?ms)^_{3,} (.+?) _{3,}$.*?^- (.+?)$", run.stdout)
    wrong = [": ".join(f) for f in failures] if run.returncode else []
    if run.returncode and not wrong:
        wrong = [run.stdout[-1500:] + run.stderr[-1500:]]
    return int(cases[1].replace(",", "")) if cases else 0, sorted(set(wrong))
