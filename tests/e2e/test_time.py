"""Plans, the clock, rounds, the board, the log and replays, by pointer and keyboard."""

import csv
import io
import re
import time
from datetime import date, timedelta
from typing import Any

import av
from playwright.sync_api import Page, expect

from tests.chromium import browser_page
from tests.drawings import figure_ink, png, transparent
from tests.e2e.page import SHARP, download, eventually, revision, wait_for_change


def bring(page: Page, address: str, title: str) -> int:
    """A piece, without going through the screens."""
    job = page.request.post(f"{address}/api/pieces", multipart={
        "file": {"name": "a.png", "mimeType": "image/png",
                 "buffer": png(transparent(figure_ink(320)))}, "title": title}).json()
    for _ in range(400):
        job = page.request.get(f"{address}/api/jobs/{job['id']}").json()
        if job["state"] == "done":
            return int(job["piece"])
        page.wait_for_timeout(100)
    raise AssertionError(job)


def open_piece(page: Page, address: str, piece: int, step: str = "colour") -> None:
    page.goto(f"{address}/piece/{piece}/{step}")
    page.wait_for_selector(SHARP)


def clock(page: Page, address: str, piece: int) -> Any:
    return page.request.get(f"{address}/api/pieces/{piece}/clock").json()


def test_the_plan_is_dragged_on_the_tape_and_told_in_words(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Lantern")
        open_piece(page, address, piece)
        seam = page.get_by_role("separator", name="Minutes between Parts and Colour")
        before = clock(page, address, piece)["plan"]["minutes"]
        box = seam.bounding_box()
        assert box
        page.mouse.move(box["x"] + 7, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] - 60, box["y"] + 20, steps=4)
        page.mouse.up()
        eventually(page, lambda: clock(page, address, piece)["plan"]["minutes"] != before)
        after = clock(page, address, piece)["plan"]["minutes"]
        assert after["parts"] < before["parts"] and after["colour"] > before["colour"]
        assert abs(sum(after.values()) - sum(before.values())) < 1e-6
        seam.focus()
        page.keyboard.press("ArrowRight")
        eventually(page, lambda: clock(page, address, piece)["plan"]["minutes"]["parts"]
                   == after["parts"] + 1)

        page.get_by_title("Plan, time and breaks").click()
        panel = page.get_by_role("dialog", name="Plan and time")
        panel.get_by_role("radio", name="Plan").click()
        panel.get_by_label("Begin from").click()
        page.get_by_role("option", name="Seven-minute sitter").click()
        expect(panel.get_by_label("Parts", exact=True)).to_have_value("2")
        panel.get_by_label("For whom or what").fill("Harbour fair")
        panel.get_by_label("For whom or what").press("Enter")
        day = (date.today() + timedelta(days=2)).isoformat()
        panel.get_by_label("Due").fill(day)
        panel.get_by_label("Due").blur()
        eventually(page, lambda: clock(page, address, piece)["plan"]["due"] == day)
        expect(panel.get_by_role("region", name="Estimate")).to_contain_text("Rests on the plan")
        panel.get_by_role("button", name="finish earlier").click()
        eventually(page, lambda: clock(page, address, piece)["plan"]["leave_out"][1] == "finish")
        panel.get_by_label("Light", exact=True).fill("3.5")
        panel.get_by_label("Light", exact=True).press("Enter")
        panel.get_by_label("Keep this plan as").fill("Fair day")
        page.keyboard.press("Enter")
        expect(panel.get_by_label("Begin from")).to_contain_text("Fair day")

        # Time that was spent elsewhere makes it late; what could be left out is told.
        panel.get_by_role("radio", name="Sittings").click()
        panel.get_by_label("Minutes", exact=True).fill("7")
        panel.get_by_label("Where, what").fill("on paper")
        panel.get_by_role("button", name="Enter").click()
        row = panel.get_by_role("listitem").filter(has_text="on paper")
        row.get_by_role("button", name="Correct").click()
        panel.get_by_label("Really, min").fill("5")
        page.keyboard.press("Enter")
        expect(row).to_contain_text("counted 7 min")
        panel.get_by_role("radio", name="Now").click()
        expect(panel.get_by_role("status")).to_contain_text(re.compile("behind; .*highlights"))
        panel.get_by_role("radio", name="Breaks").click()
        expect(panel.get_by_text("pain that stays is for a clinician")).to_be_visible()
        panel.get_by_role("slider", name="Minutes between breaks, Eyes").fill("0")
        expect(panel.get_by_text("never told")).to_be_visible()
        page.keyboard.press("Escape")
        expect(panel).to_be_hidden()


def test_the_clock_counts_once_in_two_windows_and_stops_when_told(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Two windows")
        began = time.monotonic()
        open_piece(page, address, piece)
        page.keyboard.press("Shift+C")
        large = page.get_by_role("region", name="Large clock")
        digits = large.get_by_role("timer").first
        box = digits.bounding_box()
        assert box and box["height"] >= 70  # read from two metres
        first = digits.inner_text()
        eventually(page, lambda: digits.inner_text() != first)
        other = page.context.new_page()
        open_piece(other, address, piece)
        for _ in range(14):
            page.mouse.move(300, 300)
            other.mouse.move(300, 310)
            other.wait_for_timeout(1000)
        other.close()
        page.bring_to_front()
        page.goto(address)  # leaving tells the rest
        page.wait_for_timeout(800)
        passed = time.monotonic() - began
        spent = sum(clock(page, address, piece)["spent"].values()) * 60
        assert passed - 20 <= spent <= passed + 1  # once, not twice

        open_piece(page, address, piece)
        page.keyboard.press("Shift+P")
        expect(large).to_contain_text("The clock is stopped.")
        page.wait_for_timeout(2000)  # what was counted until then is told
        before = clock(page, address, piece)["spent"]
        page.wait_for_timeout(11_000)
        assert clock(page, address, piece)["spent"] == before
        page.keyboard.press("Shift+P")
        expect(large).not_to_contain_text("stopped")
        page.keyboard.press("Shift+C")
        expect(large).to_be_hidden()


def test_rounds_are_kept_and_changes_after_an_approval_are_listed(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Bell tower")
        open_piece(page, address, piece, "deliver")
        page.get_by_role("tab", name="Files", exact=True).click()
        assert download(page, "Deliver PNG").startswith(b"\x89PNG")
        page.get_by_role("tab", name="Rounds").click()
        page.get_by_role("checkbox", name=re.compile("bell-tower.png")).check()
        page.get_by_label("To whom").fill("Ada")
        page.get_by_role("button", name="It went out").click()
        rounds = page.get_by_role("list", name="Rounds so far").get_by_test_id("round")
        expect(rounds.first).to_contain_text("Sent to Ada, 1 file")
        expect(page.get_by_role("status").filter(has_text="Sent")).to_be_visible()
        page.get_by_label("Who", exact=True).fill("Ada")
        page.get_by_label("In their words").fill("lovely")
        page.get_by_role("button", name="They approve").click()
        expect(rounds.first).to_contain_text("The colours: approved by Ada")
        expect(rounds.first).to_contain_text("Nothing has changed since.")

        # A change is listed against it, and taken back again; the approval is not.
        now = page.request.get(f"{address}/api/pieces/{piece}").json()
        part = now["recipe"]["parts"][0]
        answer = page.request.post(f"{address}/api/pieces/{piece}/edits", data={
            "seen": now["revision"],
            "edit": {"kind": "change_part", "part": part["id"], "base": "#203a8f"}})
        assert answer.ok
        page.reload()
        page.wait_for_selector(SHARP)
        page.get_by_role("tab", name="Rounds").click()
        changed = rounds.first.get_by_role("list", name="Changed since")
        expect(changed).to_contain_text(part["name"])
        before = revision(page)
        page.keyboard.press("Control+z")
        wait_for_change(page, before)
        expect(rounds.first).to_contain_text("Nothing has changed since.")
        expect(rounds.first).to_contain_text("approved by Ada")
        page.get_by_role("button", name="It is done").click()
        expect(page.get_by_role("button", name="Take it up again")).to_be_visible()


def test_the_board_finds_sorts_and_files_many_at_once(address: str) -> None:
    with browser_page() as page:
        pieces = [bring(page, address, f"Quay {k}") for k in range(3)]
        for k, piece in enumerate(pieces):
            plan = clock(page, address, piece)["plan"]
            plan["due"] = (date.today() + timedelta(days=(3, -1, 20)[k])).isoformat()
            assert page.request.post(f"{address}/api/pieces/{piece}/events", data=plan).ok
        page.goto(address)
        page.get_by_label("Find").fill("quay")
        tiles = page.get_by_role("article").filter(has_text="Quay")
        expect(tiles).to_have_count(3)
        # What is due first is next, and says how late it is.
        expect(tiles.first).to_contain_text("Quay 1")
        expect(tiles.first).to_contain_text("1 day late")
        expect(page.get_by_text("cannot be done in time")).to_be_visible()
        page.get_by_role("combobox", name="Order").click()
        page.get_by_role("option", name="By date").click()
        expect(page.get_by_role("heading", name=re.compile(r"^Late \d"))).to_be_visible()
        expect(page.get_by_role("heading", name=re.compile("^Within a week"))).to_be_visible()

        page.get_by_role("combobox", name="Order").click()
        page.get_by_role("option", name="Latest change").click()
        tiles.nth(0).hover()
        page.get_by_role("checkbox", name="Choose Quay 0").check()
        page.get_by_role("checkbox", name="Choose Quay 2").check()
        bar = page.get_by_role("toolbar", name="With the chosen pieces")
        bar.get_by_label("Tag").fill("harbour")
        page.keyboard.press("Enter")
        expect(tiles.filter(has_text="harbour")).to_have_count(2)
        bar.get_by_role("button", name="Put away").click()
        expect(tiles).to_have_count(1)
        page.get_by_role("combobox", name="State").click()
        page.get_by_role("option", name="Put away").click()
        expect(tiles).to_have_count(2)
        page.get_by_role("checkbox", name="Choose Quay 0").check()
        bar.get_by_role("button", name="Take out again").click()
        expect(tiles).to_have_count(1)
        page.get_by_label("Find").fill("nothing of the kind")
        expect(page.get_by_text("No piece is like that.")).to_be_visible()
        page.get_by_role("button", name="Show all").click()

        # Title, date and tags of one.
        page.get_by_label("Find").fill("quay 1")
        page.get_by_role("button", name="Edit title, date and tags of Quay 1").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Tags, with commas").fill("blue, fair")
        dialog.get_by_label("Planned minutes").fill("90")
        dialog.get_by_role("button", name="Save").click()
        expect(tiles.first).to_contain_text("of 90 min")
        expect(tiles.first).to_contain_text("blue · fair")
        expect(tiles.first).to_contain_text("1 day late")  # what was not touched stays


def test_the_log_is_searched_and_saved(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Ferry")
        page.request.post(f"{address}/api/pieces/{piece}/sittings",
                          data={"step": "light", "minutes": 12, "note": "at the quay"})
        page.goto(address)
        page.get_by_role("link", name="Log and figures").click()
        lines = page.get_by_test_id("log-line")
        expect(lines.first).to_be_visible()
        page.get_by_label("Find").fill("ferry quay")
        expect(lines).to_have_count(1)
        expect(lines.first).to_contain_text("12 min")
        with page.expect_download() as caught:
            page.get_by_role("link", name="Log, CSV").click()
        with open(caught.value.path(), encoding="utf-8") as file:  # noqa: PTH123
            (row,) = csv.DictReader(io.StringIO(file.read()))
        assert row["title"] == "Ferry" and float(row["minutes"]) == 12
        page.get_by_label("Find").fill("nobody")
        expect(page.get_by_text("Nothing like that")).to_be_visible()
        page.get_by_role("radio", name="Figures").click()
        page.get_by_role("combobox", name="Piece").click()
        page.get_by_role("option", name="Ferry").click()
        expect(page.get_by_role("main", name="Figures")).to_contain_text("12 min in all")


def test_a_replay_is_written_watched_and_cancelled(address: str) -> None:
    with browser_page() as page:
        piece = bring(page, address, "Kite")
        for colour in ("#aabbcc", "#335577", "#ccaa88"):
            now = page.request.get(f"{address}/api/pieces/{piece}").json()
            page.request.post(f"{address}/api/pieces/{piece}/edits", data={
                "seen": now["revision"], "edit": {"kind": "set_background", "colour": colour}})
        open_piece(page, address, piece, "deliver")
        page.get_by_role("tab", name="Files", exact=True).click()
        group = page.get_by_role("region", name="How it was made, as a film")
        group.get_by_label("Seconds").fill("1")
        expect(page.get_by_role("button", name="Deliver Replay, MP4")).to_be_disabled()
        group.get_by_label("Seconds").fill("2")
        group.get_by_label("Hold each stage, s").fill("0")
        data = download(page, "Deliver Replay, MP4")
        with av.open(io.BytesIO(data)) as container:
            frames = list(container.decode(video=0))
        assert len(frames) == 48 and container.format.name.startswith("mov")
        lesson = download(page, "Deliver Pass by pass, PDF")
        assert lesson.startswith(b"%PDF")

        group.get_by_label("Seconds").fill("300")
        group.get_by_label("Long edge, px").fill("2000")
        page.get_by_role("button", name="Deliver Replay, WebM").click()
        page.get_by_role("button", name="Cancel").click()
        expect(page.get_by_text("Stopped. No file was written.")).to_be_visible()
