"""What lies around the steps: they are fetched when gone to, and fail one at a time."""

import re

from playwright.sync_api import Page, Route, expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, png, transparent
from tests.e2e.page import SHARP, drop_file

STEPS = ["Lines", "Parts", "Colour", "Light", "Finish", "Looks", "Check", "Deliver"]
KEYS = ["F2", "F3", "F4", "F6", "F7", "F8", "F9", "F10"]


def start(page: Page, address: str) -> None:
    page.goto(address)
    drop_file(page, "lantern.png", png(transparent(figure_ink())))
    page.get_by_role("dialog").get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"))
    page.wait_for_selector(SHARP)


def test_steps_are_fetched_when_they_are_gone_to_and_work_by_key(address: str) -> None:
    with browser_page() as page:
        fetched: list[str] = []
        page.on("request", lambda r: fetched.append(r.url.rsplit("/", 1)[1])
                if r.url.endswith(".js") else None)
        page.goto(address)
        page.wait_for_load_state("networkidle")
        assert not [name for name in fetched if "Step" in name]
        start(page, address)
        page.wait_for_timeout(3000)  # the others are fetched while nothing else is to be done
        found = {name.split("-")[0] for name in fetched if "Step-" in name}
        assert found == {f"{step}Step" for step in STEPS}
        for step, key in zip(STEPS, KEYS, strict=True):
            page.keyboard.press(key)
            page.wait_for_url(re.compile(f"/{step.lower()}$"))
            expect(page.get_by_role("main").get_by_role("heading", level=1)).to_be_visible()
            expect(page.get_by_role("alert")).to_have_count(0)


def test_a_step_that_fails_leaves_the_others_and_can_be_tried_again(address: str) -> None:
    """An answer that no screen foresaw: it is said what is unharmed, and what to try."""
    with browser_page() as page:
        start(page, address)

        def broken(route: Route) -> None:
            route.fulfill(status=200, content_type="application/json", body='[{"key": "x"}]')

        page.route("**/api/pieces/*/finishes*", broken)
        page.keyboard.press("F7")
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("The step Finish ran into a mistake")
        expect(alert).to_contain_text("Your piece is unharmed")
        page.keyboard.press("F6")  # another step works
        expect(page.get_by_role("slider", name="In shade")).to_be_visible()
        page.unroute("**/api/pieces/*/finishes*", broken)
        page.keyboard.press("F7")
        if alert.count():  # what was broken may still be held
            alert.get_by_role("button", name="Try again").click()
        page.reload()
        expect(page.get_by_role("button", name=re.compile("^Late sun"))).to_be_visible()
