"""The delivered file, read back by an independent reader (pyora) and by Pillow."""

import io
import zipfile
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pyora
import pytest
from PIL import Image

from tests.drawings import piece
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.lighting import SideLight
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import MoveLight, SetDelivery, apply


def write(path: Path, **delivery: Any) -> np.ndarray:
    deriver, recipe = piece()
    side = SideLight(azimuth=0, height=0, colour="#ffddaa", strength=0.5)
    recipe = apply(recipe, MoveLight(light=recipe.light.model_copy(update={"rim": side})))
    recipe = apply(recipe, SetDelivery(delivery=Delivery(**delivery)))
    picture = deriver.picture(recipe, View.whole(480, 480))
    write_openraster(path, deriver.stack(recipe), picture, recipe.delivery.dpi)
    return picture


@pytest.mark.parametrize("clipping", ["limited", "masked"])
@pytest.mark.parametrize("arrangement", ["by part", "by pass", "whole figure"])
def test_an_independent_reader_composites_the_same_picture(
        arrangement: str, clipping: str, tmp_path: Path) -> None:
    picture = write(tmp_path / "a.ora", arrangement=arrangement, clipping=clipping)
    project = pyora.Project.load(str(tmp_path / "a.ora"))
    theirs = np.asarray(project.get_image_data(use_original=False).convert("RGB")).astype(int)
    assert np.abs(theirs - picture).max() <= 1
    original = np.asarray(project.get_image_data(use_original=True).convert("RGB"))
    assert (original == picture).all()


def test_the_container_follows_the_specification(tmp_path: Path) -> None:
    """OpenRaster 0.0.6: file layout, and layers cropped to what is painted."""
    picture = write(tmp_path / "a.ora", empties=True, dpi=240)
    with zipfile.ZipFile(tmp_path / "a.ora") as archive:
        first = archive.infolist()[0]
        assert (first.filename, first.compress_type) == ("mimetype", zipfile.ZIP_STORED)
        assert archive.read("mimetype") == b"image/openraster"
        thumbnail = Image.open(io.BytesIO(archive.read("Thumbnails/thumbnail.png")))
        assert max(thumbnail.size) <= 256
        root = ElementTree.fromstring(archive.read("stack.xml"))
        assert root.tag == "image" and root.get("version") == "0.0.6"
        assert [root.get(k) for k in ("w", "h", "xres", "yres")] == ["480", "480", "240", "240"]
        assert [child.tag for child in root] == ["stack"]
        merged = Image.open(io.BytesIO(archive.read("mergedimage.png")))
        assert (np.asarray(merged) == picture).all()
        named = {layer.get("src") for layer in root.iter("layer")}
        assert {n for n in archive.namelist() if n.startswith("data/")} == named
        for node in [*root.iter("layer"), *root.findall("./stack//stack")]:
            assert 0 <= float(node.get("opacity", "")) <= 1 and node.get("name")
            assert node.get("visibility") in ("visible", "hidden")
            assert node.get("composite-op", "").startswith("svg:")
        layers = root.findall(".//layer")
        assert layers[0].get("name") == "lines / ink"
        assert layers[-1].get("name") == "background / base"
        modes = {layer.get("name", "").rpartition(" / ")[2]: layer.get("composite-op")
                 for layer in layers}
        assert modes["shade"] == "svg:multiply" and modes["rim"] == "svg:screen"
        empty = 0
        for layer in layers:
            alpha = np.asarray(Image.open(io.BytesIO(archive.read(layer.get("src", ""))))
                               .convert("RGBA"))[..., 3]
            rim = [alpha[0], alpha[-1], alpha[:, 0], alpha[:, -1]]
            assert alpha.shape == (1, 1) or all(side.any() for side in rim), layer.get("name")
            x, y = int(layer.get("x", "")), int(layer.get("y", ""))
            assert x >= 0 and y >= 0 and x + alpha.shape[1] <= 480 and y + alpha.shape[0] <= 480
            empty += not alpha.any()
        assert empty  # a layer without paint is one clear pixel
        groups = root.findall("./stack/stack")
        assert groups and all(g.get("isolation") == "isolate" for g in groups)
