"""Parts that were carried over from other pictures of a series, and what of them is doubtful."""

import hashlib
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.model import Claim, Recipe
from wardrobe.recipe.document.types import Frozen, PartId, Point, Share

if TYPE_CHECKING:
    from wardrobe.recipe.events.kinds import Happened

MOST_DOUBTS = 400


class DoubtfulArea(Frozen):
    """An area whose part is not sure: what it was given, and what else it may be; None is ground,
    or something new."""

    place: Point
    part: PartId | None
    second: PartId | None
    chance: Share
    pixels: Annotated[int, Field(ge=0)]


class CarriedParts(Frozen):
    """The parts were carried over; the last time counts.

    Attributes
    ----------
    pieces : tuple of int
        From which.
    doubts : tuple of DoubtfulArea
        The least sure first.
    sure : float, 0..1
        Share of the figure whose part was sure.
    claims : int
        How many claims the piece had afterwards: what was claimed since is an answer.
    made : str
        Digest of these claims: if the piece begins with others, this was undone.
    """

    kind: Literal["carried"] = "carried"
    pieces: Annotated[tuple[int, ...], Field(max_length=20)]
    doubts: Annotated[tuple[DoubtfulArea, ...], Field(max_length=MOST_DOUBTS)] = ()
    sure: Share = 1.0
    claims: Annotated[int, Field(ge=0)] = 0
    made: Annotated[str, Field(max_length=64)] = ""


def claims_digest(claims: Sequence[Claim]) -> str:
    """By what claims are known again."""
    told = "\n".join(claim.model_dump_json() for claim in claims)
    return hashlib.sha256(told.encode()).hexdigest()


def last_carried(events: Iterable["Happened"], recipe: Recipe) -> CarriedParts | None:
    """The last time that parts were carried over, while they are still a proposal."""
    if not recipe.proposed:
        return None
    found = [h.event for h in events if isinstance(h.event, CarriedParts)]
    if not found or claims_digest(recipe.claims[:found[-1].claims]) != found[-1].made:
        return None
    return found[-1]
