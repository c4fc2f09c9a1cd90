"""How far the pictures of a series have drifted apart: colours, amount of shade, light."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, TypeVar

import numpy as np

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.recipe.document.model import Recipe, hidden
from wardrobe.recipe.document.view import View
from wardrobe.recipe.series.carry import path_of
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.stage import Get, Small, Stage

T = TypeVar("T")
Path = tuple[str, ...]

_EDGE = 400  # px at which shade is measured
_LEAST_PIXELS = 60  # of those that a part has at least, to be measured
# From which a difference is listed: CIEDE2000, share of the part, degrees.
LEAST: dict[str, float] = {"colour": 2.0, "shade": 0.18, "light": 8.0}


@dataclass(frozen=True)
class Measured(Small):
    """What is measured of a picture.

    Attributes
    ----------
    bases : mapping of path to str
        Base colour of each part that is seen.
    shade : mapping of path to float, 0..1
        Share of each part that lies in the shade.
    azimuth : float
        Of the key light, degrees.
    """

    bases: Mapping[Path, str]
    shade: Mapping[Path, float]
    azimuth: float


@dataclass(frozen=True)
class Drifted:
    """A picture that differs from what is usual in its series or scene."""

    piece: int
    what: Literal["colour", "shade", "light"]
    part: Path
    by: float
    here: str
    usual: str


@dataclass(frozen=True, eq=False)
class ShadeShares(Stage[tuple[tuple[int, int, int], ...]], keep="on disk"):
    """Row, pixels and thousandths in shade of each part of a small picture."""

    masks: Stage  # type: ignore[type-arg]

    def make(self, get: Get) -> tuple[tuple[int, int, int], ...]:
        masks = get(self.masks)
        rows = masks.parts.ravel()
        count = int(rows.max(initial=0)) + 1
        pixels = np.bincount(rows, minlength=count)
        shade = np.bincount(rows, masks.level("shade").ravel() / 255.0, count) \
            if "shade" in masks.keys else np.zeros(count)
        return tuple((row, int(pixels[row]), round(1000 * float(shade[row]) / int(pixels[row])))
                     for row in range(1, count) if pixels[row])


def measure(deriver: Deriver, recipe: Recipe) -> Measured:
    """Measure a picture."""
    away = hidden(recipe.parts)
    paths = {row: path_of(recipe.parts, p.id) for row, p in enumerate(recipe.parts, 1)
             if p.id not in away and not p.scenery}
    masks = deriver.stages(recipe).masks(View.whole(*recipe.size, _EDGE), True)
    shares = deriver.store(ShadeShares(masks))
    seen = {row: (pixels, share / 1000) for row, pixels, share in shares if row in paths}
    return Measured({paths[row]: recipe.parts[row - 1].base for row in seen},
                    {paths[row]: share for row, (pixels, share) in seen.items()
                     if pixels >= _LEAST_PIXELS}, recipe.light.azimuth % 360)


def drift(measured: Sequence[tuple[int, str, Measured]]) -> list[Drifted]:
    """What differs from what is usual, the worst first.

    Parameters
    ----------
    measured : sequence of (int, str, Measured)
        Piece, scene, and what was measured of it.

    Returns
    -------
    list of Drifted
        Usual is the commonest colour of a part and the median of its shade in the same scene,
        and the commonest light of a scene (by whole degrees).
    """
    found = []
    bases: dict[Path, Counter[str]] = defaultdict(Counter)
    shades: dict[tuple[str, Path], list[float]] = defaultdict(list)
    lights: dict[str, Counter[int]] = defaultdict(Counter)
    for _, scene, m in measured:
        lights[scene][round(m.azimuth) % 360] += 1
        for path, base in m.bases.items():
            bases[path][base] += 1
        for path, share in m.shade.items():
            shades[scene, path].append(share)
    for piece, scene, m in measured:
        for path, base in m.bases.items():
            usual = _commonest(bases[path])
            step = _step(base, usual)
            if step >= LEAST["colour"]:
                found.append(Drifted(piece, "colour", path, round(step, 1), base, usual))
        for path, share in m.shade.items():
            middle = float(np.median(shades[scene, path]))
            if len(shades[scene, path]) > 2 and abs(share - middle) >= LEAST["shade"]:
                found.append(Drifted(piece, "shade", path, round(share - middle, 2),
                                     f"{share:.0%}", f"{middle:.0%}"))
        usual_light = _commonest(lights[scene])
        off = (m.azimuth - usual_light + 180) % 360 - 180
        if abs(off) >= LEAST["light"]:
            found.append(Drifted(piece, "light", (), round(off, 1), f"{m.azimuth:.0f}°",
                                 f"{usual_light}°"))
    return sorted(found, key=lambda d: -abs(d.by) / LEAST[d.what])


def _commonest(counts: "Counter[T]") -> T:
    return counts.most_common(1)[0][0]


def _step(one: str, other: str) -> float:
    labs = srgb_to_lab(np.array([from_hex(one), from_hex(other)]) / 255)
    return float(delta_e_2000(labs[0], labs[1]))
