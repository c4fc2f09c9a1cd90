"""What follows from a recipe: kept or not, here or in another process, it is the same."""

import os
import pickle
import random
import subprocess
import sys
import threading
import zlib
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.drawings import piece
from tests.recipes import changed
from tests.tries import tries
from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.document.look import Look
from wardrobe.recipe.document.model import Closing, Halo, Recipe, SplitArea
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import SetLines, apply
from wardrobe.recipe.reports.looks import report_looks
from wardrobe.recipe.stages import Deriver, Store
from wardrobe.recipe.stages.digest import digest
from wardrobe.recipe.stages.disk import Disk
from wardrobe.recipe.stages.stage import Get, Stage
from wardrobe.recipe.stages.views import draw, picture_stage

WARM, PLAIN = piece()
VIEW, WHOLE = View.whole(480, 480, 300), View.whole(480, 480)
KINDS = ("picture", "before", "lines", "parts", "unclaimed", "bases", "borders", "faults")
# Something of everything, so that a change anywhere can be seen.
RICH = PLAIN.model_copy(update={
    "closings": (Closing(points=((135.0, 300.0), (345.0, 300.0)), inked=True),),
    "recuts": (SplitArea(stroke=((240.0, 20.0), (240.0, 200.0))),),
    "halo": Halo(width=3), "details": None,
    "looks": (Look(id="k1", name="other", bases={"p1": "#335577"}),)})
FIELDS = sorted(set(Recipe.model_fields) - {"schema_version", "source", "details"})
# What is decided about a piece, but not about its picture.
UNSEEN = {"delivery", "looks", "open_figure", "proposed"}


def source(_: str) -> Any:
    return WARM.store.load("0" * 64)


def everything(deriver: Deriver, recipe: Recipe) -> dict[str, Any]:
    """All kinds of picture, the stack, and what reports are made from; or why there are none."""
    width, height = recipe.size
    view = View.whole(width, height, 300)
    try:
        made: dict[str, Any] = {kind: draw(deriver, recipe, kind, view) for kind in KINDS}
        made |= {"full": draw(deriver, recipe, "picture", View.whole(width, height)),
                 "draft": draw(deriver, recipe, "picture", view, draft=True),
                 "line draft": draw(deriver, recipe, "lines", view, draft=True),
                 "stack": digest([(layer.name, layer.mode, layer.opacity, layer.pixels)
                                  for layer in deriver.stack(recipe).layers()]),
                 "small stack": [layer.name for layer in deriver.stack(recipe, view).layers()],
                 "silhouette": deriver.silhouette(recipe), "gaps": repr(deriver.gaps(recipe)),
                 "order": deriver.front_to_behind(recipe), "casting": deriver.casting(recipe),
                 "looks": report_looks(deriver, recipe)}
    except WardrobeError as error:
        return {"refused": str(error)}
    return made


def assert_alike(one: dict[str, Any], other: dict[str, Any]) -> None:
    assert one.keys() == other.keys()
    for name, value in one.items():
        assert np.array_equal(value, other[name]) if isinstance(value, np.ndarray) \
            else value == other[name], name


@pytest.mark.parametrize("field", FIELDS)
def test_a_change_on_a_warm_store_gives_what_a_cold_one_gives(field: str) -> None:
    dice = random.Random(field)
    everything(WARM, RICH)
    for _ in range(tries(1, 3)):
        recipe = changed(RICH, dice, only=field)
        assert_alike(everything(WARM, recipe), everything(Deriver(source), recipe))


@pytest.mark.parametrize("field", FIELDS)
def test_an_etag_changes_when_and_only_when_its_picture_may(field: str) -> None:
    dice = random.Random(field)
    for _ in range(tries(1, 3)):
        recipe = changed(RICH, dice, only=field)
        for kind in KINDS:
            before, after = (picture_stage(WARM, r, kind, VIEW.within(*r.size))
                             for r in (RICH, recipe))
            if before.name == after.name:
                assert np.array_equal(WARM.store(before), WARM.store(after)), kind
            else:
                assert field not in UNSEEN, kind
            # Equal recipes have equal keys, whatever objects they are made of.
            again = picture_stage(WARM, Recipe.model_validate_json(recipe.model_dump_json()),
                                  kind, VIEW.within(*recipe.size))
            assert again.name == after.name


def test_what_does_not_touch_the_form_does_not_work_it_out_again() -> None:
    """A claim that changes nothing, a colour, a light: all go on from the same form."""
    dice, key = random.Random(3), WARM.store.key
    form = key(WARM.stages(RICH).form)
    again = RICH.model_copy(update={"claims": (*RICH.claims, RICH.claims[0])})
    assert key(WARM.stages(again).form) == form
    for field in ("passes", "background", "touch_ups", "fill", "silhouette_growth", "halo"):
        assert key(WARM.stages(changed(RICH, dice, only=field)).form) == form
    light = RICH.model_copy(update={"light": RICH.light.model_copy(update={"azimuth": 12.0})})
    assert key(WARM.stages(light).form) == form
    assert key(WARM.stages(light).shapes()) != key(WARM.stages(RICH).shapes())
    assert key(WARM.stages(RICH.model_copy(update={"recuts": ()})).form) != form


def test_going_on_from_recuts_that_are_known_is_starting_afresh() -> None:
    dice = random.Random(5)
    recipe = PLAIN
    for _ in range(12):
        recipe = changed(recipe, dice, only="recuts")
        try:
            went_on = WARM.areas(recipe)
        except WardrobeError:
            recipe = PLAIN
            continue
        afresh = Deriver(source).areas(recipe)
        assert np.array_equal(went_on.labels, afresh.labels)
        assert np.array_equal(went_on.pixels, afresh.pixels) and went_on.count == afresh.count


def test_the_report_on_looks_follows_the_lines() -> None:
    recipe = RICH.model_copy(update={"recuts": ()})
    report_looks(WARM, recipe)
    heavier = apply(recipe, SetLines(lines=recipe.lines.model_copy(update={"weight": 9.0})))
    assert report_looks(WARM, heavier) == report_looks(Deriver(source), heavier)
    assert report_looks(WARM, heavier).areas != report_looks(WARM, recipe).areas


def test_another_process_gives_the_same_bytes(tmp_path: Path) -> None:
    stages = [picture_stage(WARM, RICH, kind, VIEW) for kind in ("picture", "faults")]
    (tmp_path / "stages").write_bytes(pickle.dumps(stages))
    np.save(tmp_path / "source.npy", source(""))
    program = (
        "import pickle, sys, numpy as np\n"
        "from wardrobe.recipe.stages import Store\n"
        "store = Store(lambda asset: np.load('source.npy'))\n"
        "stages = pickle.load(open('stages', 'rb'))\n"
        "for s in stages: s.__dict__.pop('name', None); s.__dict__.pop('_key', None)\n"
        "np.savez('made', *[store(s) for s in stages],\n"
        "         *[np.frombuffer(s.name, np.uint8) for s in stages])\n")
    subprocess.run([sys.executable, "-c", program], cwd=tmp_path, check=True,
                   env={**os.environ, "PYTHONHASHSEED": "7"})
    with np.load(tmp_path / "made.npz") as made:
        for k, stage in enumerate(stages):
            assert np.array_equal(made[f"arr_{k}"], WARM.store(stage))
            assert made[f"arr_{k + 2}"].tobytes() == stage.name


def not_there(asset: str) -> Any:
    raise AssertionError("the drawing was read again")


def test_after_a_restart_pictures_come_from_the_disk(tmp_path: Path) -> None:
    first = Store(source, folder=tmp_path)
    expected = everything(Deriver(first), RICH)
    first.close()
    again = Store(not_there, folder=tmp_path)
    shown = {k: v for k, v in expected.items() if k not in ("before", "order", "casting")}
    deriver = Deriver(again)
    for kind in set(KINDS) - {"before"}:
        assert np.array_equal(draw(deriver, RICH, kind, VIEW), shown[kind]), kind
    assert repr(deriver.gaps(RICH)) == shown["gaps"]
    assert deriver.solids(RICH).solids == WARM.solids(RICH).solids
    again.close()


def test_damage_on_the_disk_is_worked_out_again(tmp_path: Path) -> None:
    first = Store(source, folder=tmp_path)
    expected = draw(Deriver(first), RICH, "picture", VIEW)
    first.close()
    files = sorted(p for p in tmp_path.glob("*/*"))
    assert len(files) > 4
    dice = random.Random(1)
    for path in files:
        data = bytearray(path.read_bytes())
        data[dice.randrange(len(data))] ^= 1 << dice.randrange(8)
        path.write_bytes(dice.choice([data, data[:len(data) // 2], b""]))
    again = Store(source, folder=tmp_path)
    assert np.array_equal(draw(Deriver(again), RICH, "picture", VIEW), expected)
    again.close()


@dataclass(frozen=True, eq=False)
class Block(Stage[Any], keep="on disk"):
    """So many bytes that do not shrink."""

    number: int
    size: int = 1000

    def make(self, get: Get) -> Any:
        return np.random.default_rng(self.number).integers(0, 256, self.size, np.uint8)


def test_memory_and_disk_are_bounded_and_keep_the_latest(tmp_path: Path) -> None:
    store = Store(not_there, 10_000)
    blocks = [replace(Block(k)) for k in range(10)]
    for block in (*blocks, blocks[0]):
        store(block)
    store.resize(3000)
    assert [k for k, b in enumerate(blocks) if store.known(b) is not None] == [0, 8, 9]
    store.resize(0)
    assert store.used == 0 and len(store(blocks[1])) == 1000
    for k in range(60):  # as many short lives of a server, none of which writes much
        disk = Disk(tmp_path, 40_000)
        disk.write(bytes([k] * 16), Block(k, 2000).make(store))
        disk.close()
        for path in tmp_path.glob("*/*"):  # as if a while had passed
            os.utime(path, (path.stat().st_mtime - 1, path.stat().st_mtime - 1))
    total = sum(p.stat().st_size for p in tmp_path.glob("*/*"))
    assert 20_000 < total <= 45_000
    assert disk.read(bytes([59] * 16)) is not None and disk.read(bytes([0] * 16)) is None


def test_a_disk_that_cannot_be_written_keeps_nobody_from_working(tmp_path: Path) -> None:
    (tmp_path / "artefacts").write_text("a file where the folder should be")
    store = Store(source, folder=tmp_path / "artefacts")
    assert draw(Deriver(store), PLAIN, "picture", VIEW).shape == (300, 300, 3)
    store.close()


class Telltale:
    """Says when it is unpickled."""

    def __reduce__(self) -> tuple[Callable[..., Any], tuple[Any, ...]]:
        return exec, ("import builtins; builtins.told_on = True",)


def test_what_lies_on_the_disk_cannot_act(tmp_path: Path) -> None:
    disk = Disk(tmp_path, 10**6)
    for k, value in enumerate((Telltale(), [Telltale()], {"a": Telltale()})):
        key = bytes([k] * 16)
        path = tmp_path / key.hex()[:2] / key.hex()[2:]
        path.parent.mkdir(exist_ok=True)
        path.write_bytes(zlib.compress(pickle.dumps(value)))
        assert disk.read(key) is None and not path.exists()
    assert not hasattr(__import__("builtins"), "told_on")


class Slow(Block):
    """Counts how often it is worked out."""

    made = 0
    going = threading.Event()

    def make(self, get: Get) -> Any:
        Slow.made += 1
        self.going.wait(5)
        return super().make(get)


def test_each_key_is_computed_once_however_many_ask() -> None:
    store, found = Store(not_there), []
    threads = [threading.Thread(target=lambda: found.append(store(Slow(1)))) for _ in range(8)]
    for thread in threads:
        thread.start()
    Slow.going.set()
    for thread in threads:
        thread.join(10)
    assert Slow.made == 1 and all(f is found[0] for f in found) and len(found) == 8


values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text() |
    st.binary(), lambda inner: st.lists(inner, max_size=12).map(tuple), max_leaves=30)


@given(values, values)
def test_digests_are_equal_for_equal_values_only(one: Any, other: Any) -> None:
    def exact(value: Any) -> Any:  # 1, 1.0 and True are not the same
        return tuple(map(exact, value)) if isinstance(value, tuple) else (
            type(value), repr(value))

    assert digest(one) == digest(pickle.loads(pickle.dumps(one)))
    assert (digest((one,)) == digest((other,))) == (exact(one) == exact(other))


def test_a_stage_sees_values_and_stages_only() -> None:
    with pytest.raises(TypeError, match="may not depend on a function"):
        digest((source,))
