"""Write OpenRaster."""

import io
import zipfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import IO
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from wardrobe.core.composite.modes import MODES
from wardrobe.core.composite.operators import OPERATORS
from wardrobe.core.formats.png import encode_paint, encode_png, encode_tint
from wardrobe.core.parallel import each
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint

THUMBNAIL_EDGE = 256
COMPOSITE_OPS = {**{name: mode.openraster for name, mode in MODES.items()},
                 **{name: operator.openraster for name, operator in OPERATORS.items()}}


def write_openraster(path: Path | IO[bytes], stack: Stack, merged: NDArray[np.uint8],
                     dpi: int = 300,
                     on_progress: Callable[[float], None] = lambda share: None) -> None:
    """Write a stack as an OpenRaster file.

    Parameters
    ----------
    path : Path or binary file
        Write to a temporary name and rename it yourself.
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
    files = encode_layers(layers, on_progress)
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr(_entry("mimetype"), b"image/openraster")
        for number, png in enumerate(files):
            archive.writestr(_entry(_source(number)), png)
        archive.writestr(_entry("mergedimage.png"), encode_png(merged, level=3))
        archive.writestr(_entry("Thumbnails/thumbnail.png"), _thumbnail(merged))
        xml = ElementTree.tostring(image, encoding="UTF-8", xml_declaration=True)
        archive.writestr(_entry("stack.xml"), xml)
    on_progress(1.0)


def encode_layers(layers: Sequence[Layer], on_progress: Callable[[float], None]) -> list[bytes]:
    """Each layer's own PNG; reports up to 0.9, as the packing comes after."""
    done = 0

    def encode(layer: Layer) -> bytes:
        nonlocal done
        png = encode_layer(layer)
        done += 1
        on_progress(0.9 * done / len(layers))
        return png

    return each(encode, layers)


def encode_layer(layer: Layer) -> bytes:
    """A layer's own PNG, as small as its paint allows."""
    if isinstance(layer.paint, Tint):
        return encode_tint(layer.paint.alpha, layer.paint.colour)
    first = layer.paint[0, 0, :3]
    if (layer.paint[..., :3] == first).all():
        r, g, b = (int(v) for v in first)
        return encode_tint(layer.paint[..., 3], (r, g, b))
    return encode_paint(layer.paint)


def _entry(name: str) -> zipfile.ZipInfo:
    """A stored entry with a fixed date: PNGs are compressed, and equal stacks give equal files."""
    return zipfile.ZipInfo(name, date_time=(1980, 1, 1, 0, 0, 0))


def _source(number: int) -> str:
    return f"data/layer{number:03d}.png"


def _describe(nodes: Sequence[Node], parent: ElementTree.Element, layers: list[Layer]) -> None:
    for node in reversed(nodes):
        common = {"name": node.name, "opacity": f"{node.opacity:.6g}",
                  "visibility": "visible" if node.visible else "hidden",
                  "composite-op": COMPOSITE_OPS[node.mode]}
        if isinstance(node, Group):
            group = ElementTree.SubElement(parent, "stack", common | {"isolation": "isolate"})
            _describe(node.children, group, layers)
        else:
            source = {"src": _source(len(layers)), "x": str(node.x), "y": str(node.y)}
            ElementTree.SubElement(parent, "layer", common | source)
            layers.append(node)


def _thumbnail(merged: NDArray[np.uint8]) -> bytes:
    image = Image.fromarray(merged)
    image.thumbnail((THUMBNAIL_EDGE, THUMBNAIL_EDGE))
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
