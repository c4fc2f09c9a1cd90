"""Layers that finish a picture: laid on, dragged, drawn, ordered, delivered as seen."""

import re

import numpy as np
from playwright.sync_api import expect

from tests.chromium import browser_page
from tests.drawings import png
from tests.e2e.finish import choose, delivered_as_seen, drag, new_layer, pressed, start
from tests.e2e.page import (
    canvas_pixels,
    eventually,
    revision,
    wait_for_change,
)


def test_layers_are_laid_on_dragged_drawn_and_delivered(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address)
        layers = page.get_by_role("grid", name="Finish layers").get_by_role("row")
        bare = canvas_pixels(page)

        # A ready finish shows while it is pointed at, and is gone again.
        ready = page.get_by_role("button", name="Lamp at night")
        ready.hover()
        eventually(page, lambda: canvas_pixels(page)[..., :3].mean() < bare[..., :3].mean() - 8)
        page.mouse.move(5, 400)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), bare))

        # A gradient on the ground; its lower end is dragged up, then moved by key.
        new_layer(page, "Gradient on the ground")
        expect(layers).to_have_count(1)
        end = page.get_by_role("slider", name="End of the gradient")
        at = end.get_attribute("aria-valuetext")
        before = revision(page)
        drag(page, end, 0, -120)
        wait_for_change(page, before)
        dragged = end.get_attribute("aria-valuetext")
        assert dragged != at
        before = revision(page)
        end.press("ArrowDown")
        wait_for_change(page, before)
        assert end.get_attribute("aria-valuetext") not in (at, dragged)

        # A spot is drawn on the figure with the pen, and partly rubbed out; undo takes it back.
        new_layer(page, "Soft spot")
        expect(page.get_by_text("Draw on the picture where the spot is to be.")).to_be_visible()
        clean = canvas_pixels(page)
        box = page.get_by_test_id("picture").bounding_box()
        assert box
        middle = box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.66
        before = revision(page)
        page.mouse.move(middle[0] - 20, middle[1])
        page.mouse.down()
        page.mouse.move(middle[0] + 20, middle[1] + 8, steps=6)
        page.mouse.up()
        wait_for_change(page, before)
        eventually(page, lambda: (canvas_pixels(page) != clean).any(-1).sum() > 300)
        expect(page.get_by_text(re.compile("^1 stroke drawn"))).to_be_visible()
        drawn = canvas_pixels(page)
        before = revision(page)
        page.keyboard.press("o")
        page.mouse.move(middle[0], middle[1])
        page.mouse.down()
        page.mouse.move(middle[0] + 20, middle[1] + 8, steps=6)
        page.mouse.up()
        wait_for_change(page, before)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), drawn))
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), drawn))

        # Strength by key, another mode, softer; a texture on top, over the lines.
        before = revision(page)
        page.get_by_role("slider", name="Strength").press("End")
        wait_for_change(page, before)
        expect(layers.first).to_contain_text("multiply 100 %")
        before = revision(page)
        choose(page, "Mode", "soft-light")
        wait_for_change(page, before)
        before = revision(page)
        page.get_by_role("slider", name="Softened").press("ArrowRight")
        wait_for_change(page, before)
        new_layer(page, "Texture")
        new_layer(page, "Glow")
        before = revision(page)
        choose(page, "Lies on", "Everything")
        wait_for_change(page, before)
        expect(layers).to_have_count(4)

        # Ordered and switched by keyboard alone.
        names = [re.split(r"\n", text)[0] for text in layers.all_inner_texts()]
        assert names == ["glow", "paper", "spot", "sky"]
        page.get_by_role("row", name="glow").focus()
        before = revision(page)
        page.keyboard.press("Alt+ArrowDown")
        wait_for_change(page, before)
        expect(layers.nth(1)).to_contain_text("glow")
        expect(page.get_by_role("row", name="glow")).to_be_focused()
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("row", name="spot")).to_be_focused()
        before = revision(page)
        page.get_by_role("button", name="Switch spot off").click()
        wait_for_change(page, before)
        without = canvas_pixels(page)
        before = revision(page)
        page.get_by_role("button", name="Switch spot on").click()
        wait_for_change(page, before)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), without))

        # Delivered as it is seen.
        found = delivered_as_seen(page)
        assert {"background / sky", "finish / spot", "finish / glow",
                "finish / paper"} <= set(found)
        assert found["finish / spot"].composite_op == "svg:soft-light"

        # Taken off by key; nothing is left of it.
        page.get_by_role("row", name="glow").focus()
        page.keyboard.press("Delete")
        expect(layers).to_have_count(3)
        assert not problems


def test_light_sparks_and_the_focus_are_laid_on_by_pointer_and_keys(address: str) -> None:
    """Ready layers that are worked out, modes beside each other, light that a part gives off,
    places that are dragged, a picture of one's own, and the amount of all."""
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address)
        layers = page.get_by_role("grid", name="Finish layers").get_by_role("row")
        offered = page.get_by_role("group", name="Worked out from this drawing")
        bare = canvas_pixels(page)

        # Where the eye goes: layers that are tied to a place, which is set along with them.
        before = revision(page)
        offered.get_by_role("button", name="Where the eye goes").click()
        wait_for_change(page, before)
        expect(layers).to_have_count(4)
        page.mouse.move(5, 400)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), bare))
        page.get_by_role("button", name="Show", exact=True).click()
        middle = page.get_by_role("slider", name="Middle of the focus")
        shown = canvas_pixels(page)
        before = revision(page)
        drag(page, middle, 60, 40)
        wait_for_change(page, before)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), shown))
        pressed(page, page.get_by_role("slider", name="Edge of the focus"), "ArrowRight")

        # All of it at once: none is as if there were nothing.
        amount = page.get_by_role("slider", name="All of it")
        pressed(page, amount, "Home")
        eventually(page, lambda: np.array_equal(canvas_pixels(page), bare))
        pressed(page, amount, "End")
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), bare))

        # Light from a part: its reach by key, another part that gives it off.
        new_layer(page, "Light from a part")
        lit = canvas_pixels(page)
        pressed(page, page.get_by_role("slider", name="Reach"), "End")
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), lit))
        expect(page.get_by_test_id("layer-step")).to_contain_text("A step of")

        # Modes beside each other; one is chosen with the keyboard.
        page.get_by_role("button", name="Compare").click()
        modes = page.get_by_role("radiogroup", name="Modes on this picture").get_by_role("radio")
        expect(modes).to_have_count(17)
        expect(modes.and_(page.get_by_role("radio", name="screen"))).to_be_checked()
        adding = modes.and_(page.get_by_role("radio", name=re.compile("^plus-lighter")))
        adding.focus()
        pressed(page, adding, "Enter")
        expect(layers.filter(has_text="light given off")).to_contain_text("plus-lighter")
        expect(page.get_by_test_id("layer-step")).to_contain_text("runs out of range")
        unmarked = canvas_pixels(page)
        page.get_by_role("button", name="Where", exact=True).focus()
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), unmarked))  # a ring

        # Sparks about a place that is dragged, scattered anew.
        new_layer(page, "Sparks")
        scattered = canvas_pixels(page)
        before = revision(page)
        drag(page, page.get_by_role("slider", name="Middle of the sparks"), -70, 30)
        wait_for_change(page, before)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), scattered))
        before = revision(page)
        page.get_by_role("button", name="Scatter anew").click()
        wait_for_change(page, before)

        # A picture of one's own on the ground, blurred.
        new_layer(page, "Pattern or picture")
        tile = np.zeros((40, 60, 3), np.uint8)
        tile[:, ::2] = (30, 180, 60)
        before = revision(page)
        page.get_by_label("Picture to place").set_input_files(
            {"name": "tiles.png", "mimeType": "image/png", "buffer": png(tile)})
        wait_for_change(page, before)
        sharp = canvas_pixels(page)
        pressed(page, page.get_by_role("slider", name="Blurred"), "End")
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), sharp))

        # Colours along the form, towards the viewer.
        new_layer(page, "Colour along the form")
        along = canvas_pixels(page)
        before = revision(page)
        choose(page, "What the last colour faces", "Towards the viewer")
        wait_for_change(page, before)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), along))

        # A look has its own, until it has that of the piece again.
        piece_shown = canvas_pixels(page)
        page.keyboard.press("F8")
        page.get_by_role("button", name="New look").click()
        expect(page.get_by_role("textbox", name="Name of the look")).to_be_visible()
        page.keyboard.press("F7")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        page.get_by_role("combobox", name="Whose finish").click()
        page.get_by_role("option").nth(1).click()
        page.wait_for_selector("canvas[data-shown*=':look:k1:sharp']")
        pressed(page, page.get_by_role("slider", name="All of it"), "Home")
        eventually(page, lambda: np.array_equal(canvas_pixels(page), bare))
        before = revision(page)
        page.get_by_role("button", name="As the piece").click()
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), piece_shown))

        assert {"finish / sparks", "finish / light given off",
                "finish / turning colour"} <= set(delivered_as_seen(page))
        assert not problems
