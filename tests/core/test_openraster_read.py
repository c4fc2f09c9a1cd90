"""Layered files come back as they went out; hostile ones are refused with a reason."""

import io
import zipfile
from pathlib import Path

import numpy as np
import pyora
import pytest
from PIL import Image

from tests.drawings import piece
from wardrobe.core.composite.operators import OPERATORS
from wardrobe.core.errors import ImageLimitError, UnreadableImageError
from wardrobe.core.formats.limits import StackLimits
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Group, Layer, Stack
from wardrobe.recipe.document.view import View


def same(one: Layer | Group, other: Layer | Group) -> bool:
    assert (one.name, one.mode, one.visible) == (other.name, other.mode, other.visible)
    assert abs(one.opacity - other.opacity) < 1e-5
    if isinstance(one, Group) and isinstance(other, Group):
        return len(one.children) == len(other.children) and all(
            same(a, b) for a, b in zip(one.children, other.children, strict=True))
    assert isinstance(one, Layer) and isinstance(other, Layer)
    seen = one.pixels[..., 3] > 0
    assert (one.pixels[..., 3] == other.pixels[..., 3]).all()
    return (one.x, one.y) == (other.x, other.y) and bool(
        (one.pixels[seen] == other.pixels[seen]).all())


def test_what_is_written_is_read_and_written_the_same(tmp_path: Path) -> None:
    deriver, recipe = piece()
    stack, picture = deriver.stack(recipe), deriver.picture(recipe, View.whole(480, 480))
    write_openraster(tmp_path / "a.ora", stack, picture, 300)
    opened = read_openraster(tmp_path / "a.ora")
    assert opened.notes == () and opened.dpi == 300 and opened.merged is not None
    assert (opened.merged[..., :3] == picture).all()
    assert len(opened.stack.nodes) == len(stack.nodes)
    assert all(same(a, b) for a, b in zip(stack.nodes, opened.stack.nodes, strict=True))
    assert (flatten(opened.stack) == flatten(stack)).all()
    write_openraster(tmp_path / "b.ora", opened.stack, picture, 300)
    with zipfile.ZipFile(tmp_path / "a.ora") as one, zipfile.ZipFile(tmp_path / "b.ora") as two:
        assert one.read("stack.xml") == two.read("stack.xml")
    again = read_openraster(tmp_path / "b.ora")
    assert all(same(a, b) for a, b in zip(stack.nodes, again.stack.nodes, strict=True))


# pyora composes soft-light by another formula, and has no plus-lighter of its own.
@pytest.mark.parametrize("mode", ["normal", "multiply", "screen", "overlay", "hard-light",
                                  "darken", "lighten", "difference", *OPERATORS])
def test_groups_modes_and_opacities_are_composed_as_an_independent_reader_does(
        mode: str, tmp_path: Path) -> None:
    rng = np.random.default_rng(5)
    pixels = rng.integers(0, 256, (3, 40, 50, 4), np.uint8)
    pixels[0, ..., 3] = 255
    stack = Stack(60, 50, [
        Layer("ground", np.dstack([np.full((50, 60, 3), 120, np.uint8),
                                   np.full((50, 60), 255, np.uint8)])),
        Layer("low", pixels[0], 3, 4),
        Group("pair", [Layer("one", pixels[1], 8, 2), Layer("two", pixels[2], 1, 9, mode, 0.7)],
              "normal", 0.8),
        Layer("top", pixels[1], 9, 9, mode, 0.6), Layer("away", pixels[2], 0, 0, visible=False)])
    write_openraster(tmp_path / "m.ora", stack, np.zeros((50, 60, 3), np.uint8))
    ours = flatten(read_openraster(tmp_path / "m.ora").stack).astype(int)
    theirs = np.asarray(pyora.Project.load(str(tmp_path / "m.ora")).get_image_data(
        use_original=False).convert("RGBA")).astype(int)
    # Colour where nothing is to be seen does not count.
    assert np.abs(ours - theirs)[(ours[..., 3] > 0) | (theirs[..., 3] > 0)].max() <= 1


PNG_START = encode_png(np.zeros((8, 8, 4), np.uint8))[:24]
LAYER = '<layer name="a" src="data/a.png" x="0" y="0"/>'


def archive(xml: str | None = None, layers: str = LAYER, size: str = 'w="64" h="64"',
            mimetype: bytes | None = b"image/openraster", **members: bytes) -> io.BytesIO:
    """An OpenRaster file, made to order."""
    out = io.BytesIO()
    files = {"data/a.png": encode_png(np.full((64, 64, 4), 200, np.uint8)), **{
        name.replace("__", "/").replace("_png", ".png"): data for name, data in members.items()}}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        if mimetype is not None:
            file.writestr("mimetype", mimetype)
        file.writestr("stack.xml", xml or f"<image {size}><stack>{layers}</stack></image>")
        for name, data in files.items():
            if data:
                file.writestr(name, data)
    out.seek(0)
    return out


def bomb() -> bytes:
    """A PNG that says it has 60,000 pixels on each edge."""
    data = bytearray(encode_png(np.zeros((8, 8, 4), np.uint8)))
    data[16:24] = (60_000).to_bytes(4, "big") * 2
    return bytes(data)


ENTITIES = ('<?xml version="1.0"?><!DOCTYPE i [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>'
            '<image w="64" h="64"><stack name="&b;"/></image>')
DEEP = f'<image w="64" h="64"><stack>{"<stack>" * 200}{"</stack>" * 200}</stack></image>'


@pytest.mark.parametrize(("file", "reason"), [
    (io.BytesIO(b"PK no archive at all"), "not an OpenRaster file"),
    (io.BytesIO(archive().getvalue()[:200]), "not an OpenRaster file"),
    (archive(mimetype=None), "does not say"), (archive(mimetype=b"image/png"), "does not say"),
    (archive(xml="<image w='64'"), "damaged"), (archive(xml=ENTITIES), "damaged"),
    (archive(xml="<image w='64' h='64'/>"), "no stack"),
    (archive(size='w="0" h="64"'), "0 x 64"), (archive(size='w="nan" h="64"'), "not a number"),
    (archive(size='w="900000" h="64"'), "limits"), (archive(size='w="11000" h="11000"'), "limits"),
    (archive(layers=LAYER * 3000), "3000 layers"), (archive(xml=DEEP), "deeper"),
    (archive(layers='<layer src="data/b.png"/>'), "lacks"),
    (archive(layers='<layer name="x" src="../../etc/passwd"/>'), "outside"),
    (archive(layers='<layer name="x" src="/etc/passwd"/>'), "outside"),
    (archive(layers='<layer src="data/a.png" x="1e300"/>'), "limits"),
    (archive(data__a_png=b"GIF89a nothing here at all"), "not a PNG"),
    (archive(data__a_png=encode_png(np.zeros((64, 64, 4), np.uint8))[:60]), "damaged"),
    (archive(data__a_png=bomb()), "million pixels"),
    (archive(data__a_png=bytes(80 * 2**20)), "not a PNG"),
    (archive(data__a_png=PNG_START + bytes(80 * 2**20)), "unpacks to more")])
def test_hostile_files_are_refused_with_a_reason(file: io.BytesIO, reason: str) -> None:
    with pytest.raises((UnreadableImageError, ImageLimitError)) as refused:
        read_openraster(file)
    assert reason in refused.value.message


def test_what_is_foreign_is_kept_as_far_as_it_goes(tmp_path: Path) -> None:
    layers = ('<layer name="top" src="data/a.png" composite-op="foreign:glow" opacity="7"/>'
              f'<text/><stack name="g" visibility="hidden">{LAYER}</stack>')
    opened = read_openraster(archive(layers=layers, mergedimage_png=encode_png(
        np.zeros((32, 32, 3), np.uint8))))
    bottom, top = opened.stack.nodes
    assert isinstance(bottom, Group) and not bottom.visible and top.name == "top"
    assert top.mode == "normal" and top.opacity == 1
    assert opened.merged is None and len(opened.notes) == 3
    assert Image.fromarray(flatten(opened.stack)).getpixel((3, 3)) == (200, 200, 200, 200)
    few = StackLimits(layers=1)
    with pytest.raises(ImageLimitError):
        read_openraster(archive(layers=LAYER * 2), few)
