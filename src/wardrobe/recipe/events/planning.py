"""What is planned of a piece, and where it is filed."""

from collections.abc import Iterable
from datetime import date
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from wardrobe.core.timing.pace import OMISSIONS, ORDER
from wardrobe.core.timing.plan import STEPS, plan_steps
from wardrobe.recipe.document.types import Frozen, one_of

if TYPE_CHECKING:
    from wardrobe.recipe.events.kinds import Happened

MOST_MINUTES = 6000.0
MOST_TAGS = 20
Minutes = Annotated[float, Field(ge=0, le=MOST_MINUTES, allow_inf_nan=False)]
Step = Annotated[str, one_of("step", STEPS)]
Left = Annotated[str, one_of("omission", OMISSIONS)]
Tag = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^\S(.*\S)?$")]


class Estimated(Frozen):
    """Minutes that were estimated: four times in five the truth lies between low and high."""

    low: Minutes
    likely: Minutes
    high: Minutes
    count: Annotated[int, Field(ge=0)]


class Plan(Frozen):
    """What is planned of a piece; the last plan counts.

    Attributes
    ----------
    minutes : dict of str to float
        By step; a step that is not named is left out.
    due : date or None
    occasion : str
        Whom or what it is for.
    rounds : int
        How often it is to be shown to them.
    leave_out : tuple of str
        Keys of OMISSIONS: what is left out first if time runs short.
    estimated : Estimated or None
        What the drawing was estimated to take when this was planned.
    """

    kind: Literal["plan"] = "plan"
    minutes: Annotated[dict[Step, Minutes], Field(max_length=len(STEPS))]
    due: date | None = None
    occasion: Annotated[str, Field(max_length=120)] = ""
    rounds: Annotated[int, Field(ge=0, le=20)] = 0
    leave_out: Annotated[tuple[Left, ...], Field(max_length=len(ORDER))] = ORDER
    estimated: Estimated | None = None

    @property
    def total(self) -> float:
        """Minutes in all."""
        return sum(self.minutes.values())


class Filing(Frozen):
    """Under which tags a piece is found, and whether it is put away; the last one counts."""

    kind: Literal["filing"] = "filing"
    tags: Annotated[tuple[Tag, ...], Field(max_length=MOST_TAGS)] = ()
    away: bool = False


def plan_of(events: Iterable["Happened"], minutes: float) -> Plan:
    """The plan that counts; without one, so many minutes as usual."""
    found = [h.event for h in events if isinstance(h.event, Plan)]
    return found[-1] if found else Plan(minutes=plan_steps(minutes))


def filing_of(events: Iterable["Happened"]) -> Filing:
    """Where the piece is filed."""
    found = [h.event for h in events if isinstance(h.event, Filing)]
    return found[-1] if found else Filing()
