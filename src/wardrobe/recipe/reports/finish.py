"""Ready finishes to begin from, laid out for the piece: its figure, its size, its key light."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from wardrobe.recipe.document.finish import (
    ColourGradient,
    FinishDraft,
    InPass,
    OfParts,
    Operation,
    PlainColour,
    Spots,
    SpotStroke,
    Stop,
    TextureUse,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver

_STANDS = 0.97  # of the height: a figure that reaches lower is cut off by the edge
SMALL = 320  # px of the longer edge at which the figure is looked for
Place = tuple[float, float]


@dataclass(frozen=True)
class Finish:
    """Layers that make a mood together.

    Attributes
    ----------
    key, label : str
    why : str
        What it does, in a sentence.
    layers : tuple of FinishDraft
        From the bottom.
    """

    key: str
    label: str
    why: str
    layers: tuple[FinishDraft, ...]


@dataclass(frozen=True)
class _Ground:
    """What layers are laid out by, in picture pixels.

    Attributes
    ----------
    width, height : int
    left, top, right, bottom : float
        Of the figure.
    toward : (float, float)
        Unit vector to the key light, y down.
    """

    width: int
    height: int
    left: float
    top: float
    right: float
    bottom: float
    toward: Place

    @property
    def middle(self) -> Place:
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    @property
    def reach(self) -> float:
        """From the middle of the figure to its corner."""
        return math.hypot(self.right - self.left, self.bottom - self.top) / 2

    def px(self, share: float) -> float:
        """Thousandths of the longer edge."""
        return round(share * max(self.width, self.height) / 1000, 1)

    def lit_from(self, far: float) -> Place:
        """A place towards the key light, in reaches from the middle."""
        x, y = self.middle
        return _place(x + far * self.reach * self.toward[0], y + far * self.reach * self.toward[1])


def ready_finishes(deriver: Deriver, recipe: Recipe) -> list[Finish]:
    """All of them, laid out for this piece."""
    ground = _ground(deriver, recipe)
    return [Finish(key, label, why, lay(ground)) for key, label, why, lay in _READY]


def _ground(deriver: Deriver, recipe: Recipe) -> _Ground:
    width, height = recipe.size
    view = View.whole(width, height, SMALL)
    seen = deriver.store(deriver.stages(recipe).figure_seen(view)) > 0
    rows, columns = np.flatnonzero(seen.any(axis=1)), np.flatnonzero(seen.any(axis=0))
    if not len(rows):
        rows, columns = np.array([0, seen.shape[0] - 1]), np.array([0, seen.shape[1] - 1])
    s, azimuth = view.scale, math.radians(recipe.light.azimuth)
    return _Ground(width, height, columns[0] / s, rows[0] / s, (columns[-1] + 1) / s,
                   (rows[-1] + 1) / s, (math.cos(azimuth), -math.sin(azimuth)))


def _place(x: float, y: float) -> Place:
    return round(x, 1), round(y, 1)


def _fade(ends: tuple[Place, Place], *stops: tuple[float, str, float],
          round_: bool = False) -> ColourGradient:
    return ColourGradient(ends=ends, round=round_, stops=tuple(
        Stop(at=at, colour=colour, opacity=opacity) for at, colour, opacity in stops))


def _pool(g: _Ground, middle: Place, radius: float,
          *stops: tuple[float, str, float]) -> ColourGradient:
    """Round a point; the end that is dragged lies towards the middle of the picture."""
    dx, dy = g.width / 2 - middle[0], g.height / 2 - middle[1]
    far = math.hypot(dx, dy) or 1.0
    edge = _place(middle[0] + radius * dx / far, middle[1] + radius * (dy / far if dx or dy else 1))
    return _fade((middle, edge), *stops, round_=True)


def _down(g: _Ground, *stops: tuple[float, str, float]) -> ColourGradient:
    return _fade(((0, 0), (0, g.height)), *stops)


def _blur(by: float) -> Operation:
    return Operation(kind="blur", amounts={"by": min(by, 400)})


def _spread(by: float) -> Operation:
    return Operation(kind="spread", amounts={"by": min(by, 200)})


def _late_sun(g: _Ground) -> tuple[FinishDraft, ...]:
    sun = g.lit_from(1.5)
    return (
        FinishDraft(name="evening sky", scope="ground", paint=_down(
            g, (0, "#8a94b8", 1), (0.55, "#e9bd92", 1), (1, "#f6dfb2", 1))),
        FinishDraft(name="sun", scope="ground", mode="screen", strength=0.8, paint=_pool(
            g, sun, 2.0 * g.reach, (0, "#fff0c2", 1), (0.25, "#ffd38a", 0.7), (1, "#ffb46a", 0))),
        # Dark blue or purple at about a third: common practice, no published source.
        FinishDraft(name="cool shade", scope="figure", mode="multiply", strength=0.36,
                    shape=InPass(name="shade"), operations=(_blur(g.px(4)),),
                    paint=PlainColour(colour="#6d62a6")),
        FinishDraft(name="warm light", scope="figure", mode="overlay", strength=0.4,
                    shape=InPass(name="shade", outside=True), operations=(_blur(g.px(5)),),
                    paint=_pool(g, sun, 2.6 * g.reach, (0, "#ffb865", 1), (1, "#ffb865", 0.25))),
        FinishDraft(name="edge in the sun", scope="figure", mode="screen", strength=0.5,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(9))}),),
                    paint=_pool(g, sun, 2.0 * g.reach, (0, "#ffe2a8", 1), (0.55, "#ffc477", 0.5),
                                (0.75, "#ffc477", 0))),
    )


def _lamp_at_night(g: _Ground) -> tuple[FinishDraft, ...]:
    lamp = g.lit_from(0.9)
    return (
        FinishDraft(name="night", scope="ground", paint=_down(
            g, (0, "#121a36", 1), (0.7, "#2b3157", 1), (1, "#3a3a5e", 1))),
        FinishDraft(name="darkness", mode="multiply", paint=_pool(
            g, lamp, 2.4 * g.reach, (0.1, "#39406f", 0), (0.55, "#39406f", 0.7),
            (1, "#262b52", 0.95))),
        FinishDraft(name="lamp light", mode="overlay", strength=0.6, paint=_pool(
            g, lamp, 1.7 * g.reach, (0, "#ffcb74", 1), (0.5, "#ffae55", 0.6), (1, "#ff9a45", 0))),
        FinishDraft(name="glow round the lamp", mode="screen", strength=0.75, over_lines=True,
                    paint=_pool(g, lamp, 0.8 * g.reach, (0, "#ffdf9e", 0.95), (0.3, "#ffb861", 0.4),
                                (1, "#ff9a45", 0))),
    )


def _storybook(g: _Ground) -> tuple[FinishDraft, ...]:
    ring = max(3.0, g.px(9))
    return (
        FinishDraft(name="coloured paper", scope="ground", paint=PlainColour(colour="#efdcb8")),
        FinishDraft(name="shadow of the cut-out", scope="ground", mode="multiply", strength=0.7,
                    shape=OfParts(), operations=(
                        _spread(ring), Operation(kind="offset", amounts={
                            "dx": round(-g.px(6) * g.toward[0]),
                            "dy": round(max(4.0, g.px(7)))}), _blur(g.px(4))),
                    paint=PlainColour(colour="#b79f7c")),
        FinishDraft(name="white edge", scope="ground", shape=OfParts(),
                    operations=(_spread(ring),), paint=PlainColour(colour="#fffcf3")),
        FinishDraft(name="uneven colour", scope="figure", mode="soft-light", strength=0.45,
                    paint=PlainColour(colour="#ffffff"),
                    texture=TextureUse(key="clouds", size=max(0.4, g.px(0.5)))),
        FinishDraft(name="paper", mode="multiply", strength=0.24, over_lines=True,
                    paint=PlainColour(colour="#b39a72"),
                    texture=TextureUse(key="paper", size=max(0.4, g.px(0.45)))),
    )


def _stage_light(g: _Ground) -> tuple[FinishDraft, ...]:
    x, y = g.middle
    wide, floor = (g.right - g.left) * 0.85, g.bottom
    lamp_x = x + g.toward[0] * g.reach
    top = min(0.0, g.top - g.reach)
    beam = (_place(lamp_x - 0.04 * wide, top), _place(lamp_x + 0.04 * wide, top),
            _place(x + wide, floor), _place(x - wide, floor))
    turn = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    pool = tuple(_place(x + wide * math.cos(t), floor + 0.16 * wide * math.sin(t)) for t in turn)
    stands = g.bottom < _STANDS * g.height
    floor_pool = (FinishDraft(
        name="pool on the floor", scope="ground", mode="screen", strength=0.45,
        shape=Spots(strokes=(SpotStroke(points=pool),)), operations=(_blur(g.px(5)),),
        paint=PlainColour(colour="#ffe3b5")),) if stands else ()
    return (
        FinishDraft(name="dark house", scope="ground", paint=_pool(
            g, _place(x, y), 2.2 * g.reach, (0, "#5b4a73", 1), (0.6, "#2a2140", 1),
            (1, "#140f22", 1))),
        FinishDraft(name="beam", scope="ground", mode="screen", strength=0.3,
                    shape=Spots(strokes=(SpotStroke(points=beam),)),
                    operations=(_blur(g.px(14)),), paint=PlainColour(colour="#ffe9c4")),
        *floor_pool,
        FinishDraft(name="falling off", scope="figure", mode="multiply", strength=0.75, paint=_fade(
            (_place(x, g.top + 0.35 * (floor - g.top)), _place(x, floor)),
            (0, "#4f3f74", 0), (1, "#4f3f74", 0.9))),
        FinishDraft(name="light from behind", scope="figure", mode="screen", strength=0.6,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(8))}),
                        _blur(max(0.5, g.px(0.6)))), paint=PlainColour(colour="#8fc4ff")),
    )


_READY: tuple[tuple[str, str, str, Callable[[_Ground], tuple[FinishDraft, ...]]], ...] = (
    ("late sun", "Late sun", "A warm sky with the sun where your light stands, purple in the "
     "shade, warmth in the light.", _late_sun),
    ("lamp at night", "Lamp at night", "Everything sinks into blue, but for a lamp where your "
     "light comes from.", _lamp_at_night),
    ("storybook paper", "Storybook paper", "The figure as a cut-out with a white edge on "
     "coloured paper, with the paper's grain over all.", _storybook),
    ("stage light", "Stage light", "A dark house, one beam and a pool on the floor, a cold edge "
     "from behind.", _stage_light),
)
