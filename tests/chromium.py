"""Chromium for tests: a fresh profile each time, no network of its own."""

from collections.abc import Iterator
from contextlib import contextmanager
from tempfile import TemporaryDirectory

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
