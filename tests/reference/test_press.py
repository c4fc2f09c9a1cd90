"""Inks against libvips, proofs against poppler and Ghostscript, boxes against pikepdf and the
standards."""

import itertools
import subprocess
from pathlib import Path

import cv2
import numpy as np
import pikepdf
import pytest
import pyvips
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from PIL import ImageCms

from wardrobe.core.colour import delta_e_2000, srgb_to_lab
from wardrobe.core.colour.oklab import lab_d50_to_oklab
from wardrobe.core.paper.layout import Paper, lie
from wardrobe.core.paper.sheet import lay_out
from wardrobe.core.press.gamut import apart, lab_of_colours, lab_of_inks, printed
from wardrobe.core.press.inks import Press, limited, proof, to_inks, total_ink
from wardrobe.core.press.pdf import Bands, write_print_pdf
from wardrobe.core.press.profile import ProfileError, coated, read_profile
from wardrobe.core.press.unprintable import out_of_reach

PRESS = Press(coated(), most_ink=400)
GRID = np.array(list(itertools.product(range(0, 256, 17), repeat=3)), np.uint8).reshape(64, 64, 3)


@pytest.mark.parametrize("intent", ["perceptual", "relative", "saturation", "absolute"])
@pytest.mark.parametrize("black_point", [False, True])
def test_inks_are_those_of_another_way_through_little_cms(
        tmp_path: Path, intent: str, black_point: bool) -> None:
    """libvips goes by way of CIELAB in single precision, and sets its transforms up itself."""
    if intent == "absolute" and black_point:
        pytest.skip("black point compensation is not defined for it (ISO 18619)")
    file = tmp_path / "press.icc"
    file.write_bytes(coated().data)
    image = pyvips.Image.new_from_array(GRID).copy(interpretation="srgb")
    other = image.icc_transform(str(file), input_profile="srgb", intent=intent, depth=8,
                                black_point_compensation=black_point).numpy()
    own = to_inks(GRID, Press(coated(), intent, black_point, 400))
    off = np.abs(own.astype(int) - other.astype(int))
    assert off.max() <= 1


@settings(max_examples=60)
@given(arrays(np.uint8, (40, 4)), st.floats(150, 400))
def test_no_more_ink_lies_anywhere_than_the_paper_takes(inks: np.ndarray, most: float) -> None:
    wet = limited(inks, most)
    assert total_ink(wet) <= most * 1.01
    total = inks.sum(axis=1, dtype=int) / 2.55
    assert (wet[total <= most] == inks[total <= most]).all() and (wet <= inks).all()
    black = np.minimum(inks[:, 3], most * 2.55)
    assert (wet[:, 3] >= black - 1).all()
    over = (total > most + 1) & (inks[:, 3] / 2.55 < most)
    assert (wet[over].sum(axis=1, dtype=int) / 2.55 > most - 2).all()  # and no less than it needs


def test_colours_within_reach_are_told_and_the_nearest_is_the_nearest() -> None:
    """Against thousands of inks tried at random, by the same distance; hues are kept."""
    rng = np.random.default_rng(5)
    press = Press(coated(), most_ink=300)
    colours = [(int(r), int(g), int(b)) for r, g, b in rng.integers(0, 256, (24, 3))]
    told = printed(colours, press)
    tried = rng.dirichlet([0.6] * 5, 30_000)[:, :4] * 3
    tried = tried[(tried <= 1).all(axis=1)]
    seen = lab_d50_to_oklab(lab_of_inks(tried, press.profile))
    for colour, found in zip(colours, told, strict=True):
        lab = lab_of_colours(np.array([colour], np.uint8))[0]
        again = lab_of_inks(np.array([found.inks]) / 100, press.profile)[0]
        wanted = lab_d50_to_oklab(lab)[None]
        near = apart(wanted, lab_d50_to_oklab(again)[None, None])[0, 0]
        assert near <= apart(wanted, seen[None]).min() + 0.002 or found.least <= 2.0
        turn = np.subtract(*(np.arctan2(v[2], v[1]) for v in (lab_d50_to_oklab(again), wanted[0])))
        if np.hypot(*wanted[0, 1:]) > 0.1:
            assert abs((np.degrees(turn) + 180) % 360 - 180) < 10
        assert float(delta_e_2000(lab, again)) == pytest.approx(found.least, abs=0.4)
        assert sum(found.inks) <= 300.5
    inside = to_inks(np.array([[(200, 150, 120), (90, 120, 90), (240, 240, 240)]], np.uint8), PRESS)
    mild = proof(np.array([[(200, 150, 120), (90, 120, 90), (240, 240, 240)]], np.uint8), PRESS)[0]
    assert all(p.least < 2 for p in printed([tuple(map(int, c)) for c in mild], PRESS)), inside
    loud = np.array([[(0, 255, 0), (0, 0, 255), (200, 150, 120)]], np.uint8)
    assert out_of_reach(loud, PRESS).tolist() == [[True, True, False]]


def page(tmp_path: Path, paper: Paper, press: Press | None) -> tuple[Path, np.ndarray]:
    """A sheet as PDF, and its pixels within the bleed."""
    y, x = np.mgrid[:450, :300]
    rgb = np.stack([255 * x // 300, 255 * y // 450, 128 + 100 * np.sin(x / 30)], 2)
    rgb[100:200, 60:240] = (200, 40, 40)
    bare = Paper(paper.width, paper.height, paper.margin, paper.bleed)
    sheet = lay_out(rgb.astype(np.uint8), bare, lie(bare, (300, 450)), 127, (240, 230, 210))
    file = tmp_path / "page.pdf"
    rows = (to_inks(b, press) if press else b for b in sheet.bands())
    write_print_pdf(file, Bands(rows, sheet.width, sheet.height, 4 if press else 3), paper,
                    "Wick & Söhne", press.profile if press else None)
    return file, sheet.whole()


def far(seen: np.ndarray, wanted: np.ndarray) -> float:
    """Mean CIEDE2000 between two pictures."""
    a, b = (srgb_to_lab(v[::2, ::2] / 255.0) for v in (seen, wanted))
    return float(np.mean(delta_e_2000(a, b)))


@pytest.mark.parametrize("marks", [False, True])
def test_a_page_looks_as_its_proof_in_other_programs(tmp_path: Path, marks: bool) -> None:
    paper = Paper(80, 120, 6, 4, marks)  # whole pixels at 127 dpi: five to a millimetre
    press = Press(coated(), most_ink=300)
    file, rgb = page(tmp_path, paper, press)
    wanted = proof(rgb, press)
    profile = tmp_path / "press.icc"
    profile.write_bytes(coated().data)
    subprocess.run(["pdftoppm", "-r", "127", "-png", "-defaultcmykprofile", profile, file,
                    tmp_path / "poppler"], check=True)
    subprocess.run(["gs", "-q", "-dNOPAUSE", "-dBATCH", "-sDEVICE=png16m", "-r127",
                    "-dRenderIntent=1", "-dBlackPtComp=1", "-dUsePDFX3Profile",
                    f"-sOutputFile={tmp_path / 'ghostscript.png'}", file], check=True)
    edge = round((paper.slug - paper.bleed) * 5)
    for name in ("poppler-1.png", "ghostscript.png"):
        seen = cv2.imread(str(tmp_path / name))[..., ::-1]
        assert abs(seen.shape[0] - rgb.shape[0] - 2 * edge) <= 1, name
        inner = seen[edge:edge + rgb.shape[0], edge:edge + rgb.shape[1]]
        assert far(inner, wanted) < 1.0, name
        # Marks are lines in every ink, where the trimmed edge goes on.
        mark = seen[:20, edge + 20 - 2:edge + 20 + 3] if marks else np.zeros((1, 1, 3))
        assert mark.min() < 120


def test_boxes_and_the_output_intent_are_those_of_the_standards(tmp_path: Path) -> None:
    """ISO 32000-1, 14.11.2: the trim box lies in the bleed box, that in the media box; ISO
    15930-7: one of the output intents is for PDF/X and holds the profile."""
    paper = Paper(80, 120, 6, 4, True)
    file, _ = page(tmp_path, paper, Press(coated()))
    with pikepdf.open(file) as pdf:
        (one,) = pdf.pages
        boxes = [[float(v) / 72 * 25.4 for v in box] for box in (
            one.MediaBox, one.BleedBox, one.TrimBox)]
        assert boxes[0] == pytest.approx([0, 0, 98, 138], abs=0.01)
        assert boxes[1] == pytest.approx([5, 5, 93, 133], abs=0.01)
        assert boxes[2] == pytest.approx([9, 9, 89, 129], abs=0.01)
        intent = pdf.Root.OutputIntents[0]
        assert intent.S == "/GTS_PDFX" and intent.DestOutputProfile.read_bytes() == coated().data
        assert pdf.docinfo.Title == "Wick & Söhne" and pdf.docinfo.Trapped == "/False"
        with pdf.open_metadata() as meta:
            assert meta["pdfxid:GTS_PDFXVersion"] == "PDF/X-4"
        image = one.Resources.XObject.Sheet
        assert image.ColorSpace == "/DeviceCMYK" and image.Width == 440
        inks = np.frombuffer(image.read_bytes(), np.uint8).reshape(640, 440, 4)
        assert total_ink(inks) <= 303
        assert not pdf.check_pdf_syntax()
    plain, rgb = page(tmp_path, Paper(80, 120), None)
    with pikepdf.open(plain) as pdf:
        assert "/OutputIntents" not in pdf.Root
        image = pdf.pages[0].Resources.XObject.Sheet
        assert (np.frombuffer(image.read_bytes(), np.uint8).reshape(rgb.shape) == rgb).all()


def test_what_is_no_profile_of_a_press_is_refused_in_words() -> None:
    srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    data = coated().data
    for wrong, words in ((b"", "not an ICC profile"), (b"x" * 5000, "not an ICC profile"),
                         (srgb, "for RGB"), (data[:3000], "profile"),
                         (data[:128] + bytes(len(data) - 128), "profile")):
        with pytest.raises(ProfileError, match=words):
            read_profile(wrong)
    assert "coated" in read_profile(data).name
