"""Pieces as archives from a shell."""

import shutil
from pathlib import Path

from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.exchange.files import replacing
from wardrobe.server.arrivals import restore
from wardrobe.server.deliveries import deliver_piece
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.delivery import DeliveryRequest
from wardrobe.server.settings import Settings
from wardrobe.server.studio import Studio


def archive_piece(settings: Settings, piece: str, out: Path) -> None:
    """Write a piece as one archive.

    Parameters
    ----------
    settings : Settings
    piece : str
        Its number, or its title.
    out : Path

    Raises
    ------
    WardrobeError
        If there is no such piece, or more than one of that title.
    """
    _check_folder(settings)
    studio = Studio(settings)
    try:
        found = [c for c in studio.pieces.all()
                 if piece in (str(c.id), c.title) or c.title.casefold() == piece.casefold()]
        if len(found) != 1:
            known = ", ".join(f"{c.id} “{c.title}”" for c in studio.pieces.all()) or "none"
            what = "more than one piece" if found else "no piece"
            raise WardrobeError(f"There is {what} called “{piece}”. There are: {known}.")
        job = Job("shell", "archive")
        deliver_piece(studio, job, found[0].id, DeliveryRequest(format="archive"))
        assert job.file is not None
        with replacing(out) as path:
            shutil.copyfile(job.file, path)
        job.file.unlink()
        print(f"“{found[0].title}”: {out.stat().st_size / 1e6:.1f} MB")
    finally:
        studio.close()


def restore_piece(settings: Settings, file: Path) -> None:
    """Bring a piece back from its archive, as a new piece.

    Raises
    ------
    WardrobeError
        With a message for the user; nothing has changed then.
    """
    studio = Studio(settings)
    try:
        job = Job("shell", "restore")
        restore(studio, job, file)
        assert job.piece is not None
        print(f"piece {job.piece}: “{studio.pieces.get(job.piece).title}”")
    finally:
        studio.close()


def _check_folder(settings: Settings) -> None:
    if not (settings.data_dir / "wardrobe.sqlite3").exists():
        raise WardrobeError(f"There are no pieces in {settings.data_dir}; give --data-dir.")
