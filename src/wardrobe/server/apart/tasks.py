"""What is done apart: each reads a file from outside, within limits."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits, StackLimits
from wardrobe.core.formats.png import encode_png

Byte = NDArray[np.uint8]


@dataclass(frozen=True)
class ReadPicture:
    """A picture that has been decoded: as PNG, and its size."""

    png: bytes
    width: int
    height: int


def read_picture(path: Path, limits: ImageLimits, long_edge: int) -> ReadPicture:
    """Decode a picture, and encode it as PNG."""
    rgba = decode_image(path.read_bytes(), limits, long_edge)
    return ReadPicture(encode_png(rgba), rgba.shape[1], rgba.shape[0])


def read_stack(path: Path, limits: StackLimits) -> tuple[Any, Byte]:
    """A layered file, and its flat picture on white where it is clear, RGB."""
    from wardrobe.core.formats.openraster_read import read_openraster
    from wardrobe.core.stack.flatten import flatten, on_white

    opened = read_openraster(path, limits)
    return opened, on_white(flatten(opened.stack))


def read_piece(path: Path, limits: ImageLimits) -> Any:
    """The archive of a piece."""
    from wardrobe.recipe.exchange.archive import read_archive

    return read_archive(path, limits)


def read_press(path: Path) -> tuple[bytes, str]:
    """The ICC profile of a press, and what it is called."""
    from wardrobe.core.press.profile import read_profile

    profile = read_profile(path.read_bytes())
    return profile.data, profile.name


def load_compositor() -> None:
    """Have the compiled kernels of the compositor ready; on a new machine they are compiled."""
    from wardrobe.core.stack.flatten import flatten
    from wardrobe.core.stack.model import Group, Layer, Stack, Tint

    coat = Layer("coat", Tint(np.full((8, 8), 200, np.uint8), (90, 120, 60)))
    shade = Layer("shade", np.full((8, 8, 4), 90, np.uint8), 1, 1, "multiply", 0.5)
    flatten(Stack(8, 8, [coat, Group("figure", [coat, shade], "screen")]))


TASKS: dict[str, Callable[..., Any]] = {
    "picture": read_picture, "stack": read_stack, "piece": read_piece, "profile": read_press,
    "compositor": load_compositor}

# What a process does once before a task, without counting it against the file.
BEFORE = {"stack": "compositor"}
