"""Files from outside are read in processes that keep to their bounds, and can be stopped."""

import io
import os
import threading
import time
import zipfile
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.drawings import figure_ink, on_white, png
from tests.server.steps import finished, import_file, new_piece
from wardrobe.core.errors import ImageLimitError, UnreadableImageError
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.server.apart import Apart, Bounds
from wardrobe.server.app import create_app
from wardrobe.server.memory import BusyError
from wardrobe.server.scratch import Scratch
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio

NOISE = ('<filter id="f"><feTurbulence baseFrequency="0.4" numOctaves="9999"/></filter>'
         '<rect width="100" height="100" filter="url(#f)"/>')


THICK = ('<filter id="f"><feMorphology operator="dilate" radius="60"/></filter>'
         '<rect width="99" height="99" filter="url(#f)"/>' * 40)


PATHS = "".join(f'<path stroke="#000" stroke-width="90" fill="none" d="M0 0'
                f'{" Q 99 7 1 9 T 90 90" * 60}" opacity=".5"/>' for _ in range(20_000))


def svg(body: str, head: str = 'viewBox="0 0 100 100"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{body}</svg>'.encode()


def workers() -> set[int]:
    """Processes that read apart for this one."""
    found = set()
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            told, parent = (folder / "cmdline").read_bytes(), (folder / "stat").read_text()
        except OSError:
            continue
        if b"apart.worker" in told and int(parent.rpartition(")")[2].split()[1]) == os.getpid():
            found.add(int(folder.name))
    return found


@pytest.mark.parametrize("drawing", [
    svg(NOISE), svg(THICK), svg(PATHS), svg("<rect/>", f'width="{"9" * 20_000}x" height="5"'),
    svg(f'<rect fill="url({" " * 200_000}"/>')],
    ids=["noise", "thick", "paths", "digits", "blanks"])
def test_an_svg_that_asks_for_minutes_is_given_up(tmp_path: Path, drawing: bytes) -> None:
    settings = Settings(data_dir=tmp_path / "data", read_seconds=1)
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        job = import_file(client, drawing)
        assert job["state"] == "failed" and job["problem"]["status"] in (413, 415), job
        assert "omething" not in job["problem"]["detail"]
        assert import_file(client, png(on_white(figure_ink(200))))["state"] == "done"


def test_cancelled_means_cancelled(tmp_path: Path) -> None:
    settings = Settings(data_dir=tmp_path / "data", read_seconds=600)
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as client:
        jobs = [client.post("/api/pieces", files={"file": ("a.svg", svg(NOISE))},
                            data={"title": "Long"}).json() for _ in range(3)]
        while not any(client.get(f"/api/jobs/{j['id']}").json()["doing"] for j in jobs):
            time.sleep(0.02)
        busy = workers()
        for job in jobs:
            client.delete(f"/api/jobs/{job['id']}")
        assert {finished(client, job)["state"] for job in jobs} == {"cancelled"}
        assert import_file(client, png(on_white(figure_ink(200))))["state"] == "done"
        # An answer in time would be no proof that the work has ended.
        assert busy and not busy & workers()
        # Closing does not wait for what is still going on, either.
        client.post("/api/pieces", files={"file": ("a.svg", svg(NOISE))}, data={"title": "Long"})
    assert not [t for t in threading.enumerate() if t.name.startswith("job") and t.is_alive()]


def test_reading_apart_keeps_to_its_memory_and_serves_again(tmp_path: Path) -> None:
    apart, tight = Apart(1), Bounds(most_bytes=400_000_000)
    small, large = tmp_path / "a.png", tmp_path / "b.png"
    small.write_bytes(png(on_white(figure_ink(100))))
    large.write_bytes(encode_png(np.zeros((9000, 8000, 4), np.uint8)))
    limits = Settings(data_dir=tmp_path).limits
    try:
        assert apart.run("picture", small, limits, 100).width == 100
        (first,) = workers_of(apart)
        for _ in range(2):
            with pytest.raises(ImageLimitError, match=r"0\.4 GB of memory"):
                apart.run("picture", large, limits, 100, bounds=tight)
        with pytest.raises(UnreadableImageError, match="empty"):
            (tmp_path / "c.png").write_bytes(b"")
            apart.run("picture", tmp_path / "c.png", limits, 100)
        assert apart.run("picture", small, limits, 100).height == 100
        # A process that has been killed from outside is replaced.
        (second,) = workers_of(apart)
        os.kill(second, 9)
        time.sleep(0.1)
        read = apart.run("picture", small, limits, 100, bounds=tight)
        assert read.png.startswith(b"\x89PNG") and first
    finally:
        apart.close()
    assert not workers_of(apart)


def test_a_reader_that_does_not_start_is_told(tmp_path: Path,
                                              monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("sys.executable", "/bin/false")
    (tmp_path / "a.png").write_bytes(png(on_white(figure_ink(100))))
    with pytest.raises(BusyError, match="did not start"):
        Apart(1).run("picture", tmp_path / "a.png", Settings(data_dir=tmp_path).limits, 100)


def workers_of(apart: Apart) -> list[int]:
    return [w.process.pid for w in apart._idle]


def test_arrays_come_back_as_they_were_read(tmp_path: Path, client: TestClient) -> None:
    """Through shared memory: every layer equals what is read in this process."""
    piece = new_piece(client)
    job = finished(client, client.post(f"/api/pieces/{piece['id']}/deliveries",
                                       json={"format": "ora"}).json())
    data = client.get(f"/api/jobs/{job['id']}/file").content
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    (tmp_path / "a.ora").write_bytes(data)
    opened, flat = studio._read_stack(tmp_path / "a.ora", lambda: None)
    here = read_openraster(io.BytesIO(data))
    for ours, theirs in zip(opened.stack.layers(), here.stack.layers(), strict=True):
        assert ours.name == theirs.name and (ours.pixels == theirs.pixels).all()
    assert (flat == here.merged[..., :3]).all()  # type: ignore[index]
    assert opened.notes == here.notes and opened.dpi == here.dpi


def test_loading_the_compositor_does_not_count_against_a_file(tmp_path: Path) -> None:
    """It takes longer than this file may; on a new machine, where it is compiled, far longer."""
    (tmp_path / "a.ora").write_bytes(layered(
        '<layer name="a" src="a.png"/>' * 3, 64,
        a=encode_png(np.full((64, 64, 4), 200, np.uint8))).getvalue())
    apart = Apart(1)
    try:
        opened, flat = apart.run("stack", tmp_path / "a.ora",
                                 Settings(data_dir=tmp_path).stack_limits, bounds=Bounds(0.5))
        assert len(list(opened.stack.layers())) == 3 and flat.shape == (64, 64, 3)
        assert (flat == flat[0, 0]).all()
    finally:
        apart.close()


def layered(layers: str, size: int, **members: bytes) -> io.BytesIO:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("mimetype", b"image/openraster")
        file.writestr("stack.xml", f'<image w="{size}" h="{size}"><stack>{layers}</stack></image>')
        for name, data in members.items():
            file.writestr(f"{name}.png", data)
    out.seek(0)
    return out


def test_a_member_counts_for_every_layer_that_names_it() -> None:
    once = encode_png(np.zeros((4000, 4000), np.uint8))
    with pytest.raises(ImageLimitError, match="320 million pixels together"):
        read_openraster(layered('<layer name="a" src="a.png"/>' * 20, 4000, a=once))
    groups = '<stack name="g"><layer name="a" src="a.png"/></stack>' * 160
    with pytest.raises(ImageLimitError, match="161 groups"):
        read_openraster(layered(groups, 4000, a=encode_png(np.zeros((8, 8), np.uint8))))


def test_an_upload_waits_on_disk_and_is_gone_when_its_job_has_ended(client: TestClient) -> None:
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    hold = threading.Event()
    for _ in range(2):
        studio.jobs.start("wait", lambda job: (hold.wait(30), None)[1])
    jobs = [client.post("/api/pieces", files={"file": ("a.png", b"\x89PNG" + bytes(1_000_000))},
                        data={"title": "Queued"}).json() for _ in range(5)]
    waiting = [p for p in studio.scratch.folder.iterdir() if p.name.startswith("upload-")]
    assert len(waiting) == 5 and all(p.stat().st_size == 1_000_004 for p in waiting)
    hold.set()
    assert {finished(client, job)["state"] for job in jobs} == {"failed"}
    assert not [p for p in studio.scratch.folder.iterdir() if p.name.startswith("upload-")]


def test_an_upload_that_is_too_large_leaves_nothing(tmp_path: Path) -> None:
    scratch = Scratch(tmp_path / "scratch")
    with pytest.raises(ImageLimitError, match="larger than 2 MB"):
        scratch.keep(io.BytesIO(bytes(3 * 2**20)), 2 * 2**20)
    assert [p.name for p in scratch.folder.iterdir()] == [".lock"]
    kept = scratch.keep(io.BytesIO(b"drawing"), 7)
    assert kept.read_bytes() == b"drawing"
    scratch.close()
    assert not kept.exists()
