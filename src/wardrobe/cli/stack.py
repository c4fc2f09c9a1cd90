"""Layered files from a shell."""

import json
from dataclasses import asdict
from pathlib import Path

from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.check import StackFinding, check_stack
from wardrobe.core.stack.check.repair import repaired
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.roles import placed_layers
from wardrobe.recipe.exchange.files import replacing


def flatten_file(layered: Path, png: Path) -> None:
    """Composite a layered file and write the picture.

    Raises
    ------
    WardrobeError
        With a message for the user; a file that was there before is untouched.
    """
    opened = read_openraster(layered)
    picture = flatten(opened.stack)
    dpi = round(opened.dpi) if opened.dpi and opened.dpi >= 1 else None
    with replacing(png) as path:
        path.write_bytes(encode_png(picture, level=3, dpi=dpi))
    for note in opened.notes:
        print(f"  {note}")
    print(f"{opened.stack.width} x {opened.stack.height} px")


def _told(finding: StackFinding) -> dict[str, object]:
    kept = ("code", "layer", "box", "count", "message")
    return {key: value for key, value in asdict(finding).items() if key in kept}


def check_file(layered: Path, report: Path | None, mended: Path | None = None) -> None:
    """Say what is not in order in a layered file; write the findings, and a repaired file.

    Raises
    ------
    WardrobeError
        With a message for the user; a file that was there before is untouched.
    """
    opened = read_openraster(layered)
    findings = check_stack(opened.stack)
    layers = len(placed_layers(opened.stack))
    if report:
        with replacing(report) as path:
            path.write_text(json.dumps({"findings": [_told(f) for f in findings],
                                        "layers": layers}, indent=1) + "\n")
    if mended:
        stack = repaired(opened.stack, findings)
        dpi = round(opened.dpi) if opened.dpi and opened.dpi >= 1 else 300
        with replacing(mended) as path:
            write_openraster(path, stack, flatten(stack), dpi)
    for finding in findings:
        print(f"  {finding.layer or 'the stack'}: {finding.message}")
    print(f"{layers} layers, {len(findings)} findings")
