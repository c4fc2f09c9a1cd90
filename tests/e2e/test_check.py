"""The Check step, driven with pointer and keyboard; what it does is held against the piece."""

import re
from typing import Any

import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.drawings import png, transparent
from tests.e2e.page import (
    SHARP,
    canvas_pixels,
    download,
    drop_file,
    eventually,
    revision,
    wait_for_change,
)
from tests.figures import Drawing, figure


def open_check(page: Page, address: str) -> dict[str, Any]:
    """A figure with an unclaimed boot and sleeves like the coat, in the Check step."""
    planted = figure(2, Drawing())
    page.goto(address)
    drop_file(page, "nim.png", png(transparent(planted.ink)))
    page.get_by_role("dialog").get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"))
    place = re.search(r"^(.*)/piece/(\d+)", page.url)
    assert place
    piece = f"{place[1]}/api/pieces/{place[2]}"
    parts = [p.model_dump(mode="json") for p in planted.recipe.parts]
    coat = next(p for p in parts if p["name"] == "coat")["base"]
    for part in parts:
        part["base"] = coat if part["name"] == "sleeves" else part["base"]
    claims = [c.model_dump(mode="json") for c in planted.recipe.claims]
    boots = planted.ids["boots"]
    claims = [c | {"strokes": c["strokes"][1:]} if c["to"] == boots else c for c in claims]
    passes = planted.recipe.passes.model_dump(mode="json")
    for change in ({"kind": "replace_parts", "parts": parts, "claims": claims, "proposed": False},
                   {"kind": "set_passes", "passes": passes},
                   {"kind": "set_background", "colour": planted.recipe.background}):
        now = page.request.get(piece).json()
        answer = page.request.post(f"{piece}/edits", data={"seen": now["revision"], "edit": change})
        assert answer.ok, answer.text()
    page.reload()
    page.wait_for_selector(SHARP)
    page.keyboard.press("F9")
    page.wait_for_url(re.compile("/check$"))
    page.wait_for_selector(SHARP)
    expect(page.get_by_role("status").first).to_contain_text(re.compile(r"^\d+ findings?\."))
    return {"at": piece}


def labels(page: Page) -> list[str]:
    return page.get_by_test_id("finding").locator("button > span:first-child").all_inner_texts()


def step_of(page: Page, name: str) -> Any:
    return page.get_by_role("navigation", name="Steps").get_by_role("button", name=name)


def test_findings_are_gone_through_and_repaired_by_keyboard(address: str) -> None:
    with browser_page() as page:
        piece = open_check(page, address)
        found = labels(page)
        assert "Two parts run together" in found and "An area has no part" in found
        expect(step_of(page, "Check")).to_contain_text(str(len(found)))
        at = found.index("Two parts run together")
        for _ in range(at + 1):
            page.keyboard.press(".")
        here = page.locator("[data-testid=finding][aria-current]")
        expect(here).to_contain_text("ΔE apart along")
        expect(here).to_contain_text("From 7 ΔE on")
        before = canvas_pixels(page)
        shown = revision(page)
        kept = page.request.get(piece["at"]).json()["revision"]
        # Pointed at, the repair is seen, and nothing is changed.
        here.get_by_role("button", name=re.compile("^Make ")).hover()
        eventually(page, lambda: np.mean(canvas_pixels(page) != before) > 0.01)
        assert page.request.get(piece["at"]).json()["revision"] == kept
        page.get_by_role("heading", name="Check").hover()
        page.keyboard.press("r")
        wait_for_change(page, shown)
        eventually(page, lambda: "Two parts run together" not in labels(page))
        page.keyboard.press("Control+z")
        eventually(page, lambda: "Two parts run together" in labels(page))


def test_a_finding_is_left_with_a_reason_and_counts_again(address: str) -> None:
    with browser_page() as page:
        open_check(page, address)
        row = page.get_by_test_id("finding").filter(has_text="An area has no part")
        row.locator("button").first.click()
        page.keyboard.press("x")
        page.get_by_role("textbox", name="Reason").fill("the boot is ground")
        page.keyboard.press("Enter")
        expect(row).to_contain_text("Left as it is: the boot is ground")
        expect(page.get_by_role("status").first).to_contain_text("1 left as it is")
        page.reload()
        expect(row).to_contain_text("Left as it is: the boot is ground")
        row.locator("button").first.click()
        row.get_by_role("button", name=re.compile("^Let it count again")).click()
        expect(row).not_to_contain_text("Left as it is")


def test_maps_and_places_are_shown_on_the_picture(address: str) -> None:
    with browser_page() as page:
        open_check(page, address)
        plain = canvas_pixels(page)
        page.keyboard.press("v")
        expect(page.get_by_role("button", name=re.compile("^Values"))).to_have_attribute(
            "aria-pressed", "true")
        eventually(page, lambda: np.mean(canvas_pixels(page) != plain) > 0.3)
        page.keyboard.press("v")
        eventually(page, lambda: np.mean(canvas_pixels(page) != plain) < 0.01)
        page.keyboard.press("h")
        expect(page.get_by_role("img", name="Hue wheel")).to_be_visible()
        assert page.get_by_test_id("hue").count() > 8
        page.keyboard.press("h")
        expect(page.get_by_role("img", name="Hue wheel")).to_be_hidden()
        row = page.get_by_test_id("finding").filter(has_text="An area has no part")
        row.locator("button").first.click()
        zoom = page.locator("canvas[data-zoom]").get_attribute("data-zoom")
        page.keyboard.press("w")
        eventually(page, lambda: page.locator("canvas[data-zoom]").get_attribute(
            "data-zoom") != zoom)


def test_two_states_are_compared_by_divider_difference_and_beside_each_other(
        address: str) -> None:
    with browser_page() as page:
        open_check(page, address)
        page.keyboard.press("t")
        status = page.get_by_role("status").last
        expect(status).to_contain_text("on the mean")
        expect(page.get_by_role("slider", name=re.compile("The drawing"))).to_be_visible()
        page.get_by_role("combobox", name="Left side").click()
        page.get_by_role("option", name="Some changes ago").click()
        page.get_by_role("radio", name="Side by side").click()
        expect(page.locator("canvas[data-zoom]")).to_have_count(2)
        page.get_by_role("radio", name="Difference").click()
        expect(page.locator("canvas[data-zoom]")).to_have_count(1)
        page.get_by_role("combobox", name="Right side").click()
        page.get_by_role("option", name="The drawing").click()
        expect(status).to_contain_text("are of another colour")
        page.keyboard.press("x")  # the sides change; what differs does not
        expect(page.get_by_role("combobox", name="Left side")).to_contain_text("The drawing")
        page.get_by_role("button", name="Show where they differ").click()


def test_remarks_are_pinned_drawn_settled_and_printed(address: str) -> None:
    with browser_page() as page:
        piece = open_check(page, address)
        page.get_by_role("tab", name="Review").click()
        page.get_by_label("Who is looking").fill("Ina")
        box = page.get_by_test_id("picture").bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.click(x, y)
        page.get_by_role("textbox", name="Remark").fill("the buttons are lost")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("remark")).to_have_count(1)
        page.mouse.move(x - 40, y - 60)
        page.mouse.down()
        page.mouse.move(x - 10, y - 20, steps=6)
        page.mouse.up()
        page.get_by_role("combobox", name="What is wanted").click()
        page.get_by_role("option", name="Shade here").click()
        page.get_by_role("button", name="Pin it").click()
        expect(page.get_by_test_id("remark")).to_have_count(2)
        events = [e["event"] for e in page.request.get(f"{piece['at']}/events").json()]
        assert [len(e["points"]) > 1 for e in events] == [False, True]
        assert (events[1]["wish"], events[1]["by"]) == ("shade here", "Ina")
        page.get_by_test_id("remark").first.locator("button").first.click()
        page.keyboard.press("x")
        expect(page.get_by_role("status").filter(has_text="open")).to_have_text("1 of 2 open")
        # What was drawn says what is to be done: seen while one points at it, and done.
        before = revision(page)
        page.get_by_role("button", name="Do it").click()
        wait_for_change(page, before)
        expect(page.get_by_role("status").filter(has_text="open")).to_have_text("0 of 2 open")
        touch, = page.request.get(piece["at"]).json()["recipe"]["touch_ups"]
        assert (touch["name"], touch["act"]) == ("shade", "put in")
        page.get_by_role("button", name="Changes wanted").click()
        expect(page.get_by_text("Changes wanted by Ina")).to_be_visible()
        assert download(page, "Review sheet, PDF").startswith(b"%PDF")


def test_references_stay_beside_the_canvas_from_step_to_step(address: str) -> None:
    with browser_page() as page:
        open_check(page, address)
        page.keyboard.press("i")
        colour = np.full((80, 120, 3), (30, 144, 200), np.uint8)
        drop_file(page, "sky.png", png(colour), "aside")
        surface = page.get_by_test_id("reference")
        expect(surface).to_have_attribute("data-zoom", "1")
        box = surface.bounding_box()
        assert box
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        strip = page.get_by_role("complementary", name="References")
        expect(strip.get_by_role("status")).to_contain_text("#1e90c8")
        surface.press("+")
        expect(surface).to_have_attribute("data-zoom", "1.25")
        strip.get_by_role("textbox", name="Note").fill("the sky")
        with page.expect_response(lambda answer: answer.request.method != "GET" and answer.ok):
            page.keyboard.press("Tab")
        page.reload()
        page.wait_for_selector(SHARP)
        page.keyboard.press("F4")
        page.wait_for_url(re.compile("/colour$"))
        expect(page.get_by_role("complementary", name="References").get_by_role(
            "textbox", name="Note")).to_have_value("the sky")
        page.get_by_role("button", name="Take away").click()
        expect(page.get_by_text("never delivered")).to_be_visible()
