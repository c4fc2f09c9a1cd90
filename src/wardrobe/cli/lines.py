"""Prepare the lines of one file, and find their gaps."""

import json
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import ValidationError

from wardrobe.core.errors import NoClosedAreaError, WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.png import encode_png
from wardrobe.core.lines.leak import lowest_leak
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Lines, Recipe
from wardrobe.recipe.edits import apply
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.reports.gaps import report_gaps
from wardrobe.recipe.reports.palettes import suggest_parts
from wardrobe.recipe.stages import Deriver


def prepare_file(drawing: Path, out: Path | None, report: Path | None, long_edge: int,
                 settings: dict[str, Any]) -> None:
    """Read a drawing, prepare its lines, and write them and a report.

    Raises
    ------
    WardrobeError
        With a message for the user; files that were there before are untouched.
    """
    if not (out or report):
        raise WardrobeError("Nothing to write: give --out or --json.")
    deriver, recipe = _open(drawing, long_edge, settings)
    coverage, darkness = deriver.ink(recipe), deriver.darkness(recipe)
    if out:
        with replacing(out) as path:
            path.write_bytes(encode_png(np.dstack([np.zeros_like(coverage), coverage]), level=3))
    found = gap_facts(deriver, recipe)
    if report:
        _write(report, {"kind": darkness.kind, "recognised": darkness.recognised, **found})
    print(f"{darkness.kind}: lines of {found['line_width']} px, {found['areas']} closed areas, "
          f"{len(found['gaps'])} gaps. {found['outline']}")


def gaps_of_file(line: Path, report: Path | None, long_edge: int) -> None:
    """Find the gaps of a drawing; print them as JSON, or write it to a file."""
    found = gap_facts(*_open(line, long_edge, {}))
    if report:
        _write(report, found)
        print(f"{len(found['gaps'])} gaps. {found['outline']}")
    else:
        print(json.dumps(found, indent=1))


def gap_facts(deriver: Deriver, recipe: Recipe) -> dict[str, Any]:
    """Line width, closed areas, listed gaps and the outline's leak level.

    The leak level is the least ink coverage, 0..1, at which a fill from the outside gets into
    the figure; 0 if the outline is open.
    """
    gaps = deriver.gaps(recipe)
    facts: dict[str, Any] = {"line_width": round(gaps.line_width, 2), "areas": 0, "gaps": [],
                             "outline": "No area is closed.", "leak_level": 0.0}
    try:
        areas = deriver.areas(recipe)
    except NoClosedAreaError:
        facts["gaps"] = [_gap(float(gaps.centre[k, 0]), float(gaps.centre[k, 1]),
                              float(gaps.width[k]), gaps.ends[k].tolist(), ["outside", "outside"])
                         for k in range(len(gaps))]
        return facts
    report = report_gaps(deriver, apply(recipe, suggest_parts(areas)))
    ground = areas.ground.copy()
    ground[0] = True
    return facts | {
        "areas": int((~ground).sum()), "outline": report.perimeter,
        "gaps": [_gap(g.x, g.y, g.width, g.ends, g.joins) for g in report.gaps if g.listed],
        "leak_level": round(lowest_leak(deriver.coverage(recipe),
                                        areas.ground[areas.labels] & areas.core,
                                        areas.seeds[~ground]), 3)}


def _gap(x: float, y: float, width: float, ends: Any, joins: Any) -> dict[str, Any]:
    return {"x": round(x, 1), "y": round(y, 1), "width": round(width, 2),
            "ends": [[round(v, 1) for v in end] for end in ends], "joins": list(joins)}


def _open(drawing: Path, long_edge: int, settings: dict[str, Any]) -> tuple[Deriver, Recipe]:
    rgba = decode_image(drawing.read_bytes(), long_edge=long_edge)
    try:
        lines = Lines.model_validate({k: v for k, v in settings.items() if v is not None})
    except ValidationError as error:
        first = error.errors()[0]
        raise WardrobeError(f"--{first['loc'][0]}: {first['msg']}.") from error
    source = Source(asset="0" * 64, width=rgba.shape[1], height=rgba.shape[0])
    return Deriver(lambda asset: rgba), Recipe(source=source, lines=lines)


def _write(path: Path, facts: dict[str, Any]) -> None:
    with replacing(path) as temporary:
        temporary.write_text(json.dumps(facts, indent=1) + "\n")
