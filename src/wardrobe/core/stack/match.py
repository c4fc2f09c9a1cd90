"""Tell which part and pass each layer of a file that comes back belongs to."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.layers.layer import INK
from wardrobe.core.passes.table import PASSES
from wardrobe.core.stack.check.canvas import where_on
from wardrobe.core.stack.model import Stack
from wardrobe.core.stack.plan import Planned, PlannedLayer, planned_layers
from wardrobe.core.stack.roles import Placed, placed_layers

How = Literal["name", "words", "pixels", "none"]
Kind = Literal["base", "pass", "pattern", "lines", "silhouette", "background", "mask", "other"]

_MINE = 0.7  # share of a layer that must lie on one part
_SAME = 0.5  # share of a flat and a part together that both must cover
_PASS_WORDS = {word: p.key for p in PASSES.values() for word in p.words}
_KIND_OF: dict[str, Kind] = {"ground": "base", "pattern": "pattern", "over": "other",
                             "figure": "silhouette", "silhouette": "silhouette",
                             "canvas": "background", "mask": "mask", "blank": "other",
                             "pass": "pass", "printed": "other"}


@dataclass(frozen=True)
class Match:
    """What a layer is of the piece.

    Attributes
    ----------
    index : int
        Of the layer, from the bottom.
    kind : str
    row : int or None
        Part; None for the whole figure, or for what belongs to no part.
    key : str or None
        Pass whose shape it fills.
    outside : bool
        It fills the part except the shape.
    how : str
        By which it was told.
    """

    index: int
    kind: Kind
    row: int | None = None
    key: str | None = None
    outside: bool = False
    how: How = "none"


def match_layers(stack: Stack, plan: Sequence[Planned], names: Sequence[str],
                 parts: NDArray[np.uint16]) -> list[Match]:
    """Match every layer, bottom to top: by its full name, by words in it, or by its pixels.

    Parameters
    ----------
    stack : Stack
        What came back.
    plan : sequence of Planned
        The piece's own stack, named.
    names : sequence of str
        Of the parts; the first is row 1.
    parts : ndarray of uint16, shape (height, width)
        Row of the part of every pixel.
    """
    known = {layer.name.casefold(): layer for layer in planned_layers(plan)}
    sizes = np.bincount(parts.ravel(), minlength=len(names) + 1)
    return [_match(placed, known, names, parts, sizes) for placed in placed_layers(stack)]


def _match(placed: Placed, known: dict[str, PlannedLayer], names: Sequence[str],
           parts: NDArray[np.uint16], sizes: NDArray[np.int64]) -> Match:
    own = known.get(placed.layer.name.strip().casefold())
    if own is not None:
        return _as_planned(placed.order, own)
    row, told = _row_by_words(placed.path, names), True
    if placed.role in ("lines", "silhouette", "background", "mask"):
        return Match(placed.order, placed.role, how="words")
    if row is None:
        row, told = _row_by_pixels(placed, parts, sizes), False
    how: How = "words" if told else "pixels" if row else "none"
    if placed.role in ("shade", "light"):
        words = re.findall(r"[a-z]+", placed.layer.name.casefold())
        key = next((_PASS_WORDS[w] for w in words if w in _PASS_WORDS), placed.role)
        return Match(placed.order, "pass", row, key, how=how if row else "words")
    if placed.role == "flat" and row is not None:
        return Match(placed.order, "base", row, how=how)
    return Match(placed.order, "other", row, how="none")


def _as_planned(index: int, own: PlannedLayer) -> Match:
    inked = own.over and own.over.shape == INK and own.part == "lines"
    kind = "lines" if inked or own.content in ("line", "clipped") else _KIND_OF[own.content]
    row = own.rows[0] if len(own.rows) == 1 and own.rows[0] else None
    layer = own.layer
    if kind == "pass" and (layer is None or layer.shape is None or own.under):
        return Match(index, "other", row, how="name")
    return Match(index, kind, row, layer.shape if layer else None,
                 bool(layer and layer.outside), "name")


def _row_by_words(path: str, names: Sequence[str]) -> int | None:
    """The part with the longest name all of whose words are in the layer's path."""
    said = {_single(w) for w in re.findall(r"\w+", path.casefold())}
    found = [(len(name), row) for row, name in enumerate(names, start=1)
             if {_single(w) for w in re.findall(r"\w+", name.casefold())} <= said]
    return max(found)[1] if found else None


def _single(word: str) -> str:
    return word.removesuffix("s") if len(word) > 3 else word


def _row_by_pixels(placed: Placed, parts: NDArray[np.uint16],
                   sizes: NDArray[np.int64]) -> int | None:
    """The part that most of a layer lies on; a flat must also fill it."""
    where, alpha = where_on(placed.layer, (parts.shape[0], parts.shape[1]))
    counts = np.bincount(parts[where][alpha > 127], minlength=len(sizes))
    total, best = int(counts.sum()), int(np.argmax(counts[1:])) + 1 if len(counts) > 1 else 0
    if not total or not best or counts[best] < _MINE * total:
        return None
    if placed.role == "flat" and counts[best] < _SAME * (total + sizes[best] - counts[best]):
        return None
    return best


def is_pass(key: str | None) -> bool:
    """Whether a shape can be touched up."""
    return key in PASSES
