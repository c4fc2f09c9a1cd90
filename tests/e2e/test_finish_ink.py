"""Coloured lines, and passes drawn in ink."""

import io
import re

import numpy as np
import pyora
from PIL import Image
from playwright.sync_api import expect

from tests.chromium import browser_page
from tests.e2e.finish import start
from tests.e2e.page import (
    canvas_pixels,
    deliver,
    eventually,
    revision,
    shows,
    wait_for_change,
)


def test_lines_take_colour_one_is_chosen_and_mended(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address)
        page.keyboard.press("t")
        expect(page.get_by_role("tab", name="Lines")).to_have_attribute("aria-selected", "true")
        lines = page.get_by_role("list", name="Lines").get_by_role("listitem")
        expect(lines.first).to_be_visible()
        bare = canvas_pixels(page)

        # Switched on, every line takes a colour, and stands off its sides.
        before = revision(page)
        page.get_by_label("Coloured lines").check()
        wait_for_change(page, before)
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        eventually(page, lambda: (canvas_pixels(page) != bare).any(-1).sum() > 1000)
        expect(page.get_by_text("Every line stands off both of its sides")).to_be_visible()
        coloured = canvas_pixels(page)

        # A rail shows while it is dragged, and is one change.
        before = revision(page)
        page.get_by_role("slider", name="Value").press("End")
        wait_for_change(page, before)
        eventually(page, lambda: canvas_pixels(page)[..., :3].mean() > coloured[..., :3].mean())
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # One material has a rule of its own, until it goes as all do.
        page.get_by_role("combobox", name="Lines of which material").click()
        page.get_by_role("option").nth(1).click()
        before = revision(page)
        page.get_by_role("slider", name="Chroma").press("Home")
        wait_for_change(page, before)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), coloured))
        before = revision(page)
        page.get_by_role("button", name="As all").click()
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # The colour of a line is chosen: one that cannot be seen, ringed and mended.
        field = page.get_by_role("button", name=re.compile("^Lines of .* on the ground: ")).first
        base = page.evaluate("""async () => (await (await fetch(location.pathname
            .replace('/piece/', '/api/pieces/').replace('/finish', ''))).json())
            .recipe.background""")
        before = revision(page)
        field.click()
        page.get_by_label("Hex or name").fill(base)
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        expect(page.get_by_text("ringed in the picture")).to_be_visible()
        expect(lines.first).to_contain_text("faint")
        expect(page.get_by_role("button", name=re.compile("^By the rule: "))).to_have_count(1)
        before = revision(page)
        page.get_by_role("button", name="Mend it").click()
        wait_for_change(page, before)
        expect(page.get_by_text("Every line stands off both of its sides")).to_be_visible()

        # Back to the rule.
        before = revision(page)
        page.get_by_role("button", name=re.compile("^By the rule: ")).click()
        wait_for_change(page, before)
        page.mouse.move(5, 400)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # The drawing as it is, instead of its lines; tinted.
        before = revision(page)
        page.get_by_role("radio", name="The drawing as it is").click()
        wait_for_change(page, before)
        expect(page.get_by_text("with every tone that it has")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Black becomes: ")).click()
        page.get_by_label("Hex or name").fill("#802010")
        before = revision(page)
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), coloured))
        before = revision(page)
        page.get_by_role("radio", name="Its lines").click()
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # In the file, the colour is a layer clipped to the ink.
        page.keyboard.press("F10")
        page.wait_for_selector("[data-layer]")
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB"))
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        found = {layer.name: layer for layer in project.children_recursive}
        assert found["lines / colour"].composite_op == "svg:src-atop"
        assert found["lines / ink"].composite_op == "svg:src-over"
        # Or each part has its lines in a layer of its own.
        page.get_by_role("tab", name="Set up").click()
        page.get_by_label("A layer of lines for each part that owns some").click()
        expect(page.get_by_label("A layer of lines for each part that owns some")).to_be_checked()
        page.get_by_role("tab", name="Stack").click()
        page.wait_for_selector("[data-layer]")
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        names = [layer.name for layer in project.children_recursive]
        assert "part 1 / lines" in names and "part 1 / lines colour" in names
        assert "lines / ink" not in names
        page.keyboard.press("F7")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        page.keyboard.press("1")
        page.wait_for_selector("canvas[data-zoom='1']")
        eventually(page, lambda: shows(canvas_pixels(page), flat))
        assert not problems


def test_a_pass_is_drawn_in_ink_and_delivered(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address)
        page.get_by_role("tab", name="Shade in ink").click()
        expect(page.get_by_text("Nothing is drawn in ink yet")).to_be_visible()
        bare = canvas_pixels(page)
        before = revision(page)
        page.get_by_role("button", name="Draw a pass in ink").click()
        wait_for_change(page, before)
        listed = page.get_by_role("list", name="Passes in ink").get_by_role("listitem")
        expect(listed).to_have_text(re.compile("Shade as crossed lines across the form, .* px"))
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        eventually(page, lambda: (canvas_pixels(page) != bare).any(-1).sum() > 500)

        # Dots instead, larger by key, on one part, in another ink.
        before = revision(page)
        page.get_by_role("radio", name="Dots").click()
        wait_for_change(page, before)
        expect(page.get_by_role("radiogroup", name="How lines run")).to_have_count(0)
        before = revision(page)
        page.get_by_role("slider", name="Spacing").press("PageUp")
        wait_for_change(page, before)
        # As printers say it: 300 px an inch are 118 a cm; nonsense is told and dropped.
        ruling = page.get_by_role("textbox", name="Lines a cm")
        ruling.fill("200")
        expect(page.get_by_text(re.compile("At 300 px an inch from 0.3 to 59"))).to_be_visible()
        ruling.press("Escape")
        before = revision(page)
        ruling.fill("11,8")
        ruling.press("Enter")
        wait_for_change(page, before)
        expect(listed).to_contain_text("10 px")
        before = revision(page)
        page.get_by_role("combobox", name="Parts it is drawn on").click()
        page.get_by_role("option").first.click()
        page.keyboard.press("Escape")
        wait_for_change(page, before)
        before = revision(page)
        page.get_by_role("button", name=re.compile("^Ink: ")).click()
        page.get_by_label("Hex or name").fill("#204080")
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")

        page.keyboard.press("F10")
        page.wait_for_selector("[data-layer]")
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB"))
        assert (flat == (0x20, 0x40, 0x80)).all(-1).any()
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        assert "lines / shade in ink" in {n.name for n in project.children_recursive}
        page.keyboard.press("F7")
        page.get_by_role("tab", name="Shade in ink").click()
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        inked = canvas_pixels(page)
        before = revision(page)
        page.get_by_role("button", name="Take off Shade in ink").click()
        wait_for_change(page, before)
        expect(page.get_by_text("Nothing is drawn in ink yet")).to_be_visible()
        eventually(page, lambda: (canvas_pixels(page) != inked).any(-1).sum() > 100)
        assert not problems
