"""A stack as PDF whose layers can be switched in a reader."""

from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Name
from zlib_ng import zlib_ng

from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.stack.baked import baked
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint

Byte = NDArray[np.uint8]

# ISO 32000-1, tables 136 and 137; ``plus-lighter`` is none of them.
MODES = {mode: "".join(word.capitalize() for word in mode.split("-")) for mode in (
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color",
    "luminosity")}
_LEVEL = 6
# px by which an image is smaller on each side: readers that round its edges outwards would else
# make it larger by a pixel.
_HAIR = 0.005


def write_layered_pdf(path: Path, stack: Stack, title: str, dpi: int,
                      on_progress: Callable[[float], None] = lambda share: None) -> None:
    """Write a stack as one page.

    Parameters
    ----------
    path : Path
    stack : Stack
    title : str
    dpi : int
        Pixels to an inch: how large the page is.
    on_progress : callable
        Called with a share 0..1; may raise to cancel.

    References
    ----------
    ISO 32000-1: 8.11 (optional content), 11.6.4 (groups and blend modes), 11.6.5.3 (soft-mask
    images). Layers and groups lie in content groups of their names; groups are isolated. Layers in
    modes that PDF does not have are laid on normally in the colours that they came to.
    """
    stack = baked(stack, MODES)
    scale = 72 / dpi
    size = [0, 0, round(stack.width * scale, 5), round(stack.height * scale, 5)]
    with pikepdf.new() as pdf:
        writer = _Writer(pdf, stack, on_progress)
        page = pdf.add_blank_page(page_size=(size[2], size[3]))
        page.obj.MediaBox = Array(size)
        content, order = writer.nodes(stack.nodes)
        page.Resources = content.resources
        page.obj.Group = _transparency(isolated=True)
        page.Contents = pdf.make_stream(f"{scale:.8f} 0 0 {scale:.8f} 0 0 cm\n".encode()
                                        + content.code)
        pdf.Root.OCProperties = Dictionary(
            OCGs=Array(writer.all), D=Dictionary(
                Name=title, Order=order, ON=Array([g for g in writer.all if g not in writer.off]),
                OFF=Array(writer.off)))
        pdf.Root.PageMode = Name.UseOC
        pdf.Root.OutputIntents = Array([Dictionary(
            Type=Name.OutputIntent, S=Name.GTS_PDFA1, OutputConditionIdentifier="sRGB",
            Info="sRGB", DestOutputProfile=pdf.make_stream(srgb_profile(), N=3))])
        pdf.docinfo = pdf.make_indirect(Dictionary(Title=title, Creator="Wardrobe",
                                                   Producer="Wardrobe"))
        pdf.save(path, deterministic_id=True, min_version="1.6")
    on_progress(1.0)


class _Content:
    """What draws some nodes, and what that names."""

    def __init__(self) -> None:
        self.code = b""
        self.resources = Dictionary(XObject=Dictionary(), ExtGState=Dictionary(),
                                    Properties=Dictionary())

    def add(self, what: pikepdf.Object, state: pikepdf.Object, group: pikepdf.Object,
            place: str) -> None:
        """Draw an object in its content group, through its graphics state."""
        k = len(self.resources.XObject.keys())
        self.resources.XObject[f"/X{k}"] = what
        self.resources.ExtGState[f"/G{k}"] = state
        self.resources.Properties[f"/L{k}"] = group
        self.code += (f"/OC /L{k} BDC q /G{k} gs {place}/X{k} Do Q EMC\n").encode()


class _Writer:
    def __init__(self, pdf: pikepdf.Pdf, stack: Stack,
                 on_progress: Callable[[float], None]) -> None:
        self.pdf, self.stack, self.on_progress = pdf, stack, on_progress
        self.all: list[pikepdf.Object] = []
        self.off: list[pikepdf.Object] = []
        self.count, self.done = max(1, sum(1 for _ in stack.layers())), 0

    def nodes(self, nodes: Sequence[Node]) -> tuple[_Content, Array]:
        """The content of some nodes, from the bottom, and their order, from the top."""
        content = _Content()
        order: list[pikepdf.Object] = []
        for node in nodes:
            group = self.pdf.make_indirect(Dictionary(Type=Name.OCG, Name=node.name))
            self.all.append(group)
            if not node.visible:
                self.off.append(group)
            state = Dictionary(Type=Name.ExtGState, BM=Name(f"/{MODES[node.mode]}"),
                               ca=round(node.opacity, 6))
            if isinstance(node, Group):
                inner, inside = self.nodes(node.children)
                content.add(self._form(inner), state, group, "")
                order.append(Array([group, inside]))
            else:
                h, w = node.shape
                bottom = self.stack.height - node.y - h
                if h and w:
                    content.add(self._image(node), state, group,
                                f"{w - 2 * _HAIR} 0 0 {h - 2 * _HAIR} {node.x + _HAIR} "
                                f"{bottom + _HAIR} cm ")
                order.append(group)
                self.done += 1
                self.on_progress(0.95 * self.done / self.count)
        flat: list[pikepdf.Object] = []
        for entry in reversed(order):  # what is nested follows its group
            flat += list(entry) if isinstance(entry, Array) and len(entry) == 2 \
                and isinstance(entry[1], Array) else [entry]
        return content, Array(flat)

    def _form(self, content: _Content) -> pikepdf.Object:
        form = pikepdf.Stream(self.pdf, content.code)
        form.Type, form.Subtype = Name.XObject, Name.Form
        form.BBox = Array([0, 0, self.stack.width, self.stack.height])
        form.Group, form.Resources = _transparency(isolated=True), content.resources
        return self.pdf.make_indirect(form)

    def _image(self, layer: Layer) -> pikepdf.Object:
        """Its colours, and its alpha as a soft mask; one colour is one pixel."""
        if isinstance(layer.paint, Tint):
            colours = np.array([[layer.paint.colour]], np.uint8)
        else:
            colours = np.ascontiguousarray(layer.paint[..., :3])
        image = self._pixels(colours, Name.DeviceRGB)
        image.SMask = self.pdf.make_indirect(self._pixels(np.ascontiguousarray(layer.alpha),
                                                          Name.DeviceGray))
        return self.pdf.make_indirect(image)

    def _pixels(self, pixels: Byte, space: pikepdf.Object) -> pikepdf.Stream:
        image = pikepdf.Stream(self.pdf, zlib_ng.compress(pixels, _LEVEL))
        image.Type, image.Subtype = Name.XObject, Name.Image
        image.Height, image.Width = pixels.shape[:2]
        image.BitsPerComponent, image.ColorSpace = 8, space
        image.Filter, image.Interpolate = Name.FlateDecode, False
        return image


def _transparency(isolated: bool) -> Dictionary:
    return Dictionary(Type=Name.Group, S=Name.Transparency, CS=Name.DeviceRGB, I=isolated,
                      K=False)
