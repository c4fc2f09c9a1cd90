"""Finish layers that go with a character from picture to picture: laid out on its figure."""

from collections.abc import Mapping
from typing import Annotated, Any, TypeVar

import numpy as np
from pydantic import Field

from wardrobe.core.layers.operators import OPERATORS
from wardrobe.recipe.document.finish import (
    MAX_FINISH,
    Contact,
    FinishDraft,
    FinishLayer,
    GivenOff,
    LaidPattern,
    OfParts,
    Operation,
    Sparks,
    Spots,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.places import Motion, moved
from wardrobe.recipe.document.types import Frozen, PartId, PartName
from wardrobe.recipe.reports.finishes.lay_out import Extent

M = TypeVar("M", bound=Frozen)
HIGH = 1000.0  # of a figure, in the units in which layers are kept


class KeptFinish(Frozen):
    """Layers in units of a figure that is 1000 high, with its top in the middle of their origin.

    Attributes
    ----------
    layers : tuple of FinishDraft
    names : dict of str to str
        Of the parts that they tell of, by the ids that they are told by.
    """

    layers: Annotated[tuple[FinishDraft, ...], Field(max_length=MAX_FINISH)]
    names: dict[PartId, PartName]


def kept(recipe: Recipe, figure: Extent) -> KeptFinish | None:
    """The finish of a piece or look; None without any.

    Layers with pictures of one's own stay with their piece.
    """
    scale = HIGH / max(1.0, figure.bottom - figure.top)
    x, _ = figure.middle
    onto = Motion(np.array([[scale, 0, -scale * x], [0, scale, -scale * figure.top], [0, 0, 1]]))
    layers = tuple(_resized(FinishDraft(**_fields(layer)), onto, scale)
                   for layer in recipe.finish if not _has_picture(layer))
    return KeptFinish(layers=layers, names={p.id: p.name for p in recipe.parts}) if layers else None


def worn_finish(finish: KeptFinish, recipe: Recipe, figure: Extent) -> tuple[FinishDraft, ...]:
    """The layers for another picture: on its figure, on its parts by their names. Those whose
    parts it has none of are left out."""
    scale = max(1.0, figure.bottom - figure.top) / HIGH
    x, _ = figure.middle
    onto = Motion(np.array([[scale, 0, x], [0, scale, figure.top], [0, 0, 1]]))
    here = {p.name.casefold(): p.id for p in recipe.parts}
    ids = {old: here[name.casefold()] for old, name in finish.names.items()
           if name.casefold() in here}
    found = (_told(_resized(layer, onto, scale), ids) for layer in finish.layers)
    return tuple(layer for layer in found if layer is not None)


def _fields(layer: FinishLayer) -> dict[str, Any]:
    return {name: getattr(layer, name) for name in FinishDraft.model_fields}


def _has_picture(layer: FinishDraft) -> bool:
    return (isinstance(layer.paint, LaidPattern) and layer.paint.pattern.picture is not None) \
        or (layer.texture is not None and layer.texture.picture is not None)


def _told(layer: FinishDraft, ids: Mapping[str, str]) -> FinishDraft | None:
    """A layer that names parts by the ids that they have here; None if it has none left."""
    shape, changes = layer.shape, dict[str, Any]()
    if layer.scope == "parts":
        changes["parts"] = tuple(ids[p] for p in layer.parts if p in ids)
        if not changes["parts"]:
            return None
    if isinstance(shape, GivenOff | OfParts) and shape.parts:
        parts = tuple(ids[p] for p in shape.parts if p in ids)
        if not parts:
            return None
        changes["shape"] = shape.model_copy(update={"parts": parts})
    return layer.model_copy(update=changes)


def _resized(layer: FinishDraft, motion: Motion, scale: float) -> FinishDraft:
    """A layer with its places moved and all of its lengths scaled, as far as they may be."""
    layer = moved(layer, motion)
    changes: dict[str, Any] = {"operations": tuple(_operation(o, scale) for o in layer.operations)}
    if layer.texture is not None:
        changes["texture"] = _scaled(layer.texture, scale, size=(0.2, 40.0))
    if isinstance(layer.paint, LaidPattern):
        pattern = layer.paint.pattern
        changes["paint"] = _scaled(layer.paint, scale, blur=(0.0, 200.0)).model_copy(update={
            "pattern": _scaled(pattern, scale, period=(2.0, 20_000.0), dx=(-1e6, 1e6),
                               dy=(-1e6, 1e6))})
    shape = layer.shape
    if isinstance(shape, Spots):
        changes["shape"] = shape.model_copy(update={"strokes": tuple(
            s.model_copy(update={"widths": tuple(round(min(max(w * scale, 0.2), 2000.0), 2)
                                                 for w in s.widths)}) for s in shape.strokes)})
    elif isinstance(shape, GivenOff):
        changes["shape"] = _scaled(shape, scale, reach=(0.1, 20_000.0), height=(0.0, 20_000.0))
    elif isinstance(shape, Contact):
        changes["shape"] = _scaled(shape, scale, width=(1.0, 400.0))
    elif isinstance(shape, Sparks):
        changes["shape"] = _scaled(shape, scale, radius=(0.1, 20_000.0), size=(0.5, 200.0))
    return layer.model_copy(update=changes)


def _operation(operation: Operation, scale: float) -> Operation:
    bounds = {s.name: s for s in OPERATORS[operation.kind].settings}
    return operation.model_copy(update={"amounts": {
        name: round(min(max(value * scale, bounds[name].low), bounds[name].high), 4)
        if bounds[name].unit == "px" else value
        for name, value in operation.all_amounts.items()}})


def _scaled(model: M, scale: float, **bounds: tuple[float, float]) -> M:
    return model.model_copy(update={
        name: round(min(max(getattr(model, name) * scale, low), high), 4)
        for name, (low, high) in bounds.items()})
