"""Pieces as their edits: every state is there again, whoever asks, whenever, in little room."""

import json
import random
import shutil
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import closing
from itertools import pairwise
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session, sessionmaker

from tests.databases import tables_of
from tests.drawings import figure_ink, on_white, piece, png
from tests.recipes import edit_of, kinds
from tests.server.steps import edit, new_piece
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import (
    EditRefusedError,
    RemoveTouchUps,
    SetBackground,
    TouchUpPass,
    apply,
)
from wardrobe.server.app import create_app
from wardrobe.server.db import history
from wardrobe.server.db.pieces import PieceRepository
from wardrobe.server.db.session import DataFolderError, open_database
from wardrobe.server.problems import StaleEditError
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

GOLDEN = Path(__file__).parents[1] / "golden"
RECIPE = piece()[1]


@pytest.fixture
def sessions(tmp_path: Path) -> Iterator[sessionmaker[Session]]:
    engine, made = open_database(tmp_path / "wardrobe.sqlite3")
    yield made
    engine.dispose()


def rows(sessions: sessionmaker[Session], what: str) -> list[tuple]:
    with sessions() as session:
        return [tuple(row) for row in session.connection().exec_driver_sql(what)]


@pytest.mark.parametrize("seed", range(3))
def test_any_history_is_there_again(sessions: sessionmaker[Session], seed: int,
                                    monkeypatch: pytest.MonkeyPatch) -> None:
    """Edits of all kinds, undo and redo at random, against a list of states held in memory; asked
    of a store that remembers and of one that has just been opened."""
    monkeypatch.setattr(history, "SNAPSHOT_EVERY", 4)
    monkeypatch.setattr(history, "_FAR", 16)
    dice = random.Random(seed)
    warm = PieceRepository(sessions)
    number = warm.create("Kite", 30, RECIPE, (SetBackground(colour="#123456"),))
    states = [RECIPE, apply(RECIPE, SetBackground(colour="#123456"))]
    at, revision, made_edits = 1, 1, 0
    for _ in range(150):
        if dice.random() < 0.15:
            by = dice.choice([-1, -1, 1])
            if 0 <= at + by < len(states):
                revision = warm.travel(number, revision, by).revision
                at += by
            else:
                with pytest.raises(EditRefusedError):
                    warm.travel(number, revision, by)
        else:
            made = edit_of(dice.choice(kinds()), states[at], dice)
            try:
                changed = apply(states[at], made) if made else states[at]
            except EditRefusedError:
                continue
            if changed != states[at]:
                states, at = [*states[:at + 1], changed], at + 1
                revision = warm.edit(number, revision, made).revision
                made_edits += 1
        cold = PieceRepository(sessions).get(number)
        assert warm.recipe(number) == cold.recipe == states[at]
        assert (cold.revision, cold.can_undo, cold.can_redo) == (
            revision, at > 0, at < len(states) - 1)
    assert made_edits > 40 and len(states) > 20
    first, edits = PieceRepository(sessions).history(number)
    assert first == RECIPE and len(edits) == at
    # Back to the beginning and forth again, without what is remembered.
    for by in [-1] * at + [1] * (len(states) - 1):
        revision = warm.travel(number, revision, by).revision
        at += by
        assert PieceRepository(sessions).recipe(number) == states[at]
    whole = [p for p, in rows(sessions, "SELECT position FROM history WHERE recipe IS NOT NULL "
                              "ORDER BY position")]
    assert whole[0] == 0 and len(whole) < len(states) / 3


def test_many_strokes_take_little_room(sessions: sessionmaker[Session], tmp_path: Path) -> None:
    """400 strokes of the pen with 150 points each."""
    repository, dice = PieceRepository(sessions), random.Random(4)
    number, revision = repository.create("Kite", 30, RECIPE), 1
    for _ in range(400):
        points = tuple((round(dice.uniform(0, 480), 1), round(dice.uniform(0, 480), 1))
                       for _ in range(150))
        revision = repository.edit(number, revision, TouchUpPass(
            name="shade", act="put in", points=points,
            widths=tuple(round(dice.uniform(2, 30), 1) for _ in points))).revision
    stored = sum(f.stat().st_size for f in tmp_path.glob("wardrobe.sqlite3"))
    assert stored < 10_000_000
    assert len(PieceRepository(sessions).recipe(number).touch_ups) == 400


def test_a_long_history_keeps_few_states(sessions: sessionmaker[Session]) -> None:
    repository = PieceRepository(sessions)
    edits = tuple(SetBackground(colour=f"#{k:06x}") for k in range(3 * history.SNAPSHOT_EVERY))
    number, revision = repository.create("Kite", 30, RECIPE, edits), 1
    for k in range(9 * history.SNAPSHOT_EVERY):
        revision = repository.edit(number, revision,
                                   SetBackground(colour=f"#ff{k:04x}")).revision
    whole = [p for p, in rows(sessions, "SELECT position FROM history WHERE recipe IS NOT NULL "
                              "ORDER BY position")]
    assert len(whole) <= 2 + history._NEAR + 1 and whole[-1] == 12 * history.SNAPSHOT_EVERY
    assert all(b - a <= 9 * history.SNAPSHOT_EVERY for a, b in pairwise(whole))
    assert PieceRepository(sessions).recipe(number).background == \
        f"#ff{9 * history.SNAPSHOT_EVERY - 1:04x}"


def test_states_of_versions_that_stored_each_stay(sessions: sessionmaker[Session]) -> None:
    """Their rules may have been others: what they stored is not worked out anew."""
    repository, every = PieceRepository(sessions), history.SNAPSHOT_EVERY
    edits = tuple(SetBackground(colour=f"#{k:06x}") for k in range(2 * every))
    number, revision = repository.create("Kite", 30, RECIPE, edits), 1
    odd = RECIPE.model_copy(update={"background": "#0dd0dd"}).model_dump_json()
    with sessions.begin() as session:
        session.connection().exec_driver_sql("UPDATE history SET recipe = ?", (odd,))
    for k in range(6 * every):
        revision = repository.edit(number, revision,
                                   SetBackground(colour=f"#ff{k:04x}")).revision
    kept = rows(sessions, f"SELECT COUNT(recipe) FROM history WHERE position < {2 * every}")
    assert kept == [(2 * every,)]


def test_of_eight_at_once_one_wins_and_nothing_is_lost(sessions: sessionmaker[Session]) -> None:
    repository = PieceRepository(sessions)
    number, wins = repository.create("Kite", 30, RECIPE), []

    def work(mine: int) -> None:
        for k in range(12):
            seen = repository.get(number).revision
            colour = f"#{mine:02x}{k:02x}77"
            try:
                repository.edit(number, seen, SetBackground(colour=colour))
                wins.append(colour)
            except StaleEditError as stale:
                assert "another window" in str(stale)

    threads = [threading.Thread(target=work, args=(mine,)) for mine in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    first, edits = repository.history(number)
    assert first == RECIPE and len(wins) >= 12
    assert sorted(e.colour for e in edits) == sorted(wins)  # type: ignore[union-attr]
    assert PieceRepository(sessions).get(number).revision == 1 + len(wins)


def test_assets_are_held_for_as_long_as_they_can_come_back(client: TestClient) -> None:
    """What an undone edit names stays, too; what another edit takes the place of does not."""
    placed = client.post("/api/pieces/pictures", files={
        "file": ("p.png", png(on_white(figure_ink(64))))}).json()
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    made = new_piece(client)
    source = made["recipe"]["source"]
    on = edit(client, made, kind="set_pattern", part="p1", pattern={"picture": placed})
    assert studio.pieces.assets_in_use() == {source["asset"], source["original"],
                                             placed["asset"]}
    undone = client.post(f"/api/pieces/{made['id']}/undo", json={"seen": on["revision"]}).json()
    assert placed["asset"] in studio.pieces.assets_in_use()
    edit(client, undone, kind="set_background", colour="#445566")
    assert studio.pieces.assets_in_use() == {source["asset"], source["original"]}
    client.delete(f"/api/pieces/{made['id']}")
    assert studio.pieces.assets_in_use() == set()


def test_a_server_that_stops_leaves_each_state_stored(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        made = edit(client, new_piece(client), kind="set_background", colour="#445566")
    with sqlite3.connect(settings.data_dir / "wardrobe.sqlite3") as database:
        (text,), = database.execute("SELECT recipe FROM history JOIN piece ON piece.id = piece_id "
                                    "AND history.position = piece.position").fetchall()
    assert Recipe.model_validate_json(text).model_dump(mode="json") == made["recipe"]


def test_an_edit_of_a_newer_version_is_told_and_left(sessions: sessionmaker[Session]) -> None:
    repository = PieceRepository(sessions)
    number = repository.create("Kite", 30, RECIPE)
    repository.edit(number, 1, SetBackground(colour="#445566"))
    for wrong in ({"kind": "paint_by_voice"}, RemoveTouchUps(ids=(7,)).model_dump(mode="json")):
        with sessions.begin() as session:
            session.connection().exec_driver_sql(
                "UPDATE history SET edit = ? WHERE position = 1", (json.dumps(wrong),))
        with pytest.raises(DataFolderError, match="newer version"):
            PieceRepository(sessions).get(number)
    assert [f.title for f in PieceRepository(sessions).all()] == ["Kite"]
    assert PieceRepository(sessions).travel(number, 2, -1).recipe == RECIPE


ANSWERS = {  # what was answered, and is not undone, by the tables that it was kept in
    "0006": [], "0007": [("k1", "Evening", "darker boots, please"), ("piece", "The piece", ""),
                         (None, "", "none of them")]}
ANSWERS |= dict.fromkeys(("0008", "0009", "0010", "0011", "0012"), ANSWERS["0007"])


@pytest.mark.parametrize("revision", ANSWERS)
def test_a_database_of_before_opens_with_all_that_is_in_it(settings: Settings,
                                                           revision: str) -> None:
    """Files that released tables were kept in, as they were then: undo, redo, answers."""
    settings.data_dir.mkdir(parents=True)
    path, golden = settings.data_dir / "wardrobe.sqlite3", f"database-{revision}"
    shutil.copy(GOLDEN / f"{golden}.sqlite3", path)
    before = json.loads((GOLDEN / f"{golden}.json").read_text())
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        url = f"/api/pieces/{before['id']}"
        now = client.get(url).json()
        assert not {*now} ^ {*before, "rests", "changes"}
        for what in before:
            if what != "recipe":
                assert now[what] == before[what], what
        assert now["recipe"] == Recipe.model_validate(before["recipe"]).model_dump(mode="json")
        events = client.get(f"{url}/events").json()
        assert [(e["event"]["look"], e["event"]["name"], e["event"]["remarks"])
                for e in events if e["event"]["kind"] == "answer"] == ANSWERS[revision]
        if revision >= "0010":
            card = client.get("/api/pieces").json()[0]
            assert card["state"] == "changes asked" and card["spent_minutes"] == 1.5
            assert client.get(f"{url}/sittings").json()[0]["kind"] == "work"
            assert client.get("/api/palettes").json()[0]["name"] == "Harbour"
        if revision >= "0012":
            series = client.get("/api/series").json()
            assert [s["title"] for s in series] == ["Harbour fair"]
            member = client.get(f"/api/series/{series[0]['id']}").json()["members"][0]
            assert (member["id"], member["scene"]) == (before["id"], "quay")
        studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
        source = before["recipe"]["source"]
        assert studio.pieces.assets_in_use() == {source["asset"], source["original"]}
        last = now
        while last["can_redo"]:  # what had been undone can be done again
            last = client.post(f"{url}/redo", json={"seen": last["revision"]}).json()
        assert last["recipe"]["touch_ups"] if revision == "0006" else \
            last["recipe"]["background"] == "#556677"
        first = last
        while first["can_undo"]:
            first = client.post(f"{url}/undo", json={"seen": first["revision"]}).json()
        assert first["recipe"]["parts"] == []
        assert client.get(f"{url}/events").json() == events
        _, edits = studio.pieces.history(before["id"])
        assert edits == ()
    with closing(sqlite3.connect(path)) as opened:
        places = [p for p, in opened.execute("SELECT position FROM history ORDER BY position")]
        assert places == [*range(len(places))]
    # As it was before its tables were changed, beside it.
    aside = settings.data_dir / f"wardrobe-{revision}.sqlite3"
    with sqlite3.connect(aside) as old, sqlite3.connect(GOLDEN / f"{golden}.sqlite3") as was:
        assert list(old.iterdump()) == list(was.iterdump())


@pytest.mark.parametrize("revision", ["0001", "0002", "0003", "0004", "0005"])
def test_tables_of_every_version_are_brought_up_to_date(tmp_path: Path, revision: str) -> None:
    """With a piece in them, whose recipe is that of the first version."""
    path = tmp_path / "wardrobe.sqlite3"
    tables_of(path, revision)
    old = RECIPE.model_dump(mode="json") | {"schema_version": 1, "background": "#102030"}
    with sqlite3.connect(path) as database:
        database.execute("INSERT INTO piece (id, title, planned_minutes, created, changed, "
                         "revision, position, step) VALUES (3, 'Kite', 30, '2026-01-01 00:00:00', "
                         "'2026-01-01 00:00:00', 5, 1, 'light')")
        for position, change in ((0, None), (1, {"kind": "set_background", "colour": "#102030"})):
            database.execute(
                "INSERT INTO history (piece_id, position, edit, recipe, made) VALUES "
                "(3, ?, ?, ?, '2026-01-01 00:00:00')",
                (position, json.dumps(change), json.dumps(old)))
        database.execute("INSERT INTO sitting (piece_id, step, began, seconds) VALUES "
                         "(3, 'light', '2026-01-01 00:00:00', 90)")
    engine, sessions = open_database(path)
    stored = PieceRepository(sessions).get(3)
    engine.dispose()
    assert stored.recipe.background == "#102030" and stored.spent == {"light": 90}
    assert stored.can_undo and not stored.can_redo and stored.revision == 5
    assert (tmp_path / f"wardrobe-{revision}.sqlite3").exists()
