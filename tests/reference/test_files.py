"""Delivered files, read by libraries that did not write them."""

import io
import json
import re
import zipfile
from pathlib import Path

import cv2
import numpy as np
import pytest
import pyvips
import tifffile
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms

from tests.drawings import piece
from wardrobe.core.composite.reference import composite
from wardrobe.core.errors import ImageLimitError
from wardrobe.core.formats.flat import encode_flat, resized
from wardrobe.core.formats.images import decode_paint
from wardrobe.core.formats.layer_files import write_layer_files
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.page import page_to_pixels
from wardrobe.core.formats.png import encode_paint, encode_tint
from wardrobe.core.formats.svg import rasterise_svg
from wardrobe.core.formats.tiff import write_tiff
from wardrobe.core.stack.model import Tint
from wardrobe.recipe.document.model import Closing, Frame, Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChooseColours, apply
from wardrobe.recipe.exchange.handout.colour_sheet import sheet_pages, sheet_pdf
from wardrobe.recipe.exchange.handout.outlines import NoOutlinesError, outlines_svg
from wardrobe.recipe.exchange.handout.process import (
    process_animation,
    process_pictures,
    process_strip,
)
from wardrobe.recipe.reports.sheet import colour_sheet

DERIVER, RECIPE = piece()
PICTURE = DERIVER.picture(RECIPE, View.whole(480, 480))
STACK = DERIVER.stack(RECIPE)
SVG = (b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200"><rect x="20" y="30" '
       b'width="200" height="120" fill="none" stroke="#000" stroke-width="6" onclick="x()"/>'
       b'<circle cx="240" cy="60" r="25" fill="none" stroke="#000" stroke-width="5"/></svg>')


@pytest.mark.parametrize("form", ["png", "tiff", "webp"])
def test_flat_files_hold_the_picture_its_profile_and_its_size(form: str) -> None:
    data = encode_flat(PICTURE, form, 254)
    assert data == encode_flat(PICTURE, form, 254)
    image = Image.open(io.BytesIO(data))
    assert (np.asarray(image.convert("RGB")) == PICTURE).all()
    profile = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
    assert "sRGB" in ImageCms.getProfileDescription(profile)
    if form != "webp":
        assert np.allclose([float(v) for v in image.info["dpi"]], 254, atol=0.1)


def test_the_profile_leaves_srgb_as_it_is() -> None:
    """Little CMS: from the embedded profile to its own sRGB nothing changes by more than 1/255."""
    ramp = np.stack(np.meshgrid(*[np.arange(0, 256, 15)] * 3), -1).reshape(1, -1, 3)
    image = Image.fromarray(ramp.astype(np.uint8))
    info = Image.open(io.BytesIO(encode_flat(np.asarray(image), "png", 72))).info
    through = ImageCms.profileToProfile(
        image, ImageCms.ImageCmsProfile(io.BytesIO(info["icc_profile"])),
        ImageCms.createProfile("sRGB"))
    assert np.abs(np.asarray(through).astype(int) - ramp).max() <= 1


def test_a_webp_that_would_be_too_large_is_refused() -> None:
    with pytest.raises(ImageLimitError, match="16383"):
        encode_flat(np.zeros((1, 16_400, 3), np.uint8), "webp", 72)


def test_scaling_keeps_colours_clear_of_what_cannot_be_seen() -> None:
    """Pillow, on premultiplied colours, is the reference."""
    rgba = np.zeros((64, 64, 4), np.uint8)
    rgba[..., :3] = (255, 0, 255)  # the colour of clear pixels must not come in
    cv2.circle(rgba, (32, 32), 20, (40, 160, 80, 255), -1)
    small = resized(rgba, 16)
    assert small.shape == (16, 16, 4)
    seen = small[..., 3] > 20
    assert np.abs(small[seen][:, :3].astype(int) - (40, 160, 80)).max() <= 2
    theirs = np.asarray(Image.fromarray(rgba).convert("RGBa").resize(
        (16, 16), Image.Resampling.BOX).convert("RGBA"))
    assert np.abs(small[..., 3].astype(int) - theirs[..., 3]).max() <= 1
    assert resized(PICTURE, 960).shape == (960, 960, 3)


@given(st.integers(0, 10**6), st.sampled_from([1, 2, 3, 4, 7, 16, 17, 256]))
def test_tints_of_every_depth_are_read_as_they_were(seed: int, alphas: int) -> None:
    rng = np.random.default_rng(seed)
    alpha = rng.choice(rng.permutation(256)[:alphas], tuple(rng.integers(1, 40, 2)))
    colour = tuple(int(v) for v in rng.integers(0, 256, 3))
    data = encode_tint(alpha.astype(np.uint8), colour)
    theirs = np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))
    assert (theirs[..., 3] == alpha).all() and (theirs[..., :3] == colour).all()
    ours = decode_paint(data, ImageLimits(1))
    assert isinstance(ours, Tint) and ours.colour == colour and (ours.alpha == alpha).all()


@pytest.mark.parametrize("kind", ["flat", "smooth", "grainy", "single pixel"])
def test_painted_layers_are_read_as_they_were(kind: str) -> None:
    rng = np.random.default_rng(4)
    ramp = np.linspace(0, 255, 300)[:, None, None] + np.linspace(0, 90, 70)[:, None]
    pixels = {"flat": np.kron(rng.integers(0, 256, (6, 7, 4)), np.ones((50, 10, 1))),
              "smooth": ramp.repeat(4, 2) % 256,
              "grainy": ramp + rng.normal(0, 9, (300, 70, 4)),
              "single pixel": rng.integers(0, 256, (1, 1, 4))}[kind]
    pixels = np.clip(pixels, 0, 255).astype(np.uint8)
    data = encode_paint(pixels)
    assert (np.asarray(Image.open(io.BytesIO(data))) == pixels).all()
    assert (pyvips.Image.new_from_buffer(data, "").numpy() == pixels).all()


def test_tiff_pages_are_the_layers_in_their_places(tmp_path: Path) -> None:
    write_tiff(tmp_path / "a.tif", STACK, PICTURE, 300)
    layers = list(STACK.layers())
    with tifffile.TiffFile(tmp_path / "a.tif") as tiff:
        assert len(tiff.pages) == len(layers) + 1
        assert (tiff.pages[0].asarray() == PICTURE).all()
        for page, layer in zip(tiff.pages[1:], layers, strict=True):
            assert page.tags[285].value == layer.name and layer.mode in page.description
            whole = page.asarray()
            there = whole[layer.y:layer.y + layer.shape[0], layer.x:layer.x + layer.shape[1]]
            assert (there == layer.pixels).all()
            assert int(whole[..., 3].astype(int).sum()) == int(layer.alpha.astype(int).sum())
    with Image.open(tmp_path / "a.tif") as image:  # readers of one page show the picture
        assert (np.asarray(image) == PICTURE).all() and "icc_profile" in image.info


def test_layer_files_compose_to_the_picture_by_their_manifest(tmp_path: Path) -> None:
    write_layer_files(tmp_path / "a.zip", STACK, PICTURE, 300)
    with zipfile.ZipFile(tmp_path / "a.zip") as archive:
        manifest = json.loads(archive.read("manifest.json"))
        assert all(re.fullmatch(r"(layers/[^/\\:*?\"<>|]+|picture|manifest)\.(png|json)", n)
                   for n in archive.namelist())

        def laid(nodes: list[dict]) -> np.ndarray:
            buffer = np.zeros((480, 480, 4))
            for node in reversed([n for n in nodes if n["visible"]]):
                if "group" in node:
                    buffer = composite(buffer, laid(node["group"]), node["mode"], node["opacity"])
                    continue
                whole = np.zeros((480, 480, 4))
                pixels = np.asarray(Image.open(archive.open(node["file"])).convert("RGBA")) / 255
                whole[node["y"]:node["y"] + node["height"],
                      node["x"]:node["x"] + node["width"]] = pixels
                buffer = composite(buffer, whole, node["mode"], node["opacity"])
            return buffer

        assert np.abs(255 * laid(manifest["layers"])[..., :3] - PICTURE).max() <= 1


def test_the_colour_sheet_shows_every_colour_as_pdf_and_as_pixels() -> None:
    recipe = apply(RECIPE, ChooseColours(part="p1", own={"shade": "#123456"}))
    pdf = sheet_pdf(DERIVER, recipe, "Kite")
    assert pdf.startswith(b"%PDF-1.") and pdf == sheet_pdf(DERIVER, recipe, "Kite")
    assert len(re.findall(rb"/Type /Page\b", pdf)) == len(sheet_pages(DERIVER, recipe, "Kite"))
    pixels = page_to_pixels(sheet_pages(DERIVER, recipe, "Kite", None)[0], 144)
    shown = {tuple(c) for c in np.unique(pixels.reshape(-1, 3), axis=0)}
    for row in colour_sheet(recipe).rows:
        for cell in (c for c in row.cells if c.mark != "not drawn"):
            assert tuple(bytes.fromhex(cell.colour[1:])) in shown, cell
    many = recipe.model_copy(update={"parts": tuple(
        recipe.parts[0].model_copy(update={"id": f"p{k}", "name": f"part {k}"})
        for k in range(1, 60))})
    assert len(sheet_pages(DERIVER, many, "Kite")) >= 3


def test_stages_of_the_process() -> None:
    stages = process_pictures(DERIVER, RECIPE, 240)
    assert [name for name, _ in stages][:3] == ["Lines", "Flats", "Shade"]
    assert (stages[-1][1] == DERIVER.picture(RECIPE, View.whole(480, 480, 240))).all()
    for form in ("png", "webp"):
        image = Image.open(io.BytesIO(process_animation(stages, form)))
        assert image.n_frames == len(stages)
        for k, (_, picture) in enumerate(stages):
            image.seek(k)
            assert (np.asarray(image.convert("RGB")) == picture).all()
    strip = process_strip(stages)
    assert strip.shape[1] > len(stages) * 240
    assert (strip[10:250, 10:250] == stages[0][1]).mean() > 0.999


def test_outlines_lie_where_the_framed_drawing_lies() -> None:
    """libvips draws both: the framed outlines, and the drawing that is framed as pixels."""
    drawing = rasterise_svg(SVG, 600, ImageLimits())
    recipe = Recipe(source=Source(asset="0" * 64, width=600, height=400),
                    frame=Frame(turn=1, tilt=7.0, crop=(20, 40, 330, 500)),
                    closings=(Closing(points=((30.0, 30.0), (120.0, 60.0)), inked=True),))
    deriver = type(DERIVER)(lambda asset: drawing)
    data = outlines_svg(deriver, recipe, SVG)
    assert b"onclick" not in data
    out = pyvips.Image.new_from_buffer(data, "").numpy()
    assert out.shape[:2] == (500, 330)
    pixels = deriver.ink(recipe)
    assert np.abs(out[..., 3].astype(int) - pixels).mean() < 2.5
    with pytest.raises(NoOutlinesError):
        outlines_svg(deriver, recipe, b"\x89PNG")
