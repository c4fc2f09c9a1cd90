"""Small line drawings made for the tests."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.document.model import Claim, Part, Recipe, Source, SplitArea
from wardrobe.recipe.edits import AddPart, AddRecut, ClaimAreas, ReplaceParts, apply
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]


def figure_ink(size: int = 480) -> Byte:
    """A head, a body with a sleeve, and a hole that shows the ground; uint8 coverage."""
    ink = np.zeros((size, size), np.uint8)
    k, thick = size / 480, max(2, round(6 * size / 480))

    def pt(x: float, y: float) -> tuple[int, int]:
        return round(x * k), round(y * k)

    cv2.ellipse(ink, pt(240, 300), pt(110, 130), 0, 0, 360, 255, thick, cv2.LINE_AA)
    cv2.circle(ink, pt(240, 110), round(70 * k), 0, -1)
    cv2.circle(ink, pt(240, 110), round(70 * k), 255, thick, cv2.LINE_AA)
    cv2.line(ink, pt(135, 280), pt(345, 280), 255, thick, cv2.LINE_AA)
    cv2.ellipse(ink, pt(360, 300), pt(60, 80), 0, -120, 120, 255, thick, cv2.LINE_AA)
    return ink


def bust_ink() -> Byte:
    """A head on shoulders whose lines stop in mid-air; uint8 coverage, 900 px."""
    ink = np.zeros((900, 900), np.uint8)
    cv2.ellipse(ink, (450, 280), (120, 150), 0, 0, 360, 255, 10)
    for sign in (-1, 1):
        arm = np.array([[450 + sign * 50, 415], [450 + sign * 60, 490], [450 + sign * 220, 540],
                        [450 + sign * 260, 700]])
        cv2.polylines(ink, [arm], False, 255, 10)
    return ink


def links_ink() -> Byte:
    """A body with five links alike on a strap, and a sleeve on either side; uint8 coverage."""
    ink = np.zeros((600, 800), np.uint8)
    cv2.rectangle(ink, (280, 100), (520, 560), 255, 8)
    for x in (100, 600):
        cv2.rectangle(ink, (x, 140), (x + 100, 400), 255, 8)
    for k in range(5):
        cv2.circle(ink, (320 + 40 * k, 300), 12, 255, 5)
    return ink


def person_ink(seed: int) -> tuple[Byte, dict[str, tuple[int, int]]]:
    """A head with hair, ears, a neck and a shirt, of sizes of its own; uint8 coverage, and a place
    in each."""
    rng = np.random.default_rng(seed)
    ink = np.zeros((760, 640), np.uint8)
    line = int(rng.integers(5, 11))
    wide, tall = int(rng.integers(130, 175)), int(rng.integers(165, 205))
    x, y = 320, 330
    brow = y - int(tall * rng.uniform(0.3, 0.5))
    # The shirt, with the neck above it.
    cv2.ellipse(ink, (x, 800), (int(wide * 1.6), 210), 0, 180, 360, 255, line, cv2.LINE_AA)
    neck = wide // 3
    cv2.rectangle(ink, (x - neck, y), (x + neck, 610), 0, -1)
    for side in (-1, 1):
        cv2.line(ink, (x + side * neck, y + tall // 2), (x + side * neck, 606), 255, line)
    cv2.ellipse(ink, (x, 600), (neck, 26), 0, 0, 180, 255, line, cv2.LINE_AA)
    for side in (-1, 1):
        cv2.ellipse(ink, (x + side * wide, y + 10), (26, 40), 0, 0, 360, 255, line, cv2.LINE_AA)
    # The face lies over the ears and the neck.
    cv2.ellipse(ink, (x, y), (wide, tall), 0, 0, 360, 0, -1)
    cv2.ellipse(ink, (x, y), (wide, tall), 0, 0, 360, 255, line, cv2.LINE_AA)
    half = int(wide * np.sqrt(1 - ((y - brow) / tall) ** 2))
    fringe = np.array([[x - half, brow], [x - half // 3, brow - 24], [x + half // 4, brow - 6],
                       [x + half, brow]])
    cv2.polylines(ink, [fringe], False, 255, line, cv2.LINE_AA)
    apart = int(wide * rng.uniform(0.36, 0.48))
    for side in (-1, 1):
        at = (x + side * apart, y - 10)
        cv2.ellipse(ink, at, (34, 24), 0, 0, 360, 255, max(4, line - 2), cv2.LINE_AA)
        cv2.circle(ink, at, 9, 255, -1)
    cv2.ellipse(ink, (x, y + tall // 2), (wide // 3, 16), 0, 0, 180, 255, line, cv2.LINE_AA)
    return ink, {"face": (x, y + 40), "neck": (x, 580), "hair": (x, brow - tall // 4),
                 "eye": (x - apart - 22, y - 10), "shirt": (x + wide, 720)}


def standing_ink(seed: int) -> tuple[Byte, dict[str, tuple[int, int]]]:
    """The same head, a third as large, on a long body with legs; uint8 coverage, and a place in
    face and body."""
    whole, places = person_ink(seed)
    by, left, top = 0.35, 338, 120
    head = cv2.resize(whole[:560], None, fx=by, fy=by, interpolation=cv2.INTER_AREA)
    ink = np.zeros((1500, 900), np.uint8)
    ink[top:top + head.shape[0], left:left + head.shape[1]] = head
    chin = top + head.shape[0] - 24
    body = np.array([[352, chin], [548, chin], [588, 900], [540, 900], [520, 1400], [460, 1400],
                     [450, 930], [440, 1400], [380, 1400], [360, 900], [312, 900]])
    cv2.polylines(ink, [body], True, 255, 5, cv2.LINE_AA)
    x, y = places["face"]
    return ink, {"face": (round(by * x) + left, round(by * y) + top), "body": (450, 700)}


def transparent(ink: Byte) -> Byte:
    """Black ink on nothing, RGBA."""
    rgba = np.zeros((*ink.shape, 4), np.uint8)
    rgba[..., 3] = ink
    return rgba


def on_white(ink: Byte) -> Byte:
    """Black ink on white, RGB."""
    return np.repeat(255 - ink[..., None], 3, axis=2)


def png(image: Byte) -> bytes:
    """Encode with OpenCV (which wants BGR)."""
    if image.ndim == 3:
        image = image[..., [2, 1, 0, 3][: image.shape[2]]]
    return cv2.imencode(".png", image)[1].tobytes()


_BASES = ("#c98f4a", "#4f6f8f", "#b5553f", "#7d9077", "#e3c9a8", "#6a5a7d", "#d9b44f", "#3f6b66")


def piece(ink: Byte | None = None) -> tuple[Deriver, Recipe]:
    """A deriver and a recipe in which each area is a part, the largest first."""
    rgba = transparent(figure_ink() if ink is None else ink)
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=rgba.shape[1], height=rgba.shape[0]))
    areas = deriver.areas(recipe)
    figure = [a for a in np.argsort(-areas.pixels[1:], kind="stable") + 1 if not areas.ground[a]]
    parts = tuple(Part(id=f"p{k}", name=f"part {k}", base=_BASES[(k - 1) % len(_BASES)])
                  for k in range(1, len(figure) + 1))
    claims = tuple(Claim(to=p.id, strokes=(((float(x) + 0.5, float(y) + 0.5),),))
                   for p, (x, y) in zip(parts, areas.seeds[figure], strict=True))
    return deriver, apply(recipe, ReplaceParts(parts=parts, claims=claims, proposed=True))


def scene() -> tuple[Deriver, Recipe]:
    """The small figure before a sky and a floor, whose border runs behind it."""
    deriver, recipe = piece()
    horizon = AddRecut(recut=SplitArea(stroke=((4, 330), (240, 300), (476, 340)), behind=True))
    for edit in (AddPart(name="sky", base="#9db8d6", scenery="sky"),
                 AddPart(name="floor", base="#8a7a5c", scenery="floor"), horizon):
        recipe = apply(recipe, edit)
    sky, floor = (p.id for p in recipe.parts[-2:])
    return deriver, apply(apply(recipe, ClaimAreas(to=sky, strokes=(((20, 20),),))),
                          ClaimAreas(to=floor, strokes=(((20, 460),), ((460, 460),))))
