"""Files that are damaged or ask for too much are refused with a sentence each."""

import io
import json
import zipfile
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given
from hypothesis import settings as trials
from hypothesis import strategies as st

from tests.drawings import figure_ink, on_white, piece, png, transparent
from tests.server.steps import finished, import_file, said
from tests.server.test_layered import as_file, taken_in
from wardrobe.core.errors import UnreadableImageError, WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.formats.svg import rasterise_svg
from wardrobe.core.stack.model import Layer, Stack, Tint
from wardrobe.core.stack.naming import Names
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.exchange.archive import PieceFacts, read_archive, write_archive
from wardrobe.recipe.exchange.layered.begin import TooManyFlatsError
from wardrobe.server.app import create_app
from wardrobe.server.settings import Settings


def archive_of(recipe: Recipe, path: Path, source: bytes, **changes: str) -> Path:
    """An archive whose members are changed afterwards."""
    write_archive(path, PieceFacts(title="Kite"), recipe, (), (), lambda name: source, {})
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
    ({"frame": '{"crop": [0, 0, 9000, 9000]}'}, "so much room"),
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
