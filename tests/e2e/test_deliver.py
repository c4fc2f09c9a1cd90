"""The step Deliver: the section, what it lights up, files out, and files that come back."""

import io
import re
import zipfile
from dataclasses import replace

import cv2
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
    wait_for_change,
)
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Layer, Tint, mapped


def start(page: Page, address: str, name: str) -> None:
    page.goto(address)
    drop_file(page, f"{name}.png", png(transparent(figure_ink())))
    page.get_by_role("dialog").get_by_role("button", name="Start").click()
    page.wait_for_url(re.compile(r"/piece/\d+/parts"))
    page.wait_for_selector(SHARP)
    page.keyboard.press("F10")
    page.wait_for_selector("[data-layer]")
    page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
    page.wait_for_load_state("networkidle")


def block(page: Page, name: str) -> Locator:
    """A layer in the section."""
    return page.locator(f'[data-layer][aria-label="{name}"], [data-layer][aria-label^="{name},"]')


def test_the_section_its_arrangements_and_what_it_lights_up(address: str) -> None:
    with browser_page() as page:
        start(page, address, "dressed")
        expect(block(page, "part 1 / shade")).to_have_attribute(
            "aria-label", re.compile("multiply 72 %, clipped to part 1 / base"))
        heading = page.get_by_role("heading", name="Deliver", level=1)
        heading.hover()
        expect(page.get_by_text("Point at a layer")).to_be_visible()
        page.wait_for_timeout(300)
        plain = canvas_pixels(page)[..., :3].astype(int)
        block(page, "part 1 / base").hover()
        # All gets darker but for what is on the layer.
        eventually(page, lambda: (canvas_pixels(page)[..., :3] < plain - 30).any(-1).mean() > 0.3)
        lit = canvas_pixels(page)[..., :3].astype(int)
        same = (np.abs(lit - plain) <= 2).all(-1)
        picture = (plain != plain[2, 2]).any(-1)
        assert 0.1 < (same & picture).sum() / picture.sum() < 0.7
        heading.hover()
        eventually(page, lambda: bool((np.abs(
            canvas_pixels(page)[..., :3].astype(int) - plain) <= 2).mean() > 0.999))

        before = revision(page)
        page.get_by_role("radio", name="Whole figure").click()
        wait_for_change(page, before)
        expect(block(page, "figure / shade")).to_be_visible()
        page.get_by_role("button", name="Check the stack").click()
        expect(page.get_by_text("The stack is in order")).to_be_visible()

        # Names, an empty layer, a template; then all of it undone.
        page.keyboard.press("t")
        pattern = page.get_by_role("textbox", name="Pattern")
        pattern.fill("{oops}")
        expect(page.get_by_text("one of the first two is needed")).to_be_visible()
        before = revision(page)
        pattern.fill("{pass} of {part}")
        # One at once after the other: the second must not take the first one back.
        pattern.press("Enter")
        page.get_by_role("textbox", name="Name of a new one").fill("blush")
        page.keyboard.press("Enter")
        wait_for_change(page, before)
        expect(page.get_by_role("list", name="Empty layers")).to_contain_text("blush")
        page.get_by_role("textbox", name="Keep this piece’s as").fill("mine")
        page.keyboard.press("Enter")
        expect(page.get_by_role("list", name="Stack templates")).to_contain_text("mine")
        page.get_by_role("tab", name="Stack", exact=True).click()
        expect(block(page, "shade of figure")).to_be_visible()
        expect(block(page, "blush of figure")).to_have_attribute("aria-label", re.compile("empty"))
        for _ in range(3):
            before = revision(page)
            page.keyboard.press("Control+z")
            wait_for_change(page, before)
        expect(block(page, "part 1 / shade")).to_be_visible()
        before = revision(page)
        page.get_by_role("tab", name="Set up").click()
        page.get_by_role("button", name="Use", exact=True).click()
        wait_for_change(page, before)
        page.get_by_role("tab", name="Stack", exact=True).click()
        expect(block(page, "blush of figure")).to_be_visible()


def painted(data: bytes) -> tuple[bytes, np.ndarray]:
    """The file with a disk painted into a shade, a new base colour, and a nameless layer."""
    stack = read_openraster(io.BytesIO(data)).stack
    mask = np.zeros((480, 480), np.uint8)

    def change(layer: Layer) -> Layer:
        if layer.name == "part 1 / base":
            base = np.zeros((480, 480), np.uint8)
            base[layer.y:layer.y + layer.shape[0], layer.x:layer.x + layer.shape[1]] = layer.alpha
            disk = np.zeros_like(base)
            ys, xs = np.nonzero(base)
            cv2.circle(disk, (int(np.median(xs)), int(np.median(ys))), 40, 255, -1)
            mask[:] = np.minimum(base, disk)
        if layer.name == "part 1 / shade":
            return replace(layer, paint=Tint(mask, (166, 133, 173)), x=0, y=0, mode="multiply")
        if layer.name == "part 2 / base":
            return replace(layer, paint=Tint(layer.alpha, (200, 40, 60)))
        return replace(layer, name="Layer 9") if layer.name == "part 3 / base" else layer

    changed = mapped(stack, change)
    out = io.BytesIO()
    write_openraster(out, changed, flatten(changed))
    return out.getvalue(), mask


def test_a_file_goes_out_is_painted_on_and_comes_back(address: str) -> None:
    with browser_page() as page:
        problems: list[str] = []
        page.on("pageerror", lambda error: problems.append(str(error)))
        start(page, address, "returned")
        piece_at = page.url
        before = revision(page)
        page.get_by_role("tab", name="Set up").click()
        page.get_by_role("radio", name="Live, by a mask").click()
        wait_for_change(page, before)
        ora = deliver(page, "OpenRaster")
        theirs = np.asarray(pyora.Project.load(io.BytesIO(ora)).get_image_data(
            use_original=False).convert("RGB"))
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))))
        assert np.abs(theirs.astype(int) - flat).max() <= 1
        layers = zipfile.ZipFile(io.BytesIO(deliver(page, "Layers as PNG")))
        assert "manifest.json" in layers.namelist()

        data, mask = painted(ora)
        page.get_by_role("tab", name="Take back").click()
        drop_file(page, "painted_elsewhere.ora", data, "section[aria-label='Take back']")
        page.wait_for_url(re.compile(r"/layered/\d+$"))
        findings = page.get_by_role("list", name="Findings")
        expect(findings).to_contain_text("Layer 9")
        page.get_by_role("button", name=re.compile("Repair all")).click()
        expect(page.get_by_text("painted elsewhere, repaired")).to_be_visible()
        expect(page.get_by_text("The stack is in order")).to_be_visible()

        page.get_by_role("tab", name="Take over").click()
        rows = page.get_by_role("list", name="Layers and what they are")
        expect(rows).to_contain_text("part 1 / shade")
        page.get_by_role("button", name="Take over").last.click()
        came = page.get_by_role("list", name="What is another now")
        expect(came).to_contain_text("“part 2” is #c8283c now.")
        expect(came).to_contain_text(re.compile(r"\d+ touch-ups? (was|were) made"))
        page.goto(piece_at)
        page.wait_for_selector(SHARP)
        after = read_openraster(io.BytesIO(deliver(page, "OpenRaster"))).stack
        shade = next(x for x in after.layers() if x.name == "part 1 / shade")
        got = np.zeros((480, 480), bool)
        got[shade.y:shade.y + shade.shape[0], shade.x:shade.x + shade.shape[1]] = shade.alpha > 127
        body = next(x for x in after.layers() if x.name == "part 1 / base")
        inside = np.zeros((480, 480), bool)  # a mask lets a shade bleed beyond its base
        inside[body.y:body.y + body.shape[0], body.x:body.x + body.shape[1]] = body.alpha > 127
        inside = cv2.erode(inside.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
        assert (got & inside & (mask > 127)).sum() > 0.97 * (inside & (mask > 127)).sum()
        assert (got & inside & (mask == 0)).sum() < 0.03 * inside.sum()
        assert problems == []


def repainted(data: bytes) -> bytes:
    """The file with the head's area on another flat, half the body painted over, and a veil."""
    stack = read_openraster(io.BytesIO(data)).stack
    shapes = {}
    for layer in stack.layers():
        shapes[layer.name] = np.zeros((480, 480), np.uint8)
        shapes[layer.name][layer.y:layer.y + layer.shape[0],
                           layer.x:layer.x + layer.shape[1]] = layer.alpha

    def change(layer: Layer) -> Layer:
        if layer.name == "part 1 / base":
            both = np.maximum(shapes["part 1 / base"], shapes["part 2 / base"])
            return replace(layer, paint=Tint(both, (160, 90, 60)), x=0, y=0)
        if layer.name in ("part 2 / base", "part 2 / shade", "part 2 / deep shade"):
            return replace(layer, paint=Tint(np.zeros((1, 1), np.uint8), (0, 0, 0)))
        return layer

    changed = mapped(stack, change)
    veil = np.zeros((480, 480), np.uint8)
    cv2.circle(veil, (200, 330), 60, 160, -1)
    changed = replace(changed, nodes=[*changed.nodes,
                                      Layer("veil", Tint(veil, (40, 60, 140)), mode="overlay")])
    out = io.BytesIO()
    write_openraster(out, changed, flatten(changed))
    return out.getvalue()


def test_repainted_flats_and_new_layers_come_home_and_are_undone(address: str) -> None:
    with browser_page() as page:
        start(page, address, "repainted")
        piece_at = page.url
        file = repainted(deliver(page, "OpenRaster"))
        page.get_by_role("tab", name="Take back").click()
        drop_file(page, "repainted.ora", file, "section[aria-label='Take back']")
        page.wait_for_url(re.compile(r"/layered/\d+$"))
        page.get_by_role("tab", name="Take over").click()
        rows = page.get_by_role("list", name="Layers and what they are")
        expect(rows).to_contain_text("other areas")
        expect(rows).to_contain_text("new, comes as a layer of the finish")
        page.get_by_role("button", name="Take over").last.click()
        came = page.get_by_role("list", name="What is another now")
        expect(came).to_contain_text(re.compile(r"1 area of “part 2” \([\d,]+ px\): now “part 1”."))
        expect(came).to_contain_text("“part 1” is #a05a3c now.")
        expect(came).to_contain_text("“veil” is a new layer.")
        # What is left is kept on wish, and then the pictures are the same.
        page.get_by_role("button", name="Keep them as a layer").click()
        expect(page.get_by_text("The piece is the file’s picture")).to_be_visible()
        page.goto(piece_at)
        page.wait_for_selector(SHARP)
        flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB")).astype(int)
        wanted = flatten(read_openraster(io.BytesIO(file)).stack)[..., :3].astype(int)
        assert np.abs(flat - wanted).max() <= 1
        for _ in range(2):
            before = revision(page)
            page.keyboard.press("Control+z")
            wait_for_change(page, before)
        page.get_by_role("tab", name="Stack", exact=True).click()
        expect(block(page, "part 2 / base")).to_be_visible()

        # A file that is removed can be had again.
        page.goto(address)
        page.get_by_role("button", name="Remove repainted").click()
        expect(page.get_by_role("button", name="Remove repainted")).to_have_count(0)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_role("button", name="Remove repainted")).to_be_visible()


def test_a_layered_file_and_an_archive_are_brought_in_at_home(address: str) -> None:
    with browser_page() as page:
        start(page, address, "travelled")
        ora = deliver(page, "OpenRaster")
        archive = deliver(page, "Archive of the piece")
        page.goto(address)
        drop_file(page, "broken.ora", b"no stack")
        expect(page.get_by_role("alert")).to_contain_text("not an OpenRaster file")
        page.get_by_role("dialog").get_by_role("button", name="Close").click()
        drop_file(page, "from_elsewhere.ora", ora)
        page.wait_for_url(re.compile(r"/layered/\d+$"))
        expect(page.get_by_text("The stack is in order")).to_be_visible()
        page.get_by_role("tab", name="Take over").click()
        page.get_by_role("button", name="Begin a piece").click()
        page.wait_for_url(re.compile(r"/piece/\d+/parts"))
        expect(page.get_by_role("row", name=re.compile("^part 1"))).to_be_visible()
        page.goto(address)
        drop_file(page, "travelled-archive.zip", archive)
        page.wait_for_url(re.compile(r"/piece/\d+"))
        expect(page.get_by_role("button", name="Undo")).to_be_enabled()
        page.goto(address)
        expect(page.get_by_role("link", name="Open travelled")).to_have_count(2)
