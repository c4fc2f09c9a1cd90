"""Kill the server at random moments of all kinds of work: nothing acknowledged may be lost."""

import random
import threading
import time
from pathlib import Path
from typing import Any

import httpx

from tests.recipes import edit_of, kinds
from tests.torture.drawings import drawings
from tests.torture.machine import Machine
from wardrobe.recipe.document.model import Recipe


class Ledger:
    """What the server has acknowledged, and what was under way."""

    def __init__(self) -> None:
        self.pieces: dict[int, dict[str, Any]] = {}
        self.events: dict[int, list[dict[str, Any]]] = {}
        self.archives: list[bytes] = []
        self.under_way: set[int] = set()
        self.removing: set[int] = set()
        self.removed: set[int] = set()
        self.acknowledged = 0

    def check(self, client: httpx.Client) -> list[str]:
        """What is not as it was acknowledged."""
        wrong = []
        there = {p["id"] for p in client.get("/api/pieces").json()}
        wrong += [f"piece {k} came back" for k in self.removed & there]
        for number, known in list(self.pieces.items()):
            answer = client.get(f"/api/pieces/{number}")
            if answer.status_code == 404 and number in self.removing:
                del self.pieces[number]
                continue
            if answer.status_code != 200:
                wrong.append(f"piece {number}: {answer.status_code} {answer.text[:200]}")
                continue
            now = answer.json()
            ahead = now["revision"] - known["revision"]
            if (ahead == 0 and now["recipe"] != known["recipe"]) \
                    or not 0 <= ahead <= (number in self.under_way):
                wrong.append(f"piece {number}: {known['revision']} became {now['revision']}")
            picture = client.get(f"/api/pieces/{number}/picture", params={
                "width": now["width"], "height": now["height"], "scale": 0.5})
            if picture.status_code != 200:
                wrong.append(f"picture of {number}: {picture.text[:200]}")
            self.pieces[number] = now
            events = client.get(f"/api/pieces/{number}/events").json()
            said = self.events.get(number, [])
            if events[:len(said)] != said or len(events) > len(said) + 1:
                wrong.append(f"piece {number}: {len(said)} events became {len(events)}")
            self.events[number] = events
        self.under_way.clear()
        self.removing.clear()
        return wrong


def some_edit(rng: random.Random, piece: dict[str, Any]) -> dict[str, Any]:
    """A change of any kind; some of them make no sense for this piece, and are refused."""
    recipe = Recipe.model_validate(piece["recipe"])
    while (made := edit_of(rng.choice(kinds()), recipe, rng)) is None:
        pass
    return made.model_dump(mode="json")


def work(machine: Machine, ledger: Ledger, seed: int, over: threading.Event) -> None:
    """Change pieces, one request after the other, until the server is gone."""
    rng = random.Random(seed)
    files = drawings()
    with httpx.Client(base_url=machine.url, timeout=60) as client:
        while not over.is_set():
            try:
                one_step(client, ledger, rng, files)
            except httpx.TransportError:
                return


def one_step(client: httpx.Client, ledger: Ledger, rng: random.Random,
             files: dict[str, bytes]) -> None:
    """One request, and what its answer acknowledges."""
    what = rng.random()
    if not ledger.pieces or (what < 0.06 and len(ledger.pieces) < 8):
        job = client.post("/api/pieces", files={"file": ("a", rng.choice(list(files.values())))},
                          data={"title": "Kite"}).json()
        return _took(client, ledger, _finished(client, job))
    number = rng.choice(list(ledger.pieces))
    piece, url = ledger.pieces[number], f"/api/pieces/{number}"
    if what < 0.08 and len(ledger.pieces) > 2:
        ledger.removing.add(number)
        client.delete(url)
        ledger.removing.discard(number)
        del ledger.pieces[number]
        ledger.removed.add(number)
    elif what < 0.12:
        form = rng.choice(["ora", "png", "archive"])
        job = _finished(client, client.post(f"{url}/deliveries", json={"format": form}).json())
        if form == "archive" and job["state"] == "done":
            ledger.archives.append(client.get(f"/api/jobs/{job['id']}/file").content)
    elif what < 0.14 and ledger.archives and len(ledger.pieces) < 8:
        _took(client, ledger, _finished(client, client.post("/api/pieces/restore", files={
            "file": ("a.zip", rng.choice(ledger.archives))}).json()))
    elif what < 0.18:
        client.get(f"{url}/picture", params={"width": 200, "height": 200})
    elif what < 0.24:
        answer = client.post(f"{url}/events", json={
            "kind": "answer", "look": "piece", "remarks": str(rng.random()), "date": "2026-03-04"})
        if answer.status_code == 201:
            ledger.events[number] = answer.json()
    else:
        ledger.under_way.add(number)
        if what < 0.32:
            answer = client.post(f"{url}/{rng.choice(['undo', 'redo'])}",
                                 json={"seen": piece["revision"]})
        else:
            answer = client.post(f"{url}/edits", json={
                "seen": piece["revision"], "edit": some_edit(rng, piece)})
        if answer.status_code == 200:
            ledger.pieces[number] = answer.json()
        ledger.under_way.discard(number)
    ledger.acknowledged += 1


def _finished(client: httpx.Client, job: dict[str, Any]) -> dict[str, Any]:
    while job["state"] in ("waiting", "running"):
        time.sleep(0.02)
        job = client.get(f"/api/jobs/{job['id']}").json()
    return job


def _took(client: httpx.Client, ledger: Ledger, job: dict[str, Any]) -> None:
    if job["state"] == "done":
        ledger.pieces[job["piece"]] = client.get(f"/api/pieces/{job['piece']}").json()
        ledger.acknowledged += 1


def left_over(folder: Path) -> list[str]:
    """Files that nobody will use: half-written ones, and those of processes that have ended."""
    halves = [str(p) for p in folder.rglob(".part-*")]
    own = list((folder / "scratch").iterdir())
    return halves + [str(p) for p in own[1:]]


def kill_again_and_again(folder: Path, seed: int, kills: int,
                         seconds: float = 2.5) -> dict[str, Any]:
    """Run, and kill within some seconds; return figures."""
    rng = random.Random(seed)
    machine, ledger = Machine(folder), Ledger()
    wrong: list[str] = []
    starts = []
    for number in range(kills):
        starts.append(machine.start())
        wrong += ledger.check(machine.client)
        wrong += left_over(folder)
        over = threading.Event()
        thread = threading.Thread(target=work, args=(machine, ledger, seed + number, over))
        thread.start()
        time.sleep(rng.uniform(0.05, seconds))
        machine.kill()
        over.set()
        thread.join(60)
    machine.start()
    wrong += ledger.check(machine.client)
    wrong += left_over(folder)
    ending = machine.stop()
    return {"kills": kills, "acknowledged": ledger.acknowledged, "lost or wrong": wrong,
            "longest start s": round(max(starts), 1), "end s": round(ending, 1)}
