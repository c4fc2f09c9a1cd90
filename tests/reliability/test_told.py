"""Whatever is refused is refused with a sentence, and a status that is documented."""

import io
import json
import zipfile
from functools import reduce
from pathlib import Path
from typing import Any
from urllib.parse import unquote

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given
from hypothesis import settings as trials
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.drawings import figure_ink, on_white, piece, png, transparent
from tests.server.steps import edit, finished, import_file, new_piece
from tests.server.test_layered import as_file, taken_in
from wardrobe.core.errors import UnreadableImageError, WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.formats.svg import rasterise_svg
from wardrobe.core.formats.tokens import CardColour
from wardrobe.core.stack.model import Layer, Stack, Tint
from wardrobe.core.stack.naming import Names
from wardrobe.recipe.archive import PieceFacts, read_archive, write_archive
from wardrobe.recipe.card import checked
from wardrobe.recipe.edits import (
    AddLook,
    AddPart,
    ClaimAreas,
    EditRefusedError,
    LeaveOpen,
    SetFrame,
    TouchUpPass,
    apply,
)
from wardrobe.recipe.layered.begin import TooManyFlatsError
from wardrobe.recipe.lighting import TouchUp
from wardrobe.recipe.looks.look import Look
from wardrobe.recipe.model import Frame, OpenGap, Part, Recipe, Source, check_families, hidden
from wardrobe.server.app import create_app
from wardrobe.server.db.session import DataFolderError
from wardrobe.server.run import serve
from wardrobe.server.settings import Settings

HALF = "coat \\ud800"  # in JSON: half of a character
NOT_NAMES = ["", "  ", HALF, "a\\u0000b", "\\u202e", "x" * 900]


def said(answer: Any, *statuses: int) -> str:
    """The sentence of a refusal."""
    assert answer.status_code in (statuses or (422,)), answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    body = answer.json()
    assert body["status"] == answer.status_code and body["title"]
    assert len(body["detail"]) > 8 and "omething" not in body["detail"]
    return str(body["detail"])


@pytest.mark.parametrize("name", NOT_NAMES)
@pytest.mark.parametrize(("path", "body"), [
    ("/api/characters", '{{"name": "{name}"}}'),
    ("/api/characters", '{{"name": "A", "card": [{{"name": "{name}", "colour": "#fff"}}]}}'),
    ("/api/characters", '{{"name": "A", "card": [{{"name": "a", "colour": "{name}"}}]}}'),
    ("/api/name-sets", '{{"name": "{name}", "parts": []}}'),
    ("/api/name-sets", '{{"name": "A", "parts": [{{"name": "{name}"}}]}}'),
    ("/api/stack-templates", '{{"name": "{name}", "piece": 1}}')])
def test_names_that_do_not_show_are_refused_and_nothing_is_kept(
        client: TestClient, path: str, body: str, name: str) -> None:
    said(client.post(path, content=body.format(name=name),
                     headers={"content-type": "application/json"}))
    assert client.get(path).json() == []


def test_names_are_kept_composed(client: TestClient) -> None:
    """U+0045 U+0301 is U+00C9: Unicode Standard Annex 15."""
    made = client.post("/api/characters", json={
        "name": "  E\u0301mile   Tam ", "card": [{"name": "E\u0301toile", "colour": "#FFF"}]})
    assert made.status_code == 201 and made.json()["name"] == "Émile Tam"
    assert made.json()["card"][0] | {"name": "Étoile", "colour": "#ffffff"} \
        == made.json()["card"][0]
    for file in (b"part,colour\nca/pe,#123456\n", b'{"a": {"b\\ud800": {"$type": "color", '
                 b'"$value": "#123456"}}}'):
        detail = said(client.post("/api/characters/import", files={"file": ("c", file)},
                                  data={"name": "A"}))
        assert "cannot be on a card" in detail
    with pytest.raises(ValueError, match="not a colour"):
        checked(CardColour("coat", "reddish"))


def test_every_id_is_bounded(client: TestClient) -> None:
    """For all operations of the API's own description."""
    described = client.get("/api/openapi.json").json()
    tried = 0
    for path, operations in described["paths"].items():
        for method, operation in operations.items():
            ids = [p for p in operation.get("parameters", [])
                   if p["in"] == "path" and p["schema"].get("type") == "integer"]
            for number in (2**63, -2**63, 10**400):
                if not ids or (number == 10**400 and method != "get"):
                    continue
                address = path
                for parameter in operation["parameters"]:
                    address = address.replace(f"{{{parameter['name']}}}", str(number)
                                              if parameter in ids else "json")
                said(client.request(method, address, json={}))
                tried += 1
            assert {"404", "409", "413", "415", "422"} <= set(operation["responses"])
            assert operation["responses"]["422"]["$ref"].endswith("Refused422")
    assert tried > 80
    big = json.dumps({"seen": 1}).replace("1", str(2**80))
    said(client.post("/api/pieces/1/undo", content=big,
                     headers={"content-type": "application/json"}))


def test_broken_json_says_where(client: TestClient) -> None:
    detail = said(client.post("/api/characters", content=b'{"name": "A",\n  "card": [}',
                              headers={"content-type": "application/json"}))
    assert detail.startswith("Line 2, column 12: ")


@pytest.mark.parametrize("method", ["POST", "PUT", "PATCH", "DELETE"])
def test_a_page_of_another_site_changes_nothing(client: TestClient, method: str) -> None:
    """Fetch Metadata Request Headers, W3C working draft: Sec-Fetch-Site."""
    for site in ("cross-site", "same-site"):
        said(client.request(method, "/api/characters/1", headers={"sec-fetch-site": site}), 403)
    for site in ("same-origin", "none"):
        assert client.request(method, "/api/characters/1", json={"name": "A"}, headers={
            "sec-fetch-site": site}).status_code != 403


def test_every_answer_has_its_headers(client: TestClient) -> None:
    for answer in (client.get("/api/pieces"), client.get("/api/pieces/7"),
                   client.get("/api/nothing"), client.get("/nothing"), client.put("/api/pieces"),
                   client.get("/api/pieces", headers={"host": "evil.example"}),
                   client.get("/assets/none.js"), client.head("/api/pieces")):
        assert "default-src 'self'" in answer.headers["content-security-policy"], answer
        assert answer.headers["x-content-type-options"] == "nosniff"


def test_head_is_get_without_the_body(client: TestClient) -> None:
    """RFC 9110, section 9.3.2."""
    new_piece(client)
    for path in ("/api/pieces", "/api/pieces/1", "/api/pieces/1/card", "/api/pieces/99"):
        head, get = client.head(path), client.get(path)
        assert head.status_code == get.status_code and head.content == b""
        assert head.headers["content-length"] == str(len(get.content))


def test_a_length_that_is_no_number_is_refused(client: TestClient) -> None:
    for length in ("-1", "1e3", "٣", "9" * 400):
        answer = client.post("/api/characters", content=b"{}",
                             headers=[("content-length", length.encode())])  # type: ignore[list-item]
        assert answer.status_code in (400, 413)


def archive_of(recipe: Recipe, path: Path, source: bytes, **changes: str) -> Path:
    """An archive whose members are changed afterwards."""
    write_archive(path, PieceFacts(title="Kite"), recipe, (), lambda name: source, {})
    if changes:
        with zipfile.ZipFile(path) as archive:
            members = {name: archive.read(name) for name in archive.namelist()}
        del members["history.json"]
        members["recipe.json"] = json.dumps(
            json.loads(members["recipe.json"]) | {k: json.loads(v) for k, v in changes.items()}
        ).encode()
        with zipfile.ZipFile(path, "w") as archive:
            for name, data in members.items():
                archive.writestr(name, data)
    return path


CHAIN = json.dumps([{"id": f"p{k}", "name": f"n{k}", "base": "#fff",
                     "parent": f"p{k - 1}" if k > 1 else None} for k in range(1, 901)])


@pytest.mark.parametrize(("changes", "says"), [
    ({"parts": CHAIN}, "at most 200"),
    ({"frame": '{"crop": [0, 0, 9000, 9000]}'}, "beyond the picture"),
    ({"frame": '{"crop": [5, 5, -3, 90]}'}, "at least 64 px"),
    ({"schema_version": "7"}, "another version"),
    ({"light": '{"azimuth": 1e999}'}, "azimuth"),
    ({"claims": "[" * 300 + "]" * 300}, "recipe.json")])
def test_archives_that_ask_for_too_much_say_what(tmp_path: Path, changes: dict[str, str],
                                                 says: str) -> None:
    source = png(transparent(figure_ink()))
    _, recipe = named(source)
    path = archive_of(recipe, tmp_path / "a.zip", source, **changes)
    with pytest.raises(WardrobeError) as refused:
        read_archive(path)
    assert says in refused.value.message


def named(source: bytes) -> tuple[bytes, Recipe]:
    """A recipe that names the source as an archive does."""
    import hashlib

    _, recipe = piece()
    name = hashlib.sha256(source).hexdigest()
    return source, recipe.model_copy(update={
        "source": Source(asset=name, width=480, height=480)})


@pytest.mark.parametrize("method", [zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA])
def test_unusual_packing_is_told(method: int, tmp_path: Path) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as archive:
        for name in ("piece.json", "mimetype", "stack.xml"):
            archive.writestr(name, b"{}" * 50)
    for read in (read_archive, read_openraster):
        out.seek(0)
        with pytest.raises(UnreadableImageError, match="ordinary ZIP compression"):
            read(out)


def damaged(data: bytes) -> st.SearchStrategy[bytes]:
    """A file with a few bytes changed, a stretch left out, or one said twice."""
    places = st.integers(0, len(data) - 1)

    def spoil(how: tuple[int, int, bytes, int]) -> bytes:
        at, length, new, kind = how
        if kind == 0:
            return data[:at] + new + data[at + len(new):]
        return data[:at] + data[at + length:] if kind == 1 \
            else data[:at + length] + data[at:]

    return st.tuples(places, st.integers(0, 400), st.binary(min_size=1, max_size=12),
                     st.integers(0, 2)).map(spoil)


SVG_FILE = (b'<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="12.5e0cm" '
            b'viewBox="0 0 64 80"><defs><filter id="g"><feMorphology radius="1"/></filter></defs>'
            b'<path d="M5 5h50v60H5z" fill="none" stroke="#000" filter="url(&quot;#g&quot;)"/>'
            b'</svg>')
SMALL = Stack(64, 64, [Layer("coat", Tint(np.full((64, 64), 200, np.uint8), (9, 80, 90)))])


@trials(max_examples=150, suppress_health_check=list(HealthCheck))
@given(st.one_of(damaged(SVG_FILE), damaged(png(on_white(figure_ink(64)))),
                 damaged(as_file(SMALL))))
def test_damaged_files_are_refused_in_words_or_read(data: bytes) -> None:
    for read in (lambda: decode_image(data, ImageLimits(), 64),
                 lambda: read_openraster(io.BytesIO(data)),
                 lambda: read_archive(io.BytesIO(data))):
        try:
            read()
        except WardrobeError as error:
            assert len(error.message) > 10 and "omething" not in error.message


@pytest.mark.parametrize(("head", "says"), [
    ('viewBox="0 0 1-2 5"', "four numbers"), ('viewBox="0 0 64"', "four numbers"),
    ('viewBox="0 0 1e9999 64"', "usable"), ('viewBox="0 0 nan 64"', "usable"),
    ('width="0" height="64"', "usable"), ("", "neither")])
def test_sizes_of_svgs_that_are_none_are_told(head: str, says: str) -> None:
    with pytest.raises(UnreadableImageError, match=says):
        rasterise_svg(f'<svg xmlns="http://www.w3.org/2000/svg" {head}/>'.encode(), 64,
                      ImageLimits(shortest_edge=1))


@pytest.mark.parametrize(("value", "taken"), [
    ("url(#g)", True), ("url('#g')", True), ("url(&quot;#g&quot;)", True),
    ("url( &quot; #g&quot;)", True), ("url(http://a.example/#g)", False), ("url(g)", False),
    ("url('data:x')", False), ("URL( \n g)", False), ("@import 'a'", False)])
def test_references_inside_the_file_are_taken_others_not(value: str, taken: bool) -> None:
    """SVG 2, section 16.1: a same-document reference is a fragment alone."""
    drawing = (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64"><linearGradient '
               f'id="g"><stop stop-color="#f00"/></linearGradient><rect width="64" height="64" '
               f'fill="{value}"/></svg>').encode()
    if taken:
        drawn = rasterise_svg(drawing, 64, ImageLimits())
        if " #g" not in value:
            assert tuple(drawn[30, 30]) == (255, 0, 0, 255)
    else:
        with pytest.raises(UnreadableImageError, match="outside itself"):
            rasterise_svg(drawing, 64, ImageLimits())


def flats(names: list[str], columns: int = 17, cell: int = 48) -> Stack:
    """A drawing of boxes, each filled by a flat of its own."""
    rows = -(-len(names) // columns)
    shape = (rows * cell, columns * cell)
    ink = np.zeros(shape, np.uint8)
    layers = []
    for k, name in enumerate(names):
        y, x = k // columns * cell, k % columns * cell
        ink[y + 4:y + cell - 4, x + 4:x + cell - 4] = 255
        ink[y + 9:y + cell - 9, x + 9:x + cell - 9] = 0
        layers.append(Layer(name, Tint(np.full((cell - 14, cell - 14), 255, np.uint8),
                                       (40 + k % 200, 90, 120)), x + 7, y + 7))
    return Stack(shape[1], shape[0], [*layers, Layer("lines", Tint(ink, (20, 20, 20)))])


def test_a_file_of_more_flats_than_parts_is_refused_in_words(client: TestClient) -> None:
    job = taken_in(client, as_file(flats([f"flat {k} of many" for k in range(256)])))
    assert job["state"] == "done", job
    begun = finished(client, client.post(f"/api/layered/{job['layered']}/piece").json())
    assert begun["state"] == "failed" and "more than 200 flats" in begun["problem"]["detail"]
    assert begun["problem"]["title"] == TooManyFlatsError.title


def test_equal_and_growing_names_of_flats_become_parts(client: TestClient) -> None:
    # U+FB1D grows to two characters when composed: composition exclusions, UAX 15.
    names = ["y" * 60, "y" * 60, "Y" * 60, "\ufb1d" * 60, "\ufb1d" * 60, "a/b:c?"]
    job = taken_in(client, as_file(flats(names, 3)))
    begun = finished(client, client.post(f"/api/layered/{job['layered']}/piece").json())
    assert begun["state"] == "done", begun
    parts = client.get(f"/api/pieces/{begun['piece']}").json()["recipe"]["parts"]
    given_names = [p["name"] for p in parts]
    assert len(given_names) == 6 == len({n.casefold() for n in given_names})
    assert max(map(len, given_names)) <= 60


@given(st.lists(st.text("aB é", min_size=1, max_size=12), max_size=60), st.integers(8, 12))
def test_unique_names_fit(names: list[str], longest: int) -> None:
    book = Names(longest=longest)
    found = [book.unique(name[:longest]) for name in names]
    assert len({f.casefold() for f in found}) == len(names)
    assert all(len(f) <= longest for f in found)


def test_titles_of_any_script_are_downloaded(client: TestClient) -> None:
    """RFC 8187, section 3.2.3: the name in UTF-8, percent-encoded."""
    piece = new_piece(client)
    title = "凧揚げ 🪁 Ñandú"
    client.patch(f"/api/pieces/{piece['id']}", json={"title": title})
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                       json={"format": "ora"}).json())
    told = client.get(f"/api/jobs/{job['id']}/file").headers["content-disposition"]
    assert unquote(told.split("''")[1]).startswith("凧揚げ")
    back = taken_in(client, client.get(f"/api/jobs/{job['id']}/file").content, title=title)
    answer = client.get(f"/api/layered/{back['layered']}/file")
    assert answer.status_code == 200
    assert unquote(answer.headers["content-disposition"].split("''")[1]).endswith("ñandú.ora")


def test_gestures_and_edits_beyond_bounds_are_refused_in_words(client: TestClient) -> None:
    made = new_piece(client)
    url = f"/api/pieces/{made['id']}"
    for gesture in ("split", "move border", "join"):
        for stroke in ([[240, 110]], [[1e6, 1e6]], [[-1e6, 1e6], [1e6, -1e6]] * 900):
            body = {"seen": made["revision"], "gesture": gesture, "stroke": stroke}
            answer = client.post(f"{url}/gestures", json=body)
            if answer.status_code != 200:
                said(answer)
            else:
                made = client.post(f"{url}/undo", json={
                    "seen": answer.json()["revision"]}).json()
    far = edit(client, made, kind="claim_areas", to="none",
               strokes=[[[1e6, -1e6], [-1e6, 1e6]]])
    far = edit(client, far, kind="set_frame", frame={"tilt": 40, "turn": 1})
    assert client.get(url).json() == far  # it can be read again


def test_what_a_piece_holds_is_bounded_edit_by_edit() -> None:
    _, recipe = piece()
    gap = OpenGap(ends=((1, 1), (2, 2)), sides=((1, 2), (2, 1)))
    full = recipe.model_copy(update={"left_open": (gap,) * 2000})
    with pytest.raises(EditRefusedError, match="2000 gaps that are left open"):
        apply(full, LeaveOpen(gap=gap))
    # The number of a part after the last one is the first that is free.
    last = recipe.parts[0].model_copy(update={"id": "p999999", "name": "last"})
    more = apply(recipe.model_copy(update={"parts": (*recipe.parts[:2], last)}),
                 AddPart(name="new"))
    assert more.parts[-1].id == "p5"  # claims still name p3 and p4
    looks = (Look(id="k999999", name="last"), Look(id="k1", name="first"))
    dressed = apply(recipe.model_copy(update={"looks": looks}), AddLook(name="new"))
    assert {k.id for k in dressed.looks} == {"k999999", "k1", "k2"}
    with pytest.raises(EditRefusedError, match="beyond the picture"):
        apply(recipe, SetFrame(frame=Frame(crop=(0, 0, 9000, 90))))
    far = apply(recipe, ClaimAreas(to="none", strokes=(((1e6, 1e6), (-1e6, 1e6)),)))
    moved = reduce(apply, [SetFrame(frame=Frame(tilt=t)) for t in (33.0, -12.0)], far)
    assert Recipe.model_validate_json(moved.model_dump_json()) == moved


def ancestors(parents: list[int | None], k: int) -> set[int]:
    found: set[int] = set()
    at = parents[k]
    while at is not None and at not in found:
        found.add(at)
        at = parents[at]
    return found


@given(st.integers(1, 12).flatmap(lambda n: st.tuples(
    st.lists(st.none() | st.integers(0, n - 1), min_size=n, max_size=n),
    st.lists(st.booleans(), min_size=n, max_size=n))))
def test_families_are_what_they_seem(drawn: tuple[list[int | None], list[bool]]) -> None:
    """Against walking up from every part."""
    parents, visible = drawn
    parts = [Part(id=f"p{k}", name=f"n{k}", base="#fff", visible=visible[k],
                  parent=None if parents[k] is None else f"p{parents[k]}")
             for k in range(len(parents))]
    circle = any(k in ancestors(parents, k) for k in range(len(parents)))
    if circle:
        with pytest.raises(ValueError, match="belongs to itself"):
            check_families(parts)
        return
    check_families(parts)
    assert hidden(parts) == {f"p{k}" for k in range(len(parents))
                             if not all(visible[a] for a in {k} | ancestors(parents, k))}
    with pytest.raises(ValidationError, match="not there"):
        Recipe(source=Source(asset="0" * 64, width=9, height=9), parts=(
            *parts, Part(id="p99", name="lost", base="#fff", parent="p98")))


def test_a_start_that_cannot_be_says_why_in_one_line(tmp_path: Path) -> None:
    (tmp_path / "wardrobe.sqlite3").write_bytes(b"not a database" * 500)
    with pytest.raises(DataFolderError, match="damaged and was left as it is"):
        serve(Settings(data_dir=tmp_path, port=0))


def test_a_bad_upload_of_every_kind_is_refused_over_http(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        for data in (b"", b"PK\x05\x06" + bytes(18), b"<svg/>", b"\x89PNG\r\n\x1a\n", b"II*\0"):
            jobs = [import_file(client, data), taken_in(client, data), finished(
                client, client.post("/api/pieces/restore", files={"file": ("a", data)}).json())]
            for job in jobs:
                assert job["state"] == "failed" and job["problem"]["status"] in (413, 415, 422)
                assert len(job["problem"]["detail"]) > 10
            said(client.post("/api/pieces/pictures", files={"file": ("a", data)}), 413, 415, 422)
        assert client.get("/api/pieces").json() == []


def test_touch_ups_are_bounded_by_their_points_together() -> None:
    """400 pen strokes of 150 points must go; 60 of 4,000 are refused."""
    _, recipe = piece()
    stroke = TouchUp(id=1, name="shade", act="put in", azimuth=1, height=40,
                     points=tuple((float(k % 400), 9.0) for k in range(4000)))
    full = recipe.model_copy(update={"touch_ups": tuple(
        stroke.model_copy(update={"id": k + 1}) for k in range(50))})
    more = TouchUpPass(name="shade", act="put in", points=stroke.points)
    with pytest.raises(EditRefusedError, match="200,000 points together; remove some"):
        apply(full, more)
    crowded = full.model_copy(update={"touch_ups": (*full.touch_ups, stroke)})
    with pytest.raises(ValidationError, match="200,000 points"):
        Recipe.model_validate_json(crowded.model_dump_json())
    pen = stroke.model_copy(update={"points": stroke.points[:150]})
    many = recipe.model_copy(update={"touch_ups": (pen,) * 399})
    assert len(apply(many, more).touch_ups) == 400
