"""What happens to a piece besides its making: kept as it was, never undone, and without effect on
any picture."""

from wardrobe.recipe.events.answers import Answer, Withdrawal, as_events, parted, standing
from wardrobe.recipe.events.beside import Reference, assets_of, references
from wardrobe.recipe.events.carried import CarriedParts, DoubtfulArea, claims_digest, last_carried
from wardrobe.recipe.events.kinds import EVENT, Event, Happened, checked, noted
from wardrobe.recipe.events.left import Dismissal, dismissed
from wardrobe.recipe.events.limits import MOST_EVENTS, EventRefusedError
from wardrobe.recipe.events.planning import Estimated, Filing, Plan, filing_of, plan_of
from wardrobe.recipe.events.review import (
    Remark,
    Resolution,
    Standing,
    Verdict,
    last_verdict,
    remarks,
)
from wardrobe.recipe.events.rounds import (
    Completion,
    Delivered,
    DrawingTraits,
    PieceState,
    Sent,
    deliveries,
    state_of,
    traits_of,
)
from wardrobe.recipe.events.shown import Since, changed_since, shown_of

__all__ = [
    "EVENT",
    "MOST_EVENTS",
    "Answer",
    "CarriedParts",
    "Completion",
    "Delivered",
    "Dismissal",
    "DoubtfulArea",
    "DrawingTraits",
    "Estimated",
    "Event",
    "EventRefusedError",
    "Filing",
    "Happened",
    "PieceState",
    "Plan",
    "Reference",
    "Remark",
    "Resolution",
    "Sent",
    "Since",
    "Standing",
    "Verdict",
    "Withdrawal",
    "as_events",
    "assets_of",
    "changed_since",
    "checked",
    "claims_digest",
    "deliveries",
    "dismissed",
    "filing_of",
    "last_carried",
    "last_verdict",
    "noted",
    "parted",
    "plan_of",
    "references",
    "remarks",
    "shown_of",
    "standing",
    "state_of",
    "traits_of",
]
