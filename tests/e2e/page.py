"""What the tests in Chromium do with a page of the application."""

import base64
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
from playwright.sync_api import Download, Page

SHARP = "canvas[data-shown$=':sharp']"


def drop_file(page: Page, name: str, data: bytes, on: str = "body") -> None:
    """Drop a file on the page, or on what a selector names, as the system would."""
    transfer = page.evaluate_handle(
        """([name, bytes]) => { const t = new DataTransfer();
            t.items.add(new File([new Uint8Array(bytes)], name)); return t; }""",
        [name, list(data)])
    for event in ("dragenter", "dragover", "drop"):
        page.dispatch_event(on, event, {"dataTransfer": transfer})


def _piece(page: Page) -> str:
    place = re.search(r"^(.*)/piece/(\d+)", page.url)
    assert place
    return f"{place[1]}/api/pieces/{place[2]}"


def open_all_closings(page: Page) -> None:
    """Take away what was closed when the piece that is open came in."""
    piece = _piece(page)
    now = page.request.get(piece).json()
    for _ in now["recipe"]["closings"]:
        answer = page.request.post(f"{piece}/edits", data={
            "seen": now["revision"], "edit": {"kind": "remove_closing", "index": 0}})
        assert answer.ok, answer.text()
        now = answer.json()
    page.reload()


def part_each_area(page: Page) -> None:
    """Make each area of the piece that is open a part of matte cloth, the largest first."""
    piece = _piece(page)
    areas = [a for a in page.request.get(f"{piece}/cut").json()["areas"] if not a["ground"]]
    areas.sort(key=lambda a: -a["pixels"])
    bases = ("#c98f4a", "#4f6f8f", "#b5553f", "#7d9077", "#e3c9a8", "#6a5a7d", "#d9b44f")
    seen = page.request.get(piece).json()["revision"]
    answer = page.request.post(f"{piece}/edits", data={"seen": seen, "edit": {
        "kind": "replace_parts", "proposed": True,
        "parts": [{"id": f"p{k}", "name": f"part {k}", "base": bases[(k - 1) % len(bases)]}
                  for k in range(1, len(areas) + 1)],
        "claims": [{"to": f"p{k}", "strokes": [[[a["x"], a["y"]]]]}
                   for k, a in enumerate(areas, start=1)]}})
    assert answer.ok, answer.text()
    page.reload()


def revision(page: Page) -> str:
    """Piece and revision that the picture shows."""
    shown = page.get_by_test_id("picture").get_attribute("data-shown") or ""
    return ":".join(shown.split(":")[:2])


def wait_for_change(page: Page, before: str) -> None:
    page.wait_for_function(
        "before => { const s = document.querySelector('canvas').dataset.shown;"
        " return s.endsWith(':sharp') && s.split(':').slice(0, 2).join(':') !== before; }",
        arg=before)


def centre(page: Page, scale: float, x: float, y: float,
           height: int = 1414) -> tuple[float, float]:
    """Window position of a picture point while the picture fits (drawing units, 1000 wide)."""
    box = page.get_by_test_id("picture").bounding_box()
    assert box
    zoom = scale * min(box["width"] / 1000, box["height"] / height)
    return (box["x"] + box["width"] / 2 + (x - 500) * zoom,
            box["y"] + box["height"] / 2 + (y - height / 2) * zoom)


def canvas_pixels(page: Page) -> np.ndarray:
    # Size and pixels in one go: the canvas may get another size in between, or be another step's.
    width, height, data = page.evaluate("""async () => {
        while (!document.querySelector('canvas')) await new Promise(requestAnimationFrame);
        const c = document.querySelector('canvas');
        const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
        let s = ''; for (let i = 0; i < d.length; i += 32768)
            s += String.fromCharCode(...d.subarray(i, i + 32768));
        return [c.width, c.height, btoa(s)]; }""")
    return np.frombuffer(base64.b64decode(data), np.uint8).reshape(height, width, 4)


def shows(screen: np.ndarray, flat: np.ndarray) -> bool:
    """Whether the screen shows the middle of a picture, pixel for pixel."""
    height, width = screen.shape[:2]
    top, left = (flat.shape[0] - height) // 2, (flat.shape[1] - width) // 2
    offsets = [(top + dy, left + dx) for dy in (-1, 0, 1) for dx in (-1, 0, 1)]
    return any((flat[y:y + height, x:x + width] == screen[..., :3]).all() for y, x in offsets)


def swatch(page: Page, name: str, part: str) -> str:
    """The colour that the sheet shows for a pass of a part."""
    label = page.get_by_role("button", name=re.compile(f"^{name} of {part}: ")).get_attribute(
        "aria-label") or ""
    return label.split(": ")[1][:7]


def deliver(page: Page, label: str) -> bytes:
    """A file from the step Deliver, where its files are listed."""
    page.get_by_role("tab", name="Files", exact=True).click()
    return download(page, f"Deliver {label}")


def download(page: Page, button: str) -> bytes:
    with page.expect_download(timeout=240_000) as caught:
        page.get_by_role("button", name=button, exact=True).click()
    file: Download = caught.value
    return Path(file.path()).read_bytes()


def eventually(page: Page, holds: Callable[[], bool]) -> None:
    """Wait until something holds that the page itself does not announce."""
    for _ in range(240):
        if holds():
            return
        page.wait_for_timeout(250)
    shown = page.evaluate("() => document.querySelector('canvas')?.dataset.shown")
    line = holds.__code__.co_firstlineno
    raise AssertionError(f"it did not come true within a minute, line {line}; it shows {shown}")


def settled(page: Page, measure: Callable[[], float]) -> float:
    """A figure of the picture once it is sharp and no longer changes with the layout."""
    page.wait_for_selector(SHARP)
    last = measure()
    for _ in range(240):
        page.wait_for_timeout(250)
        now = measure()
        if now == last:
            return now
        last = now
    raise AssertionError(f"it did not settle within a minute: {last}")
