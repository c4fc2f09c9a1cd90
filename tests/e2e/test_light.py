"""The Light step: pucks, places and shapes, down to the delivered layers."""

import re

import numpy as np
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.e2e.page import canvas_pixels, eventually, revision, swatch, wait_for_change
from tests.e2e.test_colour import open_colour
from wardrobe.core.colour import from_hex


def dark_share(page: Page, base: str, shade: str) -> float:
    """How much of a part the screen shows in shade."""
    screen = canvas_pixels(page)[..., :3].astype(int)
    lit, dark = ((np.abs(screen - from_hex(c)).max(-1) <= 2).sum() for c in (base, shade))
    return float(dark / max(1, lit + dark))


def test_lights_and_shapes(address: str) -> None:
    with browser_page() as page:
        open_colour(page, address)
        base, shade = swatch(page, "Base", "part 1"), swatch(page, "Shade", "part 1")
        page.keyboard.press("F6")
        eventually(page, lambda: dark_share(page, base, shade) > 0.1)
        usual = dark_share(page, base, shade)

        before = revision(page)
        page.get_by_role("slider", name="In shade").press("End")
        wait_for_change(page, before)
        eventually(page, lambda: dark_share(page, base, shade) > usual + 0.1)

        # A place in words; a rim as a second puck, dragged; bounced light as a third.
        before = revision(page)
        page.get_by_role("button", name="Both sides").click()
        wait_for_change(page, before)
        expect(page.get_by_text("from the left", exact=True)).to_be_visible()
        puck = page.get_by_role("slider", name="Rim light", exact=True)
        box = puck.bounding_box()
        assert box
        before = revision(page)
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + 10, box["y"] - 60, steps=5)
        page.mouse.up()
        wait_for_change(page, before)
        assert 20 < float(puck.get_attribute("aria-valuenow") or 0) < 60
        expect(page.get_by_text("from the left", exact=True)).to_be_visible()  # the key stays
        before = revision(page)
        page.get_by_label("Bounce", exact=True).check()
        wait_for_change(page, before)

        # Both have columns in the sheet and layers in the stack.
        page.keyboard.press("F4")
        for name in ("Rim", "Bounce"):
            expect(page.get_by_role("button", name=re.compile(f"^{name}: screen"))).to_be_visible()
        page.keyboard.press("F7")
        expect(page.get_by_text("part 1 / rim")).to_be_visible()
