"""Chromium for tests: a fresh profile each time, no network of its own."""

import base64
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import cv2
import numpy as np
from playwright.sync_api import Browser, Page, sync_playwright

FLAGS = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
         "--disable-background-networking", "--disable-component-update", "--disable-sync"]

# A machine that is new compiles kernels while the browser waits.
_PATIENCE_MS = 120_000


class _Kept:
    """The browser that is kept open, if one is."""

    browser: Browser | None = None


@contextmanager
def one_browser() -> Iterator[None]:
    """Keep a browser open for all pages that are asked for meanwhile.

    Not for longer than the tests of a file: its event loop occupies the thread.
    """
    with sync_playwright() as playwright:
        _Kept.browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        try:
            yield
        finally:
            browser, _Kept.browser = _Kept.browser, None
            browser.close()


@contextmanager
def browser_page(width: int = 1280, height: int = 800) -> Iterator[Page]:
    """A page with a profile of its own."""
    if _Kept.browser is None:
        with one_browser(), browser_page(width, height) as page:
            yield page
        return
    context = _Kept.browser.new_context(viewport={"width": width, "height": height})
    context.set_default_timeout(_PATIENCE_MS)
    try:
        yield context.new_page()
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
        page.evaluate("() => document.querySelector('img').decode()")
        png = page.screenshot()
    return cv2.imdecode(np.frombuffer(png, np.uint8), 1)[..., ::-1].astype(int)
