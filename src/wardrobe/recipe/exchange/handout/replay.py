"""The life of a piece, speeded: its history as frames of a film."""

from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.page import QUIET, Box, Page, Text, page_to_pixels
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import Edit, Several, apply
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.views import picture_stage

Byte = NDArray[np.uint8]
Report = Callable[[float], None]

_AHEAD = 2  # pictures that are drawn at a time
_GROUND = (139, 139, 139)
_BAND = 0.055  # of the longer edge, for captions
# The room of edits that an edit is of says which stage of the work it belongs to.
_STAGES = {"lines": "Lines", "cut": "Areas", "parts": "Parts", "colour": "Colour",
           "light": "Light", "ink": "Lines’ colour", "finish": "Finish", "looks": "Looks"}


@dataclass(frozen=True)
class ReplayWish:
    """How a replay is wanted.

    Attributes
    ----------
    seconds : float
        Its length, without what is held.
    fps : int
    long_edge : int
        Pixels.
    hold : float
        Seconds that the last picture of each stage is held, and twice that the very last.
    captions : bool
    """

    seconds: float = 20.0
    fps: int = 24
    long_edge: int = 1080
    hold: float = 1.0
    captions: bool = True


@dataclass(frozen=True)
class Moment:
    """A state of the piece: the stage that it belongs to, what led to it, and its number."""

    recipe: Recipe
    stage: str
    words: str
    number: int


def moments(first: Recipe, edits: Sequence[Edit]) -> list[Moment]:
    """The states of a piece one after the other; what does not show in pictures is passed over."""
    found = [Moment(first, "Lines", "the drawing", 0)]
    recipe = first
    for number, edit in enumerate(edits, start=1):
        recipe = apply(recipe, edit)
        stage = stage_of(edit)
        if stage is not None:
            found.append(Moment(recipe, stage, _words(edit), number))
    return found


def stage_of(edit: Edit) -> str | None:
    """The stage of the work that an edit belongs to; None if it shows in no picture."""
    if isinstance(edit, Several):
        return next((s for e in edit.edits if (s := stage_of(e))), None)
    return _STAGES.get(type(edit).__module__.rpartition(".")[2])


def _words(edit: Edit) -> str:
    one = edit.edits[0] if isinstance(edit, Several) and edit.edits else edit
    return one.kind.replace("_", " ")


def replay(deriver: Deriver, first: Recipe, edits: Sequence[Edit], wish: ReplayWish,
           on_progress: Report = lambda share: None) -> Iterator[tuple[Byte, int]]:
    """Frames of the life of a piece, each with how many frames it stays.

    Parameters
    ----------
    deriver : Deriver
    first : Recipe
        Where the history begins.
    edits : sequence of Edit
    wish : ReplayWish
    on_progress : callable
        Called with a share 0..1; may raise to cancel.

    Yields
    ------
    (ndarray of uint8, shape (h, w, 3), int)
        All of one size, even in both directions.
    """
    chosen = _spread(moments(first, edits), max(2, round(wish.seconds * wish.fps)))
    stays = _stays(chosen, wish)
    canvas = _canvas([m.recipe.size for m in chosen], wish.long_edge)
    count = len(edits)

    def drawn(moment: Moment) -> Byte:
        view = View.whole(*moment.recipe.size, _edge(moment.recipe.size, canvas))
        return deriver.store(picture_stage(deriver, moment.recipe, "picture", view))

    with ThreadPoolExecutor(_AHEAD, "replay") as pool:
        waiting: deque[Future[Byte]] = deque()
        try:
            for k, moment in enumerate(chosen):
                while len(waiting) < _AHEAD and k + len(waiting) < len(chosen):
                    waiting.append(pool.submit(drawn, chosen[k + len(waiting)]))
                picture = waiting.popleft().result()
                on_progress(k / len(chosen))
                yield _framed(picture, canvas, _caption(moment, count, canvas)
                              if wish.captions else None, wish.captions), stays[k]
        finally:
            for future in waiting:
                future.cancel()


def _spread(states: list[Moment], most: int) -> list[Moment]:
    """At most so many states, evenly, with the first and the last."""
    if len(states) <= most:
        return states
    at = np.unique(np.rint(np.linspace(0, len(states) - 1, most)).astype(int))
    return [states[k] for k in at]


def _stays(chosen: Sequence[Moment], wish: ReplayWish) -> list[int]:
    """Frames that each state stays."""
    frames = max(len(chosen), round(wish.seconds * wish.fps))
    edges = np.rint(np.linspace(0, frames, len(chosen) + 1)).astype(int)
    stays = [max(1, int(b - a)) for a, b in pairwise(edges)]
    held = round(wish.hold * wish.fps)
    for k in _ends(chosen):
        stays[k] += held
    stays[-1] += 2 * held
    return stays


def _ends(chosen: Sequence[Moment]) -> list[int]:
    """The last moment of each stage's longest stretch: going to and fro is not held at every
    turn."""
    longest: dict[str, tuple[int, int]] = {}
    start = 0
    for k, moment in enumerate(chosen):
        if k + 1 == len(chosen) or chosen[k + 1].stage != moment.stage:
            longest[moment.stage] = max(longest.get(moment.stage, (0, 0)), (k + 1 - start, k))
            start = k + 1
    return sorted(k for _, k in longest.values() if k + 1 < len(chosen))


def _canvas(sizes: Sequence[tuple[int, int]], long_edge: int) -> tuple[int, int]:
    """Width and height in which all states have room, even."""
    width, height = (max(s[k] for s in sizes) for k in range(2))
    scale = min(1.0, long_edge / max(width, height))
    return tuple(max(16, round(v * scale / 2) * 2) for v in (width, height))  # type: ignore[return-value]


def _edge(size: tuple[int, int], canvas: tuple[int, int]) -> int:
    """The longer edge of a picture of this size in the canvas, px."""
    scale = min(canvas[0] / size[0], canvas[1] / size[1], 1.0)
    return max(1, int(max(size) * scale))


def _caption(moment: Moment, count: int, canvas: tuple[int, int]) -> Byte:
    width, height = canvas[0], _band(canvas)
    text = height * 0.46
    page = Page(width, height, [
        Box(0, 0, width, height, "#f4f4f4", None),
        Text(height * 0.4, height * 0.66, moment.stage, text, True),
        Text(height * 0.4 + text * 7, height * 0.66, moment.words, text * 0.86, colour=QUIET,
             width=max(1.0, width - height * 0.8 - text * 16)),
        Text(width - text * 7.4, height * 0.66, f"{moment.number} of {count}", text * 0.86,
             colour=QUIET)])
    return page_to_pixels(page, 72)


def _band(canvas: tuple[int, int]) -> int:
    return max(28, round(_BAND * max(canvas) / 2) * 2)


def _framed(picture: Byte, canvas: tuple[int, int], caption: Byte | None,
            captions: bool) -> Byte:
    width, height = canvas
    if picture.shape[0] > height or picture.shape[1] > width:
        scale = min(width / picture.shape[1], height / picture.shape[0])
        picture = np.asarray(cv2.resize(picture, None, fx=scale, fy=scale,
                                        interpolation=cv2.INTER_AREA), np.uint8)
    found = np.full((height + (_band(canvas) if captions else 0), width, 3), _GROUND, np.uint8)
    h, w = min(height, picture.shape[0]), min(width, picture.shape[1])
    top, left = (height - h) // 2, (width - w) // 2
    found[top:top + h, left:left + w] = picture[:h, :w]
    if caption is not None:
        found[height:] = caption[:found.shape[0] - height, :width]
    return found
