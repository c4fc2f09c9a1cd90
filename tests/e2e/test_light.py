"""The Light step: pucks, places and shapes, down to the delivered layers."""

import re

import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.e2e.page import (
    canvas_pixels,
    centre,
    eventually,
    revision,
    settled,
    swatch,
    wait_for_change,
)
from tests.e2e.test_colour import open_colour
from wardrobe.core.colour import from_hex
from wardrobe.core.composite.modes import MODES


def dark_share(page: Page, base: str, shade: str) -> float:
    """How much of a part the screen shows in shade."""
    screen = canvas_pixels(page)[..., :3].astype(int)
    lit, dark = ((np.abs(screen - from_hex(c)).max(-1) <= 2).sum() for c in (base, shade))
    return float(dark / max(1, lit + dark))


def test_lights_and_shapes(address: str) -> None:
    with browser_page() as page:
        open_colour(page, address)
        base, shade = swatch(page, "Base", "part 1"), swatch(page, "Shade", "part 1")
        page.keyboard.press("F6")
        eventually(page, lambda: dark_share(page, base, shade) > 0.1)
        page.get_by_role("main").get_by_role("heading", name="Light", level=1).wait_for()
        usual = settled(page, lambda: dark_share(page, base, shade))

        before = revision(page)
        page.get_by_role("slider", name="In shade").press("End")
        wait_for_change(page, before)
        eventually(page, lambda: dark_share(page, base, shade) > usual + 0.1)

        # A place in words; a rim as a second puck, dragged; bounced light as a third.
        before = revision(page)
        page.get_by_role("button", name="Both sides").click()
        wait_for_change(page, before)
        expect(page.get_by_text("from the left", exact=True)).to_be_visible()
        puck = page.get_by_role("slider", name="Rim light", exact=True)
        puck.scroll_into_view_if_needed()
        box = puck.bounding_box()
        assert box
        before = revision(page)
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + 10, box["y"] - 60, steps=5)
        page.mouse.up()
        wait_for_change(page, before)
        assert 20 < float(puck.get_attribute("aria-valuenow") or 0) < 60
        expect(page.get_by_text("from the left", exact=True)).to_be_visible()  # the key stays
        before = revision(page)
        page.get_by_label("Bounce", exact=True).check()
        wait_for_change(page, before)

        # Both have columns in the sheet and layers in the stack.
        page.keyboard.press("F4")
        for name in ("Rim", "Bounce"):
            expect(page.get_by_role("button", name=re.compile(f"^{name}: screen"))).to_be_visible()
        page.keyboard.press("F10")
        expect(page.locator('[data-layer][aria-label^="part 2 / rim"]')).to_be_visible()


def test_forms_touch_ups_and_a_look_over(address: str) -> None:
    with browser_page() as page:
        open_colour(page, address)
        base, shade = swatch(page, "Base", "part 1"), swatch(page, "Shade", "part 1")
        page.keyboard.press("F6")
        eventually(page, lambda: dark_share(page, base, shade) > 0.1)
        page.get_by_role("main").get_by_role("heading", name="Light", level=1).wait_for()
        usual = settled(page, lambda: dark_share(page, base, shade))

        # A part is chosen on the figure, made flat, and folded along an edge that is drawn.
        page.keyboard.press("t")
        parts = page.get_by_role("grid", name="Parts, from front to behind")
        page.mouse.click(*spot(page, 240, 110))
        chosen = parts.get_by_role("row", selected=True)
        name = (chosen.inner_text()).splitlines()[0]
        volume = page.get_by_role("radiogroup", name=f"Volume of {name}")
        before = revision(page)
        volume.get_by_role("radio", name="flat").click()
        wait_for_change(page, before)
        expect(chosen).to_contain_text("flat")
        before = revision(page)
        volume.get_by_role("radio", name="folded").click()
        wait_for_change(page, before)
        before = revision(page)
        stroke(page, (240, 45), (240, 110), (240, 175))
        wait_for_change(page, before)
        expect(page.get_by_text("1 edge", exact=True)).to_be_visible()
        before = revision(page)
        page.get_by_role("button", name="Back to the usual").click()
        wait_for_change(page, before)
        before = revision(page)
        page.get_by_role("slider", name="Soft edge").first.press("End")
        wait_for_change(page, before)
        expect(chosen).to_contain_text("soft")

        # An outline puts the other part in shade; it is listed, kept, and can be removed.
        page.keyboard.press("t")
        before = revision(page)
        stroke(page, (150, 300), (330, 300), (330, 400), (150, 400))
        wait_for_change(page, before)
        made = page.get_by_role("list", name="Touch-ups").get_by_role("listitem")
        expect(made).to_have_count(1)
        expect(made).to_contain_text("Shade put in on part")
        page.keyboard.press("e")
        before = revision(page)
        stroke(page, (160, 300), (320, 300))
        wait_for_change(page, before)
        expect(made).to_have_count(2)

        # Eight lights to choose from; the touch-ups were made for another one.
        page.get_by_role("tab", name="Lights").click()
        page.get_by_role("button", name="Look at eight lights").click()
        eight = page.get_by_role("group", name="Eight lights")
        eventually(page, lambda: page.locator("canvas[data-drawn]").count() == 8)
        before = revision(page)
        eight.get_by_role("button", name="below").click()
        wait_for_change(page, before)
        expect(page.get_by_text("from below", exact=True)).to_be_visible()
        page.get_by_role("tab", name=re.compile("Touch-ups")).click()
        expect(page.get_by_text("2 touch-ups were made for another light")).to_be_visible()
        before = revision(page)
        page.get_by_role("button", name="Keep", exact=True).click()
        wait_for_change(page, before)
        expect(page.get_by_text("made for another light")).to_have_count(0)

        # Bases alone show no shade; then one pass after the other.
        page.get_by_role("tab", name="Look over").click()
        page.get_by_role("radio", name="Bases").click()
        eventually(page, lambda: dark_share(page, base, shade) < 0.01)
        page.keyboard.press(".")
        expect(page.get_by_role("radio", name="+ shade", exact=True)).to_have_attribute(
            "aria-checked", "true")
        eventually(page, lambda: dark_share(page, base, shade) > 0.05)
        rows = page.get_by_role("table", name="Shapes of the passes").get_by_role("row")
        expect(rows.nth(1)).to_contain_text("Shade")

        # Undone step by step, the picture is what it was.
        for _ in range(8):
            before = revision(page)
            page.keyboard.press("Control+z")
            wait_for_change(page, before)
        page.get_by_role("radio", name="All", exact=True).click()
        eventually(page, lambda: abs(dark_share(page, base, shade) - usual) < 0.01)


def spot(page: Page, x: float, y: float) -> tuple[float, float]:
    """Window position of a point of the drawing, whose units are 480 wide and high."""
    return centre(page, 1, x * 1000 / 480, y * 1000 / 480, height=1000)


def stroke(page: Page, *places: tuple[float, float]) -> None:
    page.mouse.move(*spot(page, *places[0]))
    page.mouse.down()
    for place in places[1:]:
        page.mouse.move(*spot(page, *place), steps=6)
    page.mouse.up()


def test_a_place_says_why_and_a_part_is_practised_on(address: str) -> None:
    with browser_page() as page:
        open_colour(page, address)
        base, shade = swatch(page, "Base", "part 1"), swatch(page, "Shade", "part 1")
        page.keyboard.press("F6")
        page.get_by_role("main").get_by_role("heading", name="Light", level=1).wait_for()
        page.get_by_role("tab", name="Look over").click()
        expect(page.get_by_text("Click a place in the picture")).to_be_visible()
        page.mouse.click(*spot(page, 240, 355))
        reasons = page.get_by_role("list", name="Reasons")
        expect(reasons).to_contain_text("part 1")
        expect(reasons).to_contain_text(re.compile(r"(faces|turns).* shade begins at \d+°"))
        page.mouse.click(*spot(page, 20, 20))
        expect(page.get_by_text("This is the ground")).to_be_visible()
        # How a pass is laid: its mode, its formula, and where it fails.
        page.get_by_role("radio", name="+ shade", exact=True).click()
        laid = page.get_by_role("region", name="How it is laid")
        expect(laid).to_contain_text("B(cb, cs) = cb * cs")
        expect(laid).to_contain_text("goes to black on dark bases")
        # In every mode beside each other; the one that is pointed at is explained, a click lays it.
        laid.get_by_role("button", name="Every mode on this picture").click()
        modes = laid.get_by_role("radiogroup", name="Modes on this picture")
        expect(modes.get_by_role("radio")).to_have_count(len(MODES))
        expect(modes.get_by_role("radio", name="multiply")).to_be_checked()
        modes.get_by_role("radio", name=re.compile("^darken")).hover()
        expect(laid).to_contain_text("B(cb, cs) = min(cb, cs)")
        before = revision(page)
        modes.get_by_role("radio", name=re.compile("^darken")).click()
        wait_for_change(page, before)
        expect(laid).to_contain_text("is laid on by darken")
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)

        # The part's bases are shown; a poor shade is measured, and kept as touch-ups.
        page.get_by_role("tab", name="Practise").click()
        eventually(page, lambda: dark_share(page, base, shade) < 0.01)
        stroke(page, (150, 300), (330, 300), (330, 330), (150, 330))
        page.keyboard.press("Enter")
        status = page.get_by_role("status").filter(has_text="of 100")
        expect(status).to_contain_text("by what Wardrobe draws")
        expect(page.get_by_role("list", name="What was measured")).to_contain_text("°")
        before = revision(page)
        page.get_by_role("button", name="Keep mine").click()
        wait_for_change(page, before)
        page.get_by_role("tab", name=re.compile("^Touch-ups")).click()
        made = page.get_by_role("list", name="Touch-ups").get_by_role("listitem")
        expect(made.first).to_contain_text("Shade")
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)
        expect(made).to_have_count(0)

        # From the course one comes to the same place.
        title = page.title().split(" · ")[0]
        page.goto(f"{address}/learn")
        page.get_by_role("link", name=title).first.click()
        expect(page.get_by_role("tab", name="Practise")).to_have_attribute("aria-selected", "true")
