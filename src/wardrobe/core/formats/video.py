"""Frames as a film: MP4 (H.264), WebM (VP9), or an animated WebP."""

from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, Literal

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from numpy.typing import NDArray

from wardrobe.core.formats.flat import check_webp

Byte = NDArray[np.uint8]
Film = Literal["mp4", "webm", "webp"]

_BT709 = 1  # primaries, transfer and matrix, ITU-T H.273


@dataclass(frozen=True)
class _Coding:
    """How a film is coded; ``whole`` keeps colours as they are, each at its own pixel."""

    codec: str
    options: dict[str, str]
    container: dict[str, str]
    whole: bool = False


_CODINGS = {
    "mp4": _Coding("libx264", {"crf": "18", "preset": "veryfast"}, {"movflags": "faststart"}),
    "webm": _Coding("libvpx-vp9", {"crf": "24", "b": "0", "deadline": "realtime",
                                   "cpu-used": "6", "row-mt": "1"}, {}),
    "webp": _Coding("libwebp_anim", {"quality": "88", "compression_level": "1"}, {"loop": "0"},
                    whole=True)}


def write_film(path: Path, form: Film, frames: Iterable[tuple[Byte, int]], fps: int) -> None:
    """Write a film; of its frames no more than one is held at a time.

    Parameters
    ----------
    path : Path
    form : str
    frames : iterable of (ndarray of uint8, shape (h, w, 3), int)
        All of one size, even in both directions; each with how many frames it stays, at least 1.
    fps : int
        Frames a second.

    Raises
    ------
    ImageLimitError
        If a WebP would be larger than the format allows.
    """
    coding = _CODINGS[form]
    tick = Fraction(1, 1000 if coding.whole else fps)
    with av.open(str(path), "w", format=form, options=coding.container) as container:
        stream: Any = None
        at = count = 0
        frame: Any = None
        for pixels, stays in frames:
            if stream is None:
                if form == "webp":
                    check_webp(pixels.shape[1], pixels.shape[0])
                stream = _stream(container, coding, pixels, fps, tick)
            frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="rgb24")
            frame = frame.reformat(format="bgra") if coding.whole else frame.reformat(
                format="yuv420p", dst_colorspace=Colorspace.ITU709)
            frame.time_base = tick
            # A WebP says for each picture how long it stays.
            for _ in range(1 if coding.whole else stays):
                frame.pts = round(1000 * at / fps) if coding.whole else at
                at += stays if coding.whole else 1
                count += 1
                container.mux(stream.encode(frame))
        if stream is None:
            return
        # The encoder of WebP gives the last picture the mean time of all: the last is told once
        # more, at such a time that it ends when it should.
        again = round(1000 * at / fps * count / (count + 1)) if coding.whole and count > 1 else 0
        if again > (frame.pts or 0):
            frame.pts = again
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))


def _stream(container: Any, coding: _Coding, pixels: Byte, fps: int, tick: Fraction) -> Any:
    stream = container.add_stream(coding.codec, rate=fps, options=coding.options)
    stream.height, stream.width = pixels.shape[:2]
    stream.time_base = stream.codec_context.time_base = tick
    stream.pix_fmt = "bgra" if coding.whole else "yuv420p"
    if not coding.whole:
        context = stream.codec_context
        context.color_primaries = context.color_trc = context.colorspace = _BT709
        context.color_range = ColorRange.MPEG
    return stream
