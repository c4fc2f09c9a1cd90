"""Pictures of the process: lines, flats, shade, light, finish."""

import io
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from wardrobe.core.formats.flat import check_webp
from wardrobe.core.formats.page import QUIET, Box, Page, Picture, Text, page_to_pixels
from wardrobe.core.formats.profile import srgb_profile
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.views import draw, upto

Byte = NDArray[np.uint8]
Stage = tuple[str, Byte]
Report = Callable[[float], None]

_PAUSE_MS, _LAST_MS = 900, 2600


def process_pictures(deriver: Deriver, recipe: Recipe, long_edge: int,
                     on_progress: Report = lambda share: None) -> list[Stage]:
    """A picture of every stage that changes something.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    long_edge : int
        Pixels of the longer edge.
    on_progress : callable
        Called with a share 0..1; may raise to cancel.

    Returns
    -------
    list of (str, ndarray of uint8, shape (h, w, 3))
    """
    view = View.whole(*recipe.size, long_edge)
    wanted = (("Lines", "lines", recipe), ("Flats", "bases", recipe),
              ("Shade", "picture", upto(recipe, "deep shade")),
              ("Light", "picture", upto(recipe, "glint")), ("Finish", "picture", recipe))
    found: list[Stage] = []
    for done, (name, kind, state) in enumerate(wanted):
        on_progress(done / len(wanted))
        picture = draw(deriver, state, kind, view)
        if not any((picture == before).all() for _, before in found):
            found.append((name, picture))
    return found


def process_strip(stages: list[Stage]) -> Byte:
    """The stages side by side with their names, shape (h, w, 3)."""
    height, width = stages[0][1].shape[:2]
    room, text = max(8, width // 24), max(11.0, width / 22)
    page = Page(room + len(stages) * (width + room), height + 2 * room + 1.9 * text)
    page.items.append(Box(0, 0, page.width, page.height, "#f4f4f4", None))
    for k, (name, picture) in enumerate(stages):
        x = room + k * (width + room)
        page.items += [Picture(x, room, width, height, picture),
                       Text(x, room + height + 1.4 * text, f"{k + 1}  {name}", text, True, QUIET)]
    return page_to_pixels(page, 72)


def process_animation(stages: list[Stage], form: str) -> bytes:
    """The stages one after the other, for ever, as animated PNG or WebP."""
    frames = [Image.fromarray(picture) for _, picture in stages]
    times = [_PAUSE_MS] * (len(frames) - 1) + [_LAST_MS]
    out = io.BytesIO()
    if form == "webp":
        check_webp(*frames[0].size)
        frames[0].save(out, "WEBP", save_all=True, append_images=frames[1:], duration=times,
                       loop=0, lossless=True, quality=30, method=1, icc_profile=srgb_profile())
    else:
        frames[0].save(out, "PNG", save_all=True, append_images=frames[1:], duration=times, loop=0,
                       compress_level=6, icc_profile=srgb_profile())
    return out.getvalue()
