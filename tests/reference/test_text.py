"""Lines of text in any script, against the Unicode Standard and poppler.

- order: the crate unicode-bidi (through python-bidi's compiled half), which follows UAX #9 with
  its paired brackets;
- Arabic joining: the letters' presentation forms (Unicode Standard, chapter 9.2 and the block
  Arabic Presentation Forms-B, U+FE70..U+FEFF), which the face holds by their own code points;
- marks: the canonical composition (UAX #15) of a letter and its mark stands as wide as the letter.
"""

import subprocess
from pathlib import Path

import bidi
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.drawings import piece
from wardrobe.core.formats import faces, setting
from wardrobe.core.formats.faces import face_for, font_of, shipped
from wardrobe.core.formats.page import (
    Page,
    Picture,
    Text,
    fitted,
    from_right,
    mirrored,
    page_to_pixels,
    pages_to_pdf,
    text_width,
)
from wardrobe.core.formats.setting import is_backwards, set_in_runs
from wardrobe.recipe.edits import ChangePart, apply
from wardrobe.recipe.exchange.handout.colour_sheet import sheet_pages

ARABIC = "معطف"  # coat
LINES = ["Nela's coat, 12 %", "накидка и сапоги", "Μανδύας", ARABIC, "coat (معطف) 3", "שָׁלוֹם (2)",
         "սապոգ", "ქურთუკი", "áè ñ ş ž"]


@given(st.text("abC АБ אבג ابت 123 ٣٤ ()[]{} -+/,.:!%", min_size=1, max_size=24))
@settings(max_examples=400)
def test_the_order_is_that_of_the_bidirectional_algorithm(text: str) -> None:
    seen = "".join(run.text[::-1] if run.backwards else run.text for run in set_in_runs(text))
    assert seen == bidi.get_display(text)
    assert is_backwards(text) == bool(bidi.get_base_level(text))


@pytest.mark.parametrize("text, forms", [
    ("ببب", "\ufe91\ufe92\ufe90"),  # beh: initial, medial, final
    ("عين", "\ufecb\ufef4\ufee6"), ("سلم", "\ufeb3\ufee0\ufee2"),
    ("لا", "\ufefb"), ("دار", "\u062f\u0627\u0631")])
def test_arabic_letters_are_joined_as_unicode_says(text: str, forms: str) -> None:
    (run,) = set_in_runs(text)
    font = font_of(run.face)
    assert run.backwards
    assert [g.number for g in run.glyphs] == [font.get_nominal_glyph(ord(form))
                                              for form in reversed(forms)]


@pytest.mark.parametrize("letter, mark", [("e", "\u0301"), ("и", "\u0306"), ("α", "\u0301"),
                                          ("ש", "\u05c1")])
def test_marks_stand_on_their_letters(letter: str, mark: str) -> None:
    (run,) = set_in_runs(letter + mark)
    assert run.width == pytest.approx(set_in_runs(letter)[0].width, rel=0.02)


def test_what_no_shipped_face_holds_comes_from_the_system(
        tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A face that lies among the system's is found with fontconfig and without."""
    other = tmp_path / "fonts/Other.ttf"
    other.parent.mkdir()
    other.write_bytes(shipped(False)[1].path.read_bytes())
    usual = shipped(False)[0]
    monkeypatch.setattr(faces, "shipped", lambda bold: (usual,))
    monkeypatch.setattr(faces, "_FOLDERS", (str(other.parent),))
    for found in (None, (other, 0)):
        monkeypatch.setattr(faces, "_known", [])
        monkeypatch.setattr(faces, "_by_fontconfig", lambda c, bold, found=found: found)
        faces.face_for.cache_clear()
        faces._all_files.cache_clear()
        assert face_for("ш", False).path == other and face_for("q", False) == usual
        assert face_for("\ue000", False) == usual  # private use is nobody's
    monkeypatch.undo()
    faces.face_for.cache_clear()
    faces._all_files.cache_clear()
    setting.set_in_runs.cache_clear()


def sheet(size: float = 20) -> Page:
    page = Page(320, 40 + 36 * len(LINES))
    for k, line in enumerate(LINES):
        page.items.append(Text(20, 40 + 36 * k, line, size, k % 2 == 1))
        page.items.append(Text(300, 40 + 36 * k, line, size * 0.6, ends=True))
    return page


@pytest.mark.parametrize("before", [True, False])
def test_pdf_and_pixels_are_the_same_and_letters_can_be_found(tmp_path: Path,
                                                              before: bool) -> None:
    """Whatever was written before, in whichever weight."""
    pages_to_pdf([Page(99, 99, [Text(9, 9, "Coat", 9, before), Text(9, 30, "Coat", 9)])], "a")
    page, dpi = sheet(), 144
    page.items += [Text(200, 36, "Bold", 18, True), Text(200, 72, "Bold", 18)]
    file = tmp_path / "text.pdf"
    file.write_bytes(pages_to_pdf([page], "lines"))
    subprocess.run(["pdftoppm", "-r", str(dpi), "-gray", "-singlefile", file, tmp_path / "text"],
                   check=True)
    theirs = np.asarray(Image.open(tmp_path / "text.pgm")).astype(float)
    ours = np.asarray(Image.fromarray(page_to_pixels(page, dpi)).convert("L")).astype(float)
    for k in range(len(LINES)):
        band = np.s_[round((14 + 36 * k) * 2):round((48 + 36 * k) * 2)]
        a, b = 255 - ours[band], 255 - theirs[band]
        assert abs(a.sum() / b.sum() - 1) < 0.12, LINES[k]  # as much ink
        columns = [np.flatnonzero(x.max(axis=0) > 60) for x in (a, b)]
        assert abs(columns[0][0] - columns[1][0]) <= 3 and abs(columns[0][-1]
                                                               - columns[1][-1]) <= 6, LINES[k]
    said = subprocess.run(["pdftotext", "-raw", file, "-"], capture_output=True, text=True,
                          check=True).stdout
    for letter in "NкиΜქ":
        assert letter in said
    assert all(letter in said for letter in ARABIC)
    assert pages_to_pdf([page], "lines") == file.read_bytes()


@given(st.sampled_from(LINES), st.floats(5, 160), st.booleans())
@settings(max_examples=60)
def test_a_line_ends_where_there_is_room(line: str, width: float, bold: bool) -> None:
    item = Text(0, 0, line, 12, bold, width=width)
    shown = fitted(item)
    assert shown == line or shown.endswith("…")
    assert shown == "…" or text_width(shown, 12, bold) <= width + 1e-9


def test_a_sheet_whose_names_run_from_the_right_is_laid_out_from_the_right() -> None:
    deriver, recipe = piece()
    plain = sheet_pages(deriver, recipe, "Coat", None)[0]
    for part, name in zip(recipe.parts, ("معطف", "قبعة", "حذاء", "وشاح"), strict=True):
        recipe = apply(recipe, ChangePart(part=part.id, name=name))
    page = sheet_pages(deriver, recipe, "نيلا", None)[0]
    pictures = [next(i for i in p.items if isinstance(i, Picture)) for p in (plain, page)]
    assert pictures[0].x + pictures[0].width == pytest.approx(plain.width - pictures[1].x)
    names = [i for i in page.items if isinstance(i, Text) and i.text == "معطف"]
    assert names and names[0].ends and names[0].x == pytest.approx(page.width - 40)
    pixels = page_to_pixels(page, 72)
    assert (pixels[:, :30] == 255).all() and (pixels[:, -36:] == 255).all()  # nothing beyond
    back = mirrored(mirrored(page))
    assert [i.x for i in back.items] == pytest.approx([i.x for i in page.items])
    assert from_right(["معطف", "coat", "قبعة"]) and not from_right(["12", "coat", "معطف"])
