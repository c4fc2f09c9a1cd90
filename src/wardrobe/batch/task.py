"""One stage of one picture: a pure task with a key, done by whoever is there."""

import json
import time
from contextlib import suppress
from dataclasses import dataclass
from functools import reduce
from io import BytesIO
from pathlib import Path
from typing import Any, Literal
from uuid import uuid4

import fsspec
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.flat import encode_flat
from wardrobe.core.formats.images import DEFAULT_LONG_EDGE, decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import apply
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.series.carry import carry_over
from wardrobe.recipe.series.shared import Shared, follow
from wardrobe.recipe.stages import Deriver, Store
from wardrobe.recipe.stages.digest import CODE, digest

StageName = Literal["flats", "shade", "deliver"]
STAGES: tuple[StageName, ...] = ("flats", "shade", "deliver")
_STATE = ".batch"  # folder beside the files, of what has been done

Byte = NDArray[np.uint8]


@dataclass(frozen=True)
class Task:
    """A stage of a picture. It holds all that its outcome depends on, and can be pickled.

    Attributes
    ----------
    stage : str
    name : str
        Of the picture, as its files are called.
    folder : str
        Where outcomes are put: a path, or an address that fsspec knows.
    recipe : str or None
        JSON of the picture as it is; None for a drawing that is only coming in.
    drawing : str or None
        Address of that drawing.
    digest : str
        Of the drawing's file, or empty.
    sources : tuple of str
        JSON of the coloured pictures that parts are carried over from, the nearest first.
    assets : tuple of (str, str)
        SHA-256 and address of each picture that recipes name.
    shared : str
        JSON of what the series shares.
    scene : str
    long_edge : int
        px that an SVG is drawn at.
    """

    stage: StageName
    name: str
    folder: str
    recipe: str | None = None
    drawing: str | None = None
    digest: str = ""
    sources: tuple[str, ...] = ()
    assets: tuple[tuple[str, str], ...] = ()
    shared: str = "{}"
    scene: str = ""
    long_edge: int = DEFAULT_LONG_EDGE

    @property
    def key(self) -> str:
        """Names the outcome: by the code, and by everything that it follows from but not by where
        things lie."""
        upto = STAGES[:STAGES.index(self.stage) + 1]
        return digest((CODE, "batch", upto, self.name, self.recipe, self.digest, self.sources,
                       self.shared, self.scene, self.long_edge)).hex()

    def before(self) -> "Task | None":
        """The stage that this one goes on from."""
        at = STAGES.index(self.stage)
        return None if at == 0 else Task(**{**vars(self), "stage": STAGES[at - 1]})


@dataclass(frozen=True)
class Outcome:
    """What became of a task.

    Attributes
    ----------
    key, name, stage : str
    files : tuple of str
        Written, by their names in the folder.
    seconds : float
    sure : float or None
        Share of the figure whose carried part is sure.
    problem : str
        Empty if it was done.
    again : bool
        It had been done before.
    """

    key: str
    name: str
    stage: StageName
    files: tuple[str, ...] = ()
    seconds: float = 0.0
    sure: float | None = None
    problem: str = ""
    again: bool = False


def done_before(task: Task) -> Outcome | None:
    """The outcome of a task that was done, whenever and by whomever."""
    told = _read(task.folder, f"{_STATE}/{task.key}.json")
    if told is None:
        return None
    try:
        found: dict[str, Any] = json.loads(told)
        outcome = Outcome(**{**found, "files": tuple(found["files"]), "again": True})
    except (ValueError, TypeError, KeyError):  # half written by a disk that was full
        return None
    system, root = fsspec.core.url_to_fs(task.folder)
    if task.stage == "deliver" and _read(task.folder, _owner(task)) != task.key.encode():
        return None  # the files are of another state of the picture now
    return outcome if all(system.exists(f"{root}/{f}") for f in outcome.files) else None


def _owner(task: Task) -> str:
    """Where it is told which task the files of a picture's name are of."""
    return f"{_STATE}/{task.name}.owner"


def do(task: Task, artefacts: str | None = None) -> Outcome:
    """Do a task, unless it has been done.

    Parameters
    ----------
    task : Task
    artefacts : str, optional
        A folder that this machine shares with others, for what is worked out on the way.

    Returns
    -------
    Outcome
        With a problem in words where the picture cannot be worked on.
    """
    found = done_before(task)
    if found:
        return found
    begin = time.perf_counter()
    desk = _Desk(task, artefacts)
    try:
        files, sure = _STAGES[task.stage](desk)
    except WardrobeError as error:
        return Outcome(task.key, task.name, task.stage, problem=error.message)
    finally:
        desk.close()
    made = Outcome(task.key, task.name, task.stage, files,
                   round(time.perf_counter() - begin, 3), sure)
    write(task.folder, f"{_STATE}/{task.key}.json", json.dumps(
        {**vars(made), "files": list(files)}).encode())
    return made


class _Desk:
    """What a task works with."""

    def __init__(self, task: Task, artefacts: str | None) -> None:
        self.task = task
        self._places = dict(task.assets)
        self.own: dict[str, Byte] = {}
        self.store = Store(self._load, folder=Path(artefacts) if artefacts else None,
                           capacity=600_000_000)
        self.deriver = Deriver(self.store)

    def _load(self, asset: str) -> Byte:
        if asset in self.own:
            return self.own[asset]
        with fsspec.open(self._places[asset], "rb") as file:
            return decode_image(file.read(), ImageLimits(file_bytes=2**40, shortest_edge=1))

    def close(self) -> None:
        self.store.close()

    def recipe(self) -> Recipe:
        """The picture after the stages before."""
        task = self.task
        if task.recipe is not None and not task.sources:
            return Recipe.model_validate_json(task.recipe)
        first = Task(**{**vars(task), "stage": "flats"})
        kept = _read(task.folder, f"{_STATE}/{first.key}.recipe.json")
        if kept is None:
            do(first)
            kept = _read(task.folder, f"{_STATE}/{first.key}.recipe.json")
        if kept is None:
            raise WardrobeError("Its flats could not be made.")
        if task.drawing is not None:
            self._drawn()
        return Recipe.model_validate_json(kept)

    def _drawn(self) -> Source:
        """The drawing that comes in, decoded."""
        assert self.task.drawing is not None
        with fsspec.open(self.task.drawing, "rb") as file:
            rgba = decode_image(file.read(), ImageLimits(), self.task.long_edge)
        name = digest(("drawing", self.task.digest, self.task.long_edge)).hex().ljust(64, "0")
        self.own[name] = rgba
        return Source(asset=name, width=rgba.shape[1], height=rgba.shape[0])

    def begin(self) -> Recipe:
        """The picture as it comes in, with what is shared and what is seen in it at once."""
        if self.task.recipe is not None:
            return Recipe.model_validate_json(self.task.recipe)
        recipe = Recipe(source=self._drawn())
        following = follow(recipe, Shared.model_validate_json(self.task.shared), self.task.scene)
        if following:
            recipe = apply(recipe, following)
        return reduce(apply, first_edits(self.deriver, recipe), recipe)


def _flats(desk: _Desk) -> tuple[tuple[str, ...], float | None]:
    task = desk.task
    recipe, sure = desk.begin(), None
    edit: dict[str, Any] | None = None
    if task.sources and (recipe.proposed or not recipe.parts):
        found = carry_over(desk.deriver, [Recipe.model_validate_json(s) for s in task.sources],
                           recipe)
        recipe, sure = apply(recipe, found.edit), found.sure
        edit = {"edit": found.edit.model_dump(mode="json"), "sure": sure,
                "doubts": [vars(d) for d in found.doubts]}
    write(task.folder, f"{_STATE}/{task.key}.recipe.json", recipe.model_dump_json().encode())
    if edit:
        write(task.folder, f"{_STATE}/{task.key}.edit.json", json.dumps(edit).encode())
    return (), sure


def _shade(desk: _Desk) -> tuple[tuple[str, ...], float | None]:
    recipe = desk.recipe()
    deriver = desk.deriver
    deriver.shapes(recipe)
    name = f"{_STATE}/{desk.task.key}.png"
    small = deriver.picture(recipe, View.whole(*recipe.size, 480))
    write(desk.task.folder, name, encode_png(small))
    return (name,), None


def _deliver(desk: _Desk) -> tuple[tuple[str, ...], float | None]:
    recipe, task = desk.recipe(), desk.task
    stack = desk.deriver.stack(recipe)
    flat = on_white(flatten(stack))
    out = BytesIO()
    write_openraster(out, stack, flat, recipe.delivery.dpi)
    files = (f"{task.name}.ora", f"{task.name}.png")
    write(task.folder, _owner(task), task.key.encode())
    write(task.folder, files[0], out.getvalue())
    write(task.folder, files[1], encode_flat(flat, "png", recipe.delivery.dpi))
    return files, None


_STAGES = {"flats": _flats, "shade": _shade, "deliver": _deliver}


def carried_edit(task: Task) -> dict[str, Any] | None:
    """What the flats of a picture came to: the edit, how sure it is, and what is doubtful; None
    if nothing was carried over."""
    first = Task(**{**vars(task), "stage": "flats"})
    kept = _read(task.folder, f"{_STATE}/{first.key}.edit.json")
    return None if kept is None else json.loads(kept)


def write(folder: str, name: str, data: bytes) -> None:
    """Put a file in a folder, whole or not at all."""
    system, root = fsspec.core.url_to_fs(folder)
    path = f"{root}/{name}"
    system.makedirs(path.rsplit("/", 1)[0], exist_ok=True)
    half = f"{path}.{uuid4().hex}.half"
    try:
        with system.open(half, "wb") as file:
            file.write(data)
        system.mv(half, path)
    except BaseException:
        with suppress(OSError):
            system.rm(half)
        raise


def _read(folder: str, name: str) -> bytes | None:
    system, root = fsspec.core.url_to_fs(folder)
    try:
        found: bytes = system.cat_file(f"{root}/{name}")
    except (FileNotFoundError, IsADirectoryError):
        return None
    return found
