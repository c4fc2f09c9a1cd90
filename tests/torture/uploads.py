"""Damaged and hostile uploads of every kind: each is read, or refused in words, in time."""

import io
import random
import re
import threading
import time
import zipfile
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx

from tests.torture.drawings import CARDS, drawings, layered_and_archives
from tests.torture.machine import Machine

_EXTREME = [b"0", b"-1", b"1e999", b"nan", b"99999999999999999999", b"4294967296", b"-0.0",
            b"1e-320"]
_WORDS = [b"", b"\xff\xfe", b"\x00", "\ufb1d".encode() * 60, b"a" * 9000, b"..", b"%s", b"{}",
          b"[["]


def hostile() -> dict[str, bytes]:
    """Files that ask for far more than they are large."""
    def svg(body: str, head: str = 'viewBox="0 0 100 100"') -> bytes:
        return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{body}</svg>'.encode()

    noise = '<filter id="f"><feTurbulence baseFrequency="0.4" numOctaves="9999"/></filter>'
    thick = '<filter id="f"><feMorphology operator="dilate" radius="60"/></filter>'
    rect = '<rect width="100" height="100" filter="url(#f)"/>'
    path = f'<path stroke="#000" stroke-width="90" d="M0 0{" Q 99 7 1 9 T 90 90" * 60}"/>'
    return {"svg noise": svg(noise + rect), "svg thick": svg(thick + rect * 40),
            "svg paths": svg(path * 20_000), "svg digits": svg("", f'width="{"9" * 20_000}x"'),
            "svg uses": svg('<g id="a"><rect width="9" height="9"/></g>' + "".join(
                f'<g id="a{k}">{f"<use href=&quot;#a{k - 1 or chr(0)}&quot;/>" * 9}</g>'.replace(
                    "&quot;", '"').replace("\0", "") for k in range(1, 12)))}


def variants(seed: int, files: dict[str, bytes]) -> Iterator[tuple[str, bytes]]:
    """Damaged files without end; of archives also such whose members are damaged."""
    rng = random.Random(seed)
    kinds = list(files)
    while True:
        kind = rng.choice(kinds)
        data = files[kind]
        if data[:2] == b"PK" and rng.random() < 0.7:
            yield kind, _in_a_member(rng, data)
        else:
            yield kind, _damaged(rng, data)


def _damaged(rng: random.Random, data: bytes) -> bytes:
    """Bytes changed, cut, doubled or swapped; numbers and words in text replaced."""
    out = bytearray(data)
    for _ in range(rng.choice([1, 1, 2, 5])):
        if not out:
            break
        at, length = rng.randrange(len(out)), rng.randrange(1, 1 + min(400, len(out)))
        what = rng.random()
        if what < 0.3:
            out[at] = rng.choice([0, 255, out[at] ^ (1 << rng.randrange(8)), rng.randrange(256)])
        elif what < 0.4:
            out[at:at + 4] = rng.choice([b"\0\0\0\0", b"\xff" * 4, b"\x7f\xff\xff\xff"])
        elif what < 0.5:
            del out[at:at + length]
        elif what < 0.58:
            out[at:at] = out[at:at + length]
        elif what < 0.63:
            del out[at:]
        else:
            pattern = rb"[0-9.]+" if what < 0.85 else rb"[A-Za-z#]{2,}"
            places = list(re.finditer(pattern, out[:60_000]))
            if places:
                found = rng.choice(places)
                out[found.start():found.end()] = rng.choice(_EXTREME if what < 0.85 else _WORDS)
    return bytes(out)


def _in_a_member(rng: random.Random, data: bytes) -> bytes:
    """An archive that is sound, but for what is in it."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = archive.namelist()
        victim = rng.choice([n for n in names if not n.startswith("renders")])
        if rng.random() < 0.5:
            victim = next((n for n in names if n in ("stack.xml", "recipe.json")), victim)
        how = rng.choice([zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_DEFLATED,
                          zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA]) if rng.random() < 0.1 else 0
        with zipfile.ZipFile(out, "w") as copy:
            for name in names:
                if name == "history.json" and victim == "recipe.json":
                    continue  # else the recipe would not count
                member = archive.read(name)
                if name == victim:
                    member = b"" if rng.random() < 0.03 else _damaged(rng, member)
                copy.writestr(name, member, how)
    return out.getvalue()


class Uploads:
    """Sends files and looks at what becomes of them."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.wrong: list[str] = []
        self.ends: Counter[str] = Counter()
        self.longest = 0.0
        self._lock = threading.Lock()

    def send(self, client: httpx.Client, kind: str, data: bytes) -> None:
        """Upload a file in the way that its kind is."""
        begin = time.monotonic()
        try:
            status, told, made = self._upload(client, kind, data)
        except Exception as error:  # whatever it is, it is to be counted
            status, told, made = 599, repr(error), None
        took = time.monotonic() - begin
        with self._lock:
            self.longest = max(self.longest, took)
            self.ends["taken" if status < 300 else "refused"] += 1
            words = "omething" not in told and len(told) > 10
            if status >= 500 or (status >= 400 and not words) or took > 10:
                self.wrong.append(f"{kind}: {status} after {took:.1f} s: {told[:300]}")
        if made:
            client.delete(made)

    def _upload(self, client: httpx.Client, kind: str,
                data: bytes) -> tuple[int, str, str | None]:
        file = {"file": ("f", data)}
        if kind in CARDS:
            answer = client.post("/api/characters/import", files=file, data={"name": "Ilse"})
            made = f"/api/characters/{answer.json()['id']}" if answer.status_code == 201 else None
            if made and client.get("/api/characters").status_code != 200:
                return 599, "the list of characters cannot be read any more", None
            return answer.status_code, answer.text, made
        if kind == "placed":
            answer = client.post("/api/pieces/pictures", files=file)
            return answer.status_code, answer.text, None
        path, fields = {"openraster": ("/api/layered", {"title": "Kite"}),
                        "archive": ("/api/pieces/restore", {})}.get(
            kind, ("/api/pieces", {"title": "Kite", "long_edge": "600"}))
        answer = client.post(path, files=file, data=fields)
        if answer.status_code != 202:
            return answer.status_code, answer.text, None
        job = answer.json()
        while job["state"] in ("waiting", "running"):
            time.sleep(0.01)
            job = client.get(f"/api/jobs/{job['id']}").json()
        if job["state"] == "failed":
            return int(job["problem"]["status"]), str(job["problem"]["detail"]), None
        if job["layered"]:
            found = client.get(f"/api/layered/{job['layered']}")
            return found.status_code, found.text, f"/api/layered/{job['layered']}"
        piece = f"/api/pieces/{job['piece']}"
        shown = client.get(f"{piece}/picture", params={"width": 120, "height": 120})
        return shown.status_code, "" if shown.status_code == 200 else shown.text, piece


def send_damaged(folder: Path, seed: int, count: int, senders: int = 2) -> dict[str, Any]:
    """Send so many damaged files; return figures."""
    machine = Machine(folder)
    machine.start()
    piece = machine.new_piece(drawings(96)["png"])
    files = {**drawings(96), **layered_and_archives(machine, piece["id"]), **CARDS,
             "placed": drawings(64)["png clear"]}
    uploads = Uploads(machine)
    feed = variants(seed, files)
    lock, left = threading.Lock(), count

    def work() -> None:
        nonlocal left
        with httpx.Client(base_url=machine.url, timeout=120) as client:
            while True:
                with lock:
                    if left <= 0:
                        return
                    left -= 1
                    kind, data = next(feed)
                uploads.send(client, kind, data)

    with machine.watched(f"/api/pieces/{piece['id']}") as taken:
        threads = [threading.Thread(target=work) for _ in range(senders)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    faults = machine.log.read_text().count("fault while reading a file")
    unforeseen = machine.log.read_text().count("unexpected error")
    machine.stop()
    return {"uploads": count, **uploads.ends, "wrong": uploads.wrong,
            "longest upload s": round(uploads.longest, 1), "unforeseen by a reader": faults,
            "unforeseen by the server": unforeseen,
            "longest small request s": round(taken.longest, 2),
            "peak GB": round(taken.peak_bytes / 1e9, 2)}


def send_hostile(folder: Path) -> dict[str, Any]:
    """Files that ask for minutes, while small requests are made; return figures."""
    machine = Machine(folder)
    machine.start()
    piece = machine.new_piece(drawings(200)["png"])
    uploads = Uploads(machine)
    with machine.watched(f"/api/pieces/{piece['id']}") as taken:
        for kind, data in hostile().items():
            uploads.send(machine.client, kind, data)
    # Two that run when the server is told to end.
    for _ in range(3):
        machine.client.post("/api/pieces", files={"file": ("f", hostile()["svg noise"])},
                            data={"title": "Kite"})
    time.sleep(0.5)
    ending = machine.stop()
    return {"hostile": len(hostile()), **uploads.ends, "longest s": round(uploads.longest, 1),
            "wrong": [w for w in uploads.wrong if " 4" not in w[:40]],
            "longest small request s": round(taken.longest, 2), "end s": round(ending, 1)}
