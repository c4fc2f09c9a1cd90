"""Series over the API: order, what is shared, parts carried over, pages, films, batches."""

import io
import zipfile
from typing import Any

import av
import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.drawings import figure_ink, on_white, png, transparent
from tests.recipe.test_panels import page
from tests.server.steps import edit, finished, new_piece, said
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.server import series as work
from wardrobe.server.settings import Settings


@pytest.fixture
def settings(tmp_path_factory: pytest.TempPathFactory) -> Settings:
    return Settings(data_dir=tmp_path_factory.mktemp("series") / "data")


def job(client: TestClient, answer: Any) -> dict[str, Any]:
    assert answer.status_code == 202, answer.text
    done = finished(client, answer.json())
    assert done["state"] == "done", done
    return done


def get(client: TestClient, address: str) -> Any:
    answer = client.get(f"/api{address}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def file_of(client: TestClient, done: dict[str, Any]) -> bytes:
    return client.get(f"/api/jobs/{done['id']}/file").content


def series_of(client: TestClient, count: int = 3) -> dict[str, Any]:
    """A series whose first picture is coloured; the figure moves through the others."""
    first = new_piece(client)
    kept = edit(client, first, kind="keep_parts")
    made = client.post("/api/series", json={"title": "Rounds", "pieces": [kept["id"]]}).json()
    files = [("files", (f"frame {k}.png", png(on_white(np.roll(
        figure_ink(), (4 * k, 8 * k), axis=(0, 1)))))) for k in range(count - 1, 0, -1)]
    job(client, client.post(f"/api/series/{made['id']}/drawings", files=files))
    return get(client, f"/series/{made['id']}")


def test_drawings_come_in_by_their_names_with_parts_and_doubts(client: TestClient) -> None:
    series = series_of(client)
    assert [m["title"] for m in series["members"]] == ["Figure", "frame 1", "frame 2"]
    first, *rest = series["members"]
    assert not first["carried"]
    for m in rest:
        assert m["carried"] and m["parts"] == first["parts"]
        place = get(client, f"/pieces/{m['id']}/place")
        assert place["sources"] == [first["id"]] and len(place["doubts"]) == m["doubts"]
        events = get(client, f"/pieces/{m['id']}/events")
        assert [e["event"]["kind"] for e in events] == ["carried"]
    # A file's name that is no title is none; what is a character's goes on to the others.
    hero = client.post("/api/characters", json={"name": "Hero", "from_piece": first["id"]}).json()
    url = f"/api/series/{series['id']}"
    job(client, client.post(f"{url}/drawings", files=[("files", ("\u202e.png", png(on_white(
        figure_ink()))))]))
    added = get(client, f"/series/{series['id']}")["members"][-1]
    assert added["title"] == "Picture" and added["character"] == hero["name"] == "Hero"
    client.put(f"{url}/order", json={"pieces": [m["id"] for m in series["members"]]})
    # Kept, a picture shows the others what is what; a doubt that was answered is none.
    middle = get(client, f"/pieces/{rest[0]['id']}")
    part = middle["recipe"]["parts"][0]["id"]
    answered = edit(client, middle, kind="change_part", part=part, name="visor")
    assert not get(client, f"/pieces/{middle['id']}/place")["carried"]
    job(client, client.post(f"/api/series/{series['id']}/carry", json={"pieces": []}))
    last = get(client, f"/pieces/{rest[1]['id']}")
    assert "visor" in [p["name"] for p in last["recipe"]["parts"]]
    assert get(client, f"/pieces/{middle['id']}")["revision"] == answered["revision"]
    # Each can be undone.
    back = client.post(f"/api/pieces/{last['id']}/undo", json={"seen": last["revision"]}).json()
    assert "visor" not in [p["name"] for p in back["recipe"]["parts"]]


def test_order_neighbours_and_what_is_deleted(client: TestClient) -> None:
    series = series_of(client)
    ids = [m["id"] for m in series["members"]]
    turned = client.put(f"/api/series/{series['id']}/order", json={"pieces": ids[::-1]}).json()
    assert [m["id"] for m in turned["members"]] == ids[::-1]
    place = get(client, f"/pieces/{ids[1]}/place")
    assert (place["number"], place["count"], place["before"], place["after"]) == (2, 3, ids[2],
                                                                                 ids[0])
    client.put(f"/api/series/{series['id']}/order", json={"pieces": ids[:2]})
    assert get(client, f"/pieces/{ids[2]}/place") is None
    cards = {c["id"]: c["series"] for c in get(client, "/pieces")}
    assert cards[ids[0]] == "Rounds" and cards[ids[2]] is None
    client.delete(f"/api/pieces/{ids[0]}")
    assert [m["id"] for m in get(client, f"/series/{series['id']}")["members"]] == [ids[1]]
    (card,) = get(client, "/series")
    assert card["pieces"] == 1 and card["first"] == [ids[1]]
    assert client.delete(f"/api/series/{series['id']}").status_code == 204
    assert get(client, f"/pieces/{ids[1]}")["id"] == ids[1]
    assert said(client.get(f"/api/series/{series['id']}"), 404)


def test_what_is_shared_is_followed_and_what_is_own_is_marked(client: TestClient) -> None:
    series = series_of(client)
    url, ids = f"/api/series/{series['id']}", [m["id"] for m in series["members"]]
    for i in ids:
        assert client.patch(f"/api/pieces/{i}/place", json={"scene": "dusk"}).status_code == 200
    first = get(client, f"/pieces/{ids[0]}")
    light = {**first["recipe"]["light"], "azimuth": 20.0}
    edit(client, first, kind="move_light", light=light)
    job(client, client.post(f"{url}/share-from", json={"piece": ids[0],
                                                       "what": ["light", "passes"]}))
    assert all(get(client, f"/pieces/{i}")["recipe"]["light"]["azimuth"] == 20 for i in ids)
    third = get(client, f"/pieces/{ids[2]}")
    edit(client, third, kind="move_light", light={**light, "azimuth": 300.0})
    members = get(client, f"/series/{series['id']}")["members"]
    assert [m["own"] for m in members] == [[], [], ["light"]]
    shared = get(client, f"/series/{series['id']}")["shared"]
    shared["scenes"][0]["light"]["azimuth"] = 77.0
    job(client, client.put(f"{url}/shared", json={"shared": shared}))
    lights = [get(client, f"/pieces/{i}")["recipe"]["light"]["azimuth"] for i in ids]
    assert lights == [77, 77, 300]
    job(client, client.post(f"{url}/follow", json={"pieces": [ids[2]], "what": ["light"]}))
    assert get(client, f"/pieces/{ids[2]}")["recipe"]["light"]["azimuth"] == 77
    outsider = new_piece(client)["id"]
    assert "not in the series" in said(client.post(f"{url}/share-from", json={
        "piece": outsider, "what": ["fill"]}))
    client.patch(f"/api/pieces/{ids[1]}/place", json={"scene": ""})
    assert "belong to a scene" in said(client.post(f"{url}/share-from", json={
        "piece": ids[1], "what": ["light"]}))


def test_sharing_that_is_stopped_leaves_all_as_it_was(client: TestClient,
                                                      monkeypatch: pytest.MonkeyPatch) -> None:
    told = series_of(client)
    url, ids = f"/api/series/{told['id']}", [m["id"] for m in told["members"]]
    job(client, client.post(f"{url}/share-from", json={"piece": ids[0], "what": ["fill"]}))
    before = get(client, f"/series/{told['id']}")
    real, stops = work.change_piece, [ids[2]]

    def stopped(studio: Any, piece: int, make: Any) -> bool:
        if piece in stops:
            stops.remove(piece)
            raise work.CancelledError
        return real(studio, piece, make)

    monkeypatch.setattr(work, "change_piece", stopped)
    wanted = {**before["shared"], "fill": "to the line"}
    for state, fill in (("cancelled", before["shared"]["fill"]), ("done", "to the line")):
        ended = finished(client, client.put(f"{url}/shared", json={"shared": wanted}).json())
        now = get(client, f"/series/{told['id']}")
        fills = {get(client, f"/pieces/{i}")["recipe"]["fill"] for i in ids}
        assert (ended["state"], now["shared"]["fill"], fills) == (state, fill, {fill})
        assert all(m["own"] == [] for m in now["members"])


def test_a_change_is_seen_before_it_is_made_and_drift_is_listed(client: TestClient) -> None:
    series = series_of(client)
    url, ids = f"/api/series/{series['id']}", [m["id"] for m in series["members"]]
    for i in ids[1:]:
        edit(client, get(client, f"/pieces/{i}"), kind="keep_parts")
    path = series["members"][0]["parts"][0]
    wish = {"change": {"part": path, "base": "#11aa55", "material": None}, "pieces": []}
    revisions = [m["revision"] for m in get(client, f"/series/{series['id']}")["members"]]
    plain = client.post(f"{url}/preview/{ids[1]}?edge=200", json={"pieces": []}).content
    seen = client.post(f"{url}/preview/{ids[1]}?edge=200", json=wish).content
    assert seen != plain and Image.open(io.BytesIO(seen)).size == (200, 200)
    assert [m["revision"] for m in get(client, f"/series/{series['id']}")["members"]] == revisions
    assert get(client, f"/series/{series['id']}/drift") == []
    job(client, client.post(f"{url}/edits", json={**wish, "pieces": [ids[1]]}))
    drifted = get(client, f"/series/{series['id']}/drift")
    assert [(d["piece"], d["what"], d["here"]) for d in drifted] == [(ids[1], "colour", "#11aa55")]
    job(client, client.post(f"{url}/edits", json=wish))
    bases = [get(client, f"/pieces/{i}")["recipe"]["parts"][0]["base"] for i in ids]
    assert bases == ["#11aa55"] * 3 and get(client, f"/series/{series['id']}/drift") == []
    # Findings are told of pictures as they are, not as they were when they were looked over.
    assert [m["findings"] for m in get(client, f"/series/{series['id']}")["members"]] == [None] * 3
    job(client, client.post(f"{url}/look-over", json={"pieces": []}))
    told = [m["findings"] for m in get(client, f"/series/{series['id']}")["members"]]
    for i, found in zip(ids, told, strict=True):
        asked = get(client, f"/pieces/{i}/findings?repairs=false")
        assert found == list(dict.fromkeys(f["check"] for f in asked)) and found
    edit(client, get(client, f"/pieces/{ids[0]}"), kind="set_background", colour="#334455")
    told = [m["findings"] for m in get(client, f"/series/{series['id']}")["members"]]
    assert told[0] is None and None not in told[1:]


@pytest.mark.parametrize("form", ["png frames", "webp", "webm"])
def test_frames_are_written_in_their_order_as_long_as_they_are_held(client: TestClient,
                                                                    form: str) -> None:
    series = series_of(client)
    ids = [m["id"] for m in series["members"]]
    client.patch(f"/api/pieces/{ids[1]}/place", json={"hold": 3})
    done = job(client, client.post(f"/api/series/{series['id']}/deliveries",
                                   json={"format": form, "long_edge": 160}))
    data = file_of(client, done)
    if form == "png frames":
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            frames = [archive.read(name) for name in archive.namelist()]
        assert len(frames) == 5 and frames[1] == frames[2] == frames[3] != frames[0]
        assert frames[4] != frames[3]
    elif form == "webp":
        picture = Image.open(io.BytesIO(data))
        assert picture.format == "WEBP" and picture.is_animated  # type: ignore[attr-defined]
    else:
        with av.open(io.BytesIO(data)) as film:
            stream = film.streams.video[0]
            assert (stream.width, stream.height) == (160, 160)
            assert len(list(film.decode(stream))) == 5
    empty = client.post("/api/series", json={"title": "None yet"}).json()
    failed = finished(client, client.post(f"/api/series/{empty['id']}/deliveries",
                                          json={"format": "mp4"}).json())
    assert failed["state"] == "failed" and "no pictures" in failed["problem"]["detail"]


def test_a_page_becomes_pieces_and_one_stack_again(client: TestClient) -> None:
    series = client.post("/api/series", json={"title": "Tides"}).json()
    job(client, client.post(f"/api/series/{series['id']}/pages", data={"title": "Page 1"},
                            files={"file": ("a.png", png(on_white(page())))}))
    series = get(client, f"/series/{series['id']}")
    (card,) = series["pages"]
    assert card["panels"] == 2 and [m["title"] for m in series["members"]] == [
        "Page 1, panel 1", "Page 1, panel 2"]
    ids = [m["id"] for m in series["members"]]
    for i, colour in zip(ids, ("#aaccee", "#ddbb99"), strict=True):
        edit(client, get(client, f"/pieces/{i}"), kind="set_background", colour=colour)
    url = f"/api/pages/{card['id']}"
    stack = file_of(client, job(client, client.post(f"{url}/deliveries", json={"format": "ora"})))
    opened = read_openraster(io.BytesIO(stack)).stack
    assert {n.name for n in opened.nodes} == {"paper", "panel 1", "panel 2", "balloons",
                                              "frames and letters"}
    flat = np.array(Image.open(io.BytesIO(file_of(client, job(client, client.post(
        f"{url}/deliveries", json={"format": "png"}))))).convert("RGB"))
    assert flat.shape == (1100, 800, 3)
    assert flat[480, 100].tolist() == [0xAA, 0xCC, 0xEE]
    assert flat[1000, 100].tolist() == [0xDD, 0xBB, 0x99]
    assert (flat[165, 210:260] == 255).all()
    with zipfile.ZipFile(io.BytesIO(file_of(client, job(client, client.post(
            f"{url}/deliveries", json={"format": "panels"}))))) as archive:
        assert len(archive.namelist()) == 2
    assert client.get(f"{url}/drawing?edge=300").headers["content-type"] == "image/png"


def test_panels_are_corrected_by_hand(client: TestClient) -> None:
    series = client.post("/api/series", json={"title": "Tides"}).json()
    job(client, client.post(f"/api/series/{series['id']}/pages", data={"title": "Page 1"},
                            files={"file": ("a.png", png(on_white(page())))}))
    (card,) = get(client, f"/series/{series['id']}")["pages"]
    sheet = get(client, f"/pages/{card['id']}")
    url = f"/api/pages/{card['id']}"
    panels = sheet["sheet"]["panels"]
    piece = panels[0]["piece"]
    before = get(client, f"/pieces/{piece}")
    smaller = [[x, min(y, 440.0)] for x, y in panels[0]["outline"]]
    put = client.put(f"{url}/sheet", json={"seen": sheet["revision"], "sheet": {
        **sheet["sheet"], "panels": [{**panels[0], "outline": smaller}, panels[1]]}})
    assert put.status_code == 200, put.text
    now = get(client, f"/pieces/{piece}")
    assert now["recipe"]["source"]["number"] == 2 and now["revision"] > before["revision"]
    stale = client.put(f"{url}/sheet", json={"seen": sheet["revision"], "sheet": sheet["sheet"]})
    assert "another window" in said(stale, 409)
    # In another order, and one more.
    sheet = put.json()
    extra = {"outline": [[100, 700], [300, 700], [300, 900], [100, 900]], "piece": None}
    put = client.put(f"{url}/sheet", json={"seen": sheet["revision"], "sheet": {
        **sheet["sheet"], "panels": [*sheet["sheet"]["panels"][::-1], extra]}})
    members = [m["id"] for m in get(client, f"/series/{series['id']}")["members"]]
    assert members == [p["piece"] for p in put.json()["sheet"]["panels"] if p["piece"]]
    job(client, client.post(f"{url}/panels"))
    assert all(p["piece"] for p in get(client, f"/pages/{card['id']}")["sheet"]["panels"])
    assert len(get(client, f"/series/{series['id']}")["members"]) == 3
    # An inset that moves is cut out of what it lies over; one that no piece can follow is refused.
    sheet = get(client, f"/pages/{card['id']}")
    lower = next(p["piece"] for p in sheet["sheet"]["panels"]
                 if p["outline"] == panels[1]["outline"])
    before = get(client, f"/pieces/{lower}")
    moved = [{**p, "outline": [[x + 60, y] for x, y in p["outline"]]}
             if p["outline"] == extra["outline"] else p for p in sheet["sheet"]["panels"]]
    put = client.put(f"{url}/sheet", json={"seen": sheet["revision"], "sheet": {
        **sheet["sheet"], "panels": moved}})
    after = get(client, f"/pieces/{lower}")
    assert after["recipe"]["source"]["number"] == before["recipe"]["source"]["number"] + 1
    assert len(after["recipe"]["closings"]) == len(before["recipe"]["closings"])
    assert after["recipe"]["closings"] != before["recipe"]["closings"]
    edit(client, after, kind="turn_picture", clockwise=True)
    refused = client.put(f"{url}/sheet", json={"seen": put.json()["revision"],
                                               "sheet": sheet["sheet"]})
    assert "is turned" in said(refused)
    assert get(client, f"/pages/{card['id']}")["sheet"] == put.json()["sheet"]
    # Read the other way, panels and their pieces stand in another order; two at once begin none
    # twice.
    sheet = put.json()
    wide = [[60, 120, 350, 400], [450, 120, 740, 400]]
    two = [{"outline": [[a, b], [c, b], [c, d], [a, d]], "piece": None} for a, b, c, d in wide]
    put = client.put(f"{url}/sheet", json={"seen": sheet["revision"], "sheet": {
        **sheet["sheet"], "panels": two}}).json()
    jobs = [client.post(f"{url}/panels").json() for _ in range(2)]
    assert all(finished(client, j)["state"] == "done" for j in jobs)
    sheet = get(client, f"/pages/{card['id']}")
    begun = [p["piece"] for p in sheet["sheet"]["panels"]]
    assert None not in begun and len(get(client, f"/series/{series['id']}")["members"]) == 5
    client.put(f"{url}/sheet", json={"seen": sheet["revision"], "sheet": {
        **sheet["sheet"], "reading": "right to left"}})
    read = get(client, f"/pages/{card['id']}")["sheet"]["panels"]
    assert [p["piece"] for p in read] == begun[::-1]
    members = [m["id"] for m in get(client, f"/series/{series['id']}")["members"]]
    assert [m for m in members if m in begun] == begun[::-1]
    # A piece that is of another page cannot be slipped in.
    sheet = get(client, f"/pages/{card['id']}")
    outsider = new_piece(client)["id"]
    told = {**sheet["sheet"], "panels": [{**sheet["sheet"]["panels"][0], "piece": outsider}]}
    put = client.put(f"{url}/sheet", json={"seen": sheet["revision"], "sheet": told}).json()
    assert put["sheet"]["panels"][0]["piece"] is None


def test_a_batch_on_the_server_takes_parts_over_and_delivers(client: TestClient) -> None:
    series = series_of(client)
    url = f"/api/series/{series['id']}"
    wish = {"stages": ["flats", "shade", "deliver"], "pieces": []}
    done = job(client, client.post(f"{url}/batches", json=wish))
    with zipfile.ZipFile(io.BytesIO(file_of(client, done))) as archive:
        names = archive.namelist()
    assert len(names) == 6 and all(n.startswith("000") for n in names)
    assert len([n for n in names if n.endswith(".ora")]) == 3


def test_a_page_that_is_deleted_leaves_its_panels_and_a_plan_is_given_to_what_comes_in(
        client: TestClient) -> None:
    series = client.post("/api/series", json={"title": "Tides"}).json()
    url = f"/api/series/{series['id']}"
    shared = {**series["shared"], "minutes": {"colour": 4, "light": 6}}
    job(client, client.put(f"{url}/shared", json={"shared": shared}))
    job(client, client.post(f"{url}/drawings", files=[("files", ("a.png", png(on_white(
        figure_ink()))))]))
    (member,) = get(client, f"/series/{series['id']}")["members"]
    plan = get(client, f"/pieces/{member['id']}/clock")["plan"]
    assert plan["minutes"] == {"colour": 4, "light": 6}
    job(client, client.post(f"{url}/pages", data={"title": "Page 1"},
                            files={"file": ("a.png", png(on_white(page())))}))
    told = get(client, f"/series/{series['id']}")
    assert len(told["members"]) == 3 and len(told["pages"]) == 1
    assert client.delete(f"/api/pages/{told['pages'][0]['id']}").status_code == 204
    left = get(client, f"/series/{series['id']}")
    assert left["pages"] == [] and [m["page"] for m in left["members"]] == [None] * 3


def test_what_does_not_fit_is_refused_in_words(client: TestClient) -> None:
    series = client.post("/api/series", json={"title": "Rounds"}).json()
    url = f"/api/series/{series['id']}"
    assert said(client.put(f"{url}/order", json={"pieces": [99]}), 404)
    piece = new_piece(client)
    assert said(client.patch(f"/api/pieces/{piece['id']}/place", json={"hold": 2}))
    assert get(client, f"/pieces/{piece['id']}/place") is None
    answer = client.post(f"{url}/drawings", files=[("files", ("a.png", b"no picture"))])
    failed = finished(client, answer.json())
    assert failed["state"] == "failed" and get(client, f"/series/{series['id']}")["members"] == []
    good = png(on_white(figure_ink()))
    some = finished(client, client.post(f"{url}/drawings", files=[
        ("files", ("a.png", b"no picture")), ("files", ("b.png", good))]).json())
    assert some["state"] == "done" and "a:" in some["problem"]["detail"]
    assert [m["title"] for m in get(client, f"/series/{series['id']}")["members"]] == ["b"]
    ink = np.zeros((400, 300), np.uint8)
    cv2.circle(ink, (150, 200), 2, 255, -1)
    failed = finished(client, client.post(f"{url}/pages", data={"title": "Blank"}, files={
        "file": ("a.png", png(transparent(ink)))}).json())
    assert failed["state"] == "failed" and failed["problem"]["detail"], failed
    assert said(client.get("/api/pages/77"), 404) and said(client.delete("/api/pages/77"), 404)
