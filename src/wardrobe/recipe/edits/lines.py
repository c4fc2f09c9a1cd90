"""Edits of the frame and the lines."""

from typing import Annotated, Literal, TypeVar

import numpy as np
from pydantic import Field

from wardrobe.core.lines.frame import Matrix, frame_matrix, turned_size
from wardrobe.core.lines.hues import same_hue
from wardrobe.recipe.document.drawing import Corner, Drawing, Laid, Remark, Source
from wardrobe.recipe.document.model import (
    MAX_HATCHING,
    Boundary,
    Frame,
    Halo,
    Hatching,
    Lines,
    Recipe,
    check_crop,
)
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.places import Motion, moved
from wardrobe.recipe.document.types import AssetName, Frozen, Pixels
from wardrobe.recipe.edits.rule import EditRefusedError, Rules

D = TypeVar("D", bound=Drawing)

_SAME = 0.01  # how far proportions of a second drawing may be off


class SetFrame(Frozen):
    """Turn, level and crop, or give room; everything that names places moves along."""

    kind: Literal["set_frame"] = "set_frame"
    frame: Frame


class TurnPicture(Frozen):
    """A quarter turn, clockwise or back, of what is kept."""

    kind: Literal["turn_picture"] = "turn_picture"
    clockwise: bool = True


class SetLines(Frozen):
    """How the drawing becomes lines."""

    kind: Literal["set_lines"] = "set_lines"
    lines: Lines


class NameBoundary(Frozen):
    """Say what lines of a hue are for."""

    kind: Literal["name_boundary"] = "name_boundary"
    boundary: Boundary


class GrowSilhouette(Frozen):
    """How far the silhouette reaches under the outline, px."""

    kind: Literal["grow_silhouette"] = "grow_silhouette"
    growth: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)]


class SetHalo(Frozen):
    """The light rim of solid blacks: its width (0 is none) and colour."""

    kind: Literal["set_halo"] = "set_halo"
    halo: Halo


class SetHatching(Frozen):
    """The ink that bounds nothing, all of it."""

    kind: Literal["set_hatching"] = "set_hatching"
    hatching: Annotated[tuple[Hatching, ...], Field(max_length=MAX_HATCHING)]


class SetDetails(Frozen):
    """A second drawing, printed with the first, that bounds nothing; or none."""

    kind: Literal["set_details"] = "set_details"
    details: PlacedPicture | None


class PutDrawing(Frozen):
    """A corrected drawing in the place of the one that is used, which is kept; everything that
    names places stays where it is.

    ``sheet`` is the rectangle (x, y, width, height) that the sheet is from now on, in px of what
    it was: it may reach beyond that, everything that names places moves along, and a second
    drawing is to be set again.
    """

    kind: Literal["put_drawing"] = "put_drawing"
    asset: AssetName
    original: AssetName | None = None
    laid: Laid | None = None
    remark: Remark = ""
    sheet: tuple[Corner, Corner, Pixels, Pixels] | None = None


class UseDrawing(Frozen):
    """Go back to a version of the drawing, or on to it, by its number."""

    kind: Literal["use_drawing"] = "use_drawing"
    number: int


class RemarkDrawing(Frozen):
    """What is to be said of a version of the drawing."""

    kind: Literal["remark_drawing"] = "remark_drawing"
    number: int
    remark: Remark


def _set_frame(recipe: Recipe, edit: SetFrame) -> Recipe:
    source, frame = recipe.source, edit.frame
    try:
        check_crop(source, frame)
    except ValueError as error:
        raise EditRefusedError(f"{str(error).capitalize()}.") from error
    before, after = (frame_matrix(source.width, source.height, f.turn, f.tilt, f.crop)
                     for f in (recipe.frame, frame))
    return moved(recipe, Motion(after @ np.linalg.inv(before))).model_copy(
        update={"frame": frame})


def _turn_picture(recipe: Recipe, edit: TurnPicture) -> Recipe:
    frame, source = recipe.frame, recipe.source
    crop = frame.crop
    if crop:
        x, y, w, h = crop
        width, height = turned_size(source.width, source.height, frame.turn)
        crop = (height - y - h, x, h, w) if edit.clockwise else (y, width - x - w, h, w)
    turn = (frame.turn + (1 if edit.clockwise else 3)) % 4
    return _set_frame(recipe, SetFrame(frame=Frame(turn=turn, tilt=frame.tilt, crop=crop)))


def _name_boundary(recipe: Recipe, edit: NameBoundary) -> Recipe:
    new = edit.boundary
    others = tuple(b for b in recipe.boundaries if not same_hue(b.hue, new.hue))
    return recipe.model_copy(update={"boundaries": (*others, new)})


def _set_details(recipe: Recipe, edit: SetDetails) -> Recipe:
    details, source = edit.details, recipe.source
    if details and abs(details.width * source.height / (details.height * source.width) - 1) > _SAME:
        raise EditRefusedError(
            f"The second drawing is {details.width} × {details.height} px and does not lie on the "
            f"first, which is {source.width} × {source.height} px. Bring it in whole, at the same "
            "proportions.")
    return recipe.model_copy(update={"details": details})


def _put_drawing(recipe: Recipe, edit: PutDrawing) -> Recipe:
    used = max(d.number for d in (recipe.source, *recipe.other_drawings))
    if edit.sheet:
        recipe = _on_sheet(recipe, *edit.sheet)
    return _in_use(recipe, Drawing(number=used + 1, **edit.model_dump(exclude={"kind", "sheet"})))


def _on_sheet(recipe: Recipe, x: int, y: int, width: int, height: int) -> Recipe:
    """The same drawings on another sheet."""
    source, frame = recipe.source, recipe.frame
    shift = np.array([[1, 0, -x], [0, 1, -y], [0, 0, 1.0]])

    def sheets(of: Frame) -> tuple[Matrix, Matrix]:
        return (frame_matrix(source.width, source.height, of.turn, of.tilt, None),
                frame_matrix(width, height, of.turn, of.tilt, None))

    if frame.crop:  # what is seen stays
        before, after = sheets(frame.model_copy(update={"tilt": 0.0}))
        dx, dy = np.round((after @ shift @ np.linalg.inv(before))[:2, 2]).astype(int).tolist()
        left, top, w, h = frame.crop
        frame = frame.model_copy(update={"crop": (left + dx, top + dy, w, h)})
    before, after = (frame_matrix(w, h, f.turn, f.tilt, f.crop) for w, h, f in (
        (source.width, source.height, recipe.frame), (width, height, frame)))

    def relaid(drawing: D) -> D:
        laid = drawing.laid or Laid(width=source.width, height=source.height,
                                    matrix=((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)))
        (a, b, c), (d, e, f) = laid.matrix
        return drawing.model_copy(update={"laid": laid.model_copy(
            update={"matrix": ((a, b, c - x), (d, e, f - y))})})

    put = moved(recipe, Motion(after @ shift @ np.linalg.inv(before))).model_copy(update={
        "frame": frame, "details": None, "source": relaid(source).model_copy(update={
            "width": width, "height": height,
            "corner": (source.corner[0] + x, source.corner[1] + y)}),
        "other_drawings": tuple(map(relaid, recipe.other_drawings))})
    try:
        check_crop(put.source, put.frame)
    except ValueError as error:
        raise EditRefusedError(f"{str(error).capitalize()}.") from error
    return put


def _use_drawing(recipe: Recipe, edit: UseDrawing) -> Recipe:
    if edit.number == recipe.source.number:
        return recipe
    for drawing in recipe.other_drawings:
        if drawing.number == edit.number:
            return _in_use(recipe, drawing)
    raise EditRefusedError("There is no such version of the drawing.")


def _in_use(recipe: Recipe, drawing: Drawing) -> Recipe:
    """With another drawing as the one that is used; the one before is among the others."""
    source = recipe.source
    before = Drawing(**{name: getattr(source, name) for name in Drawing.model_fields})
    others = [d for d in (*recipe.other_drawings, before) if d.number != drawing.number]
    return recipe.model_copy(update={
        "source": Source(**drawing.model_dump(), width=source.width, height=source.height,
                         corner=source.corner),
        "other_drawings": tuple(sorted(others, key=lambda d: d.number))})


def _remark_drawing(recipe: Recipe, edit: RemarkDrawing) -> Recipe:
    if edit.number not in {d.number for d in (recipe.source, *recipe.other_drawings)}:
        raise EditRefusedError("There is no such version of the drawing.")

    def remarked(drawing: D) -> D:
        return drawing.model_copy(update={"remark": edit.remark}) \
            if drawing.number == edit.number else drawing

    return recipe.model_copy(update={
        "source": remarked(recipe.source),
        "other_drawings": tuple(map(remarked, recipe.other_drawings))})


RULES: Rules = {
    PutDrawing: _put_drawing,
    UseDrawing: _use_drawing,
    RemarkDrawing: _remark_drawing,
    SetFrame: _set_frame,
    TurnPicture: _turn_picture,
    SetLines: lambda recipe, edit: recipe.model_copy(update={"lines": edit.lines}),
    NameBoundary: _name_boundary,
    GrowSilhouette: lambda recipe, edit: recipe.model_copy(
        update={"silhouette_growth": edit.growth}),
    SetHatching: lambda recipe, edit: recipe.model_copy(update={"hatching": edit.hatching}),
    SetDetails: _set_details,
    SetHalo: lambda recipe, edit: recipe.model_copy(update={"halo": edit.halo}),
}
