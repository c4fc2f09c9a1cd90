"""A piece goes out as one archive and comes back the same; damaged archives are refused."""

import hashlib
import io
import json
import zipfile
from datetime import UTC, datetime
from functools import reduce
from pathlib import Path

import numpy as np
import pytest

from tests.drawings import figure_ink, png, transparent
from wardrobe.core.errors import ImageLimitError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddPart, SetBackground, SetDetails, apply
from wardrobe.recipe.events import Answer, Happened, Withdrawal
from wardrobe.recipe.exchange.archive import ArchiveError, PieceFacts, read_archive, write_archive
from wardrobe.recipe.stages import Deriver

DRAWING = png(transparent(figure_ink()))
NAME = hashlib.sha256(DRAWING).hexdigest()
FIRST = Recipe(source=Source(asset=NAME, original=NAME, width=480, height=480))
EDITS = (AddPart(name="coat"), SetBackground(colour="#102030"))
NOON = datetime(2026, 3, 4, 12, tzinfo=UTC)
EVENTS = (Happened(number=1, at=NOON, event=Answer(look="piece", name="The piece",
                                                   date="2026-03-03")),
          Happened(number=2, at=NOON, event=Withdrawal(answer=1)))


@pytest.fixture
def archive(tmp_path: Path) -> Path:
    path = tmp_path / "a.zip"
    facts = PieceFacts(title="Kite", planned_minutes=30, spent_minutes={"lines": 2.5})
    write_archive(path, facts, FIRST, EDITS, EVENTS, {NAME: DRAWING}.__getitem__,
                  {"picture.png": DRAWING})
    return path


def changed(path: Path, **members: bytes | None) -> io.BytesIO:
    """The archive with some members replaced (None: left out)."""
    out = io.BytesIO()
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(out, "w") as new:
        for info in old.infolist():
            key = info.filename.replace("/", "_").replace(".", "_")
            data = members.get(key, old.read(info))
            if data is not None:
                new.writestr(info.filename, data)
    out.seek(0)
    return out


def test_answers_of_an_archive_of_before_are_events(archive: Path) -> None:
    """Version 2 held them in the recipe, and among the edits."""
    answer = {"look": "piece", "remarks": "darker boots", "date": "2026-02-01"}
    old = {"answers": [answer], "schema_version": 2}
    with zipfile.ZipFile(archive) as opened:
        recipe, told = (json.loads(opened.read(f"{n}.json")) for n in ("recipe", "history"))
    told["first"] |= {"schema_version": 2, "answers": []}
    told["edits"] = [told["edits"][0], {"kind": "record_answer", "answer": answer},
                     {"kind": "several", "edits": [told["edits"][1], {
                         "kind": "record_answer", "answer": answer}]}]
    back = read_archive(changed(archive, events_json=None, recipe_json=json.dumps(
        recipe | old).encode(), history_json=json.dumps(told).encode()))
    assert [e.event for e in back.events] == [Answer(**answer, name="The piece")]
    assert back.recipe == reduce(apply, EDITS, FIRST) and len(back.edits) == 2


@pytest.mark.parametrize("answers", [5, [5], [{}], [{"look": "k1", "date": "soon"}], {"a": 1}])
def test_answers_that_are_none_are_refused(archive: Path, answers: object) -> None:
    """In the recipe of version 2, from before there were events."""
    with zipfile.ZipFile(archive) as opened:
        recipe = json.loads(opened.read("recipe.json"))
    old = json.dumps(recipe | {"schema_version": 2, "answers": answers}).encode()
    with pytest.raises(ArchiveError, match="changed by hand"):
        read_archive(changed(archive, events_json=None, recipe_json=old))


@pytest.mark.parametrize("events", [b"{", b"[{}]", b'[{"number": 2, "at": "2026-03-04T12:00:00Z", '
                                    b'"event": {"kind": "withdrawal", "answer": 1}}]'])
def test_events_that_are_none_are_refused(archive: Path, events: bytes) -> None:
    with pytest.raises(ArchiveError, match="events"):
        read_archive(changed(archive, events_json=events))


def test_what_goes_out_comes_back(archive: Path) -> None:
    back = read_archive(archive)
    assert (back.facts.title, back.facts.spent_minutes) == ("Kite", {"lines": 2.5})
    assert back.first == FIRST and back.edits == EDITS and back.events == EVENTS
    assert back.recipe == reduce(apply, EDITS, FIRST)
    assert back.assets == {NAME: DRAWING}
    with zipfile.ZipFile(archive) as opened:  # open formats: anyone can look in
        assert json.loads(opened.read("recipe.json"))["background"] == "#102030"
        assert opened.read("renders/picture.png") == DRAWING


@pytest.mark.parametrize(("size", "said"), [((200, 200), "another size"), (None, "no PNG")])
def test_a_second_drawing_is_looked_at_before_it_comes_in(
        tmp_path: Path, size: tuple[int, int] | None, said: str) -> None:
    second = png(transparent(figure_ink(240))) if size else b"II*\x00 no PNG"
    name = hashlib.sha256(second).hexdigest()
    width, height = size or (240, 240)
    edit = SetDetails(details=PlacedPicture(asset=name, width=width, height=height))
    path = tmp_path / "b.zip"
    kept = {NAME: DRAWING, name: second}
    facts = PieceFacts(title="Kite", planned_minutes=30, spent_minutes={})
    write_archive(path, facts, FIRST, (edit,), (), kept.__getitem__, {})
    with pytest.raises(ArchiveError, match=said):
        read_archive(path)


def test_a_second_drawing_goes_along(tmp_path: Path) -> None:
    second = png(transparent(figure_ink(240)))
    name = hashlib.sha256(second).hexdigest()
    edit = SetDetails(details=PlacedPicture(asset=name, width=240, height=240))
    path = tmp_path / "c.zip"
    facts = PieceFacts(title="Kite", planned_minutes=30, spent_minutes={})
    write_archive(path, facts, FIRST, (edit,), (), {NAME: DRAWING, name: second}.__getitem__, {})
    back = read_archive(path)
    assert back.recipe.details == edit.details and back.assets[name] == second


def test_a_history_that_does_not_lead_there_is_left_aside(archive: Path) -> None:
    for history in (b"{}", b"not json", json.dumps({
            "first": FIRST.model_dump(mode="json"), "edits": []}).encode(), None):
        back = read_archive(changed(archive, history_json=history))
        assert back.edits == () and back.recipe == reduce(apply, EDITS, FIRST)


@pytest.mark.parametrize(("members", "says"), [
    ({"recipe_json": None}, "lacks"),
    ({"piece_json": b'{"title": ""}'}, "another version"),
    ({"recipe_json": b'{"source": 3}'}, "another version"),
    ({f"assets_{NAME}": b"something else"}, "not what its name says"),
    ({f"assets_{NAME}": None}, "lacks")])
def test_a_damaged_archive_is_refused_with_a_reason(
        archive: Path, members: dict[str, bytes | None], says: str) -> None:
    with pytest.raises(ArchiveError, match=says):
        read_archive(changed(archive, **members))


def test_hostile_archives_are_refused_within_limits(archive: Path) -> None:
    for data in (b"", b"PK\x03\x04 nothing more", archive.read_bytes()[:300]):
        with pytest.raises(ArchiveError, match="damaged or cut"):
            read_archive(io.BytesIO(data))
    many = io.BytesIO()
    with zipfile.ZipFile(many, "w") as made:
        for k in range(1200):
            made.writestr(f"x{k}", b"")
    with pytest.raises(ImageLimitError, match="1200 members"):
        read_archive(many)
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as made:
        made.writestr("piece.json", b" " * (300 * 2**20))
    with pytest.raises(ImageLimitError, match="unpacks to more"):
        read_archive(bomb)
    with pytest.raises(ImageLimitError):
        read_archive(archive, ImageLimits(longest_edge=100))


def test_any_changed_byte_is_refused_in_words_or_changes_nothing(archive: Path) -> None:
    data = bytearray(archive.read_bytes())
    for place in range(0, len(data), 211):
        hurt = bytearray(data)
        hurt[place] ^= 0x55
        try:
            back = read_archive(io.BytesIO(bytes(hurt)))
        except (ArchiveError, ImageLimitError):
            continue
        assert back.recipe.source == FIRST.source and back.assets[NAME] == DRAWING


GOLDEN = sorted((Path(__file__).parent.parent / "golden").glob("piece-*.zip"))


@pytest.mark.parametrize("path", GOLDEN, ids=lambda path: path.stem)
def test_archives_of_every_version_open_for_ever(path: Path) -> None:
    """With their history, and the pictures that they had then."""
    back = read_archive(path)
    assert len(back.edits) > 20  # else it no longer leads to the piece
    assert Recipe.model_validate_json(back.recipe.model_dump_json()) == back.recipe
    pixels = {name: decode_image(data) for name, data in back.assets.items()}
    deriver = Deriver(pixels.__getitem__)
    with zipfile.ZipFile(path) as archive:
        shown = {"picture": back.recipe, **{k.id: deriver.worn(back.recipe, k)
                                            for k in back.recipe.looks}}
        for name, recipe in shown.items():
            then = decode_image(archive.read(f"renders/{name}.png"))[..., :3]
            now = deriver.picture(recipe, View.whole(*recipe.size))
            assert np.abs(now.astype(int) - then).max() <= 1, name
