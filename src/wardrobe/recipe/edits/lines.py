"""Edits of the frame and the lines."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from wardrobe.core.lines.frame import frame_matrix, turned_size
from wardrobe.core.lines.hues import same_hue
from wardrobe.recipe.document.model import (
    MAX_HATCHING,
    Boundary,
    Claim,
    Closing,
    Frame,
    Halo,
    Hatching,
    JoinAreas,
    Lines,
    OpenGap,
    Part,
    PlacedPicture,
    Recipe,
    Recut,
    ShareArea,
    SplitArea,
    check_crop,
)
from wardrobe.recipe.document.types import FARTHEST, Frozen
from wardrobe.recipe.edits.rule import EditRefusedError, Rules

_SAME = 0.01  # how far proportions of a second drawing may be off


class SetFrame(Frozen):
    """Turn, level and crop; everything that names places moves along."""

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


def _set_frame(recipe: Recipe, edit: SetFrame) -> Recipe:
    source, frame = recipe.source, edit.frame
    try:
        check_crop(source, frame)
    except ValueError as error:
        raise EditRefusedError(f"{str(error).capitalize()}.") from error
    before, after = (frame_matrix(source.width, source.height, f.turn, f.tilt, f.crop)
                     for f in (recipe.frame, frame))
    move = after @ np.linalg.inv(before)

    def moved(points: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        # What lies far beside the picture stays within the bounds of places.
        xy = np.clip(np.array(points) @ move[:2, :2].T + move[:2, 2], -FARTHEST, FARTHEST)
        return tuple((round(float(x), 2), round(float(y), 2)) for x, y in xy)

    def pair(points: tuple[tuple[float, float], tuple[float, float]],
             ) -> tuple[tuple[float, float], tuple[float, float]]:
        one, two = moved(points)
        return one, two

    def moved_recut(recut: Recut) -> Recut:
        if recut.kind == "split":
            return SplitArea(stroke=moved(recut.stroke))
        if recut.kind == "join":
            return JoinAreas(places=pair(recut.places))
        return ShareArea(places=moved(recut.places))

    turned = float(np.degrees(np.arctan2(move[1, 0], move[0, 0])))  # clockwise: y runs down

    def moved_part(part: Part) -> Part:
        if part.form.edges:
            edges = tuple(moved(e) for e in part.form.edges)
            part = part.model_copy(update={
                "form": part.form.model_copy(update={"edges": edges})})
        if part.pattern is None:
            return part
        dx, dy = move[:2, :2] @ [part.pattern.dx, part.pattern.dy]
        angle = (part.pattern.angle - turned + 180) % 360 - 180
        return part.model_copy(update={"pattern": part.pattern.model_copy(update={
            "angle": round(angle, 6), "dx": round(float(dx), 4), "dy": round(float(dy), 4)})})

    return recipe.model_copy(update={
        "frame": frame,
        "parts": tuple(moved_part(p) for p in recipe.parts),
        "touch_ups": tuple(t.model_copy(update={
            "points": moved(t.points), "azimuth": round((t.azimuth - turned) % 360, 4)})
            for t in recipe.touch_ups),
        "recuts": tuple(moved_recut(r) for r in recipe.recuts),
        "claims": tuple(Claim(to=c.to, strokes=tuple(moved(s) for s in c.strokes))
                        for c in recipe.claims),
        "hatching": tuple(h.model_copy(update={"places": moved(h.places)})
                          for h in recipe.hatching),
        "coloured_blacks": moved(recipe.coloured_blacks) if recipe.coloured_blacks else (),
        "closings": tuple(Closing(points=moved(c.points), inked=c.inked)
                          for c in recipe.closings),
        "left_open": tuple(OpenGap(ends=pair(g.ends), sides=pair(g.sides))
                           for g in recipe.left_open)})


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


RULES: Rules = {
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
