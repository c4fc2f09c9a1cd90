"""Write OpenRaster."""

import io
import zipfile
from collections.abc import Callable, Sequence
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from wardrobe.core.composite.modes import MODES
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.model import Group, Layer, Stack

THUMBNAIL_EDGE = 256


def write_openraster(path: Path, stack: Stack, merged: NDArray[np.uint8], dpi: int = 300,
                     on_progress: Callable[[float], None] = lambda share: None) -> None:
    """Write a stack as an OpenRaster file.

    Parameters
    ----------
    path : Path
        The file to write; write to a temporary name and rename it yourself.
    stack : Stack
    merged : ndarray of uint8, shape (height, width, 3 or 4)
        The flattened picture.
    dpi : int
        Resolution, pixels per inch.
    on_progress : callable
        Called with a share 0..1; may raise to cancel.

    References
    ----------
    OpenRaster baseline specification 0.0.6: ``mimetype`` first and stored, ``stack.xml``,
    layers in ``data/``, ``mergedimage.png``, ``Thumbnails/thumbnail.png``. Groups carry
    ``isolation="isolate"`` (0.0.6). Layers are listed from top to bottom.
    """
    image = ElementTree.Element("image", {
        "version": "0.0.6", "w": str(stack.width), "h": str(stack.height),
        "xres": str(dpi), "yres": str(dpi)})
    root = ElementTree.SubElement(image, "stack")
    layers: list[Layer] = []
    _describe(stack.nodes, root, layers)
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr(_entry("mimetype"), b"image/openraster")
        for number, layer in enumerate(layers):
            archive.writestr(_entry(f"data/layer{number:03d}.png"), _layer_png(layer.pixels))
            on_progress((number + 1) / (len(layers) + 2))
        archive.writestr(_entry("mergedimage.png"), encode_png(merged, level=3))
        archive.writestr(_entry("Thumbnails/thumbnail.png"), _thumbnail(merged))
        xml = ElementTree.tostring(image, encoding="UTF-8", xml_declaration=True)
        archive.writestr(_entry("stack.xml"), xml)
    on_progress(1.0)


def _entry(name: str) -> zipfile.ZipInfo:
    """A stored entry with a fixed date: PNGs are compressed, and equal stacks give equal files."""
    return zipfile.ZipInfo(name, date_time=(1980, 1, 1, 0, 0, 0))


def _describe(nodes: Sequence[Layer | Group], parent: ElementTree.Element,
              layers: list[Layer]) -> None:
    for node in reversed(nodes):
        common = {"name": node.name, "opacity": f"{node.opacity:.6g}",
                  "visibility": "visible" if node.visible else "hidden",
                  "composite-op": MODES[node.mode].openraster}
        if isinstance(node, Group):
            group = ElementTree.SubElement(parent, "stack", common | {"isolation": "isolate"})
            _describe(node.children, group, layers)
        else:
            source = {"src": f"data/layer{len(layers):03d}.png", "x": str(node.x),
                      "y": str(node.y)}
            ElementTree.SubElement(parent, "layer", common | source)
            layers.append(node)


def _layer_png(pixels: NDArray[np.uint8]) -> bytes:
    """A layer has one colour and up to 256 alphas: a palette says so in a quarter of the room."""
    colour = pixels[..., :3].reshape(-1, 3)
    if pixels.size > 4096 and (colour == colour[0]).all():
        image = Image.fromarray(pixels[..., 3], "P")
        image.putpalette(bytes(colour[0]) * 256)
        out = io.BytesIO()
        image.save(out, "PNG", transparency=bytes(range(256)), compress_level=3)
        return out.getvalue()
    return encode_png(pixels, level=3)


def _thumbnail(merged: NDArray[np.uint8]) -> bytes:
    image = Image.fromarray(merged)
    image.thumbnail((THUMBNAIL_EDGE, THUMBNAIL_EDGE))
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
