"""Tone as ink: what is covered is the tone that is asked for, in lines, dots and stipple.

Coverage that prints as tone: Murray 1936, Neugebauer 1937.
"""

import cv2
import numpy as np
import pytest

from tests.drawings import piece
from tests.tries import tries
from wardrobe.core.ink.screens import dot_screen, line_screen, stipple
from wardrobe.core.ink.shading import STYLES, Hand, Sheet, draw, swell_seen

SIDE = 480
TONES = np.linspace(0.03, 0.97, 20)


def ramp(angle: float, step: float, side: int = SIDE) -> np.ndarray:
    """Distance across straight lines of a direction."""
    turn = np.radians(angle)
    places = (np.arange(side, dtype=np.float32) + np.float32(0.5)) * np.float32(step)
    return (places[None] * np.float32(np.sin(turn))
            + places[:, None] * np.float32(np.cos(turn))).astype(np.float32)


def filled(style: str, tone: float, angle: float, spacing: float, step: float) -> np.ndarray:
    flat = np.full((SIDE, SIDE), tone, np.float32)
    if style == "lines":
        return line_screen(flat, ramp(angle, step), spacing)
    if style == "dots":
        return dot_screen(flat, spacing, angle, (0.0, 0.0), step)
    return stipple(flat, spacing, (0.0, 0.0), step)


@pytest.mark.parametrize("style", ["lines", "dots", "stipple"])
@pytest.mark.parametrize(("angle", "spacing", "step"), [(0, 12, 1.0), (37, 17, 1.0), (61, 9, 2.7),
                                                        (45, 14, 9.0)])
def test_the_mean_is_the_tone(style: str, angle: float, spacing: float, step: float) -> None:
    """Within 2 %, at full size, in a preview and in a thumbnail; never falling."""
    tones = TONES[::tries(3, 1)]
    means = [filled(style, tone, angle, spacing, step).mean() / 255 for tone in tones]
    assert np.abs(np.array(means) - tones).max() < 0.02
    assert (np.diff(means) > 0).all()


@pytest.mark.parametrize(("angle", "spacing"), [(0, 16.0), (30, 12.0), (45, 20.0), (115, 9.0)])
def test_lines_have_their_spacing_and_direction(angle: float, spacing: float) -> None:
    """By the peak of the Fourier transform."""
    drawn = filled("lines", 0.4, angle, spacing, 1.0).astype(float) / 255
    window = np.hanning(SIDE)[:, None] * np.hanning(SIDE)[None]
    spectrum = np.abs(np.fft.fft2((drawn - drawn.mean()) * window, (4 * SIDE, 4 * SIDE)))
    frequencies = np.fft.fftfreq(4 * SIDE)
    y, x = np.unravel_index(spectrum.argmax(), spectrum.shape)
    fx, fy = frequencies[x], frequencies[y]
    assert abs(1 / np.hypot(fx, fy) - spacing) < 0.02 * spacing
    # Lines run at right angles to their wave; y is down.
    found = np.degrees(np.arctan2(fx, fy)) % 180
    assert min(abs(found - angle % 180), 180 - abs(found - angle % 180)) < 0.5


def test_a_halftone_has_as_many_dots_as_its_ruling() -> None:
    """Round, and as large as the tone; holes above one half."""
    for tone, value in ((0.2, 255), (0.8, 0)):
        drawn = filled("dots", tone, 15, 24, 1.0)
        dots = (drawn > 127) if value else (drawn < 128)
        count, _, stats, _ = cv2.connectedComponentsWithStats(dots.astype(np.uint8))
        whole = [s for s in stats[1:] if s[0] > 0 and s[1] > 0 and s[0] + s[2] < SIDE
                 and s[1] + s[3] < SIDE]
        assert abs(count - 1 - SIDE**2 / 24**2) < 0.15 * SIDE**2 / 24**2
        areas = np.array([s[4] for s in whole])
        assert np.abs(areas / (0.2 * 24**2) - 1).max() < 0.12
        assert max(abs(s[2] - s[3]) for s in whole) <= 1  # as wide as high


@pytest.mark.parametrize("style", ["lines", "dots", "stipple"])
def test_a_small_picture_is_the_large_one_made_small(style: str) -> None:
    """Without moire: each is drawn for its own pixels."""
    full = filled(style, 0.35, 33, 15, 1.0)
    small = filled(style, 0.35, 33, 15, 4.0)[:SIDE // 4, :SIDE // 4].astype(float)
    shrunk = cv2.resize(full, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    assert np.abs(small - shrunk).mean() < 12
    tiny = filled(style, 0.35, 33, 15, 15.0)
    assert np.ptp(tiny.astype(int)) <= 1 and abs(int(tiny[0, 0]) - round(0.35 * 255)) <= 1


def sheet(mask: np.ndarray, ink: np.ndarray | None = None) -> Sheet:
    swell = np.zeros((*mask.shape, 3), np.float32)
    return Sheet(mask, np.zeros_like(mask) if ink is None else ink, swell, (0.0, 0.0), 1.0, 6.0)


def hand(style: str, **more: float) -> Hand:
    usual = {"angle": 30.0, "spacing": 14.0, "tone": 0.5, "pressure": 0.0, "taper": 0.0,
             "follow": "straight", "gap": 0.0}
    return Hand(style, **{**usual, **more})


@pytest.mark.parametrize("style", STYLES)
def test_ink_keeps_to_its_shape(style: str) -> None:
    mask = np.zeros((300, 300), np.uint8)
    cv2.circle(mask, (150, 150), 100, 255, -1, cv2.LINE_AA)
    drawn = draw(hand(style, pressure=0.6, taper=8.0), sheet(mask))
    assert (drawn <= mask).all() and drawn.any() and not draw(
        hand(style), sheet(np.zeros_like(mask))).any()


def test_lines_swell_inwards_and_end_thin() -> None:
    mask = np.zeros((400, 400), np.uint8)
    mask[60:340, 60:340] = 255
    drawn = draw(hand("lines", pressure=0.8, taper=10.0), sheet(mask)).astype(float) / 255
    middle, edge = drawn[150:250, 150:250].mean(), drawn[62:66, 62:338].mean()
    assert abs(middle - 0.5) < 0.03 and edge < 0.12
    # Twice as long as wide, every one of them.
    _, _, stats, _ = cv2.connectedComponentsWithStats((drawn > 0.5).astype(np.uint8))
    for _, _, width, height, area in stats[1:]:
        assert np.hypot(width, height) ** 2 >= 2 * area or area < 12
    crossed = draw(hand("crossed", taper=4.0), sheet(mask)).astype(float) / 255
    assert abs(crossed[170:230, 170:230].mean() - 0.75) < 0.04  # 1 - (1 - 0.5)^2
    assert abs(crossed[64:76, 100:300].mean() - 0.5) < 0.06  # one set near the edge


def test_black_keeps_its_distance_from_lines() -> None:
    mask, ink = np.full((200, 200), 255, np.uint8), np.zeros((200, 200), np.uint8)
    ink[:, 90:110] = 255
    drawn = draw(hand("solid", gap=5.0), sheet(mask, ink))
    assert not drawn[:, 86:114].any() and (drawn[:, :80] == 255).all()
    assert (draw(hand("solid"), sheet(mask, ink)) == 255).all()


def test_lines_across_a_ball_bend_and_along_it_part() -> None:
    """On a ball the swell is that of half a sphere; straight lines are straight."""
    ink = np.zeros((400, 400), np.uint8)
    cv2.circle(ink, (200, 200), 140, 255, 6, cv2.LINE_AA)
    deriver, recipe = piece(ink)
    form = deriver.form(recipe)
    swell = swell_seen(form, 0, 0, 1.0, (400, 400))
    y, x = np.mgrid[:400, :400] + 0.5
    inside = np.hypot(x - 200, y - 200) < 100
    sphere = np.sqrt(np.maximum(137.0**2 - (x - 200) ** 2 - (y - 200) ** 2, 0))
    assert np.abs(swell[..., 0] - sphere)[inside].mean() < 14
    mask = inside.astype(np.uint8) * 255
    views = {}
    for follow in ("straight", "across", "along"):
        drawn = draw(hand("lines", angle=0.0, follow=follow, tone=0.3),
                     Sheet(mask, ink, swell, (0.0, 0.0), 1.0, 6.0))
        views[follow] = drawn.astype(float)
    rows = [views[f][130:270, 150:250].std(axis=1).mean() for f in ("straight", "across")]
    assert rows[0] < 1 < rows[1]  # level lines are the same along a row, bent ones are not
    assert np.abs(views["straight"] - views["along"]).mean() > 10
    for drawn in views.values():
        assert abs(drawn[inside].mean() / 255 - 0.3) < 0.03
    # Views of any size and place agree.
    half = swell_seen(form, 100, 50, 0.5, (120, 130))
    assert np.abs(half - swell[50:290:2, 100:360:2]).mean() < 1.5
