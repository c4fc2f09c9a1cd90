"""The life of a piece as a film, read by PyAV and OpenCV; and pass by pass on pages."""

from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from PIL import Image
from skimage.metrics import structural_similarity

from tests.drawings import piece
from wardrobe.core.formats.page import broken, text_width
from wardrobe.core.formats.video import write_film
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, Edit, MoveLight, SetBackground, SetDelivery, apply
from wardrobe.recipe.exchange.handout.lesson import lesson_pages
from wardrobe.recipe.exchange.handout.replay import ReplayWish, moments, replay

DERIVER, FIRST = piece()
PART = FIRST.parts[0].id
EDITS: tuple[Edit, ...] = (
    ChangePart(part=PART, base="#aa3322"), ChangePart(part=PART, base="#3322aa"),
    SetDelivery(delivery=FIRST.delivery.model_copy(update={"dpi": 144})),
    *(MoveLight(light=FIRST.light.model_copy(update={"azimuth": 10.0 * k})) for k in range(6)),
    SetBackground(colour="#88ccaa"))
WISH = ReplayWish(seconds=3, fps=10, long_edge=240, hold=0.5)


def last() -> np.ndarray:
    recipe = FIRST
    for edit in EDITS:
        recipe = apply(recipe, edit)
    return DERIVER.picture(recipe, View.whole(*recipe.size, 240))


@pytest.mark.parametrize("form", ["mp4", "webm"])
def test_a_film_is_as_long_as_wished_and_ends_with_the_piece(form: str, tmp_path: Path) -> None:
    path = tmp_path / f"a.{form}"
    frames = list(replay(DERIVER, FIRST, EDITS, WISH))
    write_film(path, form, frames, WISH.fps)  # type: ignore[arg-type]
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        assert stream.average_rate == 10 and stream.codec_context.colorspace == 1  # BT.709
        by_av = [f.to_ndarray(format="rgb24") for f in container.decode(video=0)]
    capture = cv2.VideoCapture(str(path))
    by_cv = []
    while (got := capture.read())[0]:
        by_cv.append(cv2.cvtColor(got[1], cv2.COLOR_BGR2RGB))
    assert len(by_av) == len(by_cv) == sum(stays for _, stays in frames)
    stages = {m.stage for m in moments(FIRST, EDITS)}
    # Three seconds, half a second for each stage but the last, a whole one for the end.
    assert len(by_av) == 30 + 5 * (len(stages) - 1) + 10
    for film in (by_av, by_cv):
        shown, wanted = film[-1], last()
        assert shown.shape[0] > wanted.shape[0]  # the caption has a band of its own
        found = shown[:wanted.shape[0], :wanted.shape[1]]
        # Chroma is stored at half the size: edges of colours are softer, values are not.
        assert structural_similarity(found, wanted, channel_axis=2) > 0.95
        assert np.abs(found.astype(int) - wanted).mean() < 4


def test_frames_fit_one_canvas_and_are_the_states_in_their_order() -> None:
    plain = ReplayWish(seconds=2, fps=5, long_edge=101, hold=0, captions=False)
    told: list[float] = []
    frames = list(replay(DERIVER, FIRST, EDITS, plain, told.append))
    assert {f.shape for f, _ in frames} == {frames[0][0].shape}
    assert all(v % 2 == 0 for v in frames[0][0].shape[:2])
    assert sum(s for _, s in frames) == max(10, len(frames)) and min(s for _, s in frames) >= 1
    assert told == sorted(told) and len(told) == len(frames)
    # What changes no picture (a resolution) has no frame; the first is the piece as it began.
    assert len(frames) == len(EDITS)
    view = View.whole(*FIRST.size, max(frames[0][0].shape))
    begun = DERIVER.picture(FIRST, view)
    h, w = (min(a, b) for a, b in zip(frames[0][0].shape[:2], begun.shape[:2], strict=True))
    assert np.abs(frames[0][0][:h, :w].astype(int) - begun[:h, :w]).mean() < 2


def test_a_history_that_is_longer_than_the_film_keeps_first_and_last() -> None:
    many = tuple(SetBackground(colour=f"#{k:06x}") for k in range(1, 200))
    frames = list(replay(DERIVER, FIRST, many, ReplayWish(2, 5, 64, 0, False)))
    assert len(frames) == 10 and all(s == 1 for _, s in frames)
    only = list(replay(DERIVER, FIRST, (), WISH))
    assert len(only) == 1 and only[0][1] == 30 + 10


def test_a_replay_stops_where_it_is_told_to() -> None:
    class StoppedError(Exception):
        pass

    def stop(share: float) -> None:
        if share > 0.3:
            raise StoppedError

    seen = []
    with pytest.raises(StoppedError):
        for frame, _ in replay(DERIVER, FIRST, EDITS, WISH, stop):
            seen.append(frame)
    assert 0 < len(seen) < len(EDITS)


def test_an_animated_webp_moves(tmp_path: Path) -> None:
    path = tmp_path / "a.webp"
    frames = list(replay(DERIVER, FIRST, EDITS, WISH))
    write_film(path, "webp", frames, WISH.fps)
    with Image.open(path) as picture:
        assert picture.n_frames == len(frames)
        durations = []
        for k in range(picture.n_frames):
            picture.seek(k)
            picture.load()
            durations.append(picture.info["duration"])
        # Times of an animated WebP are whole milliseconds.
        assert np.abs(np.array(durations) - [100 * s for _, s in frames]).max() <= 2
        end = np.asarray(picture.convert("RGB"))
    assert np.abs(end.astype(int) - frames[-1][0]).mean() < 4


def test_a_lesson_has_a_chapter_for_each_stage_that_shows() -> None:
    recipe = apply(FIRST, MoveLight(light=FIRST.light.model_copy(update={"azimuth": 120.0})))
    told: list[float] = []
    pages = lesson_pages(DERIVER, recipe, "Kite", told.append)
    text = [i.text for page in pages for i in page.items if hasattr(i, "text")]
    heads = [t.split("  ", 1)[1] for t in text if t[:1].isdigit() and "  " in t]
    assert heads[:3] == ["Lines", "Flats", "Shade"] and len(told) == len(heads)
    assert any("One hard edge" in t for t in text) and any("multiply" in t for t in text)
    for page in pages:
        for item in page.items:
            right = item.x + (getattr(item, "width", None) or 0)
            assert item.x >= -1 and right <= page.width + 1 and 0 <= item.y <= page.height


def test_text_is_broken_where_it_fits() -> None:
    said = "Where the form faces the light most, as large as the material allows"
    lines = broken(said, 90, 10)
    assert " ".join(lines) == said and max(text_width(line, 10) for line in lines) <= 90
    assert broken("", 90, 10) == [] and broken("unbreakableword", 5, 10) == ["unbreakableword"]
