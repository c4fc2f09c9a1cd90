"""A drawing comes in: seen at once, its figure whole, in colours to choose from."""

import re

import cv2
import numpy as np
from playwright.sync_api import expect

from tests.chromium import browser_page
from tests.drawings import bust_ink, on_white, png
from tests.e2e.page import (
    SHARP,
    canvas_pixels,
    drop_file,
    eventually,
    open_all_closings,
    revision,
    wait_for_change,
)
from tests.figures import figure
from wardrobe.recipe.document.view import View


def test_a_bust_arrives_is_closed_and_takes_a_palette(address: str) -> None:
    with browser_page() as page:
        page.goto(address)
        drop_file(page, "ferry_keeper.png", png(on_white(bust_ink())))
        seen = page.get_by_role("img", name="The drawing")
        expect(seen).to_be_visible()  # before anything was sent
        assert seen.evaluate("e => e.naturalWidth") == 900
        stages: list[str] = []
        page.on("response", lambda r: stages.append(r.url) if "/seen/" in r.url and r.ok else None)
        page.get_by_role("button", name="Start").click()
        page.wait_for_url(re.compile(r"/piece/\d+/parts"), timeout=240_000)
        assert any(url.endswith("/seen/1") for url in stages)  # the lines were seen on the way
        page.wait_for_selector(SHARP)
        # It came in whole; without its closing it is offered, with a picture of the outcome.
        offer = page.get_by_role("region", name="The whole figure")
        expect(offer).to_be_hidden()
        open_all_closings(page)
        page.wait_for_selector(SHARP)
        expect(offer).to_contain_text("would make the figure whole")
        for name in ("now", "closed"):
            page.wait_for_selector(f"canvas[data-drawn='{name}']")
        # Turned down, it stays so, in another step and another window, until it is asked for.
        before = revision(page)
        offer.get_by_role("button", name="Leave it open").click()
        wait_for_change(page, before)
        expect(offer).to_be_hidden()
        page.reload()
        page.wait_for_selector(SHARP)
        page.keyboard.press("F2")
        expect(page.get_by_text("The figure is left open.")).to_be_visible()
        page.keyboard.press("F3")
        before = revision(page)
        page.get_by_role("button", name="Look again").click()
        wait_for_change(page, before)
        expect(offer).to_be_visible()
        before = revision(page)
        page.keyboard.press("y")
        wait_for_change(page, before)
        expect(offer).to_be_hidden()

        # Three palettes hang side by side; one key takes one, and the suggestion with it.
        palettes = page.get_by_role("group", name="First palettes").get_by_role("button")
        expect(palettes).to_have_count(3)
        page.keyboard.press("F4")
        page.get_by_role("grid", name="Colours by part and pass").wait_for()
        page.wait_for_selector(SHARP)
        warm = canvas_pixels(page)
        page.keyboard.press("F3")
        expect(palettes).to_have_count(3)
        before = revision(page)
        page.keyboard.press("Shift+Digit2")
        wait_for_change(page, before)
        expect(page.get_by_text("a suggestion")).to_be_hidden()
        page.keyboard.press("F4")
        page.get_by_role("grid", name="Colours by part and pass").wait_for()
        page.wait_for_selector(SHARP)
        eventually(page, lambda: canvas_pixels(page).shape == warm.shape
                   and np.abs(canvas_pixels(page).astype(int) - warm).mean() > 5)

        # At home its name opens it as its picture does.
        page.goto(address)
        page.get_by_role("link", name="ferry keeper", exact=True).click()
        page.wait_for_url(re.compile(r"/piece/\d+"))


def test_a_coloured_picture_is_taken_for_one_and_stays_as_it_came(address: str) -> None:
    planted = figure(2)
    rgb = planted.deriver.picture(planted.recipe, View.whole(*planted.recipe.size))
    with browser_page() as page:
        page.goto(address)
        drop_file(page, "harbour.png", png(rgb))
        choice = page.get_by_role("radiogroup", name="What it is")
        expect(choice.get_by_role("radio", name="A coloured picture")).to_be_checked()
        page.keyboard.press("Escape")
        drop_file(page, "lines.png", png(on_white(planted.ink)))
        expect(choice.get_by_role("radio", name="Line art")).to_be_checked()
        page.keyboard.press("Escape")
        drop_file(page, "harbour.png", png(rgb))
        page.get_by_role("button", name="Start").click()
        page.wait_for_url(re.compile(r"/piece/\d+/check"), timeout=240_000)
        page.wait_for_selector(SHARP)
        piece = re.search(r"^(.*)/piece/(\d+)", page.url)
        assert piece
        query = f"?width={rgb.shape[1]}&height={rgb.shape[0]}"
        answer = page.request.get(f"{piece[1]}/api/pieces/{piece[2]}/picture{query}")
        shown = cv2.imdecode(np.frombuffer(answer.body(), np.uint8), cv2.IMREAD_COLOR)[..., ::-1]
        assert np.abs(shown.astype(int) - rgb).max() <= 2
        # It is an ordinary piece: without what is laid over it, it is nearly the same.
        expect(page.get_by_role("status").first).to_contain_text(re.compile("find"), timeout=60_000)
        page.keyboard.press("F7")
        page.wait_for_url(re.compile("/finish$"))
        expect(page.get_by_role("button", name=re.compile("as painted")).first).to_be_visible()
