"""Files that come in: good, damaged, hostile."""

import io
import struct
import zlib

import cv2
import numpy as np
import pytest
from PIL import Image

from tests.drawings import figure_ink, on_white, png, transparent
from wardrobe.core.errors import ImageLimitError, UnreadableImageError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.png import encode_png

SVG = ('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 150">{}'
       '<circle cx="50" cy="50" r="40" fill="none" stroke="#000"/></svg>')


def encoded(kind: str) -> bytes:
    out = io.BytesIO()
    Image.fromarray(on_white(figure_ink())).save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP", "TIFF"])
def test_raster_formats(kind: str) -> None:
    pixels = decode_image(encoded(kind))
    assert pixels.shape == (480, 480, 4)
    assert np.abs(pixels[..., 0].astype(int) - on_white(figure_ink())[..., 0]).mean() < 2


def test_sixteen_bit_grey() -> None:
    grey = np.full((64, 64), 51400, np.uint16)
    assert decode_image(cv2.imencode(".png", grey)[1].tobytes())[0, 0].tolist() == [200] * 3 + [255]


def test_svg_is_drawn_at_the_long_edge() -> None:
    assert decode_image(SVG.format("").encode(), long_edge=900).shape == (900, 600, 4)


def png_header(width: int, height: int) -> bytes:
    def chunk(kind: bytes, body: bytes) -> bytes:
        check = struct.pack(">I", zlib.crc32(kind + body))
        return struct.pack(">I", len(body)) + kind + body + check

    size = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    return (b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", size) + chunk(b"IDAT", zlib.compress(b"\0" * 64))
            + chunk(b"IEND", b""))


ENTITY = ('<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]>'
          '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><text>&b;</text></svg>')
GOOD = png(transparent(figure_ink()))


@pytest.mark.parametrize(("data", "error"), [
    (b"", UnreadableImageError),
    (b"%PDF-1.4 renamed to .png", UnreadableImageError),
    (GOOD[:len(GOOD) // 2], UnreadableImageError),
    (encoded("JPEG")[:2000], UnreadableImageError),
    (png(np.zeros((1, 1, 3), np.uint8)), ImageLimitError),
    (png_header(30000, 30000), ImageLimitError),
    (png_header(200000, 200000), ImageLimitError),
    (ENTITY.encode(), UnreadableImageError),
    (SVG.format('<image href="file:///etc/passwd"/>').encode(), UnreadableImageError),
    (SVG.format('<use href="http://elsewhere.example/a.svg#b"/>').encode(), UnreadableImageError),
    (SVG.format('<rect style="fill:url(//elsewhere.example/a)"/>').encode(), UnreadableImageError),
    (SVG.format("<style>@import 'x.css';</style>").encode(), UnreadableImageError),
    (SVG.format("<g>").encode(), UnreadableImageError),
    (b'<svg xmlns="http://www.w3.org/2000/svg"/>', UnreadableImageError),
    (b'<?xml version="1.0"?><html/>', UnreadableImageError),
    (b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90000 1"/>', ImageLimitError),
])
def test_bad_files_are_refused_with_a_message(data: bytes, error: type[Exception]) -> None:
    with pytest.raises(error) as caught:
        decode_image(data)
    assert len(str(caught.value)) > 15


@pytest.mark.parametrize("shape", [(37, 53), (37, 53, 3), (37, 53, 4)])
def test_the_fast_png_writer_is_lossless(shape: tuple[int, ...]) -> None:
    pixels = np.random.default_rng(0).integers(0, 256, shape).astype(np.uint8)
    image = Image.open(io.BytesIO(encode_png(pixels, dpi=300)))
    assert (np.asarray(image) == pixels).all()
    assert image.info["dpi"][0] == pytest.approx(300, abs=0.1)
