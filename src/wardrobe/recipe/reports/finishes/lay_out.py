"""What ready finishes are laid out by: where figure and parts lie, and the key light."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import from_hex
from wardrobe.recipe.document.finish import (
    ColourGradient,
    FinishDraft,
    Focus,
    Operation,
    Stop,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver

SMALL = 320  # px of the longer edge at which the figure is looked for
Place = tuple[float, float]


@dataclass(frozen=True)
class Finish:
    """Layers that make a mood together, or do one thing to the picture.

    Attributes
    ----------
    key, label : str
    why : str
        What it does, in a sentence.
    layers : tuple of FinishDraft
        From the bottom.
    mood : bool
        A mood, rather than one thing that is worked out from the parts.
    focus : tuple of Focus
        Where the eye should go, if that is needed and was not said yet.
    """

    key: str
    label: str
    why: str
    layers: tuple[FinishDraft, ...]
    mood: bool = False
    focus: tuple[Focus, ...] = ()


@dataclass(frozen=True)
class Extent:
    """Where something lies, in picture pixels."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def middle(self) -> Place:
        """Of the rectangle."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    @property
    def reach(self) -> float:
        """From the middle to a corner."""
        return math.hypot(self.right - self.left, self.bottom - self.top) / 2


@dataclass(frozen=True, eq=False)
class Ground(Extent):
    """What layers are laid out by; its extent is that of the figure.

    Attributes
    ----------
    width, height : int
        Of the picture.
    toward : (float, float)
        Unit vector to the key light, y down.
    recipe : Recipe
    rows : ndarray of uint16, shape (height, width)
        Row of the part of each pixel, small.
    scale : float
        Of ``rows``: its pixels per picture pixel.
    """

    width: int
    height: int
    toward: Place
    recipe: Recipe
    rows: NDArray[np.uint16]
    scale: float

    @classmethod
    def of(cls, deriver: Deriver, recipe: Recipe) -> "Ground":
        """That of a piece."""
        width, height = recipe.size
        view, stages = View.whole(width, height, SMALL), deriver.stages(recipe)
        figure = deriver.store(stages.figure_seen(view)) > 0
        at = extent(figure if figure.any() else np.ones_like(figure), view.scale)
        azimuth = math.radians(recipe.light.azimuth)
        return cls(at.left, at.top, at.right, at.bottom, width, height,
                   (math.cos(azimuth), -math.sin(azimuth)), recipe,
                   deriver.store(stages.parts_seen(view)), view.scale)

    def px(self, share: float) -> float:
        """Thousandths of the longer edge."""
        return round(share * max(self.width, self.height) / 1000, 1)

    def lit_from(self, far: float) -> Place:
        """A place towards the key light, in reaches from the middle."""
        x, y = self.middle
        return place(x + far * self.reach * self.toward[0], y + far * self.reach * self.toward[1])

    def share(self, row: int) -> float:
        """Share of the figure that a part has."""
        around = [0, *(k for k, p in enumerate(self.recipe.parts, start=1) if p.scenery)]
        figure = int(np.count_nonzero(~np.isin(self.rows, around)))
        return int(np.count_nonzero(self.rows == row)) / max(1, figure)


def extent(where: NDArray[np.bool_], scale: float) -> Extent:
    """Where a small mask is set, in picture pixels."""
    rows, columns = np.flatnonzero(where.any(axis=1)), np.flatnonzero(where.any(axis=0))
    return Extent(columns[0] / scale, rows[0] / scale, (columns[-1] + 1) / scale,
                  (rows[-1] + 1) / scale)


def place(x: float, y: float) -> Place:
    """A place to a tenth of a pixel."""
    return round(x, 1), round(y, 1)


def fade(ends: tuple[Place, Place], *stops: tuple[float, str, float],
          round_: bool = False) -> ColourGradient:
    """Colours with their opacity from one place to another, or from a middle outwards."""
    return ColourGradient(ends=ends, round=round_, stops=tuple(
        Stop(at=at, colour=colour, opacity=opacity) for at, colour, opacity in stops))


def pool(g: Ground, middle: Place, radius: float,
         *stops: tuple[float, str, float]) -> ColourGradient:
    """Round a point; the end that is dragged lies towards the middle of the picture."""
    dx, dy = g.width / 2 - middle[0], g.height / 2 - middle[1]
    far = math.hypot(dx, dy) or 1.0
    edge = place(middle[0] + radius * dx / far, middle[1] + radius * (dy / far if dx or dy else 1))
    return fade((middle, edge), *stops, round_=True)


def down(g: Ground, *stops: tuple[float, str, float]) -> ColourGradient:
    """From the top of the picture to its bottom."""
    return fade(((0, 0), (0, g.height)), *stops)


def blur(by: float) -> Operation:
    """Softened by so many picture pixels."""
    return Operation(kind="blur", amounts={"by": min(by, 400)})


def spread(by: float) -> Operation:
    """Grown by so many picture pixels."""
    return Operation(kind="spread", amounts={"by": min(by, 200)})


_DARK = 0.45  # mean value of a backdrop below which it darkens what stands before it


def backdrop(g: Ground, name: str, paint: ColourGradient) -> tuple[FinishDraft, ...]:
    """What lies behind the figure; where there is scenery its sky, the rest taking on the mood."""
    sky = tuple(p.id for p in g.recipe.parts if p.scenery == "sky")
    rest = tuple(p.id for p in g.recipe.parts if p.scenery and p.scenery != "sky")
    if not rest:
        return (FinishDraft(name=name, scope="ground", paint=paint),)
    dark = float(np.mean([from_hex(s.colour) for s in paint.stops])) / 255 < _DARK
    behind = (FinishDraft(name=name, scope="parts", parts=sky, paint=paint),) if sky else ()
    return (*behind, FinishDraft(
        name=f"{name} over the land", scope="parts", parts=rest, paint=paint,
        mode="multiply" if dark else "overlay", strength=0.9 if dark else 0.6))
