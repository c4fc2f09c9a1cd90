"""Drag the light in Chromium and read how long an event takes to become pixels."""

import statistics
import tempfile

from playwright.sync_api import sync_playwright

CHROMIUM_FLAGS = [
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync"]


def measure_drag(address: str, piece: int, moves: int = 160, pause_ms: int = 24) -> list[float]:
    """Milliseconds from pointer event to the frame with its pixels, one entry a picture shown."""
    with sync_playwright() as playwright:
        context = playwright.chromium.launch_persistent_context(
            tempfile.mkdtemp(), executable_path="/usr/bin/chromium", args=CHROMIUM_FLAGS,
            viewport={"width": 1280, "height": 800})
        page = context.pages[0]
        page.goto(f"{address}/piece/{piece}/light")
        page.wait_for_selector("canvas[data-shown$=':sharp']")
        puck = page.get_by_role("slider", name="Light", exact=True)
        box = puck.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for k in range(moves):
            page.mouse.move(x + 60 * (k % 40) / 40, y + 50 * (k % 23) / 23)
            page.wait_for_timeout(pause_ms)
        page.mouse.up()
        page.wait_for_timeout(300)
        entries = page.evaluate(
            "performance.getEntriesByName('wardrobe:event-to-pixels').map(e => e.duration)")
        context.close()
        return entries


def summary(latencies: list[float]) -> tuple[float, float]:
    """Median and 95th percentile."""
    return statistics.median(latencies), statistics.quantiles(latencies, n=20)[-1]
