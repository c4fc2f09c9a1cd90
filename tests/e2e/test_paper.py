"""Paper and press by pointer, keyboard and files; room around a drawing; printing."""

import io
import re
from typing import Any

import numpy as np
import pikepdf
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.e2e.page import download, eventually
from tests.e2e.test_time import bring, open_piece
from wardrobe.core.press.profile import coated


def delivery(page: Page, address: str, piece: int) -> dict[str, Any]:
    return dict(page.request.get(f"{address}/api/pieces/{piece}").json()["recipe"]["delivery"])


def test_a_picture_is_laid_on_paper_and_leaves_for_print(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Dock crane")
        open_piece(page, address, piece, "deliver")
        page.get_by_role("tab", name="Paper", exact=True).click()
        page.get_by_role("combobox", name="Paper").click()
        page.get_by_role("option", name="A5").click()
        eventually(page, lambda: delivery(page, address, piece)["paper"]["width"] == 148)
        for label, value in (("Bleed", "3"), ("Margin", "12")):
            page.get_by_label(label).fill(value)
            page.get_by_label(label).press("Enter")
        page.get_by_label("Marks that say where to cut").click()
        eventually(page, lambda: delivery(page, address, piece)["paper"]["marks"])
        # Moved with the pointer and the keyboard; what the sheet cuts off is said.
        sheet = page.locator("[data-sheet]").bounding_box()
        assert sheet
        mm = sheet["width"] / 148
        x, y = sheet["x"] + sheet["width"] / 2, sheet["y"] + sheet["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 60 * mm, y, steps=4)
        page.mouse.up()
        expect(page.get_by_text(re.compile("The sheet cuts off .* on the right"))).to_be_visible()
        page.keyboard.press("Shift+ArrowLeft")
        for _ in range(6):  # faster than the piece changes: none is lost
            page.keyboard.press("ArrowUp")
        eventually(page, lambda: abs(delivery(page, address, piece)["paper"]["placed"]["y"]
                                     - 99) < 0.6)
        placed = delivery(page, address, piece)["paper"]["placed"]
        assert placed["x"] == pytest.approx(124, abs=1)
        page.get_by_role("button", name="Fit it").click()
        eventually(page, lambda: delivery(page, address, piece)["paper"]["placed"] is None)
        page.keyboard.press("Control+Z")
        eventually(page, lambda: delivery(page, address, piece)["paper"]["placed"] == placed)
        page.keyboard.press("e")
        eventually(page, lambda: delivery(page, address, piece)["paper"]["placed"] is None)
        # A press of one's own, and how it will look.
        with page.expect_file_chooser() as chooser:
            page.get_by_role("button", name="Bring one in").click()
        chooser.value.set_files([{"name": "shop.icc", "mimeType": "application/octet-stream",
                                  "buffer": coated().data}])  # type: ignore[list-item]
        eventually(page, lambda: delivery(page, address, piece)["press"]["profile"] is not None)
        page.get_by_role("radio", name="As printed").click()
        expect(page.get_by_text("simulated on the screen")).to_be_visible()
        with pikepdf.open(io.BytesIO(download(page, "Deliver PDF for print"))) as pdf:
            box = [float(v) / 72 * 25.4 for v in pdf.pages[0].TrimBox]  # type: ignore[arg-type]
            assert box[2] - box[0] == pytest.approx(148, abs=0.01)
            assert box[3] - box[1] == pytest.approx(210, abs=0.01)
        # The browser prints the sheet at its true size.
        page.goto(f"{address}/piece/{piece}/print")
        page.wait_for_function(
            "() => { const i = document.querySelector('[data-testid=print] img');"
            " return i && i.complete && i.naturalWidth > 0; }")
        with pikepdf.open(io.BytesIO(page.pdf(prefer_css_page_size=True,
                                              print_background=True))) as pdf:
            assert len(pdf.pages) == 1
            width, height = (float(v) / 72 * 25.4 for v in pdf.pages[0].MediaBox[2:])
            assert (width, height) == pytest.approx((148 + 16, 210 + 16), abs=0.5)


def test_room_is_given_around_a_drawing(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Sail")
        open_piece(page, address, piece, "lines")
        before = page.request.get(f"{address}/api/pieces/{piece}").json()
        page.get_by_role("tab", name="Frame").click()
        page.get_by_label("Left", exact=True).fill("40")
        page.get_by_label("Below", exact=True).fill("60")
        page.get_by_role("button", name="Give room").click()
        width, height = before["width"] + 40, before["height"] + 60
        eventually(page, lambda: page.request.get(f"{address}/api/pieces/{piece}").json()["width"]
                   == width)
        png = page.request.get(f"{address}/api/pieces/{piece}/picture?x=0&y=0&width={width}"
                               f"&height={height}&scale=1&kind=lines").body()
        lines = np.asarray(Image.open(io.BytesIO(png)).convert("L"))
        assert lines.shape == (height, width)
        assert (lines[:, :36] > 250).all() and (lines[before["height"] + 4:] > 250).all()
        page.get_by_label("Left", exact=True).fill("-40")
        page.get_by_label("Below", exact=True).fill("-60")
        page.get_by_label("Below", exact=True).press("Enter")
        eventually(page, lambda: page.request.get(f"{address}/api/pieces/{piece}").json()["width"]
                   == before["width"])


def test_stickers_are_of_the_looks_that_are_chosen(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Tug boat")
        now = page.request.get(f"{address}/api/pieces/{piece}").json()
        for name in ("Dusk", "Fog"):
            now = page.request.post(f"{address}/api/pieces/{piece}/edits", data={
                "seen": now["revision"], "edit": {"kind": "add_look", "name": name}}).json()
        open_piece(page, address, piece, "deliver")
        page.get_by_role("tab", name="Paper", exact=True).click()
        looks = page.get_by_role("group", name="Looks on the sheet")
        expect(looks.get_by_role("button")).to_have_count(3)
        shapes = [len(re.findall(rb"<path", download(page, "Deliver Cut lines, SVG")))]
        looks.get_by_role("button", name="Fog").click()
        looks.get_by_role("button", name="The piece").click()
        expect(page.get_by_text("once for each of 1 look,")).to_be_visible()
        shapes.append(len(re.findall(rb"<path", download(page, "Deliver Cut lines, SVG"))))
        assert shapes[0] == 3 * shapes[1] > 0
        # None is no sheet.
        looks.get_by_role("button", name="Dusk").click()
        expect(page.get_by_role("button", name="Deliver Cut lines, SVG")).to_be_disabled()
