"""Share out one drawing among clicks."""

from pathlib import Path
from typing import Annotated

import cv2
import numpy as np
from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from wardrobe.core.areas.segment import segment
from wardrobe.core.areas.share import share_drawing
from wardrobe.core.errors import NoClosedAreaError, WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.lines.coverage import ink_coverage, read_darkness
from wardrobe.recipe.exchange.files import replacing

OUTSIDE = "outside"
MOST_CLICKS = 60_000


class FlatClick(BaseModel):
    """One click; the name ``outside`` claims the ground."""

    x: Annotated[float, Field(allow_inf_nan=False)]
    y: Annotated[float, Field(allow_inf_nan=False)]
    name: str | None = None


_CLICKS = TypeAdapter(Annotated[list[FlatClick], Field(min_length=1, max_length=MOST_CLICKS)])


def flats_of_file(line: Path, clicks_file: Path, out: Path, long_edge: int) -> None:
    """Write a 16-bit PNG with each pixel's click, from 1; 0 is the ground.

    Raises
    ------
    WardrobeError
        With a message for the user; a file that was there before is untouched.
    """
    try:
        clicks = _CLICKS.validate_json(clicks_file.read_bytes())
    except ValidationError as error:
        first = error.errors()[0]
        where = " ".join(str(p) for p in first["loc"])
        raise WardrobeError(f"{clicks_file}: {where} {first['msg']}. A list such as "
                            '[{"x": 120, "y": 80, "name": "coat"}] is expected.') from error
    rgba = decode_image(line.read_bytes(), long_edge=long_edge)
    coverage = ink_coverage(read_darkness(rgba, None, None), 0.5, None)
    height, width = coverage.shape
    for number, click in enumerate(clicks):
        if not (0 <= click.x < width and 0 <= click.y < height):
            raise WardrobeError(f"Click {number} at {click.x:g}, {click.y:g} lies beside the "
                                f"picture of {width} x {height} px.")
    ground = len(clicks) + 1
    places = [(c.x, c.y) for c in clicks]
    labels = [ground if c.name == OUTSIDE else number
              for number, c in enumerate(clicks, start=1)]
    if ground not in labels:
        unclicked = _outside(coverage, places)
        places += unclicked
        labels += [ground] * len(unclicked)
    shared = share_drawing(coverage, places, labels, ground)
    shared[shared == ground] = 0
    with replacing(out) as path:
        path.write_bytes(cv2.imencode(".png", shared.astype(np.uint16))[1].tobytes())
    taken = len(np.unique(shared[shared > 0]))
    print(f"{len(clicks)} clicks, {taken} of them with pixels; {np.mean(shared == 0):.1%} ground.")


def _outside(coverage: np.ndarray, places: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """The innermost point of the outside if no click lies in it."""
    try:
        areas = segment(coverage)
    except NoClosedAreaError:
        return []
    clicked = {int(areas.labels[int(y), int(x)]) for x, y in places}
    return [(float(areas.seeds[a, 0]), float(areas.seeds[a, 1]))
            for a in range(1, areas.count + 1) if areas.ground[a] and a not in clicked]
