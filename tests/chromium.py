"""Chromium for tests: a fresh profile each time, no network of its own."""

import base64
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory

import cv2
import numpy as np
from playwright.sync_api import Page, sync_playwright

FLAGS = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
         "--disable-background-networking", "--disable-component-update", "--disable-sync"]

# A machine that is new compiles kernels while the browser waits.
_PATIENCE_MS = 120_000


@contextmanager
def browser_page(width: int = 1280, height: int = 800) -> Iterator[Page]:
    """A page in a new browser."""
    with TemporaryDirectory() as profile, sync_playwright() as playwright:
        context = playwright.chromium.launch_persistent_context(
            profile, executable_path="/usr/bin/chromium", args=FLAGS, accept_downloads=True,
            viewport={"width": width, "height": height})
        context.set_default_timeout(_PATIENCE_MS)
        try:
            yield context.pages[0]
        finally:
            context.close()


def svg_shown(file: Path, width: int, height: int) -> np.ndarray:
    """An SVG as Chromium draws it at a size, on white; RGB as int."""
    with browser_page() as page:
        page.set_viewport_size({"width": width, "height": height})
        data = base64.b64encode(file.read_bytes()).decode()
        page.set_content(f"<style>* {{ margin: 0 }} img {{ display: block; width: {width}px; "
                         f"height: {height}px }}</style>"
                         f"<img src='data:image/svg+xml;base64,{data}'>")
        page.wait_for_function("() => document.querySelector('img').complete")
        page.wait_for_timeout(500)
        png = page.screenshot()
    return cv2.imdecode(np.frombuffer(png, np.uint8), 1)[..., ::-1].astype(int)
