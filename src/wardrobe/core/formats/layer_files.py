"""Every layer as a PNG of its own, in an archive with a manifest."""

import json
import re
import zipfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.openraster import encode_layers
from wardrobe.core.formats.png import encode_png
from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.stack.model import Group, Node, Stack

MANIFEST_VERSION = 1
_LONGEST = 80


def write_layer_files(path: Path, stack: Stack, merged: NDArray[np.uint8], dpi: int,
                      on_progress: Callable[[float], None] = lambda share: None) -> None:
    """Write ``manifest.json``, ``picture.png`` and ``layers/*.png`` into a ZIP archive.

    Parameters
    ----------
    path : Path
    stack : Stack
    merged : ndarray of uint8, shape (height, width, 3)
    dpi : int
    on_progress : callable
        Called with a share 0..1; may raise to cancel.
    """
    layers = list(stack.layers())
    names = {id(layer): f"layers/{_file_name(k, layer.name)}"
             for k, layer in enumerate(layers, start=1)}
    files = encode_layers(layers, on_progress)
    manifest = {"manifest_version": MANIFEST_VERSION, "width": stack.width,
                "height": stack.height, "dpi": dpi, "colour_space": "sRGB",
                "picture": "picture.png", "layers": _described(stack.nodes, names)}
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr(_entry("manifest.json"),
                         json.dumps(manifest, indent=1, ensure_ascii=False) + "\n")
        archive.writestr(_entry("picture.png"), encode_png(merged, 3, dpi, srgb_profile()))
        for layer, png in zip(layers, files, strict=True):
            archive.writestr(_entry(names[id(layer)]), png)
    on_progress(1.0)


def _entry(name: str) -> zipfile.ZipInfo:
    return zipfile.ZipInfo(name, date_time=(1980, 1, 1, 0, 0, 0))


def _file_name(number: int, name: str) -> str:
    """A layer's name as every file system takes it."""
    plain = re.sub(r"[^\w\- ]+", "-", name).strip(" -")[:_LONGEST].rstrip(" -")
    return f"{number:03d} {plain}".strip() + ".png"


def _described(nodes: Sequence[Node], names: dict[int, str]) -> list[dict[str, Any]]:
    """Layers and groups, top to bottom."""
    found: list[dict[str, Any]] = []
    for node in reversed(nodes):
        told: dict[str, Any] = {"name": node.name, "mode": node.mode,
                                "opacity": round(node.opacity, 6), "visible": node.visible}
        if isinstance(node, Group):
            told["group"] = _described(node.children, names)
        else:
            told |= {"file": names[id(node)], "x": node.x, "y": node.y,
                     "width": node.shape[1], "height": node.shape[0],
                     "clipped_to": node.clipped_to}
        found.append(told)
    return found
