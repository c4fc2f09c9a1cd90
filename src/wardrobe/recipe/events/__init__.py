"""What happens to a piece besides its making: kept as it was, never undone, and without effect on
any picture."""

from wardrobe.recipe.events.answers import Answer, Withdrawal, as_events, parted, standing
from wardrobe.recipe.events.beside import Reference, assets_of, references
from wardrobe.recipe.events.kinds import EVENT, Event, Happened, checked, noted
from wardrobe.recipe.events.left import Dismissal, dismissed
from wardrobe.recipe.events.limits import MOST_EVENTS, EventRefusedError
from wardrobe.recipe.events.review import (
    Remark,
    Resolution,
    Standing,
    Verdict,
    last_verdict,
    remarks,
)

__all__ = [
    "EVENT", "MOST_EVENTS", "Answer", "Dismissal", "Event", "EventRefusedError", "Happened",
    "Reference", "Remark", "Resolution", "Standing", "Verdict", "Withdrawal", "as_events",
    "assets_of", "checked", "dismissed", "last_verdict", "noted", "parted", "references", "remarks",
    "standing",
]
