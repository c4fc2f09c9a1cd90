"""A disk that runs full, and one that becomes read-only, under work."""

import os
import subprocess
from collections import Counter
from pathlib import Path
from typing import Any

from tests.torture.drawings import drawings
from tests.torture.kills import Ledger
from tests.torture.machine import Machine


def mounted(folder: Path, megabytes: int) -> bool:
    """Mount a small disk; False where that is not allowed."""
    folder.mkdir(parents=True)
    done = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={megabytes}m", "none",
                           str(folder)], capture_output=True, check=False)
    return done.returncode == 0


def run_full(folder: Path) -> dict[str, Any]:
    """Fill the disk under the server's feet, and make it read-only; return figures."""
    if os.geteuid() or not mounted(folder, 64):
        return {"skipped": "a small disk cannot be mounted here"}
    try:
        return _run_full(folder)
    finally:
        subprocess.run(["umount", "-l", str(folder)], check=False)


def _run_full(folder: Path) -> dict[str, Any]:
    machine, ledger = Machine(folder / "data"), Ledger()
    machine.log = folder.parent / "disk.log"
    machine.start()
    piece = machine.new_piece(drawings(160)["png"])
    number, url = piece["id"], f"/api/pieces/{piece['id']}"
    ledger.pieces[number] = piece
    ends: Counter[str] = Counter()
    wrong: list[str] = []

    def note(what: str, status: int, told: str) -> None:
        ends[f"{what} {status}"] += 1
        if (status >= 500 and status != 507) or (status == 507 and "is lost" not in told \
                and "Nothing was changed" not in told):
            wrong.append(f"{what}: {status} {told[:200]}")

    def work(rounds: int) -> None:
        for k in range(rounds):
            answer = machine.client.post(f"{url}/edits", json={
                "seen": ledger.pieces[number]["revision"],
                "edit": {"kind": "set_background", "colour": f"#00{k % 256:02x}44"}})
            note("edit", answer.status_code, answer.text)
            if answer.status_code == 200:
                ledger.pieces[number] = answer.json()
            picture = machine.client.get(f"{url}/picture?width=160&height=160")
            note("picture", picture.status_code, picture.text if picture.is_error else "")
            if picture.is_error:
                wrong.append("a picture needs no disk")
            upload = machine.client.post("/api/pieces", data={"title": "Kite"}, files={
                "file": ("f", os.urandom(200_000) if k % 2 else drawings(300)["png"])})
            if upload.status_code == 202:
                job = machine.finished(upload.json())
                note(f"import {job['state']}", (job["problem"] or {}).get("status", 200),
                     str(job["problem"]))
            else:
                note("upload", upload.status_code, upload.text)

    work(3)
    filler = folder / "filler"
    with filler.open("wb", buffering=0) as file:
        try:
            while file.write(bytes(2**16)):
                pass
        except OSError:
            pass
    work(8)
    wrong += _starts_in_words(folder / "other", "is full")
    filler.unlink()
    work(3)
    wrong += ledger.check(machine.client)
    machine.kill()
    machine.start()
    wrong += ledger.check(machine.client)
    machine.stop()
    subprocess.run(["mount", "-o", "remount,ro", str(folder)], check=True)
    wrong += _starts_in_words(folder / "data", "cannot be written")
    subprocess.run(["mount", "-o", "remount,rw", str(folder)], check=True)
    machine.start()
    wrong += ledger.check(machine.client)
    machine.stop()
    return {**dict(sorted(ends.items())), "wrong": wrong}


def _starts_in_words(folder: Path, says: str) -> list[str]:
    """A start on a folder that cannot be used says so in one line; what is wrong if not."""
    other = Machine(folder)
    other.log = folder.parent.parent / "other.log"
    other.log.unlink(missing_ok=True)
    try:
        other.start()
        other.kill()
        return [f"it started, though the folder {says}"]
    except RuntimeError as error:
        told = str(error).strip()
        return [] if says in told and "\n" not in told else [f"start: {told[-300:]}"]
