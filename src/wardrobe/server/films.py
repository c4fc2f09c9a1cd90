"""The pictures of a series, written in their order."""

import zipfile
from functools import partial

from wardrobe.core.formats.flat import encode_flat
from wardrobe.core.formats.video import write_film
from wardrobe.recipe.edits import EditRefusedError
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.series.film import frames
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.series import SeriesFile
from wardrobe.server.series import chosen
from wardrobe.server.studio import Studio, file_name

_BYTES_PER_PIXEL = 45  # of the largest picture, while it is drawn
_FILM_EDGE = 1080  # px of a film whose size is not said


def write_series(studio: Studio, job: Job, series_id: int, wanted: SeriesFile) -> None:
    """Write a PNG sequence, in an archive, or a film."""
    series = studio.series.get(series_id)
    members = chosen(series, wanted.pieces)
    if not members:
        raise EditRefusedError("There are no pictures in this series yet.")
    pictures = [(partial(studio.pieces.recipe, m.id), m.hold) for m in members]

    def report(share: float) -> None:
        job.report(0.02 + 0.96 * share, f"{round(share * len(members))} of {len(members)} pictures")

    sequence = wanted.format == "png frames"
    edge = wanted.long_edge or (None if sequence else _FILM_EDGE)
    suffix = "zip" if sequence else wanted.format
    path = studio.scratch.folder / f"{job.id}.{suffix}"
    drawn = frames(studio.deriver, pictures, edge, report)
    largest = max(w * h for w, h in (studio.overview.of(m).size for m in members))
    with studio.memory.reserved(_BYTES_PER_PIXEL * largest, job.check), \
            replacing(path) as temporary:
        if wanted.format == "png frames":
            with zipfile.ZipFile(temporary, "w") as archive:
                number = 1
                for picture, hold in drawn:
                    png = encode_flat(picture, "png", 72)
                    for _ in range(hold):
                        archive.writestr(f"{file_name(series.title)}-{number:04d}.png", png)
                        number += 1
        else:
            write_film(temporary, wanted.format, drawn, round(series.shared.fps))
    job.file, job.file_name = path, f"{file_name(series.title)}.{suffix}"
