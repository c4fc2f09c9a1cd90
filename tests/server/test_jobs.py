"""Long work: what became of it is known, also after a restart; it leaves nothing half done."""

import threading
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.drawings import figure_ink, png, transparent
from tests.server.steps import finished, import_file, new_piece, said
from wardrobe.core.errors import WardrobeError
from wardrobe.server.app import create_app
from wardrobe.server.db.jobs import JobRecord, JobRepository
from wardrobe.server.db.session import open_database
from wardrobe.server.jobs import CancelledError, Job, JobRunner
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio


def serving(settings: Settings) -> TestClient:
    return TestClient(create_app(settings), base_url="http://127.0.0.1")


def records_of(path: Path) -> JobRepository:
    return JobRepository(open_database(path / "wardrobe.sqlite3")[1])


def test_jobs_are_known_after_a_restart(settings: Settings) -> None:
    with serving(settings) as client:
        piece = new_piece(client)
        url = f"/api/pieces/{piece['id']}/deliveries"
        done = finished(client, client.post(url, json={"format": "png"}).json())
        failed = finished(client, client.post(url, json={"format": "outlines"}).json())
        assert (done["state"], failed["state"]) == ("done", "failed")
    # A server that is killed leaves rows that say that work goes on.
    records = records_of(settings.data_dir)
    for state in ("waiting", "running"):
        records.put(JobRecord(f"killed-{state}", "import", state))
    with serving(settings) as client:
        again = client.get(f"/api/jobs/{done['id']}").json()
        assert again["state"] == "done" and again["progress"] == 1
        assert again["file_name"] == done["file_name"] and again["piece"] == done["piece"]
        assert "Deliver it again" in said(client.get(f"/api/jobs/{done['id']}/file"), 404)
        assert client.get(f"/api/jobs/{failed['id']}").json()["problem"] == failed["problem"]
        for state in ("waiting", "running"):
            stopped = client.get(f"/api/jobs/killed-{state}").json()
            assert stopped["state"] == "failed"
            assert "Start it again" in stopped["problem"]["detail"]
            assert client.delete(f"/api/jobs/killed-{state}").status_code == 204
        said(client.get("/api/jobs/never"), 404)


def test_a_second_server_on_the_folder_takes_nobody_s_work_for_stopped(
        settings: Settings) -> None:
    with serving(settings) as client:
        studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
        going = threading.Event()
        job = studio.jobs.start("import", lambda job: [going.wait(20), None][1])
        second = Studio(settings)
        assert client.get(f"/api/jobs/{job.id}").json()["state"] in ("waiting", "running")
        record = records_of(settings.data_dir).get(job.id)
        assert record is not None and record.state == "waiting"
        second.close()
        going.set()
        assert finished(client, {"id": job.id, "state": "running"})["state"] == "done"


@pytest.mark.parametrize(("ends", "state"), [
    (None, "done"), (CancelledError(), "cancelled"), (WardrobeError("It did not fit."), "failed"),
    (OSError(28, "No space left on device"), "failed"), (MemoryError(), "failed"),
    (ZeroDivisionError(), "failed")])
def test_each_way_to_end_is_told_and_the_upload_is_gone(
        tmp_path: Path, ends: BaseException | None, state: str) -> None:
    runner = JobRunner(records_of(tmp_path))
    upload = tmp_path / "upload.png"
    upload.write_bytes(b"as it came")

    def work(job: Job) -> None:
        job.report(0.5, "Working")
        job.piece = 7
        if ends:
            raise ends

    job = runner.start("import", work, upload)
    for _ in range(200):
        record = records_of(tmp_path).get(job.id)
        if record and record.state == state:
            break
        threading.Event().wait(0.05)
    assert job.state == state == runner.get(job.id).state
    assert record and record.state == state and record.piece == 7
    assert not upload.exists()
    assert (record.problem is not None) == (state == "failed")
    if state == "failed":
        assert "Traceback" not in str(record.problem) and record.problem["status"] >= 400
    runner.close()


def test_a_cancelled_import_leaves_no_piece_and_no_file(client: TestClient) -> None:
    """Cancelled at each report that it makes on its way."""
    studio: Studio = client.app.state.studio  # type: ignore[attr-defined]
    new_piece(client)
    before, started = len(client.get("/api/pieces").json()), Job.report
    reports: list[float] = []

    def until(limit: int) -> None:
        def report(self: Job, progress: float, doing: str | None = None) -> None:
            reports.append(progress)
            if len(reports) > limit:
                self.cancel()
            started(self, progress, doing)
        Job.report = report  # type: ignore[method-assign]

    try:
        for limit in range(1, 9):
            reports.clear()
            until(limit)
            ended = import_file(client, png(transparent(figure_ink())))
            if ended["state"] == "done":
                break
            assert ended["state"] == "cancelled" and ended["piece"] is None
            assert len(client.get("/api/pieces").json()) == before
            assert not [f for f in studio.scratch.folder.rglob("*")
                        if f.is_file() and f.name != ".lock"]
        assert limit > 2
    finally:
        Job.report = started  # type: ignore[method-assign]
