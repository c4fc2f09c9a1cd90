"""Events as they are told in a log."""

from wardrobe.core.timing.pace import minutes_in_words
from wardrobe.recipe.events.answers import Answer, Withdrawal
from wardrobe.recipe.events.beside import Reference, ReferenceGone, ReferenceNote
from wardrobe.recipe.events.carried import CarriedParts
from wardrobe.recipe.events.kinds import Event
from wardrobe.recipe.events.left import Dismissal, Reopening
from wardrobe.recipe.events.planning import Filing, Plan
from wardrobe.recipe.events.review import Remark, Resolution, Verdict
from wardrobe.recipe.events.rounds import Completion, Delivered, Sent


def said_of(event: Event) -> str:  # one line a kind
    """What happened, in a line."""
    match event:
        case Plan():
            due = f", due {event.due}" if event.due else ""
            occasion = f", for {event.occasion}" if event.occasion else ""
            return f"Planned: {minutes_in_words(event.total)}{due}{occasion}"
        case Filing():
            tags = f"Filed under {', '.join(event.tags)}" if event.tags else "Filed without tags"
            return f"{tags}{', put away' if event.away else ''}"
        case Delivered():
            return f"Delivered {event.name}"
        case Sent():
            files = f", {len(event.files)} file{'s' if len(event.files) != 1 else ''}" \
                if event.files else ""
            return f"Sent to {event.to}{files}{_said(event.text)}"
        case Verdict():
            about = {"rough": "Rough", "colours": "Colours", "all": "Piece"}[event.about]
            return (f"{about}: {event.verdict}{f' by {event.by}' if event.by else ''}"
                    f"{_said(event.text)}")
        case CarriedParts():
            count = len(event.doubts)
            doubts = f", {count} area{'s' if count != 1 else ''} to look at" if count else ""
            return f"Parts carried over{doubts}"
        case Completion():
            return "Done" if event.done else "Taken up again"
        case Remark():
            return f"Remark: {event.wish}{f' by {event.by}' if event.by else ''}" \
                f"{_said(event.text)}"
        case Resolution():
            return f"Remark {'settled' if event.done else 'reopened'}"
        case Answer():
            return f"Answer to {event.name or 'the looks'}{_said(event.remarks)}"
        case Withdrawal():
            return "Answer withdrawn"
        case Dismissal():
            return f"Finding left as it is: {event.check}{_said(event.reason)}"
        case Reopening():
            return "Finding counts again"
        case Reference():
            return f"Reference pinned: {event.name}"
        case ReferenceNote():
            return "Reference noted on"
        case ReferenceGone():
            return "Reference taken away"


def _said(text: str) -> str:
    return f": {text}" if text else ""
