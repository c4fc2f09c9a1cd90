"""Home with a thousand pieces, and the life of a piece as a film."""

import random
import tempfile
import time
from pathlib import Path

import cv2
import numpy as np
from tests.chromium import browser_page

from benchmarks.layers import runner_piece
from wardrobe.core.formats.video import write_film
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import ChangePart, Edit, MoveLight, SetBackground, apply
from wardrobe.recipe.exchange.handout.replay import ReplayWish, replay
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

PIECES, REVISIONS = 1000, 500
_MATERIALS = ("skin", "hair", "metal", "leather")


def fill(data: str, rgba: np.ndarray) -> None:
    """A data folder with a thousand small pieces."""
    studio = Studio(Settings(data_dir=Path(data)))
    small = cv2.resize(rgba, (496, 702), interpolation=cv2.INTER_AREA)
    ok, png = cv2.imencode(".png", cv2.cvtColor(small, cv2.COLOR_RGBA2BGRA))
    assert ok
    asset = studio.assets.put(png.tobytes())
    recipe = Recipe.model_validate({"source": {"asset": asset, "original": asset, "width": 496,
                                               "height": 702}})
    for k in range(PIECES):
        studio.pieces.create(f"Lantern {k:04d}", 40, apply(
            recipe, SetBackground(colour=f"#{(k * 7919) % (1 << 24):06x}")))
    studio.close()


def measure_home(address: str) -> dict[str, float]:
    """Seconds from asking for the page to the first picture, the best of five; an empty page's;
    and frames a second while it is scrolled."""
    with browser_page() as page:
        page.goto(address)
        page.wait_for_timeout(3000)  # pictures of what is seen are drawn once
        firsts, bare = [], []
        for _ in range(5):
            page.goto("about:blank")
            begin = time.perf_counter()
            page.goto(address, wait_until="commit")
            page.wait_for_function("() => [...document.images].some(i => i.src.includes('/card') "
                                   "&& i.complete && i.naturalWidth > 0)")
            firsts.append(time.perf_counter() - begin)
            begin = time.perf_counter()
            page.goto(f"{address}/icon.svg")
            bare.append(time.perf_counter() - begin)
        page.goto(address)
        page.wait_for_function("() => [...document.querySelectorAll('*')].some(e => "
                               "e.scrollHeight > e.clientHeight + 5000)")
        page.wait_for_timeout(2500)
        frames = page.evaluate("""() => new Promise(done => {
            const list = [...document.querySelectorAll('*')].find(e =>
                e.scrollHeight > e.clientHeight + 5000);
            let count = 0; const begin = performance.now();
            const step = () => { count += 1; list.scrollTop += 40;
                if (performance.now() - begin < 4000) requestAnimationFrame(step);
                else done(count / 4); };
            requestAnimationFrame(step); })""")
        return {"first": min(firsts), "bare": min(bare), "frames": frames}


def measure_replay(rgba: np.ndarray) -> dict[str, float]:
    """Seconds for a film of 500 revisions at 1080 px; and for OpenCV to write as many frames."""
    deriver, recipe = runner_piece(rgba)
    dice, now = random.Random(1), recipe
    edits: list[Edit] = []
    while len(edits) < REVISIONS:
        part = dice.choice(now.parts).id
        # Mostly colours and lights; a part becomes another material now and then.
        (edit,) = dice.choices((
            ChangePart(part=part, base=f"#{dice.randrange(1 << 24):06x}"),
            ChangePart(part=part, material=dice.choice(_MATERIALS)),
            MoveLight(light=now.light.model_copy(update={"azimuth": dice.uniform(0, 360)})),
            SetBackground(colour=f"#{dice.randrange(1 << 24):06x}")), (10, 1, 7, 2))
        after = apply(now, edit)
        if after != now:
            edits.append(edit)
            now = after
    with tempfile.TemporaryDirectory() as folder:
        begin = time.perf_counter()
        frames = list(replay(deriver, recipe, tuple(edits), ReplayWish()))
        drawn = time.perf_counter() - begin
        begin = time.perf_counter()
        write_film(Path(folder) / "a.mp4", "mp4", frames, 24)
        written = time.perf_counter() - begin
        height, width = frames[0][0].shape[:2]
        begin = time.perf_counter()
        film = cv2.VideoWriter(f"{folder}/b.mp4", cv2.VideoWriter.fourcc(*"mp4v"), 24,
                               (width, height))
        for pixels, stays in frames:
            for _ in range(stays):
                film.write(cv2.cvtColor(pixels, cv2.COLOR_RGB2BGR))
        film.release()
        return {"drawn": drawn, "written": written, "opencv": time.perf_counter() - begin}
