"""Layered files that come in."""

from typing import Annotated

from pydantic import BaseModel, Field

from wardrobe.recipe.exchange.layered.home import Wishes
from wardrobe.recipe.exchange.layered.take_back import LayerMatch
from wardrobe.recipe.reports.section import Section
from wardrobe.server.schemas.pieces import Id, Revision


class LayeredFile(BaseModel):
    """A layered file that came in, or a repaired version of one."""

    id: int
    title: str
    piece: int | None
    made_from: int | None
    width: int
    height: int
    dpi: float | None
    notes: list[str]
    section: Section


class LayeredCard(BaseModel):
    """A layered file in a list."""

    id: int
    title: str
    piece: int | None
    made_from: int | None


class RepairRequest(BaseModel):
    """Which findings to repair, by their places in the list of findings."""

    findings: Annotated[list[Annotated[int, Field(ge=0)]], Field(min_length=1, max_length=5000)]


class MatchRequest(BaseModel):
    """Layers as they are matched, to be compared."""

    piece: Id
    matches: Annotated[tuple[LayerMatch, ...], Field(max_length=2000)] = ()


class TakeOverRequest(BaseModel):
    """Layers as they are matched, to be taken over by the piece at the revision seen; ``added``
    are the numbers of those that become layers of the piece as they are."""

    piece: Id
    seen: Revision
    matches: Annotated[tuple[LayerMatch, ...], Field(max_length=2000)]
    added: Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(max_length=2000)] = ()
    wishes: Wishes = Wishes()
