"""The step Looks: dress, vary, compare, show, with pointer and keyboard."""

import re

import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, png, transparent
from tests.e2e.page import SHARP, canvas_pixels, download, drop_file, eventually
from wardrobe.core.colour import from_hex


def start(page: Page, address: str) -> None:
    page.goto(address)
    drop_file(page, "wardrobe.png", png(transparent(figure_ink())))
    page.get_by_role("dialog").get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"))
    page.wait_for_selector(SHARP)
    page.keyboard.press("F8")
    page.wait_for_selector("canvas[data-drawn]")


def base(page: Page, part: str) -> str:
    label = page.get_by_role("button", name=re.compile(f"^Base of {part}: ")).get_attribute(
        "aria-label") or ""
    return label.split(": ")[1][:7]


def share(page: Page, colour: str) -> float:
    """How much of the screen has a colour."""
    screen = canvas_pixels(page)[..., :3].astype(int)
    return float((np.abs(screen - from_hex(colour)).max(-1) <= 2).mean())


def test_looks_are_dressed_varied_compared_and_shown(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address)
        rail = page.get_by_role("group", name="Looks")
        looks = rail.locator("[data-look]")
        expect(looks).to_have_count(1)
        before = base(page, "part 1")

        # A second look, renamed, in which one part gets darker by key.
        page.get_by_role("button", name="New look").click()
        expect(looks).to_have_count(2)
        name = page.get_by_role("textbox", name="Name of the look")
        name.fill("Evening")
        name.press("Enter")
        expect(rail.get_by_role("button", name="Evening")).to_be_visible()
        page.get_by_role("button", name=re.compile("^part 1 ")).click()
        page.keyboard.press("d")
        eventually(page, lambda: base(page, "part 1") != before)
        page.keyboard.press("d")
        first = base(page, "part 1")
        eventually(page, lambda: base(page, "part 1") != first)
        evening = base(page, "part 1")
        rail.get_by_role("button", name="The piece").click()
        eventually(page, lambda: base(page, "part 1") == before)

        # The figure in one look, then both with a divider.
        rail.get_by_role("button", name="Evening").click()
        page.keyboard.press("v")
        page.wait_for_selector("canvas[data-shown*='look:k1'][data-shown$=':sharp']")
        eventually(page, lambda: share(page, evening) > 0.02)
        assert share(page, before) < 0.01
        page.keyboard.press("v")
        expect(page.get_by_role("slider", name=re.compile("The piece │ Evening"))).to_be_visible()
        eventually(page, lambda: share(page, evening) > 0.005 and share(page, before) > 0.005)
        page.keyboard.press("v")

        # Proposals: hang one.
        page.keyboard.press("t")
        page.get_by_role("radio", name="Triad").click()
        proposals = page.get_by_role("list", name="Proposed looks").get_by_role("listitem")
        expect(proposals).to_have_count(6)
        expect(proposals.first).to_contain_text("Keeps values")
        page.get_by_role("button", name=re.compile("^Hang ")).first.click()
        expect(looks).to_have_count(3)
        page.keyboard.press("Control+z")
        expect(looks).to_have_count(2)
        page.keyboard.press("Control+Shift+z")
        expect(looks).to_have_count(3)

        # A change to all looks; apart; a sheet; an answer.
        page.get_by_role("tab", name="Dress", exact=True).click()
        page.get_by_role("radio", name="all", exact=True).click()
        page.get_by_role("button", name=re.compile("^part 3 ")).click()
        page.get_by_role("button", name=re.compile("^lighter")).click()
        told = base(page, "part 3")
        eventually(page, lambda: base(page, "part 3") != told)
        lighter = base(page, "part 3")
        rail.get_by_role("button", name="The piece").click()
        expect(page.get_by_text("The piece is the first look")).to_be_visible()
        eventually(page, lambda: base(page, "part 3") == lighter)
        page.get_by_role("tab", name="Apart").click()
        expect(page.get_by_role("table", name="How far apart looks are")).to_contain_text("Evening")
        page.get_by_role("tab", name="Show", exact=True).click()
        assert download(page, "PDF").startswith(b"%PDF")
        rail.get_by_role("button", name="Evening").click()
        page.get_by_label(re.compile("Remarks on “Evening”")).fill("darker, as agreed")
        page.get_by_role("button", name="This look was chosen").click()
        answers = page.get_by_role("list", name="Answers")
        expect(answers).to_contain_text("darker, as agreed")
        page.get_by_role("button", name="Withdraw").click()
        expect(answers).to_contain_text("withdrawn")

        # Retired looks are off the rail, and come back.
        page.get_by_role("tab", name="Dress", exact=True).click()
        page.get_by_role("button", name="Retire").click()
        expect(looks).to_have_count(2)
        page.get_by_label("Show retired").check()
        expect(looks).to_have_count(3)
        assert problems == []
