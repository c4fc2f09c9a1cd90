"""What was stored stays, whatever becomes of the database, the folder or the process."""

import io
import json
import os
import shutil
import sqlite3
import threading
import time
from contextlib import closing
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text

from tests.databases import tables_of
from tests.drawings import figure_ink, on_white, png
from tests.server.steps import edit, finished, import_file, new_piece
from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.server.app import create_app
from wardrobe.server.db import pieces as piece_store
from wardrobe.server.db.session import DataFolderError, NewerVersionError
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

DAY = 86_400


def serving(settings: Settings) -> TestClient:
    return TestClient(create_app(settings), base_url="http://127.0.0.1")


def drawings(settings: Settings) -> list[Path]:
    return [p for p in (settings.data_dir / "assets").rglob("*") if p.is_file()]


def make_old(settings: Settings, days: float = 3) -> None:
    """Everything was stored days ago, and the database is older still."""
    for path in drawings(settings):
        os.utime(path, (time.time() - days * DAY,) * 2)
    with sqlite3.connect(settings.data_dir / "wardrobe.sqlite3") as database:
        database.execute("UPDATE birth SET began = 0")


def test_a_database_that_is_gone_takes_no_drawing_with_it(settings: Settings) -> None:
    with serving(settings) as client:
        new_piece(client)
    make_old(settings)
    before = drawings(settings)
    for path in settings.data_dir.glob("wardrobe.sqlite3*"):
        path.unlink()
    with serving(settings) as client:
        assert drawings(settings) == before
        # One that knows a piece, but not of what there was before it began.
        import_file(client, png(on_white(figure_ink(300))))
    with serving(settings):
        assert set(before) <= set(drawings(settings))


def test_a_database_without_pieces_moves_nothing(settings: Settings) -> None:
    with serving(settings) as client:
        client.delete(f"/api/pieces/{new_piece(client)['id']}")
    make_old(settings)
    before = drawings(settings)
    with serving(settings):
        assert drawings(settings) == before


def test_what_no_piece_uses_goes_to_the_trash_and_comes_back(settings: Settings) -> None:
    with serving(settings) as client:
        kept, gone = new_piece(client), import_file(client, png(on_white(figure_ink(300))))
        edit(client, kept, kind="set_background", colour="#123456")
        lost = client.get(f"/api/pieces/{gone['piece']}").json()["recipe"]["source"]
        client.delete(f"/api/pieces/{gone['piece']}")
    make_old(settings)
    files = drawings(settings)
    with serving(settings) as client:
        assert len(files) == 4 and len(drawings(settings)) == 2
        thrown = list((settings.data_dir / "trash").glob("????-??-??/*"))
        assert {p.name for p in thrown} == {lost["asset"], lost["original"]}
        assert client.get(f"/api/pieces/{kept['id']}/picture?width=9&height=9").status_code == 200
        # Whoever needs a drawing again finds it there.
        assets = client.app.state.studio.assets  # type: ignore[attr-defined]
        assert lost["asset"] in assets and assets.get(lost["asset"]).startswith(b"\x89PNG")
    old = settings.data_dir / "trash" / "2001-01-01"
    old.mkdir()
    with serving(settings):
        assert not old.exists()


def test_a_picture_that_only_the_first_recipe_names_stays(settings: Settings) -> None:
    """As a piece has it that came from an archive without its history."""
    with serving(settings) as client:
        piece = new_piece(client)
        placed = client.post("/api/pieces/pictures", files={
            "file": ("p.png", png(on_white(figure_ink(64))))}).json()
        studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
        recipe = studio.pieces.recipe(piece["id"])
        part = recipe.parts[0].model_copy(update={
            "pattern": Pattern.model_validate({"picture": placed})})
        restored = studio.pieces.create("Restored", 40, recipe.model_copy(
            update={"parts": (part, *recipe.parts[1:])}))
    make_old(settings)
    with serving(settings) as client:
        url = f"/api/pieces/{restored}"
        assert client.get(f"{url}/picture?width=480&height=480").status_code == 200
        job = finished(client, client.post(f"{url}/deliveries", json={"format": "archive"}).json())
        assert job["state"] == "done", job


def test_two_on_one_folder_leave_each_other_s_files_alone(settings: Settings) -> None:
    with serving(settings) as client:
        piece = new_piece(client)
        job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                           json={"format": "png"}).json())
        studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
        assert studio.alone
        second = Studio(settings)
        assert not second.alone
        second.close()
        assert client.get(f"/api/jobs/{job['id']}/file").status_code == 200
        left = second.scratch.folder.with_name("of-a-killed-one")
        left.mkdir()
        (left / "delivery.png").write_bytes(b"half")
        own = studio.scratch.folder
    assert not own.exists()  # what is delivered lasts as long as the server
    with serving(settings):
        assert not left.exists()


def test_what_is_answered_is_on_the_disk(settings: Settings,
                                         monkeypatch: pytest.MonkeyPatch) -> None:
    """The drawing, and the names of its folders, before the row that names it."""
    synced: list[str] = []
    whole = os.fsync

    def sync(handle: int) -> None:
        synced.append(str(Path(f"/proc/self/fd/{handle}").readlink()))
        whole(handle)

    monkeypatch.setattr(os, "fsync", sync)
    with serving(settings) as client:
        studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
        create, known = studio.pieces.create, []
        monkeypatch.setattr(studio.pieces, "create", lambda *a, **k: (
            known.extend(synced), create(*a, **k))[1])
        source = new_piece(client)["recipe"]["source"]
        for name in (source["asset"], source["original"]):
            folder = (settings.data_dir / "assets").resolve() / name[:2]
            assert {str(folder), str(folder.parent)} <= set(known)
        work = f"{(settings.data_dir / 'scratch').resolve()}/"
        assert sum(path.startswith(work) and "/.part-" in path for path in known) >= 2
        with studio.pieces._sessions() as session:
            assert session.execute(text("PRAGMA synchronous")).scalar() == 2  # FULL: sqlite.org


def test_working_out_an_edit_keeps_nobody_from_saving(client: TestClient,
                                                      monkeypatch: pytest.MonkeyPatch) -> None:
    one, other = new_piece(client), new_piece(client)
    begun, go_on = threading.Event(), threading.Event()
    apply = piece_store.apply

    def slowly(recipe, change):  # type: ignore[no-untyped-def]
        if change.kind == "set_fill":
            begun.set()
            assert go_on.wait(60)
        return apply(recipe, change)

    monkeypatch.setattr(piece_store, "apply", slowly)
    slow: list[int] = []
    thread = threading.Thread(target=lambda: slow.append(client.post(
        f"/api/pieces/{one['id']}/edits", json={"seen": one["revision"], "edit": {
            "kind": "set_fill", "fill": "to the line"}}).status_code))
    thread.start()
    assert begun.wait(30)
    edit(client, other, kind="set_background", colour="#445566")
    edit(client, one, kind="set_background", colour="#112233")  # overtakes the slow one
    go_on.set()
    thread.join(30)
    assert slow == [409]
    assert client.get(f"/api/pieces/{one['id']}").json()["recipe"]["fill"] == "under the line"


def told(path: Path, sql: str) -> None:
    with closing(sqlite3.connect(path)) as database, database:
        database.execute(sql)


@pytest.mark.parametrize(("spoil", "error", "says"), [
    (lambda path: path.write_bytes(os.urandom(8192)), DataFolderError, "damaged"),
    (lambda path: path.write_bytes(path.read_bytes()[:5000]), DataFolderError, "damaged"),
    (lambda path: told(path, "UPDATE alembic_version SET version_num='9999'"),
     NewerVersionError, "newer version")])
def test_a_database_that_cannot_be_used_is_left_as_it_is(
        settings: Settings, spoil, error: type[WardrobeError],  # type: ignore[no-untyped-def]
        says: str) -> None:
    Studio(settings).close()
    path = settings.data_dir / "wardrobe.sqlite3"
    spoil(path)
    before = path.read_bytes()
    with pytest.raises(error, match=says) as refused:
        Studio(settings)
    assert str(path) in refused.value.message and "as" in refused.value.message
    assert path.read_bytes() == before


def test_a_folder_that_is_a_file_is_said_so(tmp_path: Path) -> None:
    (tmp_path / "data").write_bytes(b"")
    with pytest.raises(DataFolderError, match="not a folder"):
        Studio(Settings(data_dir=tmp_path / "data"))


def test_a_recipe_of_a_newer_version_is_left_alone(settings: Settings) -> None:
    with serving(settings) as client:
        piece, other = new_piece(client), new_piece(client)
    with sqlite3.connect(settings.data_dir / "wardrobe.sqlite3") as database:
        (stored,) = database.execute("SELECT recipe FROM history WHERE piece_id=? AND position=1",
                                     (piece["id"],)).fetchone()
        newer = json.dumps(json.loads(stored) | {"schema_version": 99})
        database.execute("UPDATE history SET recipe=? WHERE piece_id=?", (newer, piece["id"]))
    with serving(settings) as client:
        answer = client.get(f"/api/pieces/{piece['id']}")
        assert answer.status_code == 409 and "newer version" in answer.json()["detail"]
        assert len(client.get("/api/pieces").json()) == 2
        assert client.get(f"/api/pieces/{other['id']}").status_code == 200


def test_a_drawing_that_is_gone_is_named(settings: Settings) -> None:
    with serving(settings) as client:
        piece = new_piece(client)
    source = piece["recipe"]["source"]
    path = settings.data_dir / "assets" / source["asset"][:2] / source["asset"]
    data = path.read_bytes()
    path.unlink()
    # While what was worked out from it is kept, pictures are shown; here it is gone, too.
    shutil.rmtree(settings.data_dir / "artefacts")
    with serving(settings) as client:
        url = f"/api/pieces/{piece['id']}"
        answer = client.get(f"{url}/picture?width=9&height=9")
        assert answer.status_code == 404 and source["asset"][:16] in answer.json()["detail"]
        assert str(settings.data_dir) not in answer.json()["detail"]
        renamed = client.patch(url, json={"title": "Still here"})
        assert renamed.json()["title"] == "Still here"
        path.write_bytes(data)
        assert client.get(f"{url}/picture?width=9&height=9").status_code == 200


def test_names_with_half_characters_are_healed(settings: Settings) -> None:
    """As earlier versions took them in; the list could not be read any more."""
    settings.data_dir.mkdir(parents=True, exist_ok=True)
    path = settings.data_dir / "wardrobe.sqlite3"
    tables_of(path, "0005")
    card = json.dumps([{"name": "coat \ud800", "colour": "#aabbcc"}])
    with sqlite3.connect(path) as database:
        database.execute("INSERT INTO character (id, name, card, washes, outfits, changed) VALUES "
                         "(1, 'Ilse', ?, '{}', '[]', '2026-01-01 00:00:00')", (card,))
    with serving(settings) as client:
        (healed,) = client.get("/api/characters").json()
        assert healed["card"][0]["name"] == "coat ?" and healed["name"] == "Ilse"


def test_without_room_on_the_disk_nothing_is_lost_and_pictures_go_on(
        client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    piece = new_piece(client)
    url = f"/api/pieces/{piece['id']}"
    edit(client, piece, kind="set_background", colour="#778899")

    def full(self: Path, data: bytes) -> int:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(Path, "write_bytes", full)
        assert client.get(f"{url}/card").status_code == 200
        assert client.get(f"{url}/picture?width=480&height=480").status_code == 200
        job = import_file(client, png(on_white(figure_ink(200))))
        assert job["state"] == "failed" and job["problem"]["status"] == 507
        assert "disk is full" in job["problem"]["title"].lower()
        job = finished(client, client.post(f"{url}/deliveries", json={"format": "png"}).json())
        assert job["state"] == "failed" and "Make room" in job["problem"]["detail"]
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    assert list(studio.scratch.folder.iterdir()) == [studio.scratch.folder / ".lock"]
    assert len(client.get("/api/pieces").json()) == 1
    assert import_file(client, png(on_white(figure_ink(200))))["state"] == "done"


def test_a_folder_that_cannot_be_tidied_is_opened_all_the_same(
        settings: Settings) -> None:
    with serving(settings) as client:
        kept, gone = new_piece(client), import_file(client, png(on_white(figure_ink(300))))
        client.delete(f"/api/pieces/{gone['piece']}")
    make_old(settings)
    (settings.data_dir / "trash").write_bytes(b"in the way")  # as good as a full disk
    before = drawings(settings)
    with serving(settings) as client:
        assert client.get(f"/api/pieces/{kept['id']}").status_code == 200
        assert drawings(settings) == before


def test_temporary_files_lie_in_the_data_folder(settings: Settings, tmp_path: Path,
                                                monkeypatch: pytest.MonkeyPatch) -> None:
    elsewhere = tmp_path / "system"
    elsewhere.mkdir()
    monkeypatch.setattr("tempfile.tempdir", str(elsewhere))
    seen: set[str] = set()
    with serving(settings) as client:
        piece = new_piece(client)
        piece = edit(client, piece, kind="add_look", name="Night", bases={"p1": "#223355"})
        job = client.post(f"/api/pieces/{piece['id']}/deliveries", json={
            "format": "ora", "looks": ["piece", "k1"]}).json()
        while job["state"] in ("waiting", "running"):
            seen.update(p.name for p in elsewhere.iterdir())
            job = client.get(f"/api/jobs/{job['id']}").json()
        assert job["state"] == "done" and not seen
        file = io.BytesIO(client.get(f"/api/jobs/{job['id']}/file").content)
        assert len(file.getvalue()) > 1000
