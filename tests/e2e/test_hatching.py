"""Hatching, a second drawing and solid blacks in the interface."""

import re

import cv2
import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.drawings import on_white, png
from tests.e2e.page import SHARP, canvas_pixels, drop_file, eventually, revision, wait_for_change
from tests.hatched import ball, hatch_over, plain_ink


def _areas(page: Page) -> int:
    number = page.url.split("/piece/")[1].split("/")[0]
    cut = page.request.get(f"{page.url.split('/piece/')[0]}/api/pieces/{number}/cut").json()
    return int(cut["lines"]["areas"])


def _begin(page: Page, address: str, name: str, ink: np.ndarray) -> None:
    page.goto(address)
    drop_file(page, name, png(on_white(ink)))
    page.get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"), timeout=240_000)
    page.wait_for_selector(SHARP)
    page.keyboard.press("F2")


def test_hatching_is_only_printed_until_it_is_wanted(address: str) -> None:
    plain = plain_ink()
    hatched = hatch_over(plain, ball(), (35.0, 110.0), 30.0, 4)
    with browser_page() as page:
        # The report comes late, as on a busy machine: what is pressed meanwhile must count.
        page.add_init_script("""const get = window.fetch; window.fetch = async (...a) => {
            const answer = await get(...a);
            if ((a[0].url ?? a[0]).endsWith("/hatching"))
                await new Promise(r => setTimeout(r, 700));
            return answer; }""")
        _begin(page, address, "buoy.png", hatched)
        page.get_by_role("tab", name="Hatching").click()
        family = page.get_by_test_id("family")
        expect(family).to_have_count(1)
        expect(family).to_contain_text("Cross-hatching")
        few = _areas(page)
        switch = page.get_by_role("switch", name=re.compile("Only print"))
        expect(switch).to_be_checked()
        # Turned off, its cells are areas; by keyboard it is turned on again.
        before = revision(page)
        switch.click()
        wait_for_change(page, before)
        eventually(page, lambda: _areas(page) > few + 20)
        before = revision(page)
        page.mouse.move(40, 400)
        page.keyboard.press("Period")
        page.keyboard.press("o")
        wait_for_change(page, before)
        eventually(page, lambda: _areas(page) == few)
        # Where it lies is put in shadow; undo takes that back.
        before = revision(page)
        page.get_by_role("button", name="Shade it").click()
        wait_for_change(page, before)
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)


def test_strokes_are_pointed_out_by_hand_and_a_second_drawing_is_printed(address: str) -> None:
    plain = plain_ink()
    with browser_page() as page:
        _begin(page, address, "crate.png", plain)
        page.get_by_role("tab", name="Hatching").click()
        expect(page.get_by_text("No hatching was found.")).to_be_visible()
        whole = _areas(page)
        page.keyboard.press("d")
        page.wait_for_selector(SHARP)
        box = page.locator("canvas").first.bounding_box()
        assert box
        # Across the line that parts the box, at 500, 240 of 700.
        scale = min(box["width"], box["height"]) / 700 * 0.97
        x = box["x"] + box["width"] / 2 + (500 - 350) * scale
        y = box["y"] + box["height"] / 2 + (240 - 350) * scale
        before = revision(page)
        page.mouse.move(x, y - 25)
        page.mouse.down()
        page.mouse.move(x, y + 25, steps=8)
        page.mouse.up()
        wait_for_change(page, before)
        eventually(page, lambda: _areas(page) == whole - 1)
        before = revision(page)
        page.get_by_role("button", name="Take back 1 of 1").click()
        wait_for_change(page, before)
        eventually(page, lambda: _areas(page) == whole)

        page.wait_for_selector(SHARP)
        bare = canvas_pixels(page)
        strokes = hatch_over(np.zeros_like(plain), ball(), (35.0,), 20.0, 4)
        before = revision(page)
        page.get_by_label("Second drawing").set_input_files(
            {"name": "fur.png", "mimeType": "image/png", "buffer": png(on_white(strokes))})
        wait_for_change(page, before)
        expect(page.get_by_text("Printed with the first")).to_be_visible()
        page.wait_for_selector(SHARP)
        eventually(page, lambda: (canvas_pixels(page).astype(int) < bare - 100).mean() > 0.005)
        assert _areas(page) == whole
        # One that does not lie on the first is refused, in words.
        page.get_by_label("Second drawing").set_input_files(
            {"name": "wide.png", "mimeType": "image/png",
             "buffer": png(on_white(cv2.resize(strokes, (900, 400))))})
        expect(page.get_by_text("does not lie on the first")).to_be_visible()


def test_a_solid_black_takes_colour(address: str) -> None:
    ink = plain_ink()
    cv2.circle(ink, (500, 330), 60, 255, -1, cv2.LINE_AA)
    with browser_page() as page:
        _begin(page, address, "hatch_cover.png", ink)
        page.get_by_role("tab", name="Drawing", exact=True).click()
        switch = page.get_by_role("switch", name=re.compile("takes colour")).first
        areas = _areas(page)
        before = revision(page)
        switch.click()
        wait_for_change(page, before)
        eventually(page, lambda: _areas(page) == areas + 1)
        page.keyboard.press("F3")
        expect(page.get_by_text("black 1").first).to_be_visible()
        # Why areas are one part, and apart by one key.
        number = page.url.split("/piece/")[1].split("/")[0]
        joins = page.request.get(f"{address}/api/pieces/{number}/joins").json()
        parts = page.request.get(f"{address}/api/pieces/{number}").json()["recipe"]["parts"]
        names = {p["id"]: p["name"] for p in parts}
        rows = page.locator("[data-part-row]")
        rows.filter(has_text=names[joins[0]["part"]]).locator("[title^=Drag] + *").click()
        why = page.get_by_role("group", name="Why together")
        expect(why).to_contain_text(joins[0]["reason"])
        before = revision(page)
        page.keyboard.press("u")
        wait_for_change(page, before)
        expect(rows).to_have_count(len(parts) + 1)
