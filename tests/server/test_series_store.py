"""Series in the database against a list that is held beside it, whatever is done and in which
order; and the demo's own series."""

import random
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
import pytest
from sqlalchemy.orm import Session, sessionmaker

from tests.drawings import piece
from wardrobe.core.formats.images import decode_image
from wardrobe.core.page.lettering import find_lettering
from wardrobe.core.page.panels import find_panels
from wardrobe.demo import page, walk
from wardrobe.demo.pen import Pen
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.series.page import PagePanel, PageSheet
from wardrobe.recipe.series.shared import Scene, Shared
from wardrobe.server.db.pieces import PieceRepository
from wardrobe.server.db.series import SeriesRepository
from wardrobe.server.db.session import open_database
from wardrobe.server.problems import NotFoundError, StaleEditError

RECIPE = piece()[1]


@pytest.fixture
def sessions(tmp_path: Path) -> Iterator[sessionmaker[Session]]:
    engine, made = open_database(tmp_path / "wardrobe.sqlite3")
    yield made
    engine.dispose()


def test_panels_stay_of_their_page_in_any_order(sessions: sessionmaker[Session]) -> None:
    pieces, series = PieceRepository(sessions), SeriesRepository(sessions)
    ids = [pieces.create(f"Panel {k}", 10, RECIPE) for k in range(3)]
    ours, other = series.create("Ours"), series.create("Other")
    sheet = PageSheet(asset="a" * 64, original="b" * 64, width=100, height=140)
    page_id = series.add_page(ours, "Page 1", sheet)
    series.append(ours, ids, page=page_id)
    series.arrange(ours, ids[::-1])
    assert [m.page for m in series.get(ours).members] == [page_id] * 3
    series.arrange(other, ids[:1])
    assert [m.page for m in series.get(other).members] == [None]


@pytest.mark.parametrize("seed", range(4))
def test_order_and_neighbours_are_those_of_a_list(sessions: sessionmaker[Session],
                                                  seed: int) -> None:
    """Pieces come, go, are deleted, move to other series and are put into other orders."""
    dice = random.Random(seed)
    pieces, series = PieceRepository(sessions), SeriesRepository(sessions)
    ids = [pieces.create(f"Piece {k}", 10, RECIPE) for k in range(12)]
    lists: dict[int, list[int]] = {series.create(f"Series {k}"): [] for k in range(2)}
    for _ in range(60):
        at = dice.choice(list(lists))
        act = dice.choice(["append", "arrange", "drop", "delete", "same"])
        if act == "append":
            some = dice.sample(ids, dice.randint(1, 3))
            for other in lists.values():
                other[:] = [i for i in other if i not in some]
            lists[at] += some
            series.append(at, some)
        elif act == "arrange":
            some = dice.sample(ids, dice.randint(0, len(ids)))
            for other in lists.values():
                other[:] = [i for i in other if i not in some]
            lists[at][:] = some
            series.arrange(at, some)
        elif act == "drop" and lists[at]:
            lists[at].remove(dice.choice(lists[at]))
            series.arrange(at, lists[at])
        elif act == "delete" and len(ids) > 4:
            gone = ids.pop(dice.randrange(len(ids)))
            for other in lists.values():
                other[:] = [i for i in other if i != gone]
            pieces.remove(gone)
        elif act == "same":
            dice.shuffle(lists[at])
            series.arrange_same(at, lists[at])
        for number, expected in lists.items():
            assert [m.id for m in series.get(number).members] == expected
        some_id = dice.choice(ids)
        home = next((s for s, held in lists.items() if some_id in held), None)
        place = series.place_of(some_id)
        if home is None:
            assert place is None
        else:
            held = lists[home]
            k = held.index(some_id)
            assert place and (place.series, place.number, place.count) == (home, k + 1, len(held))
            assert place.before == (held[k - 1] if k else None)
            assert place.after == (held[k + 1] if k + 1 < len(held) else None)
    told = {s.id: (s.pieces, s.first) for s in series.all()}
    assert told == {s: (len(held), tuple(held[:5])) for s, held in lists.items()}
    titles = {f.id: f.series for f in pieces.all()}
    assert titles == {i: next((f"Series {s - 1}" for s, held in lists.items() if i in held), None)
                      for i in ids}


def test_what_is_shared_outlasts_and_a_deleted_series_leaves_its_pieces(
        sessions: sessionmaker[Session]) -> None:
    pieces, series = PieceRepository(sessions), SeriesRepository(sessions)
    shared = Shared(passes=Passes(tones=3), scenes=(Scene(name="dusk", background="#334455"),),
                    minutes={"colour": 12.0}, fps=8)
    number = series.create("Rounds", shared)
    one = pieces.create("One", 10, RECIPE)
    series.append(number, [one], scene="dusk")
    series.set_member(one, hold=4)
    assert SeriesRepository(sessions).get(number).shared == shared
    (member,) = series.get(number).members
    assert (member.scene, member.hold) == ("dusk", 4)
    series.change(number, title="Night rounds", shared=Shared())
    assert series.get(number).title == "Night rounds" and series.get(number).shared == Shared()
    series.remove(number)
    assert series.place_of(one) is None and pieces.get(one).title == "One"
    for ask in (series.get, series.remove):
        with pytest.raises(NotFoundError):
            ask(number)


def test_pages_are_changed_only_by_who_saw_them(sessions: sessionmaker[Session]) -> None:
    series = SeriesRepository(sessions)
    number = series.create("Tides")
    sheet = PageSheet(asset="a" * 64, original="b" * 64, width=100, height=140)
    page_id = series.add_page(number, "Page 1", sheet)
    panel = PagePanel(outline=((0, 0), (50, 0), (50, 50)))
    changed = series.change_page(page_id, 1, sheet.model_copy(update={"panels": (panel,)}))
    assert changed.revision == 2 and series.page(page_id).sheet.panels == (panel,)
    with pytest.raises(StaleEditError):
        series.change_page(page_id, 1, sheet)
    assert [p.id for p in series.pages(number)] == [page_id]
    assert series.assets_in_use() == {"a" * 64, "b" * 64}
    series.remove_page(page_id)
    assert series.pages(number) == [] and series.assets_in_use() == set()
    series.add_page(number, "Page 2", sheet)
    series.remove(number)
    assert series.assets_in_use() == set()


@pytest.mark.parametrize("frame", range(walk.FRAMES))
def test_every_frame_of_the_demo_walk_shows_every_part(frame: int) -> None:
    """Drawn with closed lines: the place of each part lies in paper that lines enclose."""
    rgba = decode_image(walk.draw(frame), long_edge=1200)
    ink = cv2.multiply(rgba[..., 3], 255 - rgba[..., 0], scale=1 / 255)
    _, areas = cv2.connectedComponents((ink < 128).astype(np.uint8), connectivity=4)
    outside = areas[2, 2]
    inside: dict[str, int] = {}
    for name, (x, y) in walk.figure(Pen(walk.WIDTH, walk.HEIGHT), frame):
        there = areas[int(y), int(x)]
        inside[name] = inside.get(name, 0) + int(there not in (0, outside))
    assert set(inside) == {name for name, *_ in walk.PARTS}
    assert all(inside.values()), inside
    assert 35 < areas.max() < 70


def test_the_demo_page_has_four_panels_and_three_balloons() -> None:
    ink = 255 - decode_image(page.draw())[..., 0]
    lettering = find_lettering(ink)
    panels = find_panels(ink, lettering.balloons)
    assert len(panels) == 4 and len(lettering.balloons) == 3
    tops = [p.outline[:, 1].min() for p in panels]
    assert tops == sorted(tops) and all(all(p.framed) for p in panels)
    assert panels[1].outline[:, 0].max() < panels[2].outline[:, 0].min()
    for balloon, panel in zip(lettering.balloons, (0, 1, 3), strict=True):
        low, high = panels[panel].outline.min(axis=0), panels[panel].outline.max(axis=0)
        assert (balloon.min(axis=0) > low).all() and (balloon.max(axis=0) < high).all()
