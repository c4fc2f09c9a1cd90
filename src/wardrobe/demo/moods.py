"""The demo pieces that are finished: their scenery, and two moods each. Invented."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from wardrobe.recipe.document.finish import (
    Contact,
    FinishDraft,
    FormGradient,
    GivenOff,
    InPass,
    OfLines,
    OfParts,
    Operation,
    PlainColour,
    Sparks,
    Stop,
    TextureUse,
)
from wardrobe.recipe.document.lighting import GroundShadow, Light
from wardrobe.recipe.reports.finishes.lay_out import (
    Ground,
    blur,
    down,
    extent,
    fade,
    place,
    pool,
    spread,
)
from wardrobe.recipe.reports.finishes.proposed import proposed

Layers = tuple[FinishDraft, ...]
Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Scenery:
    """A piece of scenery, in the units of its drawing.

    Attributes
    ----------
    name, plane, base : str
    ridge : tuple of (float, float)
        Its upper border, behind the figure; empty for what reaches to the top.
    spots : list of (float, float)
        Places on it.
    """

    name: str
    plane: str
    base: str
    ridge: Points
    spots: list[tuple[float, float]]


@dataclass(frozen=True)
class Mood:
    """How a piece is finished.

    Attributes
    ----------
    name : str or None
        Of the look; None for the piece itself.
    light : Light
    background : str
    bases : dict of str to str
        Of parts whose base differs.
    finish : callable
        Gives its layers.
    """

    name: str | None
    light: Light
    background: str
    finish: Callable[[Ground], Layers]
    bases: dict[str, str] = field(default_factory=dict)


def _ridge(height: float, *waves: tuple[float, float, float]) -> Points:
    """Across the picture: a mean height, and waves of an amplitude, a length and a phase."""
    def at(x: float) -> float:
        return height + sum(a * math.sin(2 * math.pi * (x / length + phase))
                            for a, length, phase in waves)
    return tuple((x, round(at(x), 1)) for x in np.linspace(4, 996, 187).round(1).tolist())


def _found(g: Ground, key: str) -> Layers:
    """Layers that are proposed for the piece."""
    return next((f.layers for f in proposed(g) if f.key == key), ())


def _ids(g: Ground, *names: str) -> tuple[str, ...]:
    return tuple(p.id for p in g.recipe.parts if p.name in names)


def _on(g: Ground, *names: str) -> dict[str, object]:
    return {"scope": "parts", "parts": _ids(g, *names)}


def _middle(g: Ground, name: str) -> tuple[float, float]:
    rows = {p.name: row for row, p in enumerate(g.recipe.parts, start=1)}
    return place(*extent(g.rows == rows[name], g.scale).middle)


def _shade_of(colour: str, strength: float, g: Ground) -> FinishDraft:
    return FinishDraft(name="colour of the shade", scope="figure", mode="multiply",
                       strength=strength, shape=InPass(name="shade"),
                       operations=(blur(g.px(4)),), paint=PlainColour(colour=colour))


def _edge_of_shade(colour: str, strength: float, g: Ground) -> FinishDraft:
    return FinishDraft(name="edge of the shade", scope="figure", mode="overlay",
                       strength=strength, shape=InPass(name="shade"), operations=(
                           Operation(kind="band", amounts={"by": max(1.5, g.px(2.4))}),),
                       paint=PlainColour(colour=colour))


def _close_under(colour: str, g: Ground) -> FinishDraft:
    return FinishDraft(name="close under", scope="figure", mode="multiply", strength=0.5,
                       shape=Contact(width=max(1.0, g.px(8))), paint=PlainColour(colour=colour))


def _paper(g: Ground, strength: float) -> FinishDraft:
    return FinishDraft(name="paper", mode="soft-light", strength=strength, over_lines=True,
                       paint=PlainColour(colour="#6b5a4a"),
                       texture=TextureUse(key="paper", size=max(0.4, g.px(0.4))))


def _evening(g: Ground) -> Layers:
    """The road home: a low sun to the upper left, haze in the valley."""
    sun = place(0.06 * g.width, 0.3 * g.height)
    lamp = _middle(g, "flame")
    return (
        FinishDraft(name="evening sky", **_on(g, "sky"), paint=down(
            g, (0.02, "#6f83b4", 1), (0.3, "#b3a3bd", 1), (0.48, "#f0bd93", 1),
            (0.62, "#fbe3b0", 1))),
        FinishDraft(name="low sun", **_on(g, "sky"), mode="screen", paint=pool(
            g, sun, 0.62 * g.height, (0, "#fff4cf", 1), (0.08, "#ffe9b4", 1),
            (0.1, "#ffcf86", 0.75), (0.45, "#ffb066", 0.3), (1, "#ff9a5c", 0))),
        FinishDraft(name="haze in the valley", **_on(g, "hills", "woods"), strength=0.9, paint=fade(
            ((0, 0.55 * g.height), (0, 0.83 * g.height)), (0, "#e8b593", 0.25),
            (0.45, "#f4cf9f", 0.75), (1, "#f4cf9f", 0.1))),
        FinishDraft(name="light on the grass", **_on(g, "meadow"), paint=fade(
            ((0.1 * g.width, 0.8 * g.height), (0.8 * g.width, g.height)), (0, "#e9c777", 0.9),
            (0.55, "#a98c52", 0.35), (1, "#5f5a4a", 0.75))),
        FinishDraft(name="uneven ground", **_on(g, "meadow", "woods"), mode="soft-light",
                    strength=0.5, paint=PlainColour(colour="#4c4a2e"), texture=TextureUse(
                        key="clouds", size=max(0.4, g.px(0.3)), angle=8)),
        *_found(g, "broken up"),
        _shade_of("#7264a8", 0.34, g),
        _close_under("#5b4570", g),
        FinishDraft(name="warm light", scope="figure", mode="overlay", strength=0.34,
                    shape=InPass(name="shade", outside=True), operations=(blur(g.px(4)),),
                    paint=pool(g, sun, 0.95 * g.height, (0, "#ffbf6e", 1), (1, "#ffbf6e", 0.3))),
        _edge_of_shade("#f0653a", 0.24, g),
        *_found(g, "warm cheeks"),
        FinishDraft(name="edge in the sun", scope="figure", mode="screen", strength=0.6,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(7))}),),
                    paint=pool(g, sun, 1.0 * g.height, (0, "#ffe3a6", 1), (0.6, "#ffc477", 0.5),
                               (0.75, "#ffc477", 0))),
        FinishDraft(name="lamp on the hair", mode="screen", strength=0.4,
                    paint=PlainColour(colour="#ffb34f"),
                    shape=GivenOff(parts=_ids(g, "flame"), reach=g.px(55), height=g.px(18))),
        FinishDraft(name="flame unshaded", **_on(g, "flame"), paint=pool(
            g, lamp, g.px(18), (0, "#fff6cf", 1), (1, "#ffb53f", 1))),
        FinishDraft(name="glow of the flame", mode="screen", strength=0.75, over_lines=True,
                    shape=OfParts(parts=_ids(g, "flame")),
                    operations=(spread(g.px(2)), blur(g.px(9))),
                    paint=PlainColour(colour="#ffb54a")),
        _paper(g, 0.16),
    )


def _night(g: Ground) -> Layers:
    """The same road by night: the lamp is the light, the moon gives an edge."""
    lamp = _middle(g, "flame")
    return (
        FinishDraft(name="night sky", **_on(g, "sky"), paint=down(
            g, (0, "#0f1736", 1), (0.4, "#23305f", 1), (0.62, "#4a5384", 1))),
        FinishDraft(name="stars", **_on(g, "sky"), mode="plus-lighter", strength=0.85,
                    shape=Sparks(at=place(0.5 * g.width, 0.16 * g.height), radius=0.75 * g.width,
                                 count=260, size=max(0.8, g.px(1.3)), spread=1.0, seed=11),
                    paint=PlainColour(colour="#dfe6ff")),
        FinishDraft(name="mist", **_on(g, "hills", "woods"), strength=0.8, paint=fade(
            ((0, 0.55 * g.height), (0, 0.84 * g.height)), (0, "#3c4876", 0.1),
            (0.5, "#5a6595", 0.6), (1, "#39436a", 0.1))),
        FinishDraft(name="uneven ground", **_on(g, "meadow", "woods"), mode="soft-light",
                    strength=0.5, paint=PlainColour(colour="#10142c"), texture=TextureUse(
                        key="clouds", size=max(0.4, g.px(0.3)), angle=8)),
        *_found(g, "broken up"),
        _close_under("#2c2a52", g),
        FinishDraft(name="darkness", scope="figure", mode="multiply", paint=pool(
            g, lamp, 0.92 * g.height, (0.04, "#5a6096", 0.1), (0.25, "#4b5290", 0.62),
            (0.6, "#363d78", 0.86), (1, "#2b3166", 0.92))),
        FinishDraft(name="deeper in the shade", scope="figure", mode="multiply", strength=0.5,
                    shape=InPass(name="shade"), operations=(blur(g.px(3)),),
                    paint=PlainColour(colour="#3d3f7c")),
        FinishDraft(name="lamplight", scope="everything", mode="soft-light", strength=1.0,
                    paint=PlainColour(colour="#ffc062"),
                    shape=GivenOff(parts=_ids(g, "flame"), reach=g.px(200), height=g.px(60))),
        FinishDraft(name="lamplight, near", mode="screen", strength=0.62,
                    paint=PlainColour(colour="#e8923c"),
                    shape=GivenOff(parts=_ids(g, "flame"), reach=g.px(92), height=g.px(26))),
        *_found(g, "warm cheeks"),
        FinishDraft(name="moon behind", scope="figure", mode="screen", strength=0.5,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(5))}),),
                    paint=fade((place(0.2 * g.width, 0), place(0.62 * g.width, 0)),
                               (0, "#9fc0ff", 1), (0.6, "#9fc0ff", 0.45), (1, "#9fc0ff", 0))),
        FinishDraft(name="lamp glass alight", **_on(g, "lamp glass"), mode="screen", strength=0.9,
                    paint=pool(g, lamp, g.px(40), (0, "#ffdf96", 1), (1, "#ff9c3a", 0.75))),
        FinishDraft(name="flame unshaded", **_on(g, "flame"), paint=pool(
            g, lamp, g.px(18), (0, "#fffbe2", 1), (1, "#ffc24d", 1))),
        FinishDraft(name="glow of the lamp", mode="screen", strength=0.9, over_lines=True,
                    shape=OfParts(parts=_ids(g, "flame", "lamp glass")),
                    operations=(spread(g.px(4)), blur(g.px(26))),
                    paint=PlainColour(colour="#ffab45")),
        FinishDraft(name="halo in the mist", mode="screen", over_lines=True, paint=pool(
            g, lamp, g.px(210), (0, "#ffb75c", 0.5), (0.25, "#ff9a45", 0.2), (1, "#ff8a3a", 0))),
        FinishDraft(name="moths and dust", mode="plus-lighter", over_lines=True, strength=0.9,
                    shape=Sparks(at=lamp, radius=g.px(150), count=46, size=max(0.8, g.px(1.8)),
                                 spread=0.9, seed=5), paint=PlainColour(colour="#ffc873")),
        FinishDraft(name="lines in the dark", shape=OfLines(), over_lines=True, mode="multiply",
                    strength=0.55, paint=PlainColour(colour="#141430")),
        _paper(g, 0.12),
    )


RUNNER_SCENERY = (
    Scenery("sky", "sky", "#a9c4cf", (), [(60, 60)]),
    Scenery("hills", "far", "#93a3a8",
            _ridge(838, (34, 620, 0.1), (12, 210, 0.3), (5, 83, 0.0)), [(60, 905), (940, 905)]),
    Scenery("woods", "near", "#5f7358",
            _ridge(986, (18, 430, 0.65), (8, 118, 0.2), (6, 67, 0.5)), [(60, 1090), (940, 1090)]),
    Scenery("meadow", "floor", "#b3a566",
            _ridge(1165, (14, 900, 0.2), (4, 190, 0.6)), [(60, 1360), (940, 1360)]),
)
_HOME = Light(azimuth=150, height=30, colour="#ffdca0", ambient="#8f86b8", ground=GroundShadow(
    colour="#6a5a8c", strength=0.6, soft=0.25, pitch=0.3))
RUNNER_MOODS = (
    Mood(None, _HOME, "#e9c79a", _evening),
    Mood("Night round", Light(azimuth=52, height=34, colour="#ffc373", ambient="#3c4480",
                              ground=GroundShadow(colour="#232a52", strength=0.45, soft=0.6,
                                                  pitch=0.1)),
         "#1b2244", _night,
         {"sky": "#1d2750", "hills": "#333f6a", "woods": "#222d48", "meadow": "#3a4058"}),
)


def _first_light(g: Ground) -> Layers:
    """The owl comes home: the sun rises behind the wood, and pours round the feathers."""
    sun = place(0.78 * g.width, 0.5 * g.height)
    return (
        FinishDraft(name="morning", **_on(g, "sky"), paint=down(
            g, (0, "#8fb1cf", 1), (0.4, "#cfd0d4", 1), (0.62, "#f3cfa8", 1), (0.8, "#f9e6bd", 1))),
        FinishDraft(name="rising sun", **_on(g, "sky"), mode="screen", paint=pool(
            g, sun, 0.6 * g.height, (0, "#fff6d6", 1), (0.16, "#ffe2a0", 0.95),
            (0.2, "#ffc98a", 0.6), (1, "#ffab70", 0))),
        FinishDraft(name="mist over the wood", **_on(g, "far wood", "wood"), paint=fade(
            ((0, 0.62 * g.height), (0, g.height)), (0, "#f1cda6", 0.55), (0.4, "#f4dcb6", 0.75),
            (1, "#b9c2b4", 0.25))),
        *_found(g, "broken up"),
        FinishDraft(name="cool towards the sky", scope="figure", mode="soft-light", strength=0.65,
                    paint=FormGradient(way="sky", stops=(
                        Stop(at=0.2, colour="#6a4a52", opacity=0.8),
                        Stop(at=0.5, colour="#8a8a8a", opacity=0),
                        Stop(at=0.95, colour="#c8dcff", opacity=0.9)))),
        _shade_of("#6f6aa8", 0.3, g),
        _close_under("#4d3f66", g),
        _edge_of_shade("#e8693f", 0.22, g),
        FinishDraft(name="light round the feathers", scope="figure", mode="screen", strength=0.75,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(9))}),),
                    paint=pool(g, sun, 0.7 * g.height, (0, "#ffedbe", 1), (0.55, "#ffc67c", 0.6),
                               (0.9, "#ffb66a", 0))),
        FinishDraft(name="light spills over", mode="screen", strength=0.55, over_lines=True,
                    paint=pool(g, sun, 0.5 * g.height, (0, "#ffd995", 0.75), (0.4, "#ffb870", 0.25),
                               (1, "#ffab70", 0))),
        FinishDraft(name="dust in the light", mode="plus-lighter", over_lines=True, strength=0.6,
                    shape=Sparks(at=sun, radius=0.42 * g.width, count=70, size=max(0.8, g.px(2.2)),
                                 spread=0.95, seed=8), paint=PlainColour(colour="#ffe0a6")),
        _paper(g, 0.2),
    )


def _blue_hour(g: Ground) -> Layers:
    """Before the round begins: blue everywhere, and eyes that glow."""
    return (
        FinishDraft(name="dusk", **_on(g, "sky"), paint=down(
            g, (0, "#22305e", 1), (0.45, "#4b5a8e", 1), (0.75, "#8f86a8", 1), (0.9, "#b59aa6", 1))),
        FinishDraft(name="first stars", **_on(g, "sky"), mode="plus-lighter", strength=0.8,
                    shape=Sparks(at=place(0.5 * g.width, 0.15 * g.height), radius=0.7 * g.width,
                                 count=110, size=max(0.8, g.px(1.4)), spread=1.0, seed=21),
                    paint=PlainColour(colour="#e6ecff")),
        FinishDraft(name="mist over the wood", **_on(g, "far wood", "wood"), strength=0.85,
                    paint=fade(((0, 0.62 * g.height), (0, g.height)), (0, "#54618f", 0.5),
                               (0.4, "#7a83ab", 0.6), (1, "#39446e", 0.2))),
        *_found(g, "broken up"),
        _close_under("#262a52", g),
        FinishDraft(name="blue over all", scope="figure", mode="multiply", strength=0.85,
                    paint=FormGradient(way="sky", stops=(
                        Stop(at=0.1, colour="#4a4f86"), Stop(at=0.6, colour="#7b86b8"),
                        Stop(at=1, colour="#a9b6dd")))),
        _shade_of("#4b4f92", 0.5, g),
        FinishDraft(name="edge of the sky", scope="figure", mode="screen", strength=0.4,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(6))}),),
                    paint=fade(((0, 0), (0, 0.75 * g.height)), (0, "#a9c4ff", 1),
                               (1, "#a9c4ff", 0))),
        FinishDraft(name="eyes alight", **_on(g, "irises"), paint=FormGradient(way="viewer", stops=(
            Stop(at=0, colour="#f08a24"), Stop(at=1, colour="#ffd35a")))),
        FinishDraft(name="light from the eyes", mode="screen", strength=0.5,
                    paint=PlainColour(colour="#e8933a"), shape=GivenOff(
                        parts=_ids(g, "irises"), reach=g.px(62), height=g.px(22))),
        FinishDraft(name="glow of the eyes", mode="screen", strength=0.7,
                    shape=OfParts(parts=_ids(g, "irises")),
                    operations=(spread(g.px(1)), blur(g.px(14))),
                    paint=PlainColour(colour="#ff9f3d")),
        _paper(g, 0.16),
    )


OWL_SCENERY = (
    Scenery("sky", "sky", "#b9cbd8", (), [(60, 60)]),
    Scenery("far wood", "far", "#8c9a9c",
            _ridge(905, (18, 560, 0.2), (9, 143, 0.4), (6, 71, 0.1)), [(40, 985), (960, 985)]),
    Scenery("wood", "near", "#5c6c66",
            _ridge(1075, (16, 700, 0.7), (11, 121, 0.15), (7, 59, 0.6)), [(40, 1300), (960, 1300)]),
)
OWL_MOODS = (
    Mood(None, Light(azimuth=22, height=30, colour="#ffe2b0", ambient="#8a93b8"), "#e6d8c2",
         _first_light),
    Mood("Blue hour", Light(azimuth=96, height=52, colour="#c9d6ff", ambient="#454c86"), "#2b376a",
         _blue_hour, {"sky": "#46568a", "far wood": "#3b4870", "wood": "#27304f"}),
)
