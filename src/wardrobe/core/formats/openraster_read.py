"""Read OpenRaster files, one's own or from elsewhere. They are hostile until read within limits."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any, TypeVar

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring
from numpy.typing import NDArray

from wardrobe.core.errors import ImageLimitError, UnreadableImageError
from wardrobe.core.formats.images import check_size, decode_image, decode_paint
from wardrobe.core.formats.limits import ImageLimits, StackLimits
from wardrobe.core.formats.members import Members, members_of
from wardrobe.core.formats.openraster import COMPOSITE_OPS
from wardrobe.core.parallel import each
from wardrobe.core.stack.model import Group, Layer, Stack, Tint

Byte = NDArray[np.uint8]
P = TypeVar("P")

_MODES = {said: name for name, said in COMPOSITE_OPS.items()}
_FARTHEST = 100_000  # pixels beside the canvas that a layer may begin
_PNG_HEAD = 24  # bytes up to its size
_AT_ONCE, _PIXELS_AT_ONCE = 8, 40_000_000


@dataclass(frozen=True)
class Opened:
    """What was in a file.

    Attributes
    ----------
    stack : Stack
    merged : ndarray of uint8, shape (height, width, 4), or None
        The flat picture that came with it.
    dpi : float or None
    notes : tuple of str
        What could not be taken as it was meant.
    """

    stack: Stack
    merged: Byte | None
    dpi: float | None
    notes: tuple[str, ...]


def read_openraster(file: Path | IO[bytes], limits: StackLimits | None = None) -> Opened:
    """Read a layered file.

    Parameters
    ----------
    file : Path or binary file
    limits : StackLimits

    Returns
    -------
    Opened
        Members are read by name and never unpacked to disk.

    Raises
    ------
    ImageLimitError
        If the file asks for more than the limits.
    UnreadableImageError
        If it is damaged, lacks a member, or is no OpenRaster file.

    References
    ----------
    OpenRaster baseline specification 0.0.6.
    """
    limits = limits or StackLimits()
    damaged = UnreadableImageError("This is not an OpenRaster file, or it is damaged or cut "
                                   "short.")
    with members_of(file, limits.members, limits.unpacked_bytes, damaged) as members:
        return _read(members, limits)


@dataclass(frozen=True)
class _Wanted:
    """A layer whose pixels are still to be decoded."""

    name: str
    source: str
    x: int
    y: int
    mode: str
    opacity: float
    visible: bool


def _read(members: Members, limits: StackLimits) -> Opened:
    kind = members.read("mimetype", 256).strip() if "mimetype" in members else b""
    if kind != b"image/openraster":
        raise UnreadableImageError("This is not an OpenRaster file: it does not say that it is "
                                   "one.")
    try:
        root = fromstring(members.read("stack.xml", limits.description_bytes), forbid_dtd=True)
    except (DefusedXmlException, ParseError, ValueError, LookupError) as error:
        raise UnreadableImageError("The list of layers (stack.xml) is damaged, or holds "
                                   "declarations that are not read.") from error
    width, height = _whole(root, "w", 0), _whole(root, "h", 0)
    check_size(width, height, limits.image)
    notes: list[str] = []
    top = root.find("stack")
    if top is None:
        raise UnreadableImageError("The list of layers holds no stack.")
    counted = sum(1 for _ in root.iter("layer"))
    if counted > limits.layers:
        raise ImageLimitError(f"The file has {counted} layers; the limit is {limits.layers}.")
    groups = sum(1 for _ in root.iter("stack"))
    if groups * width * height > limits.group_pixels:
        most = limits.group_pixels // (width * height)
        raise ImageLimitError(f"The file has {groups} groups; the limit is {most} on a canvas of "
                              "this size.")
    tree = _children(top, notes, limits, 0)
    pixels = _pixels(members, [w for w in _flat(tree)], limits)
    nodes = _filled(tree, pixels)
    merged = None
    if "mergedimage.png" in members:
        data = members.read("mergedimage.png", limits.image.file_bytes)
        merged = _decoded(decode_image, data, "mergedimage.png", limits.image)
        if merged.shape[:2] != (height, width):
            notes.append("The flat picture in the file has another size; it was left aside.")
            merged = None
    dpi = root.get("xres")
    return Opened(Stack(width, height, nodes), merged, _number(dpi) if dpi else None,
                  tuple(dict.fromkeys(notes)))


_Tree = list["_Wanted | tuple[Group, Any]"]


def _children(stack: Any, notes: list[str], limits: StackLimits, depth: int) -> _Tree:
    """What a stack element lists, bottom to top."""
    if depth > limits.depth:
        raise ImageLimitError(f"Groups lie in each other deeper than {limits.depth} levels.")
    found: _Tree = []
    for element in stack:
        if element.tag == "stack":
            group = Group(_name(element), [], _mode(element, notes), _opacity(element),
                          _visible(element))
            found.append((group, _children(element, notes, limits, depth + 1)))
        elif element.tag == "layer":
            source = element.get("src", "")
            if not source or source.startswith(("/", "\\")) or ".." in source.split("/"):
                raise UnreadableImageError(f"The layer “{_name(element)}” names a file outside "
                                           "the archive.")
            found.append(_Wanted(_name(element), source, _whole(element, "x", 0),
                                 _whole(element, "y", 0), _mode(element, notes),
                                 _opacity(element), _visible(element)))
        else:
            notes.append(f"“{str(element.tag)[:40]}” in the list of layers is not known; it was "
                         "left out.")
    return found[::-1]


def _flat(tree: _Tree) -> list[_Wanted]:
    return [inner for node in tree
            for inner in ([node] if isinstance(node, _Wanted) else _flat(node[1]))]


def _pixels(members: Members, wanted: list[_Wanted],
            limits: StackLimits) -> dict[str, Tint | Byte]:
    """Decoded members by name, each once however often it is named; layers count each time, for
    each has to be laid down."""
    sizes = {w.source: (0, 0) for w in wanted}
    for name in sizes:
        sizes[name] = _png_size(members.begin(name, _PNG_HEAD), name)
    total = sum(width * height for width, height in (sizes[w.source] for w in wanted))
    if total > limits.pixels:
        raise ImageLimitError(f"The layers hold {total / 1e6:.0f} million pixels together; the "
                              f"limit is {limits.pixels / 1e6:.0f} million.")
    decoded: dict[str, Tint | Byte] = {}
    for some in _batched(sizes):  # packed bytes are let go when they are decoded
        files = [(name, members.read(name, limits.image.file_bytes)) for name in some]
        decoded.update(zip(some, each(lambda item: _decoded(
            decode_paint, item[1], item[0], limits.image), files), strict=True))
    return decoded


def _batched(sizes: Mapping[str, tuple[int, int]]) -> Iterator[list[str]]:
    """Names of pictures that are decoded at once: a few, and not many pixels together."""
    some: list[str] = []
    pixels = 0
    for name, (width, height) in sizes.items():
        if some and (len(some) == _AT_ONCE or pixels + width * height > _PIXELS_AT_ONCE):
            yield some
            some, pixels = [], 0
        some.append(name)
        pixels += width * height
    if some:
        yield some


def _filled(tree: _Tree, pixels: dict[str, Tint | Byte]) -> list[Layer | Group]:
    nodes: list[Layer | Group] = []
    for node in tree:
        if isinstance(node, _Wanted):
            nodes.append(Layer(node.name, pixels[node.source], node.x, node.y, node.mode,
                               node.opacity, None, node.visible))
        else:
            group, inner = node
            nodes.append(Group(group.name, _filled(inner, pixels), group.mode, group.opacity,
                               group.visible))
    return nodes


def _png_size(data: bytes, name: str) -> tuple[int, int]:
    """Width and height that a PNG says it has."""
    if data[:8] != b"\x89PNG\r\n\x1a\n" or len(data) < 24:
        raise UnreadableImageError(f"“{name}” is not a PNG.")
    return int.from_bytes(data[16:20], "big"), int.from_bytes(data[20:24], "big")


def _decoded(decode: Callable[[bytes, ImageLimits], P], data: bytes, name: str,
             limits: ImageLimits) -> P:
    _png_size(data, name)
    try:
        return decode(data, ImageLimits(1, limits.longest_edge, limits.pixels,
                                        limits.file_bytes))
    except UnreadableImageError as error:
        raise type(error)(f"“{name}”: {error.message}") from error


def _name(element: Any) -> str:
    return str(element.get("name", ""))[:400]


def _visible(element: Any) -> bool:
    return bool(element.get("visibility", "visible") != "hidden")


def _opacity(element: Any) -> float:
    return float(np.clip(_number(element.get("opacity", "1")), 0, 1))


def _mode(element: Any, notes: list[str]) -> str:
    said = element.get("composite-op", "svg:src-over")
    if said not in _MODES:
        notes.append(f"“{_name(element)}” is laid on by “{said[:40]}”, which is not known; it is "
                     "shown as normal.")
    return _MODES.get(said, "normal")


def _number(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise UnreadableImageError(f"“{text[:40]}” in the list of layers is not a number."
                                   ) from None
    if not np.isfinite(value):
        raise UnreadableImageError(f"“{text[:40]}” in the list of layers is not a number.")
    return value


def _whole(element: Any, key: str, otherwise: int) -> int:
    value = _number(element.get(key, str(otherwise)))
    if abs(value) > _FARTHEST:
        raise ImageLimitError(f"{key} = {value:.0f} px is outside the limits.")
    return round(value)
