"""What a batch is made of: pictures, and the stages that are wanted of each."""

import hashlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import fsspec

from wardrobe.batch.task import STAGES, StageName, Task
from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.images import DEFAULT_LONG_EDGE

DRAWINGS = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".svg")


@dataclass(frozen=True)
class Picture:
    """A picture of a batch, before stages are wanted of it; see :class:`Task`."""

    name: str
    recipe: str | None = None
    drawing: str | None = None
    sources: tuple[str, ...] = ()
    assets: tuple[tuple[str, str], ...] = ()
    shared: str = "{}"
    scene: str = ""
    long_edge: int = DEFAULT_LONG_EDGE


def stages_of(names: Iterable[str]) -> tuple[StageName, ...]:
    """The stages of these names, in the order of the work.

    Raises
    ------
    WardrobeError
        If there is none, or no such stage.
    """
    wanted = [n.strip() for n in names if n.strip()]
    unknown = set(wanted) - set(STAGES)
    if unknown or not wanted:
        raise WardrobeError(f"“{', '.join(sorted(unknown)) or 'nothing'}” is no stage; "
                            f"{', '.join(STAGES)} are.")
    return tuple(s for s in STAGES if s in wanted)


def tasks_of(picture: Picture, stages: Sequence[StageName], folder: str) -> list[Task]:
    """The tasks of a picture, each going on from the one before."""
    told = digest_of(picture.drawing) if picture.drawing else ""
    return [Task(stage, picture.name, folder, picture.recipe, picture.drawing, told,
                 picture.sources, picture.assets, picture.shared, picture.scene,
                 picture.long_edge) for stage in stages]


def digest_of(address: str) -> str:
    """SHA-256 of a file, wherever it is."""
    with fsspec.open(address, "rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def drawings_in(folder: str) -> list[str]:
    """Addresses of the drawings in a folder, by their names.

    Raises
    ------
    WardrobeError
        If it is no folder, or holds none.
    """
    system, root = fsspec.core.url_to_fs(folder)
    if not system.isdir(root):
        raise WardrobeError(f"{folder} is no folder.")
    found = sorted(f for f in system.ls(root, detail=False)
                   if str(f).lower().endswith(DRAWINGS))
    if not found:
        raise WardrobeError(f"There is no drawing in {folder}: {', '.join(DRAWINGS)}.")
    return [system.unstrip_protocol(f) for f in found]


def named(addresses: Sequence[str]) -> list[str]:
    """Names of pictures by their files, each another."""
    found: list[str] = []
    for address in addresses:
        stem = address.rsplit("/", 1)[-1].rsplit(".", 1)[0] or "picture"
        name, k = stem, 2
        while name in found:
            name, k = f"{stem}-{k}", k + 1
        found.append(name)
    return found
