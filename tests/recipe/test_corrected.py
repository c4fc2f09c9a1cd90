"""A corrected drawing under a piece: what stays, what is told, what can be gone back to."""

import hashlib
from functools import reduce

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from tests.core.test_register import drawn_moved, scene, similarity
from tests.drawings import figure_ink, on_white, piece, png, transparent
from tests.tries import tries
from wardrobe.core.errors import NoLinesError
from wardrobe.recipe.document.drawing import Laid, Source
from wardrobe.recipe.document.model import Closing, Frame, Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    CloseGaps,
    EditRefusedError,
    PutDrawing,
    RemarkDrawing,
    SetFrame,
    TouchUpPass,
    UseDrawing,
    apply,
)
from wardrobe.recipe.exchange.archive import ArchiveError, PieceFacts, read_archive, write_archive
from wardrobe.recipe.reports.corrected import AnotherDrawingError, lay_corrected
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
SIZE = 720
INK = figure_ink(SIZE)
FIRST = "0" * 64


class Desk:
    """A piece in which each area is a part, and drawings that are brought to it."""

    def __init__(self) -> None:
        self.pictures = {FIRST: transparent(INK)}
        _, recipe = piece(INK)
        self.deriver = Deriver(lambda asset: self.pictures[asset])
        self.recipe = recipe

    def drawing(self, rgba: Byte) -> Source:
        name = f"{len(self.pictures):064x}"
        self.pictures[name] = rgba
        return Source(asset=name, width=rgba.shape[1], height=rgba.shape[0])

    def bring(self, ink: Byte, recipe: Recipe | None = None):
        return lay_corrected(self.deriver, recipe or self.recipe, self.drawing(transparent(ink)))

    def owners(self, recipe: Recipe) -> NDArray[np.uint16]:
        """Part of every pixel."""
        areas = self.deriver.areas(recipe)
        return self.deriver.assignment(recipe).part_of_area[areas.labels]


@pytest.fixture()
def desk() -> Desk:
    return Desk()


@pytest.mark.parametrize("seed", range(tries(3, 6)))
def test_parts_stay_with_their_places_however_the_sheet_lay_in_the_scanner(desk, seed):
    dice = np.random.default_rng(seed)
    truth = similarity(dice.uniform(-3, 3), dice.uniform(0.96, 1.04),
                       tuple(dice.uniform(-40, 40, 2)), (SIZE / 2, SIZE / 2))
    found = desk.bring(drawn_moved(INK, truth))
    after = apply(desk.recipe, found.edit)
    free = desk.deriver.areas(desk.recipe).core & desk.deriver.areas(after).core
    same = desk.owners(desk.recipe)[free] == desk.owners(after)[free]
    assert same.mean() > 0.998
    assert found.kept > 0.998 and not found.changed and not found.redrawn and found.sure
    assert after.parts == desk.recipe.parts
    assert after.size == desk.recipe.size
    # What is told is what was done.
    moved = truth @ [SIZE / 2, SIZE / 2, 1]
    back = np.linalg.inv(truth[:, :2]) @ (np.array([SIZE / 2, SIZE / 2]) - moved)
    assert (found.dx, found.dy) == pytest.approx(tuple(back), abs=1.5)


def test_a_line_that_was_left_open_parts_what_it_parted(desk):
    opened = INK.copy()
    at = int(280 * SIZE / 480)
    opened[at - 20:at + 20, 330:420] = 0  # a broad gap in the line across the body
    found = desk.bring(opened)
    assert [e.kind for e in found.edit.edits][:2] == ["put_drawing", "add_recut"]
    assert found.kept > 0.99
    (gone,) = found.redrawn
    assert not gone.new
    x, y, w, h = gone.box
    assert x <= 350 and x + w >= 400 and y <= at <= y + h


def test_what_is_drawn_otherwise_is_told_with_its_box_before_it_is_taken(desk):
    changed = INK.copy()
    x0, y0, x1, y1 = 470, 380, 640, 560
    changed[y0:y1, x0:x1] = 0  # the sleeve goes, and the body with the ground
    cv2.line(changed, (40, 40), (160, 60), 255, 9)
    found = desk.bring(changed)
    assert found.changed and {c.after for c in found.changed} <= {"ground", "none", "p1", "p2"}
    before, after = desk.owners(desk.recipe), desk.owners(apply(desk.recipe, found.edit))
    row = {p.id: k for k, p in enumerate(desk.recipe.parts, start=1)} | {"ground": 0, "none": 0}
    for change in found.changed:
        x, y, w, h = change.box
        at = int(change.place[1]), int(change.place[0])
        assert x <= at[1] < x + w and y <= at[0] < y + h
        assert (before[at], after[at]) == (row[change.before], row[change.after])
    new = [r for r in found.redrawn if r.new]
    assert any(r.box[0] <= 45 and r.box[0] + r.box[2] >= 150 for r in new)
    assert found.kept < 1


def test_another_drawing_is_refused_and_so_is_an_empty_sheet(desk):
    with pytest.raises(AnotherDrawingError, match=r"Only \d+% of its lines"):
        desk.bring(scene(5, SIZE, 9))
    with pytest.raises(AnotherDrawingError):
        desk.bring(np.ascontiguousarray(scene(8, SIZE, 9)[::-1]))
    with pytest.raises(NoLinesError):
        blank = np.full((SIZE, SIZE, 4), 255, np.uint8)
        lay_corrected(desk.deriver, desk.recipe, desk.drawing(blank))


def test_a_scan_on_paper_of_another_size_lies_under_a_turned_and_cropped_picture(desk):
    framed = apply(desk.recipe, SetFrame(frame=Frame(turn=1, crop=(60, 40, 600, 640))))
    truth = similarity(2, 1.6, (200, 160), (SIZE / 2, SIZE / 2))
    sheet = on_white(drawn_moved(INK, truth, (1500, 1300)))
    rgba = np.dstack([sheet, np.full(sheet.shape[:2], 255, np.uint8)])
    found = lay_corrected(desk.deriver, framed, desk.drawing(rgba))
    after = apply(framed, found.edit)
    assert after.size == (600, 640)
    assert found.scale == pytest.approx(1 / 1.6, rel=0.003)
    assert found.kept > 0.99


def test_every_version_is_kept_with_its_remark_and_can_be_gone_back_to(desk):
    view = View.whole(SIZE, SIZE)
    first = desk.deriver.picture(desk.recipe, view)
    name = desk.deriver.stages(desk.recipe).picture(view).name
    edits = [CloseGaps(closings=(Closing(points=((100.0, 100.0), (140.0, 100.0))),)),
             TouchUpPass(name="shade", act="put in", points=((360.0, 400.0), (400.0, 430.0)),
                         widths=(30.0, 30.0))]
    touched = reduce(apply, edits, desk.recipe)
    two = apply(touched, desk.bring(drawn_moved(INK, similarity(1, 1, (9, 4), (360, 360))),
                                    touched).edit)
    three = apply(two, desk.bring(cv2.dilate(INK, np.ones((3, 3), np.uint8)), two).edit)
    assert three.closings == touched.closings and three.touch_ups == touched.touch_ups
    assert [three.source.number, *(d.number for d in three.other_drawings)] == [3, 1, 2]
    told = apply(apply(three, RemarkDrawing(number=1, remark="as it was approved")),
                 RemarkDrawing(number=3, remark="bolder lines"))
    assert [d.remark for d in (told.source, *told.other_drawings)] == [
        "bolder lines", "as it was approved", ""]
    # A remark draws nothing anew.
    assert desk.deriver.stages(told).picture(view).name == \
        desk.deriver.stages(three).picture(view).name
    back = apply(told, UseDrawing(number=1))
    assert [back.source.number, *(d.number for d in back.other_drawings)] == [1, 2, 3]
    assert apply(apply(back, UseDrawing(number=3)), UseDrawing(number=3)) == told
    for wrong in (UseDrawing(number=4), RemarkDrawing(number=0, remark="lost")):
        with pytest.raises(EditRefusedError, match="no such version"):
            apply(told, wrong)
    # On the first drawing without what was drawn since, it is the picture of before.
    bare = back.model_copy(update={name: getattr(desk.recipe, name) for name in (
        "closings", "touch_ups", "recuts", "claims", "proposed")})
    assert desk.deriver.stages(bare).picture(view).name == name
    assert (desk.deriver.picture(bare, view) == first).all()


def test_a_drawing_of_a_size_that_was_not_told_is_laid_at_the_corner(desk):
    small = desk.drawing(transparent(INK[:500, :600]))
    put = apply(desk.recipe, PutDrawing(asset=small.asset))
    ink = desk.deriver.drawn(put)
    assert ink.shape == (SIZE, SIZE)
    assert (ink[:495, :595] == desk.deriver.drawn(desk.recipe)[:495, :595]).mean() > 0.999
    for matrix in (((0, 0, 0), (0, 0, 0)), ((-1, 0, 0), (0, 1, 0)), ((200, 0, 0), (0, 200, 0))):
        with pytest.raises(ValueError, match="mirrored, or far too small"):
            Laid(width=9, height=9, matrix=matrix)


def test_the_archive_holds_all_versions(tmp_path):
    files = {FIRST: png(transparent(INK))}
    def put(rgba: Byte) -> str:
        data = png(rgba)
        name = hashlib.sha256(data).hexdigest()
        files[name] = data
        return name

    first, second = put(transparent(INK)), put(transparent(np.pad(INK, 30)))
    start = Recipe(source=Source(asset=first, width=SIZE, height=SIZE))
    edit = PutDrawing(asset=second, laid=Laid(width=SIZE + 60, height=SIZE + 60,
                                              matrix=((1, 0, -30), (0, 1, -30))), remark="wider")
    path, facts = tmp_path / "piece.zip", PieceFacts(title="Sheet")
    write_archive(path, facts, start, (edit,), (), files.__getitem__, {})
    back = read_archive(path)
    assert set(back.assets) == {first, second}
    assert back.recipe == apply(start, edit)
    assert edit.laid
    # One that is not laid on the first lies at its corner, whatever its size, but is a picture.
    loose = PutDrawing(asset=second)
    write_archive(path, facts, start, (loose,), (), files.__getitem__, {})
    assert read_archive(path).recipe.source.asset == second
    noise = hashlib.sha256(b"no picture").hexdigest()
    files[noise] = b"no picture"
    write_archive(path, facts, start, (PutDrawing(asset=noise),), (), files.__getitem__, {})
    with pytest.raises(ArchiveError, match="no PNG"):
        read_archive(path)
    wrong = edit.model_copy(update={"laid": edit.laid.model_copy(update={"width": 99})})
    write_archive(path, facts, start, (wrong,), (), files.__getitem__, {})
    with pytest.raises(ArchiveError, match="another size"):
        read_archive(path)
