"""Frames as a film: MP4 (H.264), WebM (VP9), or an animated WebP."""

from collections.abc import Iterable
from fractions import Fraction
from pathlib import Path
from typing import Any, Literal

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from numpy.typing import NDArray
from PIL import Image

from wardrobe.core.formats.flat import check_webp
from wardrobe.core.formats.profile import srgb_profile

Byte = NDArray[np.uint8]
Film = Literal["mp4", "webm", "webp"]

_CODECS = {"mp4": ("libx264", {"crf": "18", "preset": "veryfast"}),
           "webm": ("libvpx-vp9", {"crf": "24", "b": "0", "deadline": "realtime",
                                   "cpu-used": "6", "row-mt": "1"})}
_BT709 = 1  # primaries, transfer and matrix, ITU-T H.273


def write_film(path: Path, form: Film, frames: Iterable[tuple[Byte, int]], fps: int) -> None:
    """Write a film.

    Parameters
    ----------
    path : Path
    form : str
    frames : iterable of (ndarray of uint8, shape (h, w, 3), int)
        All of one size, even in both directions; each with how many frames it stays, at least 1.
    fps : int
        Frames a second.
    """
    if form == "webp":
        _write_webp(path, list(frames), fps)
        return
    codec, options = _CODECS[form]
    with av.open(str(path), "w", format=form) as container:
        stream: Any = None
        at = 0
        for pixels, stays in frames:
            if stream is None:
                stream = container.add_stream(codec, rate=fps, options=options)
                stream.height, stream.width = pixels.shape[:2]
                stream.pix_fmt, stream.time_base = "yuv420p", Fraction(1, fps)
                context = stream.codec_context
                context.color_primaries = context.color_trc = context.colorspace = _BT709
                context.color_range = ColorRange.MPEG
            frame: Any = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="rgb24")
            frame = frame.reformat(format="yuv420p", dst_colorspace=Colorspace.ITU709)
            frame.time_base = Fraction(1, fps)
            for _ in range(stays):
                frame.pts = at
                at += 1
                container.mux(stream.encode(frame))
        if stream is not None:
            container.mux(stream.encode(None))


def _write_webp(path: Path, frames: list[tuple[Byte, int]], fps: int) -> None:
    pictures = [Image.fromarray(pixels) for pixels, _ in frames]
    check_webp(*pictures[0].size)
    pictures[0].save(path, "WEBP", save_all=True, append_images=pictures[1:], loop=0,
                     duration=[round(1000 * stays / fps) for _, stays in frames], quality=88,
                     method=1, icc_profile=srgb_profile())
