"""The step Finish: layers laid on, dragged, drawn, ordered, and delivered as they are seen."""

import io
import re

import numpy as np
import pyora
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, png, transparent
from tests.e2e.page import (
    SHARP,
    canvas_pixels,
    deliver,
    drop_file,
    eventually,
    revision,
    shows,
    wait_for_change,
)


def start(page: Page, address: str) -> None:
    page.goto(address)
    drop_file(page, "lantern.png", png(transparent(figure_ink(900))))
    page.get_by_role("dialog").get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"))
    page.wait_for_selector(SHARP)
    page.keyboard.press("F7")
    page.wait_for_selector("canvas[data-shown$=':picture:sharp']")


def drag(page: Page, what: Locator, dx: float, dy: float) -> None:
    box = what.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=6)
    page.mouse.up()


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label).click()
    page.get_by_role("option", name=option, exact=True).click()
    expect(page.locator(".MuiMenu-root")).to_have_count(0)


def new_layer(page: Page, name: str) -> None:
    before = revision(page)
    page.get_by_role("button", name="New layer").click()
    page.get_by_role("menuitem", name=name).click()
    wait_for_change(page, before)
    expect(page.locator(".MuiMenu-root")).to_have_count(0)  # it fades away


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

        # Delivered as it is seen: an independent OpenRaster reader finds the layers by name.
        page.keyboard.press("F9")
        page.wait_for_selector("[data-layer]")
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB"))
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        found = {layer.name: layer for layer in project.children_recursive}
        assert {"background / sky", "finish / spot", "finish / glow",
                "finish / paper"} <= set(found)
        assert found["finish / spot"].composite_op == "svg:soft-light"
        page.keyboard.press("F7")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        page.keyboard.press("1")
        page.wait_for_selector("canvas[data-zoom='1']")
        eventually(page, lambda: shows(canvas_pixels(page), flat))

        # Taken off by key; nothing is left of it.
        page.get_by_role("row", name="glow").focus()
        page.keyboard.press("Delete")
        expect(layers).to_have_count(3)
        assert not problems


def pressed(page: Page, what: Locator, key: str) -> None:
    before = revision(page)
    what.press(key)
    wait_for_change(page, before)


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
        page.get_by_role("button", name="Where", exact=True).focus()

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

        # Delivered as it is seen.
        page.keyboard.press("F9")
        page.wait_for_selector("[data-layer]")
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB"))
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        assert {"finish / sparks", "finish / light given off", "finish / turning colour"} <= {
            layer.name for layer in project.children_recursive}
        page.keyboard.press("F7")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        page.keyboard.press("1")
        page.wait_for_selector("canvas[data-zoom='1']")
        eventually(page, lambda: shows(canvas_pixels(page), flat))
        assert not problems


def test_lines_take_colour_one_is_chosen_and_mended(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address)
        page.keyboard.press("t")
        expect(page.get_by_role("tab", name="Lines")).to_have_attribute("aria-selected", "true")
        lines = page.get_by_role("list", name="Lines").get_by_role("listitem")
        expect(lines.first).to_be_visible()
        bare = canvas_pixels(page)

        # Switched on, every line takes a colour, and stands off its sides.
        before = revision(page)
        page.get_by_label("Coloured lines").check()
        wait_for_change(page, before)
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        eventually(page, lambda: (canvas_pixels(page) != bare).any(-1).sum() > 1000)
        expect(page.get_by_text("Every line stands off both of its sides")).to_be_visible()
        coloured = canvas_pixels(page)

        # A rail shows while it is dragged, and is one change.
        before = revision(page)
        page.get_by_role("slider", name="Value").press("End")
        wait_for_change(page, before)
        eventually(page, lambda: canvas_pixels(page)[..., :3].mean() > coloured[..., :3].mean())
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # One material has a rule of its own, until it goes as all do.
        page.get_by_role("combobox", name="Lines of which material").click()
        page.get_by_role("option").nth(1).click()
        before = revision(page)
        page.get_by_role("slider", name="Chroma").press("Home")
        wait_for_change(page, before)
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), coloured))
        before = revision(page)
        page.get_by_role("button", name="As all").click()
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # The colour of a line is chosen: one that cannot be seen, ringed and mended.
        field = page.get_by_role("button", name=re.compile("^Lines of .* on the ground: ")).first
        base = page.evaluate("""async () => (await (await fetch(location.pathname
            .replace('/piece/', '/api/pieces/').replace('/finish', ''))).json())
            .recipe.background""")
        before = revision(page)
        field.click()
        page.get_by_label("Hex or name").fill(base)
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        expect(page.get_by_text("ringed in the picture")).to_be_visible()
        expect(lines.first).to_contain_text("faint")
        expect(page.get_by_role("button", name=re.compile("^By the rule: "))).to_have_count(1)
        before = revision(page)
        page.get_by_role("button", name="Mend it").click()
        wait_for_change(page, before)
        expect(page.get_by_text("Every line stands off both of its sides")).to_be_visible()

        # Back to the rule.
        before = revision(page)
        page.get_by_role("button", name=re.compile("^By the rule: ")).click()
        wait_for_change(page, before)
        page.mouse.move(5, 400)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # The drawing as it is, instead of its lines; tinted.
        before = revision(page)
        page.get_by_role("radio", name="The drawing as it is").click()
        wait_for_change(page, before)
        expect(page.get_by_text("with every tone that it has")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Black becomes: ")).click()
        page.get_by_label("Hex or name").fill("#802010")
        before = revision(page)
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        eventually(page, lambda: not np.array_equal(canvas_pixels(page), coloured))
        before = revision(page)
        page.get_by_role("radio", name="Its lines").click()
        wait_for_change(page, before)
        eventually(page, lambda: np.array_equal(canvas_pixels(page), coloured))

        # In the file, the colour is a layer clipped to the ink.
        page.keyboard.press("F9")
        page.wait_for_selector("[data-layer]")
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB"))
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        found = {layer.name: layer for layer in project.children_recursive}
        assert found["lines / colour"].composite_op == "svg:src-atop"
        assert found["lines / ink"].composite_op == "svg:src-over"
        # Or each part has its lines in a layer of its own.
        page.get_by_role("tab", name="Set up").click()
        page.get_by_label("A layer of lines for each part that owns some").click()
        expect(page.get_by_label("A layer of lines for each part that owns some")).to_be_checked()
        page.get_by_role("tab", name="Stack").click()
        page.wait_for_selector("[data-layer]")
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        names = [layer.name for layer in project.children_recursive]
        assert "part 1 / lines" in names and "part 1 / lines colour" in names
        assert "lines / ink" not in names
        page.keyboard.press("F7")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        page.keyboard.press("1")
        page.wait_for_selector("canvas[data-zoom='1']")
        eventually(page, lambda: shows(canvas_pixels(page), flat))
        assert not problems


def test_a_pass_is_drawn_in_ink_and_delivered(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address)
        page.get_by_role("tab", name="Shade in ink").click()
        expect(page.get_by_text("Nothing is drawn in ink yet")).to_be_visible()
        bare = canvas_pixels(page)
        before = revision(page)
        page.get_by_role("button", name="Draw a pass in ink").click()
        wait_for_change(page, before)
        listed = page.get_by_role("list", name="Passes in ink").get_by_role("listitem")
        expect(listed).to_have_text(re.compile("Shade as crossed lines across the form, .* px"))
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        eventually(page, lambda: (canvas_pixels(page) != bare).any(-1).sum() > 500)

        # Dots instead, larger by key, on one part, in another ink.
        before = revision(page)
        page.get_by_role("radio", name="Dots").click()
        wait_for_change(page, before)
        expect(page.get_by_role("radiogroup", name="How lines run")).to_have_count(0)
        before = revision(page)
        page.get_by_role("slider", name="Spacing").press("PageUp")
        wait_for_change(page, before)
        # As printers say it: 300 px an inch are 118 a cm; nonsense is told and dropped.
        ruling = page.get_by_role("textbox", name="Lines a cm")
        ruling.fill("200")
        expect(page.get_by_text(re.compile("At 300 px an inch from 0.3 to 59"))).to_be_visible()
        ruling.press("Escape")
        before = revision(page)
        ruling.fill("11,8")
        ruling.press("Enter")
        wait_for_change(page, before)
        expect(listed).to_contain_text("10 px")
        before = revision(page)
        page.get_by_role("combobox", name="Parts it is drawn on").click()
        page.get_by_role("option").first.click()
        page.keyboard.press("Escape")
        wait_for_change(page, before)
        before = revision(page)
        page.get_by_role("button", name=re.compile("^Ink: ")).click()
        page.get_by_label("Hex or name").fill("#204080")
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        page.keyboard.press("Escape")
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")

        page.keyboard.press("F9")
        page.wait_for_selector("[data-layer]")
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB"))
        assert (flat == (0x20, 0x40, 0x80)).all(-1).any()
        project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
        assert "lines / shade in ink" in {n.name for n in project.children_recursive}
        page.keyboard.press("F7")
        page.get_by_role("tab", name="Shade in ink").click()
        page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
        inked = canvas_pixels(page)
        before = revision(page)
        page.get_by_role("button", name="Take off Shade in ink").click()
        wait_for_change(page, before)
        expect(page.get_by_text("Nothing is drawn in ink yet")).to_be_visible()
        eventually(page, lambda: (canvas_pixels(page) != inked).any(-1).sum() > 100)
        assert not problems
