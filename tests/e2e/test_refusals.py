"""What a person sees of a file that is refused, and of one that is cancelled."""

import shutil
from pathlib import Path

from playwright.sync_api import expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, on_white, png
from tests.e2e.page import SHARP, drop_file
from tests.torture.machine import Machine
from tests.torture.uploads import hostile


def test_a_drawing_that_asks_for_minutes_is_refused_in_words_and_can_be_cancelled(
        address: str) -> None:
    with browser_page() as page:
        page.goto(address)
        drop_file(page, "endless.svg", hostile()["svg noise"])
        start = page.get_by_role("button", name="Start")
        start.click()
        expect(page.get_by_text("Reading the file")).to_be_visible()
        # Others are answered meanwhile.
        assert page.evaluate("fetch('/api/pieces').then(r => r.status)") == 200
        page.get_by_role("button", name="Cancel").click()
        expect(start).to_be_enabled()
        start.click()
        told = page.get_by_role("alert")
        expect(told).to_contain_text("given up after")
        expect(told).to_contain_text("Nothing was saved")
        page.get_by_role("button", name="Cancel").click()
        expect(page.get_by_role("dialog")).to_have_count(0)
        drop_file(page, "figure.png", png(on_white(figure_ink(300))))
        start.click()
        page.wait_for_url("**/parts")
        expect(page.get_by_test_id("picture")).to_be_visible()


def test_a_name_that_does_not_show_is_refused_where_it_was_typed(address: str) -> None:
    with browser_page() as page:
        page.goto(address)
        drop_file(page, "figure.png", png(on_white(figure_ink(300))))
        page.get_by_role("textbox", name="Title").fill("Kite \u202e reversed")
        page.get_by_role("button", name="Start").click()
        expect(page.get_by_role("alert")).to_contain_text("characters that do not show")
        page.get_by_role("textbox", name="Title").fill("  Kite   runner ")
        page.get_by_role("button", name="Start").click()
        page.wait_for_url("**/parts")
        page.goto(address)
        expect(page.get_by_text("Kite runner", exact=True)).to_be_visible()


def test_a_piece_whose_drawing_is_gone_says_so_and_the_others_stay(tmp_path: Path) -> None:
    machine = Machine(tmp_path / "data")
    machine.start()
    lost, kept = (machine.new_piece(png(on_white(figure_ink(size))), f"Figure {size}")
                  for size in (310, 320))
    machine.stop()
    source = lost["recipe"]["source"]["asset"]
    (machine.folder / "assets" / source[:2] / source).unlink()
    shutil.rmtree(machine.folder / "artefacts")
    machine.start()
    with browser_page() as page:
        page.goto(machine.url)
        expect(page.get_by_text("not in the data folder any more")).to_have_count(1)
        page.get_by_role("link", name="Open Figure 310").click()
        expect(page.get_by_text("put the file back from a copy").first).to_be_visible()
        page.goto(f"{machine.url}/piece/{kept['id']}/colour")
        page.wait_for_selector(SHARP)
    machine.stop()
