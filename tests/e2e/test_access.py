"""Each step, each side of its bench and each dialog under axe-core, in both surrounds.

The rules are those of axe-core (npm, MPL 2.0), which names the criterion of WCAG 2.2 or of
WAI-ARIA 1.2 behind each.
"""

import re
from pathlib import Path

from playwright.sync_api import Locator, Page, Request, expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, on_white, png
from tests.e2e.page import (
    SHARP,
    deliver,
    drop_file,
    part_each_area,
    revision,
    wait_for_change,
)

AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"
KEYS = {"lines": "F2", "parts": "F3", "colour": "F4", "light": "F6", "finish": "F7", "looks": "F8",
        "check": "F9", "deliver": "F10"}


# As another window changes it.
TURN = """(surround) => {
    const newValue = JSON.stringify({ state: { surround }, version: 0 });
    localStorage.setItem('wardrobe-surround', newValue);
    dispatchEvent(new StorageEvent('storage', { key: 'wardrobe-surround', newValue }));
}"""
SETTLED = """() => !document.querySelector('.MuiSkeleton-root, [aria-busy=true]')
    && document.getAnimations().every((a) => a.playState !== 'running')"""


class Audit:
    """Gathers what axe-core finds, so that one run tells everything; in the dark surround what
    depends on colours."""

    def __init__(self, page: Page) -> None:
        self._page = page
        self.found: list[str] = []
        self._asked: set[Request] = set()
        page.on("request", self._began)
        page.on("requestfinished", self._ended)
        page.on("requestfailed", self._ended)
        page.emulate_media(reduced_motion="reduce")  # colours do not fade in

    def _began(self, request: Request) -> None:
        self._asked.add(request)

    def _ended(self, request: Request) -> None:
        self._asked.discard(request)

    def __call__(self, where: str) -> None:
        if not self._page.evaluate("() => 'axe' in window"):
            self._page.evaluate(AXE.read_text("utf-8"))
        self._run(where, "{ resultTypes: ['violations'] }")
        self._page.evaluate(TURN, "dark")
        self._run(f"{where}, dark", "{ runOnly: ['color-contrast', 'link-in-text-block'] }")
        self._page.evaluate(TURN, "light")

    def _run(self, where: str, options: str) -> None:
        calm = 0
        while calm < 3:
            self._page.wait_for_timeout(40)
            calm = 0 if self._asked else calm + 1
        self._page.wait_for_function(SETTLED)
        result = self._page.evaluate(f"() => axe.run(document, {options})")
        self.found += [f"{where}: {rule['id']}: {node['html'][:200]} {node['failureSummary']}"
                       for rule in result["violations"] for node in rule["nodes"]]


def start(page: Page, address: str) -> None:
    page.goto(address)
    drop_file(page, "two_bells.png", png(on_white(figure_ink())))
    page.get_by_role("dialog").get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"))
    part_each_area(page)
    page.wait_for_selector(SHARP)


def test_nothing_is_out_of_reach(address: str) -> None:
    with browser_page() as page:
        audit = Audit(page)
        page.goto(address)
        audit("home")
        drop_file(page, "first.png", png(on_white(figure_ink())))
        page.get_by_role("dialog").wait_for()
        audit("a new piece")
        page.keyboard.press("Escape")
        start(page, address)
        for step, key in KEYS.items():
            page.keyboard.press(key)
            page.wait_for_url(re.compile(f"/{step}$"))
            expect(page.get_by_role("main").get_by_role("heading", level=1)).to_be_visible()
            audit(step)
            for side in page.get_by_role("tab").all_inner_texts():
                page.get_by_role("tab", name=side.split("\n")[0]).first.click()
                audit(f"{step}, {side}")
        page.keyboard.press("?")
        page.get_by_role("dialog", name="Keys").wait_for()
        audit("keys")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog", name="Keys")).to_be_hidden()
        page.keyboard.press("F3")
        page.get_by_role("gridcell", name="part 2", exact=True).click()
        audit("a part opened")
        page.keyboard.press("F4")
        page.get_by_role("button", name=re.compile("^Base of part 1: ")).click()
        audit("a colour opened")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Other methods").click()
        audit("methods")
        page.keyboard.press("F7")
        page.get_by_role("button", name=re.compile("^Late sun")).click()
        page.get_by_role("row", name=re.compile("^sun, ")).click()
        audit("a finish layer opened")
        page.keyboard.press("F9")
        page.get_by_test_id("finding").first.locator("button").first.click()
        page.get_by_role("button", name=re.compile("^Leave it")).click()
        page.get_by_role("textbox", name="Reason").wait_for()
        audit("a finding opened")
        page.keyboard.press("Escape")
        page.keyboard.press("i")
        page.get_by_role("complementary", name="References").wait_for()
        audit("references")
        page.keyboard.press("i")
        page.keyboard.press("F10")
        layered = deliver(page, "OpenRaster")
        page.goto(address)
        drop_file(page, "layered.ora", layered)
        page.wait_for_url(re.compile(r"/layered/\d+"))
        audit("a layered file")
        for side in ("Stack", "Take over"):
            page.get_by_role("tab", name=side).click()
            audit(f"a layered file, {side}")
        page.goto(f"{address}/learn")
        page.get_by_role("list", name="Skills").wait_for()
        audit("the course")
        for lesson in ("ball", "light", "values", "shade colour", "reads"):
            page.goto(f"{address}/learn/{lesson}?level=1&seed=3")
            page.get_by_role("button", name="Measure").wait_for()
            audit(f"a lesson, {lesson}")
        assert not audit.found, "\n".join(dict.fromkeys(audit.found))


def test_nothing_that_opens_is_out_of_reach(address: str) -> None:
    """Dialogs, popovers and menus; each closes by Escape and gives the focus back."""
    with browser_page() as page:
        audit = Audit(page)
        start(page, address)

        def opened(button: Locator, role: str = "dialog") -> None:
            name = button.get_attribute("aria-label") or button.inner_text()
            button.click()
            page.get_by_role(role).last.wait_for()  # type: ignore[arg-type]
            audit(name)
            page.keyboard.press("Escape")
            expect(page.get_by_role(role)).to_have_count(0)  # type: ignore[arg-type]
            expect(button).to_be_focused()

        def button(name: str) -> Locator:
            return page.get_by_role("button", name=re.compile(name)).first

        page.get_by_title("Plan, time and breaks").click()
        panel = page.get_by_role("dialog", name="Plan and time")
        for side in ("Now", "Plan", "Sittings", "Breaks"):
            panel.get_by_role("radio", name=side).click()
            audit(f"the clock, {side}")
        page.keyboard.press("Escape")
        expect(page.get_by_title("Plan, time and breaks")).to_be_focused()
        page.keyboard.press("Shift+C")
        audit("the large clock")
        page.keyboard.press("Shift+C")
        opened(button("^Sets of names$"), "menu")
        button("^Sets of names$").click()
        page.get_by_role("menuitem", name="Keep these names").click()
        page.get_by_role("dialog").wait_for()
        audit("names kept as a set")
        page.keyboard.press("Escape")
        page.get_by_role("gridcell", name="part 2", exact=True).click()
        page.get_by_role("combobox", name="Pattern").click()
        page.get_by_role("option", name="stripes").click()
        expect(page.get_by_role("slider", name=re.compile("of the pattern")).first).to_be_visible()
        audit("a pattern")
        page.keyboard.press("F4")
        page.get_by_role("grid", name="Colours by part and pass").wait_for()
        opened(button("^Shade: .*Change the rule"))
        opened(button("^part 1 .*method and material"))
        page.get_by_role("tab", name="Card").click()
        page.get_by_label("New character").fill("Nela")
        page.get_by_role("button", name="Make a card of these").click()
        opened(button("^Read from a picture$"))
        opened(button("^Save these to the card$"))
        audit("a card")
        page.keyboard.press("F7")
        opened(button("^New layer$"), "menu")
        page.goto(address)
        page.get_by_role("checkbox", name=re.compile("^Choose ")).first.check()
        audit("a piece chosen")
        page.get_by_role("button", name="None").click()
        page.get_by_role("link", name="Log and figures").click()
        page.get_by_test_id("log-line").first.wait_for()
        audit("the log")
        page.get_by_role("radio", name="Figures").click()
        audit("figures")
        page.goto(address)
        opened(button("^Edit title, date and tags of "))
        opened(button("^Delete two bells"))
        opened(button("^Delete Nela"))
        drop_file(page, "torn.ora", b"PK\x03\x04 torn")
        page.get_by_role("dialog").get_by_role("alert").wait_for()
        audit("a file that cannot be read")
        assert not audit.found, "\n".join(dict.fromkeys(audit.found))


def test_keys_are_listed_and_lists_are_walked_by_arrows(address: str) -> None:
    """What the list of keys says holds; the focus is on the same thing after each edit."""
    with browser_page() as page:
        start(page, address)
        page.keyboard.press("?")
        listed = page.get_by_role("dialog", name="Keys")
        for screen in ("Everywhere", "Looking", "Parts", "Light, touch-ups", "A layered file"):
            expect(listed.get_by_role("rowheader", name=screen, exact=True)).to_be_visible()
        page.keyboard.press("Escape")
        expect(listed).to_be_hidden()

        # Tabs are one stop; arrows turn to the next side, and the focus goes with them.
        page.keyboard.press("F4")
        page.get_by_role("tab", name="Sheet").focus()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("tab", name="Even out")).to_be_focused()
        expect(page.get_by_role("radiogroup", name="Pass to even out")).to_be_visible()
        page.keyboard.press("ArrowLeft")
        expect(page.get_by_role("grid", name="Colours by part and pass")).to_be_visible()

        # A choice: an arrow chooses, makes its edit, and the focus stays.
        page.keyboard.press("F10")
        page.get_by_role("tab", name="Set up").click()
        page.get_by_role("radio", name="Cut to the base").focus()
        before = revision(page)
        page.keyboard.press("ArrowRight")
        wait_for_change(page, before)
        expect(page.get_by_role("radio", name="Live, by a mask")).to_be_checked()
        expect(page.get_by_role("radio", name="Live, by a mask")).to_be_focused()

        # A part moved by key keeps the focus, wherever it lands.
        page.keyboard.press("F3")
        page.get_by_role("row", name="part 3").focus()
        before = revision(page)
        page.keyboard.press("Alt+ArrowUp")
        wait_for_change(page, before)
        expect(page.get_by_role("row", name="part 3")).to_be_focused()


def test_nothing_moves_for_those_who_ask_for_stillness(address: str) -> None:
    """prefers-reduced-motion, Media Queries Level 5, section 12.1."""
    with browser_page() as page:
        page.emulate_media(reduced_motion="reduce")
        start(page, address)
        page.keyboard.press("?")
        page.get_by_role("dialog", name="Keys").wait_for()
        longest = page.evaluate("""() => Math.max(...[...document.querySelectorAll('*')].flatMap(
            (e) => getComputedStyle(e).transitionDuration.split(',').map(parseFloat)))""")
        assert longest < 0.001
