"""The Colour step, driven with pointer and keyboard; what it shows is held against the files."""

import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, on_white, png
from tests.e2e.page import (
    SHARP,
    canvas_pixels,
    deliver,
    drop_file,
    eventually,
    part_each_area,
    revision,
    swatch,
    wait_for_change,
)
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab


def lab(colour: str) -> np.ndarray:
    return srgb_to_lab(np.array(from_hex(colour)) / 255)


def open_colour(page: Page, address: str) -> None:
    page.goto(address)
    drop_file(page, "two_bells.png", png(on_white(figure_ink(900))))
    page.get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"), timeout=240_000)
    part_each_area(page)
    page.wait_for_selector(SHARP)
    page.keyboard.press("F4")
    page.get_by_role("grid", name="Colours by part and pass").wait_for()


def test_colours_are_chosen_nudged_dragged_and_given_back(address: str) -> None:
    with browser_page() as page:
        open_colour(page, address)
        by_rule = swatch(page, "Shade", "part 1")

        # Type a colour into the shade: it is seen exactly, and marked as the part's own.
        before = revision(page)
        page.get_by_role("button", name=re.compile("^Shade of part 1: ")).click()
        page.get_by_label("Hex or name").fill("hsb(280 40% 45%)")
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        eventually(page, lambda: swatch(page, "Shade", "part 1") != by_rule)
        chosen = swatch(page, "Shade", "part 1")
        assert np.abs(np.array(from_hex(chosen)) - (99, 69, 115)).max() <= 1  # by the HSB formula
        cell = page.get_by_role("button", name=re.compile("^Shade of part 1: .*your own choice"))
        expect(cell).to_be_visible()
        eventually(page, lambda: (canvas_pixels(page)[..., :3] == from_hex(chosen)).all(-1).any())

        # Three nudges with a key are one change, each a step of 2 that looks equal.
        cell.focus()
        before = revision(page)
        for _ in range(3):
            page.keyboard.press("l")
        wait_for_change(page, before)
        page.wait_for_load_state("networkidle")
        eventually(page, lambda: lab(swatch(page, "Shade", "part 1"))[0] > lab(chosen)[0])
        lighter = swatch(page, "Shade", "part 1")
        assert abs(float(delta_e_2000(lab(chosen), lab(lighter))) - 6) < 1

        # The arrow keys walk the grid; Delete gives the colour back to the rule.
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("button", name=re.compile("^Deep shade of part 1"))).to_be_focused()
        page.keyboard.press("ArrowLeft")
        before = revision(page)
        page.keyboard.press("Delete")
        wait_for_change(page, before)
        eventually(page, lambda: swatch(page, "Shade", "part 1") == by_rule)

        # A picture dropped on a swatch is shown, and a click takes the colour there.
        sample = np.full((90, 120, 3), (40, 160, 120), np.uint8)
        drop_file(page, "sample.png", png(sample), "[data-cell='0-3']")
        before = revision(page)
        page.get_by_label("Picture to read from").click()
        wait_for_change(page, before)
        eventually(page, lambda: swatch(page, "Light", "part 1") == "#28a078")

        # Drag one part's base onto another.
        before = revision(page)
        page.get_by_role("button", name="Base of part 1: ").drag_to(
            page.get_by_role("button", name="Base of part 2: "))
        wait_for_change(page, before)
        eventually(page, lambda: swatch(page, "Base", "part 2") == swatch(page, "Base", "part 1"))
        expect(page.get_by_role("list", name="Neighbours that are too alike")).to_contain_text(
            "colours alike")


def test_methods_and_arithmetic_change_sheet_picture_and_files_alike(address: str) -> None:
    with browser_page() as page:
        open_colour(page, address)
        shade = swatch(page, "Shade", "part 1")

        # Look at a method beside the present one, stay; look again, use it.
        page.get_by_role("button", name="Other methods").click()
        page.get_by_role("radio", name="Values first").click()
        expect(page.get_by_role("slider", name="Divider: before │ after")).to_be_visible()
        eventually(page, lambda: swatch(page, "Shade", "part 1") != shade)
        page.get_by_role("button", name="Stay as it is").click()
        eventually(page, lambda: swatch(page, "Shade", "part 1") == shade)
        page.get_by_role("button", name="Other methods").click()
        page.get_by_role("radio", name="Picked per part").click()
        before = revision(page)
        page.get_by_role("button", name="Use this method").click()
        wait_for_change(page, before)
        eventually(page, lambda: swatch(page, "Shade", "part 1") != shade)

        # From picked colours to one wash: the error of each part is shown; then even out.
        page.keyboard.press("t")
        expect(page.get_by_role("alert")).to_contain_text("Even out works on washes")
        page.get_by_role("radio", name="Match with one wash").click()
        expect(page.get_by_role("table", name="What each part gets")).to_be_visible()
        before = revision(page)
        page.get_by_role("button", name="Use these washes").click()
        wait_for_change(page, before)
        before = revision(page)
        page.get_by_role("button", name="Use this wash").click()
        wait_for_change(page, before)

        # A light by name colours light and shade together.
        page.keyboard.press("t")
        page.get_by_role("radio", name="golden hour").click()
        before = revision(page)
        page.get_by_role("button", name="Use this light").click()
        wait_for_change(page, before)
        page.get_by_role("tab", name="Sheet").click()
        page.wait_for_load_state("networkidle")
        # Under warm light the shade is lit by the sky: bluer than the purple one before.
        assert lab(swatch(page, "Shade", "part 1"))[1] < lab(shade)[1]

        # Every swatch of the sheet is a colour of the delivered picture.
        shown = [swatch(page, name, "part 1") for name in ("Base", "Shade", "Deep shade")]
        page.keyboard.press("F10")
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))))
        for colour in shown:
            assert (flat == from_hex(colour)).all(-1).sum() > 20, colour


def test_a_palette_is_kept_worn_by_another_piece_and_offered_with_the_starters(
        address: str) -> None:
    with browser_page() as page:
        open_colour(page, address)
        cell = page.get_by_role("button", name=re.compile("^Base of part 1: "))
        cell.click()
        before = revision(page)
        page.get_by_label("Hex or name").fill("#31507f")
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        page.get_by_role("tab", name="Shelf").click()
        shelf = page.get_by_role("region", name="Shelf")
        expect(shelf).to_contain_text("The shelf is empty")
        shelf.get_by_label("This piece’s colours as").fill("Two bells")
        shelf.get_by_role("button", name="Keep them").click()
        palette = shelf.get_by_role("listitem", name="Two bells")
        expect(palette).to_be_visible()

        open_colour(page, address)  # another piece
        page.get_by_role("tab", name="Shelf").click()
        sea = np.array(from_hex("#31507f"))
        assert not (canvas_pixels(page)[..., :3] == sea).all(-1).any()
        palette.get_by_role("button", name="Dress in it").hover()  # seen, not made
        eventually(page, lambda: (canvas_pixels(page)[..., :3] == sea).all(-1).any())
        before = revision(page)
        palette.get_by_role("button", name="Dress in it").click()
        wait_for_change(page, before)
        page.get_by_role("tab", name="Sheet").click()
        assert swatch(page, "Base", "part 1") == "#31507f"
        cell.click()
        page.get_by_label("Colours to start from").click()
        page.get_by_role("option", name="Shelf, Two bells").click()
        offered = page.get_by_role("group", name="Shelf, Two bells")
        expect(offered.get_by_role("button", name="part 1")).to_have_attribute(
            "aria-pressed", "true")
        page.keyboard.press("Escape")
        page.get_by_role("tab", name="Shelf").click()
        page.get_by_role("button", name="Take Two bells off the shelf").click()
        palette.get_by_role("button", name="Take it off the shelf").click()
        expect(shelf).to_contain_text("The shelf is empty")
