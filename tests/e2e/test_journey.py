"""From dropped line art to delivered files, in Chromium, with pointer and keyboard."""

import io
import re
import zipfile

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from tests.chromium import browser_page
from tests.drawings import png
from tests.e2e.page import (
    SHARP,
    canvas_pixels,
    centre,
    deliver,
    drop_file,
    eventually,
    revision,
    shows,
    wait_for_change,
)
from wardrobe.demo import runner


def test_from_line_art_to_delivered_files(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        page.on("console", lambda m: problems.append(m.text) if m.type == "error" else None)
        page.goto(address)
        expect(page.get_by_text("No pieces yet")).to_be_visible()

        # Import an SVG by dropping it.
        drop_file(page, "kite_runner.svg", runner.draw().encode())
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_label("Title")).to_have_value("kite runner")
        dialog.get_by_role("button", name="Start").click()
        page.wait_for_url(re.compile(r"/piece/\d+/parts"), timeout=240_000)
        page.wait_for_selector(SHARP)

        # Make a part and sweep two boot areas into it.
        before = revision(page)
        page.get_by_role("textbox", name="New part").fill("boots")
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        before = revision(page)
        x0, y0 = centre(page, 0.95, 380, 1240)
        x1, y1 = centre(page, 0.95, 600, 1240)
        page.mouse.move(x0, y0)
        told = page.get_by_text(re.compile(r"^part \d+, .* of the silhouette$"))
        eventually(page, lambda: page.mouse.move(x0 + 1, y0) is None and told.is_visible())
        page.mouse.down()
        page.mouse.move(x0 + 4, y0)
        page.mouse.move(x1, y1, steps=12)
        page.mouse.up()
        wait_for_change(page, before)
        expect(page.get_by_role("row", name=re.compile("boots"))).to_contain_text(
            re.compile(r"[5-9]\.\d %|1\d %"))

        # The same with the keyboard alone: point at the first area, give it, take it away again.
        page.keyboard.press(".")
        for _ in range(2):
            before = revision(page)
            page.keyboard.press("Enter")
            wait_for_change(page, before)

        # Colour them by typing, then see the sheet follow.
        page.keyboard.press("F4")
        page.wait_for_selector(SHARP)
        before = revision(page)
        page.get_by_role("button", name="Base of boots").click()
        page.get_by_label("Hex or name").fill("rebeccapurple")
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_be_hidden()
        expect(page.get_by_role("button", name="Base of boots: #663399")).to_be_visible()

        # Drag the light with the pointer, nudge it with the keyboard.
        page.keyboard.press("F6")
        page.wait_for_selector(SHARP)
        before = revision(page)
        puck = page.get_by_role("slider", name="Light", exact=True)
        box = puck.bounding_box()
        assert box
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + 101, box["y"] + 35, steps=8)
        page.mouse.up()
        wait_for_change(page, before)
        azimuth = float(puck.get_attribute("aria-valuenow") or 0)
        assert 20 < azimuth < 80
        before = revision(page)
        puck.focus()
        page.keyboard.press("ArrowLeft")
        wait_for_change(page, before)
        assert float(puck.get_attribute("aria-valuenow") or 0) == azimuth + 5

        # Undo the nudge, reload: all is as it was.
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)
        page.reload()
        page.wait_for_selector(SHARP)
        assert float(puck.get_attribute("aria-valuenow") or 0) == azimuth
        expect(page.get_by_role("button", name="Redo")).to_be_enabled()

        # Deliver, and hold the files against each other and against the screen.
        page.keyboard.press("F10")
        page.wait_for_selector(SHARP)
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))))
        with zipfile.ZipFile(io.BytesIO(deliver(page, "OpenRaster"))) as ora:
            merged = np.asarray(Image.open(ora.open("mergedimage.png")))
            assert b'name="boots / shade"' in ora.read("stack.xml")
        assert flat.shape == (3508, 2481, 3) and (flat == merged).all()
        page.keyboard.press("1")
        page.wait_for_function("() => document.querySelector('canvas').dataset.zoom === '1'")
        # The sharp tile of the new zoom arrives when the server has drawn it.
        eventually(page, lambda: shows(canvas_pixels(page), flat))
        assert problems == []


def test_two_tabs_do_not_lose_each_others_work(address: str) -> None:
    with browser_page() as one:
        one.goto(address)
        one.get_by_role("link", name=re.compile("Open kite runner")).click()
        one.wait_for_selector(SHARP)
        two = one.context.new_page()
        two.goto(one.url)
        two.wait_for_selector(SHARP)
        for tab in (one, two):
            tab.get_by_role("button", name="Shade: multiply 72 %").click()
        two.get_by_role("slider", name="Shade for all: strength").press("ArrowLeft")
        expect(two.get_by_text("multiply 71 %").first).to_be_visible()
        one.get_by_role("slider", name="Shade for all: strength").press("End")
        expect(one.get_by_text("It has been refreshed")).to_be_visible()
        expect(one.get_by_text("multiply 71 %").first).to_be_visible()


def test_a_file_that_is_no_picture_is_refused_in_words(address: str) -> None:
    with browser_page() as page:
        page.goto(address)
        drop_file(page, "notes.png", b"these are notes, not a drawing")
        page.get_by_role("button", name="Start").click()
        expect(page.get_by_role("alert")).to_contain_text("Nothing was saved")
        page.keyboard.press("Escape")
        drop_file(page, "blank.png", png(np.full((300, 300, 3), 255, np.uint8)))
        page.get_by_role("button", name="Start").click()
        expect(page.get_by_role("alert")).to_contain_text("blank")


def test_ways_of_looking(address: str) -> None:
    with browser_page() as page:
        page.goto(address)
        page.get_by_role("link", name=re.compile("Open kite runner")).click()
        page.wait_for_selector(SHARP)
        plain = canvas_pixels(page)
        page.keyboard.press("f")
        page.wait_for_timeout(300)
        flipped = canvas_pixels(page)
        assert np.abs(flipped[:, ::-1].astype(int) - plain).mean() < 2
        page.keyboard.press("f")
        filters = "getComputedStyle(document.querySelector('canvas')).filter"
        page.keyboard.down("g")
        page.wait_for_timeout(450)
        assert "grey" in page.evaluate(filters)
        page.keyboard.up("g")
        assert "grey" not in page.evaluate(filters)
        page.keyboard.press("s")
        assert "blur" in page.evaluate(filters)
        page.keyboard.press("s")
        page.keyboard.press("b")
        page.wait_for_selector("canvas[data-shown*=':before']")
        page.keyboard.press("b")
        page.get_by_test_id("picture").hover()
        page.mouse.wheel(0, -600)
        page.wait_for_function("() => +document.querySelector('canvas').dataset.zoom > 0.4")
        page.keyboard.press("0")
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("Fit the picture")
