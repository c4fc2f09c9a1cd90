"""Shade and judge one drawing whose parts are given as a label map."""

import json
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import spread
from wardrobe.core.errors import UnreadableImageError, WardrobeError
from wardrobe.core.form import Form, Traits, solve_form
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.png import encode_png
from wardrobe.core.light.audit import audit_light
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import CAST, Rig, draw_shapes
from wardrobe.core.light.subject import Subject, Surface
from wardrobe.core.lines.coverage import ink_coverage, read_darkness
from wardrobe.core.lines.width import line_width
from wardrobe.core.masks.raster import rasterise
from wardrobe.core.masks.settle import settle
from wardrobe.core.passes.table import drawn_shapes
from wardrobe.recipe.exchange.files import replacing

Byte = NDArray[np.uint8]

_CLOTH = MATERIALS["matte cloth"]
_PASSES = ("shade", "deep", "cast", "light", "rim")
_RIM_HEIGHT = -15.0


def shade_file(line: Path, labels_file: Path, azimuth: float, height: float, out: Path) -> None:
    """Write one 8-bit mask a pass.

    Raises
    ------
    WardrobeError
        With a message for the user.
    """
    coverage = _coverage(line)
    labels = _under_ink(_labels(labels_file, coverage.shape), coverage)
    form = _form(labels, coverage)
    rig = Rig(KeyLight(azimuth, height), rim=KeyLight(azimuth + 180, _RIM_HEIGHT))
    forms = int(form.labels.max())
    owners = np.minimum(np.arange(forms + 1), 1).astype(np.uint16)
    cloth = Surface(_CLOTH, highlight=1.0)
    shapes = draw_shapes(Subject.of(form, owners, [cloth, cloth]), rig,
                         {**drawn_shapes(["shade", "deep shade"]), "cast": CAST,
                          **drawn_shapes(["light", "rim"])})
    levels = rasterise(shapes, form, labels)
    settle(levels, shapes.keys)
    out.mkdir(parents=True, exist_ok=True)
    for plane, name in enumerate(_PASSES):
        with replacing(out / f"{name}.png") as path:
            path.write_bytes(encode_png(np.ascontiguousarray(levels[..., plane]), level=2))
    shares = ", ".join(f"{name} {np.mean(levels[..., plane][labels > 0] > 127):.1%}"
                       for plane, name in enumerate(_PASSES))
    print(f"{len(np.unique(labels[labels > 0]))} labels: {shares}")


def audit_file(labels_file: Path, shade: Path, line: Path | None, report: Path) -> None:
    """Write the light that each label's shade implies.

    Raises
    ------
    WardrobeError
        With a message for the user; a file that was there before is untouched.
    """
    mask = decode_image(shade.read_bytes(), ImageLimits(shortest_edge=1))
    dark = (mask[..., :3].mean(axis=2) * (mask[..., 3] / 255)) > 127
    labels = _labels(labels_file, dark.shape)
    coverage = _coverage(line) if line else np.zeros(dark.shape, np.uint8)
    if coverage.shape != dark.shape:
        raise WardrobeError(f"The shade has {dark.shape[1]} x {dark.shape[0]} px, the drawing "
                            f"{coverage.shape[1]} x {coverage.shape[0]}.")
    form = _form(_under_ink(labels, coverage), coverage)
    on_grid = form.grid.nearest(labels)
    told = audit_light(form.normals, on_grid, form.grid.nearest(dark.astype(np.uint16)) > 0)
    with replacing(report) as path:
        entries = [{"label": t.label, "azimuth": t.azimuth, "confidence": t.confidence}
                   for t in told]
        path.write_text(json.dumps(entries, indent=1) + "\n")
    print(f"{len(told)} labels tell where their light is")


def _coverage(line: Path) -> Byte:
    rgba = decode_image(line.read_bytes())
    return ink_coverage(read_darkness(rgba, None, None), 0.5, None)


def _labels(path: Path, shape: tuple[int, ...]) -> NDArray[np.uint16]:
    """A grey PNG of 8 or 16 bits; 0 is the ground."""
    image = cv2.imdecode(np.frombuffer(path.read_bytes(), np.uint8), cv2.IMREAD_UNCHANGED)
    if image is None or image.ndim != 2 or image.dtype not in (np.uint8, np.uint16):
        raise UnreadableImageError(f"{path} is not a grey picture of 8 or 16 bits.")
    if image.shape != shape:
        raise WardrobeError(f"The labels have {image.shape[1]} x {image.shape[0]} px, the other "
                            f"picture {shape[1]} x {shape[0]}.")
    if not image.any():
        raise WardrobeError(f"{path} holds no label above 0.")
    return image.astype(np.uint16)


def _under_ink(labels: NDArray[np.uint16], coverage: Byte) -> NDArray[np.uint16]:
    """Labels run on under the ink to the middle of the line."""
    known = labels.astype(np.int32) + 1
    known[coverage > 127] = 0
    return (spread(known) - 1).astype(np.uint16) if known.any() else labels


def _form(labels: NDArray[np.uint16], coverage: Byte) -> Form:
    figure = np.zeros(int(labels.max()) + 1, bool)
    figure[np.unique(labels)] = True
    figure[0] = False
    width = line_width(coverage) if (coverage > 127).any() else max(3.0, max(labels.shape) / 300)
    return solve_form(labels, coverage, width, Traits.usual(figure, _CLOTH.fold))
