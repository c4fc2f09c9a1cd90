"""A corrected drawing brought in, looked at, taken and gone back from, with pointer and keys."""

import re

import cv2
import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.core.test_register import drawn_moved, scene, similarity
from tests.drawings import figure_ink, on_white, png
from tests.e2e.page import (
    SHARP,
    canvas_pixels,
    drop_file,
    eventually,
    part_each_area,
    revision,
    wait_for_change,
)

SIZE = 720
INK = figure_ink(SIZE)


def corrected() -> bytes:
    """Scanned anew, askew, with a sleeve less and a stroke more."""
    ink = INK.copy()
    ink[380:560, 480:650] = 0
    cv2.line(ink, (480, 395), (480, 545), 255, 9)
    cv2.line(ink, (60, 60), (180, 60), 255, 9)
    return png(on_white(drawn_moved(ink, similarity(-2, 1.02, (12, 20), (360, 360)))))


def begin(page: Page, address: str) -> None:
    page.goto(address)
    drop_file(page, "harbour_girl.png", png(on_white(INK)))
    page.get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"), timeout=240_000)
    part_each_area(page)
    page.wait_for_selector(SHARP)
    page.keyboard.press("F2")
    page.get_by_role("tab", name="Versions").click()
    page.wait_for_function("() => document.querySelector('canvas').dataset.shown?.endsWith("
                           "':sharp')")


def bring(page: Page, name: str, data: bytes) -> None:
    page.get_by_label("Corrected drawing").set_input_files(
        {"name": name, "mimeType": "image/png", "buffer": data})


def test_a_corrected_drawing_is_seen_before_it_is_taken_and_can_be_gone_back_from(
        address: str) -> None:
    with browser_page() as page:
        begin(page, address)
        versions = page.get_by_role("list", name="Versions").get_by_role("listitem")
        expect(versions).to_have_count(1)

        # Another drawing is refused in words; the piece is as it was.
        before = revision(page)
        bring(page, "other.png", png(on_white(scene(3, SIZE, 8))))
        expect(page.get_by_role("alert")).to_contain_text("of its lines lie on those of the piece")
        assert revision(page) == before
        page.get_by_role("button", name="Close").click()

        bring(page, "second_go.png", corrected())
        offer = page.get_by_role("region", name="The corrected drawing")
        expect(offer).to_contain_text("of the lines agree", timeout=60_000)
        expect(offer).to_contain_text(re.compile(r"turned by (1\.9|2\.0)\d° clockwise"))
        changes = page.get_by_role("region", name="Changes hands").get_by_test_id("place")
        redrawn = page.get_by_role("region", name="Drawn anew").get_by_test_id("place")
        expect(redrawn).not_to_have_count(0)
        expect(redrawn.filter(has_text="lines are gone")).not_to_have_count(0)
        expect(redrawn.filter(has_text="new lines")).not_to_have_count(0)
        expect(changes).not_to_have_count(0)
        # Left of the seam the piece as it is, right of it the corrected one: the sleeve is gone.
        page.wait_for_selector(SHARP)
        plain = canvas_pixels(page)
        page.keyboard.press(".")
        eventually(page, lambda: bool((canvas_pixels(page) != plain).any()))
        # Other sides can be looked at meanwhile.
        page.get_by_role("tab", name="Drawing", exact=True).click()
        page.get_by_role("tab", name="Versions").click()
        expect(offer).to_be_visible()

        before = revision(page)
        page.keyboard.press("c")
        wait_for_change(page, before)
        expect(versions).to_have_count(2)
        expect(versions.first).to_contain_text("in use")
        expect(versions.first).to_contain_text("turned")

        # Each has its remark; the first is one button away, and undo leads back to the second.
        before = revision(page)
        remark = page.get_by_role("textbox", name="Remark on version 2")
        remark.fill("sleeve taken off")
        remark.press("Enter")
        wait_for_change(page, before)
        corrected_lines = canvas_pixels(page)
        before = revision(page)
        page.get_by_role("button", name="Use version 1").click()
        wait_for_change(page, before)
        eventually(page, lambda: bool((canvas_pixels(page) != corrected_lines).any()))
        expect(page.get_by_role("textbox", name="Remark on version 2")).to_have_value(
            "sleeve taken off")
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)
        assert np.array_equal(canvas_pixels(page), corrected_lines)


def test_an_offer_can_be_left_and_a_drawing_dropped_on_the_bench(address: str) -> None:
    with browser_page() as page:
        begin(page, address)
        before = revision(page)
        drop_file(page, "second_go.png", corrected(), on="section[aria-label=Lines]")
        offer = page.get_by_role("region", name="The corrected drawing")
        expect(offer).to_be_visible(timeout=60_000)
        page.get_by_role("button", name="Leave it").click()
        expect(offer).to_be_hidden()
        expect(page.get_by_role("list", name="Versions").get_by_role("listitem")).to_have_count(1)
        page.wait_for_selector(SHARP)
        assert revision(page) == before
