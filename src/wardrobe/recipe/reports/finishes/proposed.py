"""Finish layers that are worked out from what the parts are and where they lie."""

from collections.abc import Callable

import numpy as np
from scipy import ndimage

from wardrobe.core.colour import from_hex, oklch_to_srgb, srgb_to_oklch, to_bytes, to_hex
from wardrobe.core.finish.planes import PLANES
from wardrobe.core.finish.strength import strength_for
from wardrobe.core.words.parts import gives_light, usual_role
from wardrobe.recipe.document.finish import (
    Contact,
    FinishDraft,
    Focus,
    GivenOff,
    OfLines,
    OfParts,
    PlainColour,
    Spots,
    SpotStroke,
)
from wardrobe.recipe.document.model import Part, hidden
from wardrobe.recipe.reports.finishes.lay_out import (
    Extent,
    Finish,
    Ground,
    blur,
    extent,
    fade,
    place,
    spread,
)

# Common practice, no published source: what is larger looks dull when it is flat, and a spot
# looks painted on beyond a step of about 8.
_LARGE = 0.08  # of the figure
_BROKEN_UP, _HAIR_BAND, _IRIS, _BLUSH = 5.0, 7.0, 12.0, 6.5  # wanted steps, CIEDE2000
_LEAST_EYE = 0.0004  # of the picture


def proposed(g: Ground) -> list[Finish]:
    """Those that the piece has something for."""
    return [found for propose in _PROPOSALS for found in propose(g)]


def _seen(g: Ground) -> list[tuple[int, Part]]:
    out_of_sight = hidden(g.recipe.parts)
    return [(row, p) for row, p in enumerate(g.recipe.parts, start=1) if p.id not in out_of_sight]


def _darker(base: str, turn: float = 0.0, by: float = 0.3) -> str:
    """A darker, purer colour of the same hue, or of one a little aside."""
    lightness, chroma, hue = srgb_to_oklch(np.array(from_hex(base)) / 255)
    return to_hex(to_bytes(oklch_to_srgb(
        [max(0.05, lightness - by), min(0.3, chroma * 1.15 + 0.01), hue + turn])))


def _on(base: str, colour: str, mode: str, step: float) -> float:
    """Strength for a wanted step, to a hundredth."""
    strength, _ = strength_for(np.array(from_hex(base)) / 255, np.array(from_hex(colour)) / 255,
                               mode, step)
    return round(max(0.05, strength), 2)


def _tint(base: str, step: float, turn: float = 0.0) -> tuple[str, str, float]:
    """A mode, a colour and a strength that part from a base by a wanted step: darker, or lighter
    where it is too dark to become darker."""
    dark = srgb_to_oklch(np.array(from_hex(base)) / 255)[0] < 0.35
    if dark:
        colour = to_hex(to_bytes(oklch_to_srgb([0.75, 0.06, srgb_to_oklch(
            np.array(from_hex(base)) / 255)[2] + turn])))
        return "screen", colour, _on(base, colour, "screen", step)
    colour = _darker(base, turn)
    return "multiply", colour, _on(base, colour, "multiply", step)


def _across(g: Ground, at: Extent) -> tuple[tuple[float, float], tuple[float, float]]:
    """Ends through the middle of something, from its lit side."""
    x, y = at.middle
    half = 0.5 * (abs(g.toward[0]) * (at.right - at.left) + abs(g.toward[1]) * (at.bottom - at.top))
    return (place(x + half * g.toward[0], y + half * g.toward[1]),
            place(x - half * g.toward[0], y - half * g.toward[1]))


def broken_up(g: Ground, row: int, part: Part) -> FinishDraft | None:
    """A slight gradient on a part, as it suits what the part is; None where it has no place."""
    where = g.rows == row
    if not where.any():
        return None
    at = extent(where, g.scale)
    if usual_role(part.name) == "iris":
        # Dark under the lid, light below.
        mode, colour, strength = _tint(part.base, _IRIS)
        paint = fade((place(at.middle[0], at.top), place(at.middle[0], at.bottom)),
                     (0, colour, 1), (0.8, colour, 0))
    elif part.material == "hair":
        # Light, dark, light from crown to tips.
        mode, colour, strength = _tint(part.base, _HAIR_BAND, 8)
        paint = fade((place(at.middle[0], at.top), place(at.middle[0], at.bottom)),
                     (0.05, colour, 0), (0.5, colour, 1), (0.95, colour, 0))
    else:
        mode, colour, strength = _tint(part.base, _BROKEN_UP, 6)
        paint = fade(_across(g, at), (0.25, colour, 0), (1, colour, 1))
    return FinishDraft(name=f"{part.name} broken up", paint=paint, mode=mode,
                       strength=strength, scope="parts", parts=(part.id,))


def _broken_up(g: Ground) -> list[Finish]:
    large = [broken_up(g, row, part) for row, part in _seen(g)
             if not part.scenery and not part.pattern
             and (usual_role(part.name) == "iris" or g.share(row) >= _LARGE)]
    layers = tuple(layer for layer in large if layer)
    return [Finish("broken up", "Large parts broken up",
                   "A slight gradient on parts that would look flat, hair dark in its middle; each "
                   f"ends a step of about {_BROKEN_UP:.0f} from its base.", layers)] \
        if layers else []


def _eyes(g: Ground) -> list[Extent]:
    """Two eyes beside each other, the left one first."""
    rows = [row for row, p in _seen(g) if usual_role(p.name) is not None]
    near = ndimage.binary_dilation(np.isin(g.rows, rows), iterations=2)
    found, count = ndimage.label(near)
    boxes = [(found == k) for k in range(1, count + 1)]
    large = sorted((b for b in boxes if b.sum() >= _LEAST_EYE * found.size),
                   key=np.count_nonzero)[-2:]
    eyes = sorted((extent(b, g.scale) for b in large), key=lambda e: e.left)
    if len(eyes) < 2:
        return []
    apart = eyes[1].middle[0] - eyes[0].middle[0]
    aside = abs(eyes[1].middle[1] - eyes[0].middle[1])
    return eyes if apart > 0 and aside < 0.6 * apart else []


def _skin(g: Ground) -> Part | None:
    mine = [(g.share(row), p) for row, p in _seen(g) if p.material == "skin" and not p.scenery]
    return max(mine, key=lambda found: found[0])[1] if mine else None


def _blush(g: Ground) -> list[Finish]:
    eyes, skin = _eyes(g), _skin(g)
    if not eyes or skin is None:
        return []
    (lx, ly), (rx, ry) = (e.middle for e in eyes)
    apart = rx - lx
    mx, my = (lx + rx) / 2, (ly + ry) / 2
    # Cheeks lie outwards below the eyes, the tip of the nose between them, the chin below it.
    spots = ((lx - 0.12 * apart, ly + 0.62 * apart, 0.42),
             (rx + 0.12 * apart, ry + 0.62 * apart, 0.42),
             (mx, my + 0.58 * apart, 0.22), (mx, my + 1.28 * apart, 0.2))
    strokes = tuple(SpotStroke(points=(place(x, y),), widths=(round(size * apart, 1),))
                    for x, y, size in spots)
    colour = "#d8574f"
    layer = FinishDraft(
        name="warm cheeks", paint=PlainColour(colour=colour), shape=Spots(strokes=strokes),
        operations=(blur(max(0.5, round(0.11 * apart, 1))),), mode="multiply",
        strength=_on(skin.base, colour, "multiply", _BLUSH), scope="parts", parts=(skin.id,))
    return [Finish("warm cheeks", "Warm cheeks, nose and chin",
                   f"Below the eyes, a step of about {_BLUSH:g} from the skin: more looks painted "
                   "on.", (layer,))]


def _focused(g: Ground) -> list[Finish]:
    eyes = _eyes(g)
    x, y = ((eyes[0].middle[0] + eyes[1].middle[0]) / 2, max(e.middle[1] for e in eyes)) if eyes \
        else (g.middle[0], g.top + 0.22 * (g.bottom - g.top))
    radius = 1.8 * (eyes[1].middle[0] - eyes[0].middle[0]) if eyes else 0.3 * g.reach
    layers = (
        FinishDraft(name="duller away", paint=PlainColour(colour="#8a8a8a"), mode="saturation",
                    strength=0.28, focus="away"),
        FinishDraft(name="darker away", paint=PlainColour(colour="#a7a0bd"), mode="multiply",
                    strength=0.28, focus="away"),
        FinishDraft(name="lighter there", paint=PlainColour(colour="#fff3dc"), mode="soft-light",
                    strength=0.45, focus="there"),
        FinishDraft(name="lines darker there", paint=PlainColour(colour="#140e14"),
                    mode="multiply", strength=0.5, shape=OfLines(), over_lines=True, focus="there"))
    place_of = () if g.recipe.focus else (Focus(at=place(x, y), radius=max(1.0, round(radius, 1))),)
    return [Finish("focus", "Where the eye goes",
                   "Lighter, with darker lines, where the eye should go; duller and darker away "
                   "from it. Drag the place.", layers, focus=place_of)]


def _closeness(g: Ground) -> list[Finish]:
    if sum(1 for _, p in _seen(g) if not p.scenery) < 2:
        return []
    layer = FinishDraft(
        name="close under", paint=PlainColour(colour="#5d4468"), mode="multiply", strength=0.5,
        shape=Contact(width=max(1.0, g.px(8))), scope="figure")
    return [Finish("close under", "Contact shade", "A soft dark along borders, on what lies behind "
                   "what is in front of it.", (layer,))]


def _air(g: Ground) -> list[Finish]:
    seen = [(row, p) for row, p in _seen(g) if p.scenery]
    sky = next((p.base for _, p in seen if p.scenery == "sky"), g.recipe.background)
    layers = tuple(
        FinishDraft(name=f"air before {p.name}", paint=PlainColour(colour=sky),
                    strength=PLANES[p.scenery].air, scope="parts", parts=(p.id,))
        for _, p in seen if p.scenery and PLANES[p.scenery].air and p.base != sky)
    return [Finish("air", "Air between", "What lies farther back takes on more of the sky.",
                   layers)] if layers else []


def lamp_layers(g: Ground, part: Part, at: Extent) -> tuple[FinishDraft, ...]:
    """A part that gives off light: unshaded, with a halo, and light on what faces it."""
    lightness, chroma, hue = srgb_to_oklch(np.array(from_hex(part.base)) / 255)
    own = to_hex(to_bytes(oklch_to_srgb([max(0.86, lightness), max(0.09, chroma), hue])))
    thrown = to_hex(to_bytes(oklch_to_srgb([0.8, max(0.11, chroma), hue])))
    reach = max(at.reach * 2.2, 0.35 * g.reach)
    return (
        FinishDraft(name=f"light from {part.name}", paint=PlainColour(colour=thrown),
                    mode="screen", strength=0.75, shape=GivenOff(
                        parts=(part.id,), reach=round(reach, 1), height=round(0.35 * reach, 1))),
        FinishDraft(name=f"{part.name} unshaded", paint=PlainColour(colour=own),
                    shape=OfParts(parts=(part.id,)), scope="parts", parts=(part.id,)),
        FinishDraft(name=f"halo of {part.name}", paint=PlainColour(colour=thrown), mode="screen",
                    strength=0.8, shape=OfParts(parts=(part.id,)), over_lines=True, operations=(
                        spread(max(1.0, round(0.12 * at.reach, 1))),
                        blur(max(2.0, round(0.45 * at.reach, 1))))))


def _lamps(g: Ground) -> list[Finish]:
    found = []
    for row, part in _seen(g):
        where = g.rows == row
        if gives_light(part.name) and where.any():
            found.append(Finish(
                f"light from {part.id}", f"Light from {part.name}",
                "It shines: unshaded, with a halo, and with light on whatever faces it and is "
                "near.", lamp_layers(g, part, extent(where, g.scale))))
    return found


_PROPOSALS: tuple[Callable[[Ground], list[Finish]], ...] = (
    _broken_up, _blush, _closeness, _focused, _air, _lamps)
