"""Is the stack in order? Names, layers that do nothing, what differs from the card."""

import re
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.spread import clipped
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.formats.tokens import CardColour
from wardrobe.core.looks.compare import DISTINCT, look_distances
from wardrobe.core.shades.steps import NOTICED
from wardrobe.recipe.checks.finding import Check, Desk, Found, Limit, Noticed, Repair
from wardrobe.recipe.checks.seen import view_of
from wardrobe.recipe.document.look import dressed_parts
from wardrobe.recipe.document.model import hidden
from wardrobe.recipe.edits import ChangeFinish, ChangePart, KeepParts, RemoveFinish
from wardrobe.recipe.reports.looks import MeasuredParts
from wardrobe.recipe.reports.modes import middle_of_most
from wardrobe.recipe.stages.cut import Assigned, Cut
from wardrobe.recipe.stages.finish import drawn
from wardrobe.recipe.stages.picture import Picture
from wardrobe.recipe.stages.stage import Get, Stage

Byte = NDArray[np.uint8]

_SMALL = 240  # px of the longer edge at which layers are looked at one by one
_CLIPS = 0.01  # of the picture
_LOOKS_EDGE = 900


@dataclass(frozen=True, eq=False)
class Proposed(Stage[Found]):
    """Parts that were suggested and not yet accepted."""

    proposed: bool
    count: int

    def make(self, get: Get) -> Found:
        if not self.proposed or not self.count:
            return Found(())
        return Found((Noticed("piece", (), float(self.count),
                              f"{self.count} parts are as they were suggested.", 0.4),))


@dataclass(frozen=True, eq=False)
class Unnamed(Stage[Found]):
    """Parts with a number for a name."""

    parts: tuple[tuple[str, str], ...]

    def make(self, get: Get) -> Found:
        bare = [i for i, name in self.parts if re.fullmatch(r"(part|area|shape|layer)?\s*\d+",
                                                            name.strip(), re.IGNORECASE)]
        return Found((Noticed(
            "piece", (), float(len(bare)),
            f"{len(bare)} of {len(self.parts)} parts have a number for a name.",
            0.3),) if bare else ())


@dataclass(frozen=True, eq=False)
class Hidden(Stage[Found]):
    """Parts that hold areas and are not shown."""

    areas: Cut
    assigned: Assigned
    rows: tuple[tuple[int, str], ...]

    def make(self, get: Get) -> Found:
        if not self.rows:
            return Found(())
        areas, painted = get(self.areas), get(self.assigned).painted
        figure = max(1, int(areas.pixels[painted > 0].sum()))
        found = []
        for row, part in self.rows:
            pixels = int(areas.pixels[painted == row].sum())
            if pixels:
                found.append(Noticed("part", (part,), round(100 * pixels / figure, 1),
                                     f"{{0}} is hidden: {100 * pixels / figure:.1f} % of what is "
                                     "painted.", round(min(1.0, 0.3 + pixels / figure), 3)))
        return Found.of(found)


def _shown(desk: Desk, noticed: Noticed) -> Repair | None:
    part = next(p for p in desk.recipe.parts if p.id == noticed.ids[0])
    if part.visible:  # hidden with what it belongs to
        return None
    return Repair(f"Show {part.name}", ChangePart(part=part.id, visible=True))


@dataclass(frozen=True, eq=False)
class LayersMoved(Stage[tuple[tuple[Byte, Byte], ...]]):
    """The picture without and with each layer that finishes it, small.

    ``at`` are their places among what lies over all parts.
    """

    picture: Picture
    layers: tuple[str, ...]
    at: tuple[int, ...]

    def make(self, get: Get) -> tuple[tuple[Byte, Byte], ...]:
        laid, over = self.picture.laid(get), self.picture.layers.over
        whole = self.picture.painted(get, laid)
        return tuple((self.picture.painted(get, laid, (*over[:k], *over[k + 1:])), whole)
                     for k in self.at)


@dataclass(frozen=True, eq=False)
class IdleLayers(Stage[Found]):
    """Finish layers that are on and change nothing."""

    moved: LayersMoved

    def make(self, get: Get) -> Found:
        return Found.of([
            Noticed("layer", (layer,), 0.0, "{0} is on and changes no pixel.", 0.3)
            for layer, (below, picture) in zip(self.moved.layers, get(self.moved), strict=True)
            if np.array_equal(below, picture)])


@dataclass(frozen=True, eq=False)
class ClippingLayers(Stage[Found]):
    """Finish layers by which channels run out of range."""

    moved: LayersMoved
    plain: frozenset[str]
    scale: float

    def make(self, get: Get) -> Found:
        found = []
        for layer, (below, picture) in zip(self.moved.layers, get(self.moved), strict=True):
            if layer in self.plain:  # paint at the end of the range is chosen, not come to
                continue
            out = clipped(below, picture)
            share = float(out.mean())
            if share > _CLIPS:
                found.append(Noticed(
                    "layer", (layer,), round(100 * share, 1),
                    f"By {{0}} a channel runs out of range in {100 * share:.1f} % of the picture.",
                    round(min(1.0, 0.3 + 5 * share), 3), None,
                    ((middle_of_most(out, self.scale),),)))
        return Found.of(found)


def _layers_moved(desk: Desk) -> LayersMoved:
    picture = desk.graph.picture(view_of(desk, _SMALL))
    below, above = ([f.id for f in drawn(desk.recipe) if f.over_lines == over]
                    for over in (False, True))
    last = len(picture.layers.over)
    return LayersMoved(picture, (*below, *above),
                       (*range(len(below)), *range(last - len(above), last)))


def _clipping(desk: Desk) -> Stage[Found]:
    plain = frozenset(f.id for f in desk.recipe.finish if f.mode == "normal")
    return ClippingLayers(_layers_moved(desk), plain, view_of(desk, _SMALL).scale)


def _weaker(desk: Desk, noticed: Noticed) -> Repair | None:
    """The layer at the largest strength at which it stays in range."""
    layer = next(f for f in desk.recipe.finish if f.id == noticed.ids[0])
    at = desk.recipe.finish.index(layer)
    view = view_of(desk, _SMALL)

    def with_strength(strength: float) -> Byte:
        finish = list(desk.recipe.finish)
        finish[at] = layer.model_copy(update={"strength": strength})
        return desk.deriver.picture(desk.recipe.model_copy(update={"finish": tuple(finish)}), view)

    below = with_strength(0.0)
    for share in (0.85, 0.7, 0.55, 0.4, 0.28, 0.18, 0.1):
        strength = round(layer.strength * share, 2)
        if clipped(below, with_strength(strength)).mean() < 0.8 * _CLIPS:
            to = {name: getattr(layer, name) for name in type(layer).model_fields if name != "id"}
            return Repair(f"Lower it to {100 * strength:.0f} %", ChangeFinish.model_validate(
                {"layer": layer.id, "to": to | {"strength": strength}}))
    return None


def _without_layer(desk: Desk, noticed: Noticed) -> Repair | None:
    return Repair("Take it off", RemoveFinish(layers=(noticed.ids[0],)))


@dataclass(frozen=True, eq=False)
class LooksAlike(Stage[Found]):
    """Looks that can hardly be told from each other."""

    measured: MeasuredParts
    looks: tuple[tuple[str, bool], ...]
    bases: tuple[tuple[str, ...], ...]
    finishes: tuple[int, ...]

    def make(self, get: Get) -> Found:
        if len(self.looks) < 2 or not self.bases[0]:
            return Found(())
        colours = np.array([[from_hex(c) for c in row] for row in self.bases], float) / 255
        away = look_distances(colours, get(self.measured).areas)
        found = []
        for b, (other, retired) in enumerate(self.looks):
            for a, (one, gone) in enumerate(self.looks[:b]):
                if not (retired or gone) and self.finishes[a] == self.finishes[b] \
                        and away[a, b] < DISTINCT:
                    found.append(Noticed(
                        "look", (one, other), round(float(away[a, b]), 1),
                        f"{{0}} and {{1}} are {away[a, b]:.1f} ΔE apart.", 0.4))
        return Found.of(found)


def _looks_alike(desk: Desk) -> Stage[Found]:
    recipe = desk.recipe
    parts = [recipe.parts, *(dressed_parts(recipe.parts, k) for k in recipe.looks)]
    finishes = [(recipe.finish, recipe.light, recipe.background),
                *((recipe.finish if k.finish is None else k.finish,
                   k.light or recipe.light, k.background or recipe.background)
                  for k in recipe.looks)]
    # Looks that are finished or lit in another way are told apart by that.
    groups = tuple(finishes.index(f) for f in finishes)
    return LooksAlike(
        MeasuredParts(desk.graph.figure_seen(view_of(desk, _LOOKS_EDGE)), len(recipe.parts)),
        (("piece", False), *((k.id, k.retired) for k in recipe.looks)),
        tuple(tuple(p.base for p in row) for row in parts), groups)


@dataclass(frozen=True, eq=False)
class Drifted(Stage[Found]):
    """Bases that differ from the character's colour card."""

    parts: tuple[tuple[str, str, str], ...]
    card: tuple[CardColour, ...]

    def make(self, get: Get) -> Found:
        kept = {c.name.casefold(): c.colour for c in self.card}
        found = []
        for part, name, base in self.parts:
            colour = kept.get(name.casefold())
            if colour is None or colour == base:
                continue
            one, other = (srgb_to_lab(np.array(from_hex(c)) / 255) for c in (base, colour))
            step = float(delta_e_2000(one, other))
            if step >= NOTICED:
                found.append(Noticed("part", (part,), round(step, 1),
                                     f"{{0}} is {step:.1f} ΔE from the colour card ({colour}).",
                                     round(min(1.0, 0.4 + step / 40), 3)))
        return Found.of(found)


def _as_on_card(desk: Desk, noticed: Noticed) -> Repair | None:
    part = next(p for p in desk.recipe.parts if p.id == noticed.ids[0])
    colour = next(c.colour for c in desk.card if c.name.casefold() == part.name.casefold())
    return Repair("Take the card’s colour", ChangePart(part=part.id, base=colour))


_CP = "common practice, no published source"

ORDER: tuple[Check, ...] = (
    Check("proposed", "order", "Parts are suggestions still",
          "Suggested parts are named and cut by rule; look at them once before they are delivered.",
          Limit(0, "parts", "own", "until they are accepted"),
          lambda desk: Proposed(desk.recipe.proposed, len(desk.recipe.parts)),
          lambda desk, n: Repair("Keep them", KeepParts())),
    Check("unnamed", "order", "Parts without a name",
          "Whoever opens the file finds a part by its name; hair is in front of a face, too, only "
          "where it is called so.",
          Limit(0, "parts", "common practice", _CP),
          lambda desk: Unnamed(tuple((p.id, p.name) for p in desk.recipe.parts))),
    Check("hidden", "order", "A part is hidden",
          "A hidden part is delivered hidden, and is easily forgotten.",
          Limit(0, "%", "common practice", _CP),
          lambda desk: Hidden(desk.graph.areas, desk.graph.assigned, tuple(
              (row, p.id) for row, p in enumerate(desk.recipe.parts, start=1)
              if p.id in hidden(desk.recipe.parts))), _shown),
    Check("idle layer", "order", "A layer does nothing",
          "It is delivered as an empty layer that someone will wonder about.",
          Limit(0, "px", "common practice", _CP), lambda desk: IdleLayers(_layers_moved(desk)),
          _without_layer),
    Check("clipping", "order", "A layer runs out of range",
          "Where a channel ends at 0 or 255 the drawing of light is gone for good.",
          Limit(100 * _CLIPS, "% of the picture", "own", "what is seen as a spot"),
          _clipping, _weaker),
    Check("looks alike", "order", "Two looks are nearly one",
          "A choice is one only if its options can be told apart at a glance.",
          Limit(DISTINCT, "ΔE", "own", "by area, over all parts"), _looks_alike),
    Check("drifted", "order", "A colour has drifted from the card",
          "A character keeps its colours from picture to picture.",
          Limit(NOTICED, "ΔE", "published", "about the smallest difference that is noticed "
                "(Mokrzycki, Tatol 2011)"),
          lambda desk: Drifted(tuple((p.id, p.name, p.base) for p in desk.recipe.parts),
                               desk.card), _as_on_card),
)
