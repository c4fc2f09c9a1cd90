"""The pictures of a series, written in their order."""

import zipfile
from collections.abc import Iterator, Sequence
from functools import partial

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.formats.flat import encode_flat
from wardrobe.core.formats.video import write_film
from wardrobe.recipe.edits import EditRefusedError
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.exchange.handout.stickers import (
    StickerFormat,
    figure_alone,
    lay_stickers,
    room_for,
    write_stickers,
)
from wardrobe.recipe.series.film import frames
from wardrobe.recipe.stages.press import press_of
from wardrobe.server.db.series import Member, StoredSeries
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.delivery import StickerLayout
from wardrobe.server.schemas.series import SeriesFile
from wardrobe.server.series import chosen
from wardrobe.server.studio import Studio, file_name

Byte = NDArray[np.uint8]

_BYTES_PER_STACK = 60  # a pixel of the largest picture, while its layers are laid down
_BYTES_PER_PIXEL = 45  # of the largest picture, while it is drawn
_FILM_EDGE = 1080  # px of a film whose size is not said


def write_series(studio: Studio, job: Job, series_id: int, wanted: SeriesFile) -> None:
    """Write a PNG sequence, in an archive, or a film."""
    series = studio.series.get(series_id)
    members = chosen(series, wanted.pieces)
    if not members:
        raise EditRefusedError("There are no pictures in this series yet.")
    form = wanted.format
    if form == "stickers pdf" or form == "stickers png" or form == "cut lines":  # noqa: PLR1714
        _write_stickers(studio, job, series, members, form, wanted.stickers or StickerLayout())
        return
    pictures = [(partial(studio.pieces.recipe, m.id), m.hold) for m in members]

    def report(share: float) -> None:
        job.report(0.02 + 0.96 * share, f"{round(share * len(members))} of {len(members)} pictures")

    sequence = form == "png frames"
    edge = wanted.long_edge or (None if sequence else _FILM_EDGE)
    suffix = "zip" if sequence else form
    path = studio.scratch.folder / f"{job.id}.{suffix}"
    drawn = frames(studio.deriver, pictures, edge, report)
    largest = max(w * h for w, h in (studio.overview.of(m).size for m in members))
    with studio.memory.reserved(_BYTES_PER_PIXEL * largest, job.check), \
            replacing(path) as temporary:
        if form == "png frames":
            with zipfile.ZipFile(temporary, "w") as archive:
                number = 1
                for picture, hold in drawn:
                    png = encode_flat(picture, "png", 72)
                    for _ in range(hold):
                        archive.writestr(f"{file_name(series.title)}-{number:04d}.png", png)
                        number += 1
        else:
            write_film(temporary, form, drawn, round(series.shared.fps))
    job.file, job.file_name = path, f"{file_name(series.title)}.{suffix}"


def _write_stickers(studio: Studio, job: Job, series: StoredSeries, members: Sequence[Member],
                    form: StickerFormat, layout: StickerLayout) -> None:
    """The figures of several pictures on one sheet: the paper and press of the first of them."""
    delivery = studio.pieces.recipe(members[0].id).delivery
    paper = delivery.paper.paper()
    largest = max(w * h for w, h in (studio.overview.of(m).size for m in members))
    suffix = {"stickers pdf": "pdf", "stickers png": "png"}.get(form, "svg")
    path = studio.scratch.folder / f"{job.id}.{suffix}"

    def figures() -> Iterator[Byte]:
        for k, m in enumerate(members):
            job.report(0.55 * k / len(members), f"{m.title}, {k + 1} of {len(members)}")
            yield figure_alone(studio.deriver, studio.pieces.recipe(m.id))

    room = _BYTES_PER_STACK * largest + room_for(paper, delivery.dpi)
    with studio.memory.reserved(room, job.check), replacing(path) as temporary:
        made = lay_stickers(figures(), len(members), paper, delivery.dpi, layout.wish(),
                            lambda share: job.report(0.95 * share, "Laying figures out"))
        write_stickers(temporary, made, form, paper, series.title, delivery.dpi,
                       press_of(delivery.press, studio.store.load))
    ending = "cut-lines" if suffix == "svg" else "stickers"
    job.file, job.file_name = path, f"{file_name(series.title)}-{ending}.{suffix}"
