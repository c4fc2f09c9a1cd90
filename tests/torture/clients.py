"""Two who change the same piece, those who go before they are answered, and large work."""

import socket
import threading
import time
from pathlib import Path
from typing import Any

import httpx

from tests.torture.drawings import drawings, figure, saved
from tests.torture.machine import Machine, cpu_of, memory_of

_FULL = (2480, 3508)


def full_size() -> bytes:
    """A drawing of the size of a page."""
    from PIL import Image

    page = Image.new("L", _FULL, 255)
    page.paste(Image.fromarray(255 - figure(2400)), (40, 500))
    return saved(page, "PNG")


def two_at_once(folder: Path, edits: int) -> dict[str, Any]:
    """Two clients change one piece and another; return figures."""
    machine = Machine(folder)
    machine.start()
    pieces = [machine.new_piece(drawings(160)["png"])["id"] for _ in range(2)]
    acknowledged, stale = [0, 0], 0
    lock = threading.Lock()
    wrong: list[str] = []

    def change(who: int) -> None:
        nonlocal stale
        with httpx.Client(base_url=machine.url, timeout=60) as client:
            for k in range(edits):
                shared = k % 4 != 3  # now and then each has a piece to itself
                url = f"/api/pieces/{pieces[0 if shared else who]}"
                seen = client.get(url).json()["revision"]
                answer = client.post(f"{url}/edits", json={"seen": seen, "edit": {
                    "kind": "set_background", "colour": f"#{who:02x}{k % 256:02x}{k // 256:02x}"}})
                with lock:
                    if answer.status_code == 200:
                        acknowledged[0 if url.endswith(str(pieces[0])) else 1] += 1
                    elif answer.status_code == 409:
                        stale += 1
                    else:
                        wrong.append(f"{answer.status_code} {answer.text[:200]}")

    before = [machine.client.get(f"/api/pieces/{p}").json()["revision"] for p in pieces]
    threads = [threading.Thread(target=change, args=(who,)) for who in (0, 1)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    for piece, first, count in zip(pieces, before, acknowledged, strict=True):
        now = machine.client.get(f"/api/pieces/{piece}").json()["revision"]
        if now - first != count:
            wrong.append(f"piece {piece}: {count} acknowledged, {now - first} made")
    machine.stop()
    return {"acknowledged": sum(acknowledged), "refused as stale": stale, "wrong": wrong}


def gone_before_answered(folder: Path, previews: int = 40) -> dict[str, Any]:
    """Large previews whose clients go at once, then a small picture; return figures."""
    machine = Machine(folder)
    machine.start()
    piece = machine.new_piece(full_size())
    url = f"/api/pieces/{piece['id']}"
    body = ('{"edit": {"kind": "set_background", "colour": "#00ff0%d"}, '
            '"view": {"width": 2480, "height": 3508}}')
    small = f"{url}/picture?width=2480&height=3508&scale=0.1"
    machine.client.get(small).raise_for_status()
    begin, used = time.monotonic(), cpu_of(machine.pid)
    with machine.watched(small) as taken:
        for k in range(previews):
            text = body % (k % 10)
            with socket.create_connection(("127.0.0.1", machine.port)) as wire:
                wire.sendall(f"POST {url}/preview HTTP/1.1\r\nHost: 127.0.0.1:{machine.port}\r\n"
                             f"Content-Type: application/json\r\nContent-Length: {len(text)}"
                             f"\r\n\r\n{text}".encode())
        time.sleep(6)
    cpu = cpu_of(machine.pid) - used
    machine.stop()
    return {"previews": previews, "cpu s": round(cpu, 1), "seconds": round(
        time.monotonic() - begin, 1), "longest small picture s": round(taken.longest, 2),
        "peak GB": round(taken.peak_bytes / 1e9, 2)}


def large_work(folder: Path) -> dict[str, Any]:
    """The largest files and pictures that may be asked for, all at once; return figures."""
    machine = Machine(folder)
    machine.start()
    piece = machine.new_piece(full_size())
    url = f"/api/pieces/{piece['id']}"
    nudge = {"seen": 0, "edit": {"kind": "several", "edits": [
        {"kind": "nudge_colour", "part": p["id"], "name": "base", "to": "lighter", "times": 60}
        for p in piece["recipe"]["parts"]] * 4}}
    wrong: list[str] = []
    begin = time.monotonic()
    with machine.watched(url) as taken:
        jobs = [machine.client.post(f"{url}/deliveries", json=wanted).json() for wanted in (
            {"format": "png", "long_edge": 16_000, "clear_ground": True}, {"format": "ora"},
            {"format": "png", "long_edge": 16_000}, {"format": "tiff pages"})]
        nudge["seen"] = machine.client.get(url).json()["revision"]
        nudged = machine.client.post(f"{url}/edits", json=nudge)
        if nudged.status_code != 200:
            wrong.append(nudged.text[:300])
        for size in (9_000_000, 250_000_000):
            with socket.create_connection(("127.0.0.1", machine.port)) as wire:
                wire.sendall(f"POST {url}/edits HTTP/1.1\r\nHost: 127.0.0.1:{machine.port}\r\n"
                             f"Content-Type: application/json\r\nContent-Length: {size}\r\n\r\n"
                             .encode())
                if b" 413 " not in wire.recv(4096)[:20]:
                    wrong.append(f"a body of {size} bytes was let in")
        for job in jobs:
            done = machine.finished(job, 300)
            if done["state"] != "done":
                wrong.append(str(done)[:300])
    after = memory_of(machine.pid)
    ceiling = machine.client.get("/api/meta").json()["memory_bytes"]
    machine.stop()
    return {"seconds": round(time.monotonic() - begin, 1), "wrong": wrong,
            "longest small request s": round(taken.longest, 2),
            "peak GB": round(taken.peak_bytes / 1e9, 2), "ceiling GB": round(ceiling / 1e9, 2),
            "afterwards GB": round(after / 1e9, 2)}
