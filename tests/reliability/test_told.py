"""Whatever is refused is refused with a sentence, and a status that is documented."""

import json
from functools import reduce
from pathlib import Path
from urllib.parse import unquote

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.drawings import piece
from tests.server.steps import edit, finished, new_piece, said
from tests.server.test_layered import taken_in
from wardrobe.core.formats.tokens import CardColour
from wardrobe.recipe.document.lighting import TouchUp
from wardrobe.recipe.document.look import Look
from wardrobe.recipe.document.model import (
    Frame,
    OpenGap,
    Part,
    Recipe,
    Source,
    check_families,
    hidden,
)
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
from wardrobe.recipe.exchange.card import checked
from wardrobe.server.db.session import DataFolderError
from wardrobe.server.run import serve
from wardrobe.server.settings import Settings

HALF = "coat \\ud800"  # in JSON: half of a character


NOT_NAMES = ["", "  ", HALF, "a\\u0000b", "\\u202e", "x" * 900]


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


@pytest.mark.parametrize("host", ["evil.example", "[::1", "[", "a@127.0.0.1@b", "127.0.0.1.evil",
                                  ""])
def test_only_this_machine_s_names_are_answered(client: TestClient, host: str) -> None:
    said(client.get("/api/pieces", headers={"host": host}), 400)
    for own in ("127.0.0.1:8610", "localhost", "[::1]:80"):
        assert client.get("/api/pieces", headers={"host": own}).status_code == 200


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
    with pytest.raises(EditRefusedError, match=r"(?i)nothing of the drawing"):
        apply(recipe, SetFrame(frame=Frame(crop=(9000, 0, 900, 90))))
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
