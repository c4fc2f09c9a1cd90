"""What the Lines step lists: joins, groups, decisions, the outline in words, leaks."""

import cv2
import numpy as np

from tests.drawings import figure_ink, piece, transparent
from wardrobe.recipe.document.model import Closing, OpenGap, Recipe, Source
from wardrobe.recipe.edits import CloseGaps, InkClosing, LeaveOpen, apply
from wardrobe.recipe.reports.gaps import leak_to, report_gaps
from wardrobe.recipe.stages import Deriver

INK = figure_ink(960)
INK[592:612, 254:272] = 0  # the body's outline at the left, and the belt beside it
INK[548:572, 400:424] = 0
DERIVER, RECIPE = piece(INK)


def test_gaps_are_grouped_by_what_they_join_and_told_in_words() -> None:
    report = report_gaps(DERIVER, RECIPE)
    listed = [g for g in report.gaps if g.listed]
    outline = [g for g in listed if g.group == "outline"]
    assert len(outline) == report.openings == 1
    assert "outside" in outline[0].joins and outline[0].joins[0] != outline[0].joins[1]
    assert abs(outline[0].y - 602) < 8 and abs(outline[0].width - 20) < 3
    assert report.perimeter.startswith("1 opening in the outline, 2")
    assert any(g.group != "outline" and abs(g.x - 412) < 8 for g in listed)


def test_decisions_are_remembered_in_place() -> None:
    gap = next(g for g in report_gaps(DERIVER, RECIPE).gaps if g.group == "outline")
    closed = apply(RECIPE, CloseGaps(closings=(Closing(points=tuple(gap.curve)),)))
    report = report_gaps(DERIVER, closed)
    assert report.perimeter == "The outline is closed."
    assert [(g.state, g.index) for g in report.gaps if g.state != "undecided"] == [("closed", 0)]
    plain = DERIVER.ink(closed)
    inked = DERIVER.ink(apply(closed, InkClosing(index=0, inked=True)))
    assert (plain == DERIVER.coverage(RECIPE)).all()
    assert inked[602, int(gap.x)] == 255 and plain[602, int(gap.x)] == 0

    left = apply(RECIPE, LeaveOpen(gap=OpenGap(ends=gap.ends, sides=gap.sides)))
    assert [g.state for g in report_gaps(DERIVER, left).gaps].count("left open") == 1


def test_a_leak_gets_in_at_the_gap_and_is_stopped_by_its_closing() -> None:
    inside = (330.0, 700.0)
    leak = leak_to(DERIVER, RECIPE, inside, None)
    assert leak.level == 0 and abs(leak.y - 602) < 16 and abs(leak.x - 262) < 20
    gap = next(g for g in report_gaps(DERIVER, RECIPE).gaps if g.group == "outline")
    closed = apply(RECIPE, CloseGaps(closings=(Closing(points=tuple(gap.curve)),)))
    held = leak_to(DERIVER, closed, inside, None)
    assert held.level > 0.9
    between = leak_to(DERIVER, closed, inside, (480.0, 220.0))  # from the head
    assert between.level > 0.9 and np.hypot(between.x, between.y) > 0


def test_gaps_are_listed_even_where_no_area_is_closed() -> None:
    ink = np.zeros((500, 500), np.uint8)
    cv2.ellipse(ink, (250, 400), (150, 300), 0, 180, 360, 255, 8, cv2.LINE_AA)
    rgba = transparent(ink)
    deriver = Deriver(lambda asset: rgba)
    bust = Recipe(source=Source(asset="0" * 64, width=500, height=500))
    report = report_gaps(deriver, bust)
    assert report.openings == 1 and report.perimeter.startswith("1 opening")
    closed = apply(bust, CloseGaps(closings=(Closing(points=tuple(report.gaps[0].curve)),)))
    assert report_gaps(deriver, closed).perimeter == "The outline is closed."
    assert deriver.areas(closed).count == 2
