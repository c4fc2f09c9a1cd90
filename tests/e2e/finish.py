"""Steps in Finish that its tests have in common."""

import io
import re

import numpy as np
import pyora
from PIL import Image
from playwright.sync_api import Locator, Page, expect

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


def pressed(page: Page, what: Locator, key: str) -> None:
    before = revision(page)
    what.press(key)
    wait_for_change(page, before)


def delivered_as_seen(page: Page) -> dict[str, pyora.Layer]:
    """Deliver PNG and OpenRaster: the picture on the screen at actual size is the flat one; the
    layers that an independent reader finds, by name."""
    page.keyboard.press("F10")
    page.wait_for_selector("[data-layer]")
    flat = np.asarray(Image.open(io.BytesIO(deliver(page, "PNG"))).convert("RGB"))
    project = pyora.Project.load(io.BytesIO(deliver(page, "OpenRaster")))
    page.keyboard.press("F7")
    page.wait_for_selector("canvas[data-shown$=':picture:sharp']")
    page.keyboard.press("1")
    page.wait_for_selector("canvas[data-zoom='1']")
    eventually(page, lambda: shows(canvas_pixels(page), flat))
    return {layer.name: layer for layer in project.children_recursive}
