"""The folder of immutable files: whatever is stored, swept and asked for in whatever order,
nothing that is used is ever lost."""

import hashlib
import os
import time
from pathlib import Path

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from wardrobe.server.assets import AssetStore
from wardrobe.server.problems import MissingAssetError

DAY = 86_400.0
CONTENTS = [b"", b"a drawing", b"another" * 50, bytes(range(256)) * 9]


class Folder(RuleBasedStateMachine):
    """A store, a clock that is turned by dating files back, and what is in use."""

    def __init__(self) -> None:
        super().__init__()
        self.used: set[str] = set()
        self.all: dict[str, bytes] = {}
        self.gone: set[str] = set()

    @initialize(root=st.builds(lambda: Path(os.environ["WARDROBE_TEST_FOLDER"])))
    def begin(self, root: Path) -> None:
        self.root = root / f"{time.monotonic_ns()}"
        (self.root / "scratch").mkdir(parents=True)
        self.store = AssetStore(self.root / "assets", self.root / "scratch")
        self.began = time.time() - 400 * DAY

    @rule(data=st.sampled_from(CONTENTS), kept=st.booleans())
    def put(self, data: bytes, kept: bool) -> None:
        name = self.store.put(data)
        assert name == hashlib.sha256(data).hexdigest()
        self.all[name] = data
        self.gone.discard(name)
        (self.used.add if kept else self.used.discard)(name)

    @rule(days=st.sampled_from([0.5, 3, 20]))
    def days_pass(self, days: float) -> None:
        """Files and the days of the trash grow older."""
        for path in self.root.glob("assets/??/*"):
            os.utime(path, (path.stat().st_mtime - days * DAY,) * 2)
        for day in sorted(self.root.glob("trash/*")):
            then = time.strptime(day.name, "%Y-%m-%d")
            earlier = time.strftime("%Y-%m-%d", time.gmtime(time.mktime(then) - days * DAY))
            target = day.parent / earlier
            if days >= 1 and target != day:
                target.mkdir(exist_ok=True)
                for path in day.iterdir():
                    path.replace(target / path.name)
                day.rmdir()

    @rule()
    def sweep(self) -> None:
        before = {p.name for p in self.root.glob("assets/??/*")}
        old = {p.name for p in self.root.glob("assets/??/*")
               if time.time() - p.stat().st_mtime >= DAY}
        thrown = {p.name for p in self.root.glob("trash/*/*")}
        moved = {p.name for p in self.store.prune(self.used, self.began)}
        assert moved == old - self.used
        assert before - {p.name for p in self.root.glob("assets/??/*")} == moved
        # What has lain in the trash for 30 days is gone for good, and only that.
        left = {p.name for p in self.root.glob("trash/*/*")}
        self.gone |= thrown - left - before

    @rule(data=st.sampled_from(CONTENTS))
    def ask(self, data: bytes) -> None:
        """What lies in the trash comes back when it is asked for."""
        name = hashlib.sha256(data).hexdigest()
        if name not in self.all or name in self.gone:
            with pytest.raises(MissingAssetError):
                self.store.get(name)
            assert name not in self.store
            return
        assert self.store.get(name) == data and name in self.store
        assert self.store.path(name).parent.parent == self.root / "assets"

    @invariant()
    def nothing_used_is_lost(self) -> None:
        for name in self.used:
            path = self.root / "assets" / name[:2] / name
            assert path.read_bytes() == self.all[name]
        if hasattr(self, "root"):
            assert not list((self.root / "scratch").iterdir())


@pytest.fixture(autouse=True)
def _folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("WARDROBE_TEST_FOLDER", str(tmp_path))


def test_in_any_order_of_events() -> None:
    from hypothesis.stateful import run_state_machine_as_test

    run_state_machine_as_test(Folder, settings=settings(max_examples=40,
                                                        stateful_step_count=20, deadline=None))


def test_what_is_older_than_the_database_is_left_alone(tmp_path: Path) -> None:
    """It may belong to the one that this database took the place of."""
    (tmp_path / "scratch").mkdir()
    store = AssetStore(tmp_path / "assets", tmp_path / "scratch")
    old, new = store.put(b"of before"), store.put(b"of now")
    for name, days in ((old, 90), (new, 10)):
        os.utime(store.path(name), (time.time() - days * DAY,) * 2)
    moved = store.prune(set(), since=time.time() - 30 * DAY)
    assert [p.name for p in moved] == [new]
    assert store.get(old) == b"of before" and store.get(new) == b"of now"


def test_a_name_that_was_asked_for_again_is_fresh(tmp_path: Path) -> None:
    (tmp_path / "scratch").mkdir()
    store = AssetStore(tmp_path / "assets", tmp_path / "scratch")
    name = store.put(b"x")
    os.utime(store.path(name), (time.time() - 9 * DAY,) * 2)
    assert store.put(b"x") == name  # an import under way wants it
    assert store.prune(set(), since=0.0) == []
