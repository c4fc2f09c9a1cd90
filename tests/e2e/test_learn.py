"""Practise: lessons by pointer and keys, what was measured, progress, and out as CSV."""

import csv
import io
import re

import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.e2e.page import canvas_pixels, centre
from wardrobe.core.geometry.outline import outlines_of
from wardrobe.core.learn.lessons import question_of
from wardrobe.core.learn.scenes import SIZE
from wardrobe.core.learn.truth import truth_of, view_of


def at(page: Page, x: float, y: float) -> tuple[float, float]:
    """Window position of a pixel of a lesson's picture while it fits."""
    return centre(page, 0.95, x * 1000 / SIZE, y * 1000 / SIZE, height=1000)


def trace(page: Page, mask: np.ndarray) -> None:
    """Draw round the largest piece of a mask."""
    outline = max(outlines_of(mask, 50), key=len)
    points = outline[::max(1, len(outline) // 90)]
    page.mouse.move(*at(page, *points[0]))
    page.mouse.down()
    for point in points[1:]:
        page.mouse.move(*at(page, *point))
    page.mouse.up()


def opened(page: Page, address: str, key: str, seed: int, level: int = 1) -> None:
    page.goto(f"{address}/learn/{key}?level={level}&seed={seed}")
    page.wait_for_selector("canvas[data-shown]:not([data-shown=''])")


def test_shade_is_drawn_measured_and_practised_on(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        page.goto(address)
        page.get_by_role("link", name="Practise").click()
        page.get_by_role("link", name="Begin").click()
        page.wait_for_url(re.compile(r"/learn/ball\?level=1&seed=\d+"))

        opened(page, address, "ball", 5)
        scene = question_of("ball", 1, 5).scene
        assert scene is not None
        truth, _ = truth_of(view_of(scene), "shade", scene.light)
        zoom = float(page.locator("canvas[data-zoom]").get_attribute("data-zoom") or 0)
        box = page.get_by_test_id("picture").bounding_box()
        assert box and abs(zoom - 0.95 * min(box["width"], box["height"]) / SIZE) < 0.03
        flat = canvas_pixels(page)[..., :3].astype(int)
        # A pen's stroke where none belongs, taken back; then round the shade.
        page.keyboard.press("w")
        page.mouse.move(*at(page, 320, 200))
        page.mouse.down()
        page.mouse.move(*at(page, 330, 220), steps=4)
        page.mouse.up()
        assert (np.abs(canvas_pixels(page)[..., :3] - flat).max(axis=-1) > 20).any()
        page.keyboard.press("Control+z")
        page.keyboard.press("w")
        trace(page, truth)
        page.keyboard.press("Enter")
        said = page.get_by_role("list", name="What was measured")
        expect(said).to_contain_text(re.compile(r"The light is right to \d°"))
        status = page.get_by_role("status")
        expect(status).to_contain_text("passed")
        score = int(re.match(r"\d+", status.inner_text()).group())  # type: ignore[union-attr]
        assert score > 85
        # The right answer, and one's own; then the next, a level up.
        page.wait_for_timeout(800)
        right = canvas_pixels(page)[..., :3].astype(int)
        page.keyboard.press("h")
        page.wait_for_timeout(800)
        assert (np.abs(canvas_pixels(page)[..., :3] - right).max(axis=-1) > 20).mean() > 0.003
        page.keyboard.press(".")
        page.wait_for_url(re.compile(r"/learn/ball\?level=2&seed=\d+"))
        expect(page.get_by_role("button", name="Measure")).to_be_visible()

        page.get_by_role("link", name="The course").click()
        skills = page.get_by_role("list", name="Skills").get_by_role("listitem")
        expect(skills.first).to_contain_text("Level 2")
        expect(skills.first).to_contain_text("off by")
        with page.expect_download() as caught:
            page.get_by_role("link", name="Progress, CSV").click()
        rows = list(csv.DictReader(io.StringIO(
            caught.value.path().read_text("utf-8"))))  # type: ignore[union-attr]
        assert [r["lesson"] for r in rows] == ["ball"] and round(float(rows[0]["score"])) == score
        assert problems == []


def test_lights_orders_choices_and_colours_are_answered_by_keys_and_clicks(address: str) -> None:
    with browser_page() as page:
        opened(page, address, "light", 4)
        scene = question_of("light", 1, 4).scene
        assert scene is not None
        puck = page.get_by_role("slider", name="Light", exact=True)
        puck.focus()
        turn = round((scene.light.azimuth - 90 + 180) % 360 - 180)
        for _ in range(abs(turn) // 5):
            puck.press("ArrowLeft" if turn > 0 else "ArrowRight")
        for _ in range(round(abs(60 - scene.light.height) / 5)):
            puck.press("ArrowDown" if scene.light.height < 60 else "ArrowUp")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status")).to_contain_text("passed")
        expect(page.get_by_role("list", name="What was measured")).to_contain_text("from the light")

        page.goto(f"{address}/learn/values?level=1&seed=3")
        for k in question_of("values", 1, 3).answer:
            page.get_by_role("button", name=f"Colour {k + 1}", exact=True).click()
        page.get_by_role("button", name="Measure").click()
        expect(page.get_by_text("All six are in order.")).to_be_visible()

        opened(page, address, "odd one", 8)
        right = question_of("odd one", 1, 8).answer[0]
        page.get_by_role("radio", name=str(right + 1), exact=True).click()
        page.keyboard.press("Enter")
        expect(page.get_by_role("status")).to_contain_text("Right.")

        page.goto(f"{address}/learn/shade colour?level=1&seed=2")
        wanted = question_of("shade colour", 1, 2).colour
        page.get_by_role("textbox", name="Hex").fill(wanted)
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Measure").click()
        expect(page.get_by_role("status")).to_contain_text("100")
        # A lesson that does not exist says so.
        page.goto(f"{address}/learn/nonsense")
        expect(page.get_by_role("heading", name="Nothing here")).to_be_visible()
