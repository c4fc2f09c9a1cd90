"""Series by pointer, keyboard and files: the wall, parts carried over, pages of panels."""

import io
import re
import zipfile
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, on_white, png
from tests.e2e.page import SHARP, eventually
from tests.recipe.test_panels import page as drawn_page
from wardrobe.core.formats.openraster_read import read_openraster


def frame(k: int) -> bytes:
    return png(on_white(np.roll(figure_ink(400), (3 * k, 9 * k), axis=(0, 1))))


def new_series(page: Page, address: str, title: str) -> int:
    page.goto(address)
    page.get_by_role("button", name="New series").click()
    page.get_by_role("textbox", name="Title").fill(title)
    page.get_by_role("button", name="Make it").click()
    page.wait_for_url(re.compile(r"/series/\d+"))
    return int(page.url.rsplit("/", 1)[1])


def add(page: Page, button: str, files: list[tuple[str, bytes]]) -> None:
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name=button).click()
    chooser.value.set_files([{"name": n, "mimeType": "image/png", "buffer": d}  # type: ignore[list-item]
                             for n, d in files])


def members(page: Page, address: str, series: int) -> list[dict[str, Any]]:
    return list(page.request.get(f"{address}/api/series/{series}").json()["members"])


def test_a_walk_is_coloured_from_its_first_frame(address: str) -> None:
    with browser_page() as page:
        series = new_series(page, address, "Night watch")
        expect(page.get_by_text("No pictures yet")).to_be_visible()
        add(page, "Add drawings", [(f"watch {k}.png", frame(k)) for k in (2, 1, 0)])
        expect(page.get_by_role("article")).to_have_count(3, timeout=60_000)
        names = [a.get_attribute("aria-label") for a in page.get_by_role("article").all()]
        assert names == ["1. watch 0", "2. watch 1", "3. watch 2"]
        # The first is coloured and kept; its neighbours are a key away.
        page.get_by_role("link", name="Open watch 0").click()
        page.wait_for_selector(SHARP)
        page.get_by_role("button", name="Keep", exact=False).first.click()
        eventually(page, lambda: not members(page, address, series)[0]["carried"])
        page.keyboard.press("Alt+PageDown")
        page.wait_for_url(f"**/piece/{members(page, address, series)[1]['id']}/**")
        expect(page.get_by_role("region", name="In its series")).to_contain_text("2 of 3")
        page.get_by_role("link", name="Night watch").click()
        page.get_by_role("button", name="Carry parts over").click()
        eventually(page, lambda: all(m["parts"] == members(page, address, series)[0]["parts"]
                                     for m in members(page, address, series)))
        # A change is seen on all pictures before it is made.
        page.get_by_role("radio", name="Change").click()
        before = [m["revision"] for m in members(page, address, series)]
        pictures = page.locator("article img")
        plain = [i.get_attribute("src") for i in pictures.all()]
        page.get_by_role("slider", name="From").focus()
        for _ in range(12):
            page.keyboard.press("PageUp")
        expect(pictures.first).to_have_attribute("src", re.compile("^blob:"), timeout=15_000)
        assert [m["revision"] for m in members(page, address, series)] == before
        page.get_by_role("button", name="Change in 3 pictures").click()
        eventually(page, lambda: [m["revision"] for m in members(page, address, series)] != before)
        expect(pictures.first).not_to_have_attribute("src", re.compile("^blob:"))
        assert [i.get_attribute("src") for i in pictures.all()] != plain


def test_doubts_are_answered_with_a_key_and_kept_parts_go_on(address: str) -> None:
    with browser_page() as page:
        series = new_series(page, address, "Harbour")
        add(page, "Add drawings", [("one.png", frame(0))])
        expect(page.get_by_role("article")).to_have_count(1, timeout=60_000)
        (first,) = members(page, address, series)
        piece = page.request.get(f"{address}/api/pieces/{first['id']}").json()
        page.request.post(f"{address}/api/pieces/{first['id']}/edits", data={
            "seen": piece["revision"], "edit": {"kind": "keep_parts"}})
        ink = figure_ink(400)
        ink[150:260, 40:52] = ink[150:162, 40:110] = ink[248:260, 40:110] = 255  # something new
        ink[150:260, 98:110] = 255
        add(page, "Add drawings", [("two.png", png(on_white(ink)))])
        expect(page.get_by_role("article")).to_have_count(2, timeout=60_000)
        second = members(page, address, series)[1]
        page.goto(f"{address}/piece/{second['id']}/parts")
        page.wait_for_selector(SHARP)
        asked = page.get_by_role("status").filter(has_text="Kept, they show the next pictures")
        expect(asked).to_be_visible()

        def doubts() -> int:
            place = page.request.get(f"{address}/api/pieces/{second['id']}/place").json()
            return len(place["doubts"])

        while (left := doubts()) > 0:
            page.keyboard.press("q")
            eventually(page, lambda left=left: doubts() < left)
        page.get_by_role("button", name="Keep, and carry on").click()
        eventually(page, lambda: not members(page, address, series)[1]["carried"])
        expect(asked).to_have_count(0)


def test_pictures_are_ordered_held_played_and_written(address: str) -> None:
    with browser_page() as page:
        series = new_series(page, address, "Ferry")
        add(page, "Add drawings", [(f"f{k}.png", frame(k)) for k in range(3)])
        expect(page.get_by_role("article")).to_have_count(3, timeout=60_000)
        page.get_by_role("link", name="Open f0").focus()
        page.keyboard.press("Alt+ArrowRight")
        eventually(page, lambda: [m["title"] for m in members(page, address, series)]
                   == ["f1", "f0", "f2"])
        page.get_by_role("article", name="3. f2").drag_to(
            page.get_by_role("article", name="1. f1"))
        eventually(page, lambda: [m["title"] for m in members(page, address, series)]
                   == ["f2", "f1", "f0"])
        hold = page.get_by_role("spinbutton", name="Frames that f1 stays")
        hold.fill("2")
        eventually(page, lambda: members(page, address, series)[1]["hold"] == 2)
        page.get_by_role("button", name="Play").click()
        shown = page.get_by_role("dialog").locator("img:not([alt=''])")
        expect(shown).to_have_attribute("alt", "1. f2")
        page.keyboard.press("ArrowRight")
        expect(shown).to_have_attribute("alt", "2. f1")
        page.keyboard.press("o")
        expect(page.get_by_role("button", name="Neighbours under it")).to_have_attribute(
            "aria-pressed", "true")
        page.keyboard.press("p")
        expect(page.get_by_role("button", name="Stop")).to_be_visible()
        eventually(page, lambda: shown.get_attribute("alt") != "2. f1")
        page.keyboard.press("Escape")
        page.get_by_role("radio", name="Files").click()
        page.get_by_role("textbox", name="Longer edge, px").fill("120")
        with page.expect_download(timeout=60_000) as got:
            page.get_by_role("button", name="Write PNG sequence").click()
        with zipfile.ZipFile(got.value.path()) as archive:
            frames = [archive.read(n) for n in archive.namelist()]
        assert len(frames) == 4 and frames[1] == frames[2]
        assert Image.open(io.BytesIO(frames[0])).size == (120, 120)


def test_what_is_shared_is_followed(address: str) -> None:
    with browser_page() as page:
        series = new_series(page, address, "Tower")
        add(page, "Add drawings", [(f"t{k}.png", frame(k)) for k in range(2)])
        expect(page.get_by_role("article")).to_have_count(2, timeout=60_000)
        page.get_by_role("textbox", name="New scene").fill("noon")
        page.get_by_role("button", name="Add", exact=True).click()
        for k in range(2):
            page.get_by_role("combobox", name=f"Scene of t{k}").click()
            page.get_by_role("option", name="noon").click()
            eventually(page, lambda k=k: members(page, address, series)[k]["scene"] == "noon")
        page.get_by_role("button", name="Take from its first picture").click()
        eventually(page, lambda: page.request.get(f"{address}/api/series/{series}").json()
                   ["shared"]["scenes"][0]["light"] is not None)
        second = members(page, address, series)[1]["id"]
        piece = page.request.get(f"{address}/api/pieces/{second}").json()
        page.request.post(f"{address}/api/pieces/{second}/edits", data={
            "seen": piece["revision"], "edit": {"kind": "set_background", "colour": "#123456"}})
        page.goto(f"{address}/piece/{second}/colour")
        page.wait_for_selector(SHARP)
        bar = page.get_by_role("region", name="In its series")
        expect(bar.get_by_text("its own: ground")).to_be_visible()
        bar.get_by_role("button", name="Follow").click()
        expect(bar.get_by_text("its own")).to_have_count(0)
        with page.expect_download(timeout=60_000):
            page.keyboard.press("Control+Enter")
        page.wait_for_url(f"**/series/{series}")


def test_a_page_of_panels(address: str) -> None:
    with browser_page() as page:
        series = new_series(page, address, "Pages")
        add(page, "Add a page", [("page one.png", png(on_white(drawn_page())))])
        expect(page.get_by_role("article")).to_have_count(2, timeout=60_000)
        page.get_by_role("link", name="Panels").click()
        sheet = page.get_by_test_id("sheet")
        expect(page.get_by_text("2 panels in the order of reading, 1 balloon stays paper.")
               ).to_be_visible()
        box = sheet.bounding_box()
        assert box
        scale = box["width"] / 800
        number = int(page.url.rsplit("/", 1)[1])

        def told() -> Any:
            return page.request.get(f"{address}/api/pages/{number}").json()["sheet"]

        before = told()["panels"][1]["outline"]
        x, y = max(before, key=lambda p: p[0] + p[1])
        page.mouse.move(box["x"] + x * scale, box["y"] + y * scale)
        page.mouse.down()
        page.mouse.move(box["x"] + (x - 60) * scale, box["y"] + (y - 80) * scale, steps=4)
        page.mouse.up()
        eventually(page, lambda: told()["panels"][1]["outline"] != before)
        expect(page.get_by_role("button", name="Undo")).to_be_enabled()
        page.keyboard.press("Control+z")
        eventually(page, lambda: told()["panels"][1]["outline"] == before)
        page.get_by_role("radio", name="Balloon away").click()
        page.mouse.click(box["x"] + 240 * scale, box["y"] + 160 * scale)
        eventually(page, lambda: told()["balloons"] == [])
        page.get_by_role("button", name="Undo").click()
        eventually(page, lambda: len(told()["balloons"]) == 1)
        with page.expect_download(timeout=60_000) as got:
            page.get_by_role("button", name="One stack").click()
        stack = read_openraster(got.value.path()).stack
        assert [n.name for n in stack.nodes if n.name.startswith("panel")]
        assert (stack.width, stack.height) == (800, 1100)
        page.get_by_role("link", name="Pages").click()
        assert page.url.endswith(f"/series/{series}")
