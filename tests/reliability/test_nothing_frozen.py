"""Whatever somebody asks for, the others are answered and the memory holds."""

import asyncio
import random
import threading
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import pytest
from fastapi.testclient import TestClient
from starlette.requests import ClientDisconnect

from tests.server.steps import edit, finished, new_piece
from tests.server.test_layered import taken_in
from wardrobe.core.errors import ImageLimitError
from wardrobe.core.masks.touch import draw_touch
from wardrobe.recipe.stages import Store
from wardrobe.recipe.stages.stage import Get, Stage
from wardrobe.server import memory
from wardrobe.server.memory import BusyError, Ceiling, patient
from wardrobe.server.studio import Studio
from wardrobe.server.turns import LARGE, Turns


def test_an_error_that_nobody_foresaw_is_short_and_keeps_its_headers(
        client: TestClient, monkeypatch: pytest.MonkeyPatch,
        capsys: pytest.CaptureFixture[str]) -> None:
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]

    def broken() -> None:
        picture = ["a-local-value"] * 1_000_000
        raise RuntimeError(f"broken {len(picture)} " + "x" * 100_000)

    monkeypatch.setattr(studio.pieces, "all", broken)
    answer = client.get("/api/pieces")
    assert answer.status_code == 500 and answer.json()["detail"]
    assert answer.headers["content-type"] == "application/problem+json"
    assert "default-src" in answer.headers["content-security-policy"]
    said = "".join(capsys.readouterr())
    assert "RuntimeError" in said and "a-local-value" not in said and len(said) < 20_000


class Client:
    """Stands for a request: whether its client is still there."""

    def __init__(self, gone: bool = False) -> None:
        self.gone = gone

    async def is_disconnected(self) -> bool:
        return self.gone


def in_turn(sizes: list[int], gone: set[int] = frozenset(),  # type: ignore[assignment]
            at_once: int = 2) -> tuple[list[int], int, int]:
    """The order in which work begins, the most at once, and the most large ones at once."""
    order: list[int] = []
    now: list[int] = []
    most, most_large = 0, 0

    async def work(turns: Turns, k: int) -> None:
        nonlocal most, most_large
        try:
            async with turns.taken(Client(k in gone), sizes[k]):  # type: ignore[arg-type]
                order.append(k)
                now.append(sizes[k])
                most = max(most, len(now))
                most_large = max(most_large, sum(s >= LARGE for s in now))
                await asyncio.sleep(0.002)
                now.remove(sizes[k])
                if k % 7 == 3:
                    raise ValueError("work may fail")
        except (ValueError, ClientDisconnect):
            pass

    async def all_of_them() -> None:
        turns = Turns(at_once)
        await asyncio.gather(*(work(turns, k) for k in range(len(sizes))))
        assert turns._free == at_once and turns._large_free and not turns._waiting

    asyncio.run(all_of_them())
    return order, most, most_large


def test_small_work_goes_first_and_large_work_one_by_one() -> None:
    rng = random.Random(4)
    for _ in range(20):
        sizes = [rng.choice([10, 1_000_000, 8_000_000]) for _ in range(30)]
        order, most, most_large = in_turn(sizes)
        assert sorted(order) == list(range(30)) and most == 2 and most_large <= 1
        # All but the first two waited: the quick ones began before the others.
        rank = [0 if sizes[k] == 10 else 1 for k in order[2:]]
        assert rank == sorted(rank)


def test_nothing_is_drawn_for_a_client_that_has_gone() -> None:
    order, _, _ = in_turn([8_000_000] * 40, gone=set(range(1, 39)))
    assert order == [0, 39]


def test_a_preview_is_not_drawn_for_nobody(client: TestClient,
                                           monkeypatch: pytest.MonkeyPatch) -> None:
    piece = new_piece(client)
    drawn: list[str] = []
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    picture = studio.picture
    monkeypatch.setattr(studio, "picture", lambda *a: (drawn.append(a[1]), picture(*a))[1])
    body = {"edit": {"kind": "set_background", "colour": "#00ff00"},
            "view": {"width": 480, "height": 480}}
    url = f"/api/pieces/{piece['id']}/preview"
    assert client.post(url, json=body).status_code == 200 and drawn == ["picture"]
    monkeypatch.setattr("starlette.requests.Request.is_disconnected", gone_away)
    with pytest.raises(AssertionError):  # the test client, too, is given no answer
        client.post(url, json=body)
    assert drawn == ["picture"]


async def gone_away(self: object) -> bool:
    return True


@dataclass(frozen=True, eq=False)
class Zeros(Stage[np.ndarray]):
    """So many bytes."""

    number: int
    size: int

    def make(self, get: Get) -> np.ndarray:
        return np.zeros(self.size, np.uint8)


def test_memory_is_reserved_shared_and_given_back() -> None:
    cache = Store(lambda asset: np.zeros(0, np.uint8))
    ceiling = Ceiling(1_500_000_000, cache)
    try:
        for k in range(20):
            cache(Zeros(k, 50_000_000))
        assert 400_000_000 < cache.used <= 500_000_000
        with pytest.raises(ImageLimitError, match=r"2\.0 GB of memory"), \
                ceiling.reserved(2 * 2**30):
            pass
        with ceiling.reserved(700_000_000):
            assert cache.used <= 300_000_000  # caches make room
            begun = threading.Event()

            def second() -> None:
                with ceiling.reserved(700_000_000):
                    begun.set()

            thread = threading.Thread(target=second)
            thread.start()
            assert not begun.wait(0.2)  # together they would be above the ceiling
        thread.join(10)
        assert begun.is_set()
        cache(Zeros(99, 400_000_000))
        assert cache.used >= 400_000_000  # the room is theirs again

        def stop() -> None:
            raise InterruptedError

        for check, error in ((stop, InterruptedError), (patient(0.1), BusyError)):
            with ceiling.reserved(900_000_000), pytest.raises(error), \
                    ceiling.reserved(900_000_000, check):
                pass
        ceiling.give_back()
        assert cache.used == 0
    finally:
        ceiling.close()


def test_memory_is_given_back_when_nobody_works(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(memory, "_IDLE_SECONDS", 0.2)
    monkeypatch.setattr(memory, "_WATCH_SECONDS", 0.05)
    given_up = threading.Event()
    store = Store(lambda asset: np.zeros(0, np.uint8))
    ceiling = Ceiling(10**9, store, given_up.set)
    try:
        store(Zeros(1, 1000))
        assert not given_up.wait(0.4) and store.used == 1000  # nobody has worked yet
        with ceiling.reserved(1000):
            assert not given_up.wait(0.4)  # somebody does
        assert given_up.wait(10) and store.used == 0
    finally:
        ceiling.close()


@pytest.mark.parametrize("body", [b"[" * 9_000_000, b'{"a":' * 2_000_000])
def test_json_has_a_limit_of_its_own(client: TestClient, body: bytes) -> None:
    answer = client.post("/api/characters", content=body,
                         headers={"content-type": "application/json"})
    assert answer.status_code == 413 and "8 MB" in answer.json()["detail"]
    deep = client.post("/api/characters", content=body[:100_000],
                       headers={"content-type": "application/json"})
    assert deep.status_code in (400, 422) and deep.json()["detail"]


def painted(points: np.ndarray, widths: np.ndarray, shape: tuple[int, int]) -> float:
    touch = draw_touch("shade", "put in", None, points, widths, shape)
    assert touch is not None
    return float(touch.cover.sum() / 255)


def test_a_stroke_painted_over_and_over_is_drawn_coarser_but_where_it_is() -> None:
    """A wide pen on one spot: the area of a disc, however many points it has."""
    angle = np.linspace(0, 40 * np.pi, 4000)
    spot = 700 + 3 * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    area = painted(spot, np.full(4000, 900.0), (1400, 1400))
    assert area == pytest.approx(np.pi * 453**2, rel=0.01)
    # An ordinary stroke is as fine as ever: analytic area of a capsule.
    line = np.stack([np.linspace(200, 900, 100), np.full(100, 300.0)], axis=1)
    assert painted(line, np.full(100, 40.0), (1400, 1400)) == pytest.approx(
        700 * 40 + np.pi * 20**2, rel=0.002)


def test_layered_files_and_pieces_share_one_cache(client: TestClient,
                                                  make: Callable[[], bytes]) -> None:
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    studio.memory.give_back()
    job = taken_in(client, make())
    assert job["state"] == "done", job
    assert studio.store.used > 0
    studio.memory.give_back()
    shown = client.get(f"/api/layered/{job['layered']}/picture", params={
        "width": 480, "height": 480})
    assert shown.status_code == 200


@pytest.fixture
def make(client: TestClient) -> Callable[[], bytes]:
    def delivered() -> bytes:
        piece = edit(client, new_piece(client), kind="set_background", colour="#334455")
        job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                           json={"format": "ora"}).json())
        return client.get(f"/api/jobs/{job['id']}/file").content
    return delivered
