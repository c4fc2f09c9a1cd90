"""What was said of a piece, on pages: the picture with numbers, and each remark then and now."""

from collections.abc import Callable, Iterator, Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.page import QUIET, Box, Item, Page, Picture, Text, broken
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import dressed
from wardrobe.recipe.events import Standing, Verdict
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Then = Callable[[int], Recipe]

_WIDTH, _HEIGHT, _MARGIN = 595.0, 842.0, 34.0  # points, A4
_EDGE = 1400  # px of the whole picture
_CROP = 0.16  # of the longer edge, at least, around a remark
_SHOT = 118.0  # points of a crop's edge
_SHOT_PX = 420
_ROW = _SHOT + 26
_DOT = 15  # px
_OPEN, _DONE, _PAPER = (200, 40, 50), (120, 120, 120), (255, 255, 255)


def review_pages(deriver: Deriver, recipe: Recipe, title: str, remarks: Sequence[Standing],
                 verdict: Verdict | None, then: Then,
                 on_progress: Callable[[float], None] = lambda share: None) -> list[Page]:
    """Pages of a review.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
        The piece now.
    title : str
    remarks : sequence of Standing
    verdict : Verdict or None
        What was said last.
    then : callable
        The piece after so many changes.
    on_progress : callable
        Called with a share 0..1; may raise to cancel.
    """
    view = View.whole(*recipe.size, _EDGE)
    numbered = _numbered(deriver.picture(recipe, view), remarks, view.scale)
    room = _WIDTH - 2 * _MARGIN, _HEIGHT - 2 * _MARGIN - 70
    scale = min(room[0] / numbered.shape[1], room[1] / numbered.shape[0])
    wide, high = numbered.shape[1] * scale, numbered.shape[0] * scale
    open_ = sum(1 for r in remarks if not r.done)
    first = Page(_WIDTH, _HEIGHT, [
        Text(_MARGIN, _MARGIN + 16, title, 17, True, width=room[0]),
        Text(_MARGIN, _MARGIN + 34, f"{len(remarks)} remarks, {open_} of them open"
             + (f"; {_said(verdict)}" if verdict else ""), 9.5, colour=QUIET, width=room[0]),
        Picture((_WIDTH - wide) / 2, _MARGIN + 52, wide, high, numbered)])
    pages = [first]
    rows = int((_HEIGHT - 2 * _MARGIN) // _ROW)
    for start in range(0, len(remarks), rows):
        page = Page(_WIDTH, _HEIGHT)
        for k, standing in enumerate(remarks[start:start + rows]):
            on_progress((start + k) / len(remarks))
            page.items += _row(deriver, recipe, standing, start + k + 1, then,
                               _MARGIN + k * _ROW)
        pages.append(page)
    return pages


def _said(verdict: Verdict) -> str:
    by = f" by {verdict.by}" if verdict.by else ""
    return f"{verdict.verdict}{by}{f': {verdict.text}' if verdict.text else ''}"


def _numbered(picture: Byte, remarks: Sequence[Standing], scale: float) -> Byte:
    """The picture with a numbered dot at each remark, and what was drawn."""
    found = picture.copy()
    for number, standing in enumerate(remarks, start=1):
        points = np.rint(np.array(standing.remark.points) * scale).astype(np.int32)
        tone = _DONE if standing.done else _OPEN
        if len(points) > 1:
            cv2.polylines(found, [points], False, _PAPER, 5, cv2.LINE_AA)
            cv2.polylines(found, [points], False, tone, 3, cv2.LINE_AA)
        x, y = (int(v) for v in points[0])
        cv2.circle(found, (x, y), _DOT + 2, _PAPER, -1, cv2.LINE_AA)
        cv2.circle(found, (x, y), _DOT, tone, -1, cv2.LINE_AA)
        text = str(number)
        (w, h), _ = cv2.getTextSize(text, cv2.FONT_HERSHEY_SIMPLEX, 0.6, 2)
        cv2.putText(found, text, (x - w // 2, y + h // 2), cv2.FONT_HERSHEY_SIMPLEX, 0.6,
                    _PAPER, 2, cv2.LINE_AA)
    return found


def _row(deriver: Deriver, recipe: Recipe, standing: Standing, number: int, then: Then,
         top: float) -> Iterator[Item]:
    """A remark: then, now, and what was said."""
    remark = standing.remark
    before = then(remark.changes)
    states = [(recipe, "now")] if before.size != recipe.size else [(before, "then"),
                                                                   (recipe, "now")]
    left = _MARGIN
    for state, name in states:
        look = remark.look if any(k.id == remark.look for k in state.looks) else "piece"
        shown = dressed(state, look)
        view = _around(remark.points, recipe.size)
        yield Picture(left, top, _SHOT, _SHOT,
                      _marked(deriver.picture(shown, view), remark.points, view))
        yield Text(left, top + _SHOT + 11, name, 8, colour=QUIET)
        left += _SHOT + 10
    width = _WIDTH - _MARGIN - left
    head = f"{number}  {remark.wish}" + (", settled" if standing.done else "")
    yield Text(left, top + 11, head, 10, True, width=width)
    by = f"{remark.by}, " if remark.by else ""
    yield Text(left, top + 24, f"{by}{standing.at:%Y-%m-%d}", 8, colour=QUIET, width=width)
    for k, line in enumerate(broken(remark.text, width, 9)[:7]):
        yield Text(left, top + 40 + 12 * k, line, 9, width=width)
    yield Box(_MARGIN, top + _SHOT + 18, _WIDTH - 2 * _MARGIN, 0.4, None)


def _marked(crop: Byte, points: Sequence[tuple[float, float]], view: View) -> Byte:
    """A crop with a ring, or with what was drawn."""
    found = crop.copy()
    at = np.rint((np.array(points) - (view.x, view.y)) * view.scale).astype(np.int32)
    for tone, wide in ((_PAPER, 5), (_OPEN, 2)):
        if len(at) > 1:
            cv2.polylines(found, [at], False, tone, wide, cv2.LINE_AA)
        else:
            cv2.circle(found, (int(at[0, 0]), int(at[0, 1])), 22, tone, wide, cv2.LINE_AA)
    return found


def _around(points: Sequence[tuple[float, float]], size: tuple[int, int]) -> View:
    """A square around a remark, within the picture."""
    xy = np.array(points)
    low, high = xy.min(axis=0), xy.max(axis=0)
    edge = int(min(*size, max(_CROP * max(size), 1.3 * float((high - low).max()))))
    corner = np.clip((low + high) / 2 - edge / 2, 0, np.array(size) - edge).astype(int)
    return View(int(corner[0]), int(corner[1]), edge, edge, min(1.0, _SHOT_PX / edge))
