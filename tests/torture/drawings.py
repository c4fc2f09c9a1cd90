"""Files that Wardrobe takes, small ones, of every kind."""

import io
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tests.torture.machine import Machine

Byte = NDArray[np.uint8]


def figure(size: int = 200) -> Byte:
    """Ink of a head on a body, coverage."""
    ink = np.zeros((size, size), np.uint8)
    thick = max(2, size // 50)
    cv2.ellipse(ink, (size // 2, size * 2 // 3), (size // 4, size // 4), 0, 0, 360, 255, thick)
    cv2.circle(ink, (size // 2, size // 4), size // 6, 0, -1)
    cv2.circle(ink, (size // 2, size // 4), size // 6, 255, thick)
    cv2.line(ink, (size // 4, size * 2 // 3), (size * 3 // 4, size * 2 // 3), 255, thick)
    return ink


def saved(image: Image.Image, form: str, **options: Any) -> bytes:
    """A picture in a format."""
    out = io.BytesIO()
    image.save(out, form, **options)
    return out.getvalue()


def drawings(size: int = 120) -> dict[str, bytes]:
    """A drawing in every format."""
    ink = figure(size)
    grey = Image.fromarray(255 - ink)
    clear = np.zeros((*ink.shape, 4), np.uint8)
    clear[..., 3] = ink
    turned = Image.Exif()
    turned[274] = 6
    return {
        "png": saved(grey, "PNG"), "png clear": saved(Image.fromarray(clear), "PNG"),
        "png palette": saved(grey.convert("P"), "PNG"),
        "png 16 bit": saved(Image.fromarray((255 - ink).astype(np.uint16) * 257), "PNG"),
        "jpeg": saved(grey.convert("RGB"), "JPEG", exif=turned), "webp": saved(grey, "WEBP"),
        "tiff": saved(grey, "TIFF", compression="tiff_lzw"),
        "tiff pages": saved(grey, "TIFF", save_all=True, append_images=[grey]),
        "svg": (f'<svg xmlns="http://www.w3.org/2000/svg" width="{size}px" height="{size}" '
                f'viewBox="0 0 100 100"><defs><linearGradient id="g"><stop offset="0.5"/>'
                f'</linearGradient><filter id="f"><feGaussianBlur stdDeviation="0.1"/></filter>'
                f'</defs><g fill="none" stroke="url(#g)" stroke-width="3" filter="url(#f)">'
                f'<circle cx="50" cy="30" r="17"/><path d="M20 60C20 95 80 95 80 60Z" '
                f'transform="rotate(2 5 5)"/></g></svg>').encode()}


def layered_and_archives(machine: Machine, piece: int) -> dict[str, bytes]:
    """What the server itself delivers, to be taken back."""
    return {"openraster": machine.delivered(piece, format="ora"),
            "archive": machine.delivered(piece, format="archive")}


CARDS = {
    "tokens": b'{"Ilse": {"$type": "color", "coat": {"$value": {"colorSpace": "srgb", "components":'
              b' [0.1, 0.5, 1], "hex": "#1a80ff"}, "$extensions": {"org.wardrobe": {"name": "coat",'
              b' "material": "sheen cloth"}}}, "hair": {"$value": "{Ilse.coat}"}}}',
    "csv": b"part,colour,material,shade\ncoat,#1a80ff,sheen cloth,#0a3060\nhair,#803010,hair,\n"}
