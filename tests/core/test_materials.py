"""How materials take light on a ball, where every normal is known."""

import numpy as np
import pytest

from tests.core.test_finish_light import ball
from wardrobe.core.light.gleam import mirror_horizon
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import Rig, draw_shapes
from wardrobe.core.light.subject import Subject, Surface
from wardrobe.core.passes.table import drawn_shapes

FORM = ball(110)


def shapes_of(material: str, azimuth: float, recedes: bool = False) -> dict[str, np.ndarray]:
    """Where the passes are more than half there."""
    subject = Subject.of(FORM, np.array([0, 1], np.uint16),
                         [Surface(MATERIALS["plain"], None, 0.0, None),
                          Surface(MATERIALS[material], None, 0.0, None, recedes)])
    rig = Rig(KeyLight(azimuth, 40), None, None)
    shapes = draw_shapes(subject, rig, drawn_shapes(("shade", "deep shade", "light")))
    return {key: field > 0.5 for key, field in zip(shapes.keys, shapes.fields, strict=True)}


@pytest.mark.parametrize("azimuth", [20.0, 128.0, 160.0])
def test_lacquer_mirrors_a_horizon(azimuth: float) -> None:
    """Dark in its lower half, lighter again at its foot, wherever the light is; common practice,
    no published source."""
    found = shapes_of("lacquer", azimuth)
    inside = FORM.labels > 0
    down = FORM.normals[..., 1]
    near = FORM.edge > 6
    assert found["shade"][inside & near & (down > 0.16) & (down < 0.5)].mean() > 0.97
    assert found["shade"][inside & near & (down < -0.02)].mean() < 0.02
    assert found["shade"][inside & near & (down > 0.9)].mean() < 0.2
    assert not found["light"][found["shade"]].any()
    # The darkest lies right under the horizon.
    deep = found["deep shade"] & inside
    assert deep.any() and down[deep].mean() < down[found["shade"] & inside].mean()


def test_what_a_lacquer_receives_falls_once_and_rises_again() -> None:
    down = np.linspace(-1, 1, 401, dtype=np.float32)
    normals = np.stack([np.sqrt(1 - down**2), down, np.zeros_like(down)], axis=1)
    told = mirror_horizon(normals)
    assert (told[down < 0.05] == 1).all()
    assert told[-1] == pytest.approx(1) and told.min() == pytest.approx(-0.8, abs=0.01)
    assert (np.diff(told[down > 0.1]) >= -1e-6).all()


def test_rubber_has_a_broad_light_and_no_glint() -> None:
    """Broader than that of any other material that is not polished."""
    rubber = shapes_of("rubber", 128)["light"].sum()
    for other in ("plain", "skin", "sheen cloth", "leather"):
        assert rubber > shapes_of(other, 128)["light"].sum()
    assert MATERIALS["rubber"].glint_share == 0


@pytest.mark.parametrize("material", ["plain", "metal", "lacquer", "hair"])
def test_what_recedes_is_in_shade_as_a_whole(material: str) -> None:
    """Shade everywhere, wherever the light is; no light on it, and no deeper shade."""
    found = shapes_of(material, 128, recedes=True)
    inside = (FORM.labels > 0) & (FORM.edge > 4)
    assert found["shade"][inside].mean() > 0.995
    assert not found["deep shade"][inside].any()
    assert not found["light"].any()
