"""Paper and press over the API: set up, looked at, delivered, read back."""

import io
import re
import subprocess
from typing import Any

import cv2
import numpy as np
import pikepdf
import pytest
import tifffile
from fastapi.testclient import TestClient
from PIL import Image, ImageCms

from tests.chromium import svg_shown
from tests.server.steps import edit, finished, new_piece, said
from wardrobe.core.press.inks import total_ink
from wardrobe.core.press.profile import coated

PAPER = {"width": 80.0, "height": 100.0, "margin": 5.0, "safe": 4.0, "bleed": 3.0, "marks": True,
         "subject": "figure", "around": "ground", "kernel": "smooth"}


def set_up(client: TestClient, piece: dict[str, Any], **delivery: Any) -> dict[str, Any]:
    now = piece["recipe"]["delivery"]
    return edit(client, piece, kind="set_delivery", delivery={**now, **delivery})


def delivered(client: TestClient, piece: dict[str, Any], form: str) -> bytes:
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                       json={"format": form}).json())
    assert job["state"] == "done", job
    return client.get(f"/api/jobs/{job['id']}/file").content


def get(client: TestClient, piece: dict[str, Any], what: str) -> Any:
    answer = client.get(f"/api/pieces/{piece['id']}/{what}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_a_piece_lies_on_its_paper_as_it_is_set_up(client: TestClient) -> None:
    piece = new_piece(client)
    usual = get(client, piece, "paper")
    assert usual["picture"] == pytest.approx([10, 53.5, 190, 190])  # A4, ten millimetres free
    assert usual["dpi"] == pytest.approx(480 / 190 * 25.4) and usual["cut"] == [0, 0, 0, 0]
    piece = set_up(client, piece, paper=PAPER, dpi=150)
    told = get(client, piece, "paper")
    x, _, w, h = told["subject"]
    assert 0 < x < x + w < 480 and h > w
    scale = told["picture"][2] / 480
    assert told["picture"][0] + (x + w / 2) * scale == pytest.approx(40)
    assert h * scale == pytest.approx(90) and told["pixels"] == [566, 685]
    far = set_up(client, piece, paper={**PAPER, "placed": {"x": 10, "y": 50, "width": 70}})
    told = get(client, far, "paper")
    assert told["cut"][0] > 0.2 and told["beyond_safe"][0] > 0
    none = set_up(client, far, paper={**PAPER, "placed": None, "margin": 60})
    assert "margins take all" in said(client.get(f"/api/pieces/{none['id']}/paper"))


def test_the_sheet_is_delivered_in_colours_and_in_inks(client: TestClient) -> None:
    piece = set_up(client, new_piece(client), paper=PAPER, dpi=150)
    png = Image.open(io.BytesIO(delivered(client, piece, "sheet png")))
    assert png.size == (566, 685) and png.info["dpi"] == pytest.approx((150, 150), abs=0.1)
    pixels = np.asarray(png)
    slug, bleed = round(8 / 25.4 * 150), round(3 / 25.4 * 150)
    ground = tuple(int(piece["recipe"]["background"][k:k + 2], 16) for k in (1, 3, 5))
    corner = pixels[slug - bleed + 1, slug - bleed + 1]
    assert tuple(corner) == ground and (pixels[slug // 2, slug + 40] == 255).all()
    assert pixels[2, slug - 1:slug + 2].min() == 0  # a mark stands over the trimmed edge
    jpeg = Image.open(io.BytesIO(delivered(client, piece, "sheet jpeg")))
    assert jpeg.size == png.size and jpeg.format == "JPEG"
    assert np.abs(np.asarray(jpeg).astype(int) - pixels).mean() < 3
    assert ImageCms.ImageCmsProfile(io.BytesIO(jpeg.info["icc_profile"])).profile.xcolor_space \
        == "RGB "
    with tifffile.TiffFile(io.BytesIO(delivered(client, piece, "sheet tiff"))) as tiff:
        page = tiff.pages[0]
        inks = page.asarray()
        assert page.photometric.name == "SEPARATED" and page.iccprofile == coated().data
        assert inks.shape == (685, 566, 4) and total_ink(inks) <= 303
    with pikepdf.open(io.BytesIO(delivered(client, piece, "sheet pdf"))) as pdf:
        right = float(pdf.pages[0].TrimBox[2])  # type: ignore[arg-type]
        assert right == pytest.approx(88 / 25.4 * 72, abs=0.01)
        assert pdf.Root.OutputIntents[0].DestOutputProfile.read_bytes() == coated().data
    flat = Image.open(io.BytesIO(delivered(client, piece, "jpeg")))
    assert flat.size == (480, 480) and flat.info["dpi"] == (150, 150)


def test_a_profile_comes_in_and_is_printed_and_archived_by(client: TestClient) -> None:
    piece = new_piece(client)
    kept = client.post("/api/profiles", files={"file": ("press.icc", coated().data)})
    assert kept.status_code == 201 and "coated" in kept.json()["name"]
    for wrong in (b"", b"no profile at all", ImageCms.ImageCmsProfile(
            ImageCms.createProfile("sRGB")).tobytes()):
        assert said(client.post("/api/profiles", files={"file": ("a.icc", wrong)}))
    lost = {"asset": "f" * 64, "name": "Lost"}
    assert "not there" in said(client.post(f"/api/pieces/{piece['id']}/edits", json={
        "seen": piece["revision"], "edit": {"kind": "set_delivery", "delivery": {
            **piece["recipe"]["delivery"], "press": {"profile": lost}}}}))
    view = "picture?x=0&y=0&width=480&height=480&scale=1&kind="
    own = client.get(f"/api/pieces/{piece['id']}/{view}proof").content
    piece = set_up(client, piece, press={"profile": kept.json(), "most_ink": 300})
    assert client.get(f"/api/pieces/{piece['id']}/{view}proof").content == own  # the same press
    piece = set_up(client, piece, press={"profile": kept.json(), "paper": True})
    assert client.get(f"/api/pieces/{piece['id']}/{view}proof").content != own
    archive = delivered(client, piece, "archive")
    back = finished(client, client.post("/api/pieces/restore", files={
        "file": ("a.zip", archive)}).json())
    assert back["state"] == "done", back
    again = client.get(f"/api/pieces/{back['piece']}").json()
    assert again["recipe"]["delivery"]["press"]["profile"] == kept.json()
    assert delivered(client, again, "sheet pdf")


def test_colours_out_of_reach_are_listed_and_taken_within(client: TestClient) -> None:
    piece = new_piece(client)
    part = piece["recipe"]["parts"][0]
    piece = edit(client, piece, kind="change_part", part=part["id"], base="#00ff22")
    lines = get(client, piece, "unprintable")
    first = next(line for line in lines if line["part"] == part["id"] and line["base"])
    assert first["wanted"] == "#00ff22" and first["least"] > 2 and sum(first["inks"]) <= 301
    assert [line["least"] for line in lines] == sorted((n["least"] for n in lines), reverse=True)
    shown = client.get(f"/api/pieces/{piece['id']}/picture?x=0&y=0&width=480&height=480&scale=1"
                       "&kind=unprintable").content
    marked = np.asarray(Image.open(io.BytesIO(shown)).convert("RGB"))
    assert ((marked == (255, 92, 158)).all(axis=2)).sum() > 1000
    piece = edit(client, piece, kind="change_part", part=part["id"], base=first["nearest"])
    assert not [line for line in get(client, piece, "unprintable")
                if line["part"] == part["id"] and line["base"]]
    # What only the finish puts out of reach is told of the picture.
    piece = edit(client, piece, kind="add_finish", layers=[{
        "name": "glow", "paint": {"kind": "colour", "colour": "#00ffff"}, "mode": "normal"}])
    told = [line for line in get(client, piece, "unprintable") if line["part"] == part["id"]]
    assert told and told[0]["seen_in"] == "as finished" and not told[0]["base"]


def test_layered_pdf_and_svg_look_as_the_piece(client: TestClient, tmp_path: Any) -> None:
    piece = new_piece(client)
    wanted = np.asarray(Image.open(io.BytesIO(delivered(client, piece, "png"))).convert("RGB"))
    file = tmp_path / "a.pdf"
    file.write_bytes(delivered(client, piece, "layered pdf"))
    subprocess.run(["pdftoppm", "-r", "300", "-png", "-singlefile", file, tmp_path / "a"],
                   check=True)
    seen = np.asarray(Image.open(tmp_path / "a.png").convert("RGB")).astype(int)[:480, :480]
    assert (np.abs(seen - wanted).max(axis=2) <= 3).mean() > 0.995
    svg = tmp_path / "a.svg"
    svg.write_bytes(delivered(client, piece, "layered svg"))
    off = np.abs(svg_shown(svg, 480, 480) - wanted).max(axis=2)
    assert (off <= 3).mean() > 0.995
    assert svg.read_text().count("<path") > 3 and svg.read_text().count("<image") <= 2
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries", json={
        "format": "layered svg", "curves": {"tolerance": 0.5, "lines": True}}).json())
    curves = client.get(f"/api/jobs/{job['id']}/file").text
    ink = curves.split('aria-label="lines')[-1]
    assert "<path" in ink and "<image" not in ink and len(curves) < 60_000
    svg.write_text(curves)
    assert (np.abs(svg_shown(svg, 480, 480) - wanted).max(axis=2) <= 8).mean() > 0.95


def test_looks_and_pictures_of_a_series_lie_on_one_sheet_with_lines_to_cut(
        client: TestClient) -> None:
    piece = set_up(client, new_piece(client), paper={**PAPER, "marks": False, "bleed": 0}, dpi=127)
    piece = edit(client, piece, kind="add_look", name="night")
    asked = {"format": "cut lines", "stickers": {"border": 2, "gap": 2, "copies": 2}}
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries", json=asked).json())
    assert job["state"] == "done", job
    svg = client.get(f"/api/jobs/{job['id']}/file").text
    assert svg.count("<path") >= 4 and 'width="80mm"' in svg
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries", json={
        **asked, "format": "stickers png"}).json())
    png = np.asarray(Image.open(io.BytesIO(client.get(f"/api/jobs/{job['id']}/file").content)))
    # The lines run on white, around what is printed.
    places = np.array([[float(v) for v in pair.split()] for pair in
                       re.findall(r"M([\d.]+ [\d.]+)", svg)]) * 5
    assert all(png[int(y), int(x)].min() > 200 for x, y in places)
    counts = cv2.connectedComponents((png.min(axis=2) < 250).astype(np.uint8))[0]
    assert counts - 1 >= 4
    with pikepdf.open(io.BytesIO(delivered(client, piece, "stickers pdf"))) as pdf:
        page = pdf.pages[0]
        assert page.Resources.ColorSpace.Cut[1] == "/Cut line"
        assert b"/Cut CS 1 SCN" in page.Contents.read_bytes()
    series = client.post("/api/series", json={"title": "Crew", "pieces": [
        piece["id"], new_piece(client)["id"]]}).json()
    for form in ("stickers pdf", "stickers png", "cut lines"):
        job = finished(client, client.post(f"/api/series/{series['id']}/deliveries", json={
            "format": form, "stickers": {"border": 1}}).json())
        assert job["state"] == "done" and client.get(f"/api/jobs/{job['id']}/file").content
    far = finished(client, client.post(f"/api/series/{series['id']}/deliveries", json={
        "format": "cut lines", "stickers": {"copies": 150}}).json())
    assert far["state"] == "failed" and "At most 200" in far["problem"]["detail"]
