"""Rasterise an SVG that asks for nothing outside itself."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pyvips
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring
from numpy.typing import NDArray

from wardrobe.core.errors import ImageLimitError, UnreadableImageError
from wardrobe.core.formats.limits import ImageLimits

_HEAD = re.compile(rb"^(\xef\xbb\xbf)?\s*(<\?xml|<!DOCTYPE|<!--|<svg|<\w+:svg)", re.IGNORECASE)
# Possessive: a long run of blanks or digits is read once, however it goes on.
_REFERENCE = re.compile(r"url\(\s*+['\"]?+\s*+(?!#)|@import", re.IGNORECASE)
_FORBIDDEN = {"script", "foreignObject", "iframe", "image", "feImage"}
_NUMBER = re.compile(r"((?:[0-9]++(?:\.[0-9]*+)?|\.[0-9]++)(?:e[+-]?+[0-9]{1,3}+)?)\s?"
                     r"(px|pt|mm|cm|in|pc)?", re.IGNORECASE)
_LONGEST_NUMBER = 40  # characters
_UNITS = {"": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0}
_MAX_ELEMENTS = 200_000
_SVG = "http://www.w3.org/2000/svg"


def looks_like_svg(data: bytes) -> bool:
    """Whether the bytes start as XML or SVG does."""
    return bool(_HEAD.match(data[:512]))


def rasterise_svg(data: bytes, long_edge: int, limits: ImageLimits) -> NDArray[np.uint8]:
    """Draw an SVG.

    Parameters
    ----------
    data : bytes
    long_edge : int
        Pixels of the longer edge.
    limits : ImageLimits

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        Straight alpha.

    Raises
    ------
    UnreadableImageError
        If it is not well-formed, declares entities, or refers to anything outside itself.
    ImageLimitError
        If ``long_edge`` or the drawing's proportions leave the limits.
    """
    root = _parse(data)
    width, height = _size(root)
    scale = long_edge / max(width, height)
    pixels = max(1, round(width * scale)), max(1, round(height * scale))
    if min(pixels) < limits.shortest_edge or max(pixels) > limits.longest_edge \
            or pixels[0] * pixels[1] > limits.pixels:
        raise ImageLimitError(f"Drawn at a long edge of {long_edge} px this SVG would be "
                              f"{pixels[0]} x {pixels[1]} px, which is outside the limits.")
    if not root.get("viewBox"):
        root.set("viewBox", f"0 0 {width} {height}")
    root.set("width", str(pixels[0]))
    root.set("height", str(pixels[1]))
    try:
        image = pyvips.Image.svgload_buffer(ElementTree.tostring(root))
        drawn: NDArray[np.uint8] = image.numpy()
    except pyvips.Error as error:
        raise UnreadableImageError("The SVG could not be drawn: it is damaged, or asks for "
                                   "what is not drawn here. Try exporting it as plain SVG or as "
                                   "PNG.") from error
    return drawn


@dataclass(frozen=True)
class InkStroke:
    """A line through points, in picture pixels."""

    points: Sequence[tuple[float, float]]
    width: float
    colour: str


def framed_svg(data: bytes, source: tuple[int, int], size: tuple[int, int],
               matrix: NDArray[np.float64], strokes: Sequence[InkStroke] = ()) -> bytes:
    """An SVG's own outlines, placed in a frame.

    Parameters
    ----------
    data : bytes
        The SVG.
    source : (int, int)
        Width and height in px at which it is drawn.
    size : (int, int)
        Width and height of the frame.
    matrix : ndarray of float64, shape (3, 3)
        From drawn pixels to the frame's.
    strokes : sequence of InkStroke
        Drawn on top, in the frame's pixels.

    Raises
    ------
    UnreadableImageError
        As :func:`rasterise_svg` does.
    """
    root = _parse(data)
    width, height = _size(root)
    if not root.get("viewBox"):
        root.set("viewBox", f"0 0 {width} {height}")
    root.set("width", str(source[0]))
    root.set("height", str(source[1]))
    # Handlers of events are not drawing.
    for element in root.iter():
        for key in [k for k in element.attrib if _local(k).lower().startswith("on")]:
            del element.attrib[key]
    ElementTree.register_namespace("", _SVG)
    out = ElementTree.Element(f"{{{_SVG}}}svg", {
        "width": str(size[0]), "height": str(size[1]), "viewBox": f"0 0 {size[0]} {size[1]}"})
    a, c, e, b, d, f = (f"{v:.8g}" for v in matrix[:2].ravel())
    group = ElementTree.SubElement(out, f"{{{_SVG}}}g",
                                   {"transform": f"matrix({a} {b} {c} {d} {e} {f})"})
    group.append(root)
    for stroke in strokes:
        ElementTree.SubElement(out, f"{{{_SVG}}}polyline", {
            "points": " ".join(f"{x:.2f},{y:.2f}" for x, y in stroke.points), "fill": "none",
            "stroke": stroke.colour, "stroke-width": f"{stroke.width:.2f}",
            "stroke-linecap": "round", "stroke-linejoin": "round"})
    framed: bytes = ElementTree.tostring(out, encoding="UTF-8", xml_declaration=True)
    return framed


def _parse(data: bytes) -> Any:
    try:
        root = fromstring(data)
    except DefusedXmlException as error:
        raise UnreadableImageError("The SVG declares entities, which are not accepted because "
                                   "they can be used to overload the reader.") from error
    except (ParseError, ValueError) as error:
        raise UnreadableImageError(f"The SVG is not well-formed XML: {error}.") from error
    if _local(root.tag) != "svg":
        raise UnreadableImageError("This is XML, but not an SVG drawing.")
    for number, element in enumerate(root.iter()):
        if number > _MAX_ELEMENTS:
            raise UnreadableImageError(f"The SVG has more than {_MAX_ELEMENTS} elements.")
        name = _local(element.tag)
        if name in _FORBIDDEN:
            raise UnreadableImageError(f"The SVG holds a <{name}> element; only shapes that are "
                                       "drawn in the file itself are accepted.")
        for key, value in element.attrib.items():
            outside = _local(key) == "href" and not value.strip().startswith("#")
            if outside or _REFERENCE.search(value):
                raise UnreadableImageError("The SVG refers to a file or address outside itself; "
                                           "only shapes that are drawn in the file are accepted.")
        if name == "style" and element.text and _REFERENCE.search(element.text):
            raise UnreadableImageError("The SVG's style sheet refers to a file or address outside "
                                       "itself.")
    return root


def _local(tag: Any) -> str:
    return str(tag).rpartition("}")[2]


def _size(root: Any) -> tuple[float, float]:
    sizes = [_length(root.get(key, "")) for key in ("width", "height")]
    box = root.get("viewBox", "").replace(",", " ").split()
    if sizes[0] is not None and sizes[1] is not None:
        width, height = sizes[0], sizes[1]
    elif not box:
        raise UnreadableImageError("The SVG has neither a size nor a viewBox.")
    else:
        try:
            _, _, width, height = (float(v[:_LONGEST_NUMBER]) for v in box)
        except ValueError:
            raise UnreadableImageError("The SVG's viewBox is not four numbers.") from None
    if not (0 < width < 1e7 and 0 < height < 1e7):
        raise UnreadableImageError("The SVG's size is not a usable number.")
    return width, height


def _length(text: str) -> float | None:
    """A length in px; None if it is none, or a share of something."""
    found = _NUMBER.fullmatch(text.strip()) if len(text) <= _LONGEST_NUMBER else None
    return float(found[1]) * _UNITS[(found[2] or "").lower()] if found else None
