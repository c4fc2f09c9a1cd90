"""Drag the light in Chromium and read how long an event takes to become pixels."""

import statistics

from tests.chromium import browser_page

WARM_UP_MOVES = 40


def measure_drag(address: str, piece: int, moves: int = 160, pause_ms: int = 24) -> list[float]:
    """Milliseconds from pointer event to the frame with its pixels, one entry a picture shown.

    The first moves, in which the browser compiles the page's code, are not counted.
    """
    with browser_page() as page:
        page.goto(f"{address}/piece/{piece}/light")
        page.wait_for_selector("canvas[data-shown$=':sharp']")
        puck = page.get_by_role("slider", name="Light", exact=True)
        box = puck.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for k in range(WARM_UP_MOVES + moves):
            if k == WARM_UP_MOVES:
                page.evaluate("performance.clearMeasures()")
            page.mouse.move(x + 60 * (k % 40) / 40, y + 50 * (k % 23) / 23)
            page.wait_for_timeout(pause_ms)
        page.mouse.up()
        page.wait_for_timeout(300)
        return page.evaluate(
            "performance.getEntriesByName('wardrobe:event-to-pixels').map(e => e.duration)")


def summary(latencies: list[float]) -> tuple[float, float]:
    """Median and 95th percentile."""
    return statistics.median(latencies), statistics.quantiles(latencies, n=20)[-1]
