"""Ready moods: sky and ground, light in the air, shade, all together."""

import math
from collections.abc import Callable

import numpy as np

from wardrobe.recipe.document.finish import (
    FinishDraft,
    InPass,
    OfParts,
    Operation,
    PlainColour,
    Sparks,
    Spots,
    SpotStroke,
    TextureUse,
)
from wardrobe.recipe.reports.finishes.lay_out import (
    Ground,
    backdrop,
    blur,
    down,
    fade,
    place,
    pool,
    spread,
)

_STANDS = 0.97  # of the height: a figure that reaches lower is cut off by the edge
Row = tuple[str, str, str, Callable[[Ground], tuple[FinishDraft, ...]]]


def _late_sun(g: Ground) -> tuple[FinishDraft, ...]:
    sun = g.lit_from(1.5)
    return (
        *backdrop(g, "evening sky", down(
            g, (0, "#8a94b8", 1), (0.55, "#e9bd92", 1), (1, "#f6dfb2", 1))),
        FinishDraft(name="sun", scope="ground", mode="screen", strength=0.8, paint=pool(
            g, sun, 2.0 * g.reach, (0, "#fff0c2", 1), (0.25, "#ffd38a", 0.7), (1, "#ffb46a", 0))),
        # Dark blue or purple at about a third: common practice, no published source.
        FinishDraft(name="cool shade", scope="figure", mode="multiply", strength=0.36,
                    shape=InPass(name="shade"), operations=(blur(g.px(4)),),
                    paint=PlainColour(colour="#6d62a6")),
        FinishDraft(name="warm light", scope="figure", mode="overlay", strength=0.4,
                    shape=InPass(name="shade", outside=True), operations=(blur(g.px(5)),),
                    paint=pool(g, sun, 2.6 * g.reach, (0, "#ffb865", 1), (1, "#ffb865", 0.25))),
        FinishDraft(name="edge in the sun", scope="figure", mode="screen", strength=0.5,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(9))}),),
                    paint=pool(g, sun, 2.0 * g.reach, (0, "#ffe2a8", 1), (0.55, "#ffc477", 0.5),
                                (0.75, "#ffc477", 0))),
    )


def _lamp_at_night(g: Ground) -> tuple[FinishDraft, ...]:
    lamp = g.lit_from(0.9)
    return (
        *backdrop(g, "night", down(
            g, (0, "#121a36", 1), (0.7, "#2b3157", 1), (1, "#3a3a5e", 1))),
        FinishDraft(name="darkness", mode="multiply", paint=pool(
            g, lamp, 2.4 * g.reach, (0.1, "#39406f", 0), (0.55, "#39406f", 0.7),
            (1, "#262b52", 0.95))),
        FinishDraft(name="lamp light", mode="overlay", strength=0.6, paint=pool(
            g, lamp, 1.7 * g.reach, (0, "#ffcb74", 1), (0.5, "#ffae55", 0.6), (1, "#ff9a45", 0))),
        FinishDraft(name="glow round the lamp", mode="screen", strength=0.75, over_lines=True,
                    paint=pool(g, lamp, 0.8 * g.reach, (0, "#ffdf9e", 0.95), (0.3, "#ffb861", 0.4),
                                (1, "#ff9a45", 0))),
    )


def _storybook(g: Ground) -> tuple[FinishDraft, ...]:
    ring = max(3.0, g.px(9))
    return (
        FinishDraft(name="coloured paper", scope="ground", paint=PlainColour(colour="#efdcb8")),
        FinishDraft(name="shadow of the cut-out", scope="ground", mode="multiply", strength=0.7,
                    shape=OfParts(), operations=(
                        spread(ring), Operation(kind="offset", amounts={
                            "dx": round(-g.px(6) * g.toward[0]),
                            "dy": round(max(4.0, g.px(7)))}), blur(g.px(4))),
                    paint=PlainColour(colour="#b79f7c")),
        FinishDraft(name="white edge", scope="ground", shape=OfParts(),
                    operations=(spread(ring),), paint=PlainColour(colour="#fffcf3")),
        FinishDraft(name="uneven colour", scope="figure", mode="soft-light", strength=0.45,
                    paint=PlainColour(colour="#ffffff"),
                    texture=TextureUse(key="clouds", size=max(0.4, g.px(0.5)))),
        FinishDraft(name="paper", mode="multiply", strength=0.24, over_lines=True,
                    paint=PlainColour(colour="#b39a72"),
                    texture=TextureUse(key="paper", size=max(0.4, g.px(0.45)))),
    )


def _stage_light(g: Ground) -> tuple[FinishDraft, ...]:
    x, y = g.middle
    wide, floor = (g.right - g.left) * 0.85, g.bottom
    lamp_x = x + g.toward[0] * g.reach
    top = min(0.0, g.top - g.reach)
    beam = (place(lamp_x - 0.04 * wide, top), place(lamp_x + 0.04 * wide, top),
            place(x + wide, floor), place(x - wide, floor))
    turn = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    oval = tuple(place(x + wide * math.cos(t), floor + 0.16 * wide * math.sin(t)) for t in turn)
    stands = g.bottom < _STANDS * g.height
    floor_pool = (FinishDraft(
        name="pool on the floor", scope="ground", mode="screen", strength=0.45,
        shape=Spots(strokes=(SpotStroke(points=oval),)), operations=(blur(g.px(5)),),
        paint=PlainColour(colour="#ffe3b5")),) if stands else ()
    return (
        *backdrop(g, "dark house", pool(
            g, place(x, y), 2.2 * g.reach, (0, "#5b4a73", 1), (0.6, "#2a2140", 1),
            (1, "#140f22", 1))),
        FinishDraft(name="beam", scope="ground", mode="screen", strength=0.3,
                    shape=Spots(strokes=(SpotStroke(points=beam),)),
                    operations=(blur(g.px(14)),), paint=PlainColour(colour="#ffe9c4")),
        *floor_pool,
        FinishDraft(name="falling off", scope="figure", mode="multiply", strength=0.75, paint=fade(
            (place(x, g.top + 0.35 * (floor - g.top)), place(x, floor)),
            (0, "#4f3f74", 0), (1, "#4f3f74", 0.9))),
        FinishDraft(name="light from behind", scope="figure", mode="screen", strength=0.6,
                    shape=OfParts(), operations=(
                        Operation(kind="fringe", amounts={"by": max(2.0, g.px(8))}),
                        blur(max(0.5, g.px(0.6)))), paint=PlainColour(colour="#8fc4ff")),
    )


def _ember(g: Ground) -> tuple[FinishDraft, ...]:
    x, y = g.middle
    fire = place(x + 0.9 * g.reach * g.toward[0], y + 0.9 * g.reach * g.toward[1])
    return (
        *backdrop(g, "dark behind", pool(
            g, fire, 2.6 * g.reach, (0, "#7a3f2c", 1), (0.45, "#3f2430", 1), (1, "#1d1622", 1))),
        # A dull brown-red over all, taken out where light falls: common practice, no published
        # source.
        FinishDraft(name="brown dusk", scope="figure", mode="multiply", strength=0.62,
                    shape=InPass(name="shade"), operations=(spread(g.px(2)), blur(g.px(5))),
                    paint=PlainColour(colour="#7d4a42")),
        FinishDraft(name="falling off", scope="figure", mode="multiply", strength=0.8,
                    paint=pool(g, fire, 2.4 * g.reach, (0.25, "#8a5248", 0), (1, "#5b3440", 0.9))),
        FinishDraft(name="firelight", scope="figure", mode="plus-lighter", strength=0.4,
                    shape=InPass(name="shade", outside=True), operations=(blur(g.px(4)),),
                    paint=pool(g, fire, 1.7 * g.reach, (0, "#ff9a4c", 0.8), (1, "#ff7a3a", 0))),
        FinishDraft(name="glowing edge of the shade", scope="figure", mode="overlay", strength=0.55,
                    shape=InPass(name="shade"), operations=(
                        Operation(kind="band", amounts={"by": max(2.0, g.px(4))}),),
                    paint=PlainColour(colour="#ff6a3c")),
        FinishDraft(name="sparks", mode="plus-lighter", over_lines=True,
                    shape=Sparks(at=fire, radius=max(1.0, 1.2 * g.reach), count=90,
                                 size=max(1.0, g.px(2.6)), spread=0.9, seed=3),
                    paint=PlainColour(colour="#ffb25e")),
    )


MOODS: tuple[Row, ...] = (
    ("late sun", "Late sun", "A warm sky with the sun where your light stands, purple in the "
     "shade, warmth in the light.", _late_sun),
    ("lamp at night", "Lamp at night", "Everything sinks into blue, but for a lamp where your "
     "light comes from.", _lamp_at_night),
    ("storybook paper", "Storybook paper", "The figure as a cut-out with a white edge on "
     "coloured paper, with the paper's grain over all.", _storybook),
    ("stage light", "Stage light", "A dark house, one beam and a pool on the floor, a cold edge "
     "from behind.", _stage_light),
    ("ember", "Ember", "Brown dusk in the shade, firelight where light falls, glowing at its edge, "
     "with sparks in the air.", _ember),
)
