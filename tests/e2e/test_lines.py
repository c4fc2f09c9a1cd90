"""The Lines step, driven with pointer and keyboard on a photo of a pencil drawing."""

import re

import cv2
import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.drawings import png
from tests.e2e.page import (
    SHARP,
    canvas_pixels,
    centre,
    drop_file,
    eventually,
    open_all_closings,
    revision,
    swatch,
    wait_for_change,
)
from wardrobe.demo import owl


def open_photo(page: Page, address: str) -> None:
    page.goto(address)
    drop_file(page, "courier_owl.jpg", owl.draw())
    page.get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/"), timeout=240_000)
    open_all_closings(page)
    page.wait_for_selector(SHARP)
    page.keyboard.press("F2")
    expect(page.get_by_role("status")).to_contain_text("openings in the outline")


def changed(page: Page, act: object) -> None:
    """Do something that makes an edit, and wait for it."""
    before = revision(page)
    assert callable(act)
    act()
    wait_for_change(page, before)


def test_gaps_are_shown_closed_left_and_drawn(address: str) -> None:
    with browser_page() as page:
        open_photo(page, address)
        rows, pins = page.get_by_test_id("gap"), page.get_by_test_id("pin")
        outline = page.get_by_role("region", name="On the outline").get_by_test_id("gap")
        expect(outline).to_have_count(5)
        expect(pins).to_have_count(rows.count())

        # Pointing at one shows it close up; the keyboard does the same.
        rows.first.hover()
        expect(page.get_by_test_id("loupe")).to_be_visible()
        page.mouse.move(400, 30)
        page.keyboard.press(".")
        expect(page.get_by_test_id("loupe")).to_be_visible()

        # Close it with the key, take it back with undo, close the small ones at once.
        changed(page, lambda: page.keyboard.press("c"))
        expect(outline).to_have_count(4)
        changed(page, lambda: page.keyboard.press("Control+z"))
        expect(outline).to_have_count(5)
        page.get_by_role("slider", name="Widest gap to close").fill("80")
        changed(page, page.get_by_role("button", name=re.compile(r"^Close \d+$")).click)
        expect(page.get_by_role("status")).to_have_text("The outline is closed.")
        page.mouse.move(300, 40)
        page.mouse.move(400, 30)  # what is pointed at has a pin even if it is closed
        expect(pins).to_have_count(0)

        # Decided gaps are listed; one is inked, another is opened again and left so.
        changed(page, page.get_by_role("button", name="Ink", exact=True).first.click)
        expect(page.get_by_role("button", name="Unink")).to_have_count(1)
        changed(page, page.get_by_role("button", name="Take back").last.click)
        changed(page, page.get_by_role("button", name="Leave").first.click)
        expect(page.get_by_text("left open")).to_be_visible()

        # A closing by hand across the open sky, and a test for leaks through closed lines.
        page.keyboard.press("d")
        x, y = centre(page, 0.95, 120, 300, 1333)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 40, y + 30, steps=6)
        changed(page, page.mouse.up)
        expect(page.get_by_text("Closing drawn by hand")).to_be_visible()
        page.keyboard.press("k")
        page.mouse.click(*centre(page, 0.95, 640, 950, 1333))
        expect(page.get_by_text("it holds up to")).to_be_visible()
        expect(page.get_by_test_id("leak")).to_contain_text("%")


def test_a_photo_is_repaired_cropped_and_turned(address: str) -> None:
    with browser_page() as page:
        open_photo(page, address)
        page.get_by_role("tab", name="Drawing", exact=True).click()
        expect(page.get_by_text("As recognised: Photo of a drawing")).to_be_visible()
        expect(page.get_by_role("switch", name="Even out the light on the paper")).to_be_checked()
        for name in ("Weight", "Ink"):
            slider = page.get_by_role("slider", name=re.compile(f"^{name}"))
            changed(page, lambda s=slider: s.press("ArrowRight"))
        changed(page, page.get_by_role("radio", name="Hard", exact=True).click)

        page.get_by_role("tab", name="Frame", exact=True).click()
        expect(page.get_by_text("1800 × 2400 px")).to_be_visible()
        changed(page, page.get_by_role("button", name="Turn right").click)
        expect(page.get_by_text("2400 × 1800 px")).to_be_visible()
        page.wait_for_selector(SHARP)
        box = page.locator("canvas").first.bounding_box()
        assert box
        page.mouse.move(box["x"] + 0.3 * box["width"], box["y"] + 0.3 * box["height"])
        page.mouse.down()
        page.mouse.move(box["x"] + 0.7 * box["width"], box["y"] + 0.7 * box["height"], steps=5)
        changed(page, page.mouse.up)
        expect(page.get_by_text("2400 × 1800 px")).to_have_count(0)
        changed(page, page.get_by_role("button", name="As it came", exact=True).click)
        expect(page.get_by_text("1800 × 2400 px")).to_be_visible()


def test_a_marked_up_cel_frame_and_its_blacks(address: str) -> None:
    """A blue line inside a figure is named as the edge of its shade; two blacks get a rim."""
    frame = np.full((900, 900, 3), 255, np.uint8)
    cv2.rectangle(frame, (150, 120), (750, 560), (0, 0, 0), 9, cv2.LINE_AA)
    cv2.line(frame, (560, 120), (560, 560), (40, 80, 230), 9)
    cv2.rectangle(frame, (200, 640), (420, 820), (0, 0, 0), -1)
    cv2.rectangle(frame, (440, 640), (660, 820), (0, 0, 0), -1)
    with browser_page() as page:
        page.goto(address)
        drop_file(page, "cel_frame.png", png(frame))
        page.get_by_role("button", name="Start").click()
        page.wait_for_url(re.compile(r"/piece/\d+/"), timeout=240_000)
        page.wait_for_selector(SHARP)
        box = page.get_by_test_id("picture").bounding_box()
        assert box
        zoom = 0.95 * min(box["width"], box["height"]) / 900
        changed(page, lambda: page.mouse.click(box["x"] + box["width"] / 2 + (650 - 450) * zoom,
                                               box["y"] + box["height"] / 2 + (340 - 450) * zoom))
        page.keyboard.press("F2")
        page.get_by_role("tab", name="Drawing", exact=True).click()
        page.get_by_role("combobox", name=re.compile("^Lines in")).click()
        changed(page, page.get_by_role("option", name="edge of the shade").click)
        expect(page.get_by_role("heading", name=re.compile("Solid blacks"))).to_contain_text("2")
        rim = page.get_by_role("slider", name=re.compile("^Rim"))
        rim.focus()
        for _ in range(4):
            changed(page, lambda: rim.press("ArrowRight"))

        # The smaller side shows the sheet's shade right up to where the blue line was, which is
        # not printed; the larger side none.
        page.keyboard.press("F4")
        base, shade = (swatch(page, name, "part 1") for name in ("Base", "Shade"))
        assert base != shade

        def seen(x: float, y: float) -> str:
            screen = canvas_pixels(page)
            zoom = 0.95 * min(screen.shape[1], screen.shape[0]) / 900
            r, g, b = screen[round(screen.shape[0] / 2 + (y - 450) * zoom),
                             round(screen.shape[1] / 2 + (x - 450) * zoom)][:3]
            return f"#{r:02x}{g:02x}{b:02x}"

        eventually(page, lambda: seen(650, 340) == shade)
        assert seen(568, 340) == seen(700, 200) == shade
        assert seen(300, 500) != shade and seen(540, 340) != shade
        page.keyboard.press("F10")
        expect(page.get_by_text("finish / halo")).to_be_visible()
