"""Take the pictures in docs/screenshots/ from the demo data."""

import io
import socket
import tempfile
import threading
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import cv2
import numpy as np
import uvicorn
from playwright.sync_api import Page
from tests.chromium import browser_page

from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.geometry.outline import outlines_of
from wardrobe.core.learn.lessons import question_of
from wardrobe.core.learn.scenes import SIZE
from wardrobe.core.learn.truth import truth_of, view_of
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Layer, Tint, mapped
from wardrobe.core.timing.plan import plan_steps
from wardrobe.recipe.events import Filing, Plan, Verdict
from wardrobe.server.app import create_app
from wardrobe.server.demo import ensure_demo
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

OUT = Path(__file__).parent.parent / "docs" / "screenshots"
SHARP = "canvas[data-shown$=':sharp']"


def work_a_little(settings: Settings) -> None:
    """Minutes on the tape, plans and dates, so that the pictures show pieces in work."""
    studio = Studio(settings)
    now = datetime.now(UTC)
    for piece, minutes in ((1, {"lines": 3, "parts": 13, "colour": 5, "light": 2}),
                           (2, {"lines": 2, "parts": 4}),
                           (4, {"lines": 4, "parts": 11, "colour": 8, "light": 9, "finish": 5})):
        for k, (step, spent) in enumerate(minutes.items()):
            studio.sittings.begin(piece, step, now - timedelta(days=9 - 2 * k + piece % 2,
                                                               hours=piece), spent * 60)
    plan = plan_steps(40)
    for piece, days, occasion in ((1, 2, "Harbour fair"), (2, -1, "Lantern night"),
                                  (4, 9, "Wren and Tarn")):
        studio.note(piece, Plan(minutes=plan, due=now.date() + timedelta(days=days),
                                occasion=occasion, rounds=2))
    studio.note(1, Filing(tags=("fair",)))
    studio.note(4, Verdict(verdict="approved", about="colours", by="Tarn"))
    for k, (lesson, level, score) in enumerate((
            ("ball", 1, 71.0), ("egg", 2, 64.5), ("tube", 3, 82.0), ("box", 4, 58.0),
            ("ring", 3, 77.5), ("cone", 3, 88.0), ("head", 1, 66.0), ("sleeve", 2, 47.0),
            ("on the ground", 1, 80.0), ("light", 1, 92.0), ("odd one", 2, 100.0),
            ("values", 1, 86.7), ("reads", 2, 100.0))):
        studio.practice.add(lesson, level, k, score, {"azimuth": 26.0 - 1.7 * k})
    studio.close()


def take(page: Page, address: str) -> None:
    def open_step(piece: int, step: str, shown: str = SHARP) -> None:
        page.goto(f"{address}/piece/{piece}/{step}")
        page.wait_for_selector(shown)
        page.wait_for_timeout(600)

    def shot(name: str) -> None:
        page.screenshot(path=str(OUT / f"{name}.png"))

    page.goto(address)
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(500)
    shot("home")
    page.goto(f"{address}/series/1")
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(1500)
    shot("series")
    page.goto(f"{address}/page/1")
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(900)
    shot("page")
    page.goto(f"{address}/log")
    page.get_by_role("radio", name="Figures").click()
    page.wait_for_timeout(900)
    shot("log")
    page.goto(f"{address}/learn")
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(1500)
    shot("learn")
    page.goto(f"{address}/learn/head?level=4&seed=3")
    page.wait_for_selector("canvas[data-zoom]")
    page.wait_for_timeout(1500)
    draw_shade(page)
    page.keyboard.press("Enter")
    page.get_by_role("list", name="What was measured").wait_for()
    page.wait_for_timeout(1500)
    shot("lesson")
    open_step(3, "lines")
    page.get_by_test_id("gap").nth(1).hover()
    page.wait_for_timeout(700)
    shot("lines-gaps")
    open_step(1, "parts")
    page.get_by_role("row", name="coat").click()
    page.wait_for_timeout(200)
    box = page.get_by_test_id("picture").bounding_box()
    page.mouse.move(box["x"] + box["width"] * 0.49, box["y"] + box["height"] * 0.5)
    page.wait_for_timeout(400)
    shot("parts")
    open_step(1, "colour")
    shot("colour")
    page.get_by_title("Plan, time and breaks").click()
    page.get_by_role("radio", name="Plan").click()
    page.get_by_role("region", name="Estimate").wait_for()
    page.wait_for_timeout(600)
    shot("clock")
    page.keyboard.press("Escape")
    open_step(1, "light")
    page.get_by_label("Ground", exact=True).check()
    page.get_by_role("slider", name="Light", exact=True).scroll_into_view_if_needed()
    page.get_by_role("heading", name="Light", level=1).scroll_into_view_if_needed()
    page.wait_for_timeout(900)
    shot("light")
    open_step(4, "finish")
    page.get_by_role("row", name="low sun, screen 100 %", exact=True).click()
    page.wait_for_timeout(1500)
    shot("finish")
    open_step(2, "finish")
    page.get_by_role("tab", name="Lines").click()
    page.get_by_role("list", name="Lines").get_by_role("listitem").nth(4).hover()
    page.wait_for_timeout(900)
    shot("finish-lines")
    open_step(3, "finish")
    page.get_by_role("tab", name="Shade in ink").click()
    page.wait_for_timeout(600)
    shot("finish-ink")
    open_step(1, "looks", "canvas[data-drawn]")
    looks = page.get_by_role("group", name="Looks")
    looks.get_by_role("button", name="Saffron day", exact=True).click()
    page.wait_for_timeout(1200)
    shot("looks")
    open_step(2, "check")
    page.get_by_test_id("finding").filter(has_text="Two parts run together").locator(
        "button").first.click()
    page.wait_for_timeout(1500)
    shot("check")
    open_step(1, "deliver")
    page.wait_for_selector("[data-layer]")
    page.locator('[data-layer][aria-label^="satchel / shade"]').hover()
    page.wait_for_timeout(900)
    shot("deliver")
    page.get_by_role("tab", name="Paper", exact=True).click()
    page.get_by_label("Bleed").fill("3")
    page.get_by_label("Bleed").press("Enter")
    page.get_by_label("Marks that say where to cut").click()
    page.get_by_role("radio", name="As printed").click()
    page.wait_for_timeout(4000)
    shot("paper")
    page.get_by_role("tab", name="Files", exact=True).click()
    with page.expect_download() as caught:
        page.get_by_role("button", name="Deliver OpenRaster").click()
    page.get_by_role("tab", name="Take back").click()
    page.set_input_files("section input[type=file]", files=[{
        "name": "kite runner, painted elsewhere.ora", "mimeType": "image/openraster",
        "buffer": untidy(Path(caught.value.path()))}])
    page.get_by_role("list", name="Findings").wait_for()
    page.wait_for_timeout(900)
    shot("layered-order")


def draw_shade(page: Page) -> None:
    """A learner's answer: nearly right, as a light from a little elsewhere would have it."""
    scene = question_of("head", 4, 3).scene
    light = KeyLight(scene.light.azimuth + 14, scene.light.height)
    drawn, _ = truth_of(view_of(scene), "shade", light)
    canvas = page.locator("canvas[data-zoom]")
    zoom, box = float(canvas.get_attribute("data-zoom")), canvas.bounding_box()
    for outline in outlines_of(drawn, 900):
        points = [(box["x"] + box["width"] / 2 + (x - SIZE / 2) * zoom,
                   box["y"] + box["height"] / 2 + (y - SIZE / 2) * zoom)
                  for x, y in outline[::max(1, len(outline) // 120)]]
        page.mouse.move(*points[0])
        page.mouse.down()
        for point in points[1:]:
            page.mouse.move(*point)
        page.mouse.up()
        page.wait_for_timeout(100)


def untidy(file: Path) -> bytes:
    """A layered file as it comes back from a hurried afternoon."""
    stack = read_openraster(file).stack
    spot = np.zeros((stack.height, stack.width), np.uint8)
    cv2.circle(spot, (1400, 1500), 130, 255, -1, cv2.LINE_AA)

    def change(layer: Layer) -> Layer:
        paint, alpha = layer.paint, np.zeros_like(spot)
        alpha[layer.y:layer.y + layer.shape[0], layer.x:layer.x + layer.shape[1]] = layer.alpha
        if layer.name == "satchel / shade" and isinstance(paint, Tint):
            return replace(layer, paint=Tint(np.maximum(alpha, spot), paint.colour), x=0, y=0)
        if layer.name == "scarf / base":
            return replace(layer, paint=Tint(layer.alpha, (178, 60, 70)))
        if layer.name == "trousers / base" and isinstance(paint, Tint):
            return replace(layer, paint=Tint(layer.alpha // 5 * 4, paint.colour))
        if layer.name == "hair / shade":
            return replace(layer, name="Layer 7", opacity=0.5)
        return layer

    changed = mapped(stack, change)
    out = io.BytesIO()
    write_openraster(out, changed, flatten(changed))
    return out.getvalue()


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data:
        settings = Settings(data_dir=Path(data))
        ensure_demo(settings)
        work_a_little(settings)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        server = uvicorn.Server(uvicorn.Config(create_app(settings), port=port,
                                               log_level="warning"))
        threading.Thread(target=server.run, daemon=True).start()
        while not server.started:
            time.sleep(0.05)
        with browser_page() as page:
            take(page, f"http://127.0.0.1:{port}")
        server.should_exit = True
        time.sleep(0.5)


if __name__ == "__main__":
    main()
