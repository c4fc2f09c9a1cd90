"""Several pieces at once: tagged, put away, called done."""

from wardrobe.recipe.events import Completion, Filing
from wardrobe.recipe.events.planning import MOST_TAGS
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.time import FileMany
from wardrobe.server.studio import Studio


def file_many(studio: Studio, job: Job, filing: FileMany) -> None:
    """File pieces; those that are gone are passed over. To call one done takes a moment: what its
    drawing is like is counted."""
    wanted = set(filing.pieces)
    pieces = [facts for facts in studio.pieces.all() if facts.id in wanted]
    for k, facts in enumerate(pieces):
        job.report(k / len(pieces), f"{facts.title}, {k + 1} of {len(pieces)}")
        tags = [t for t in facts.tags if t not in filing.remove]
        tags += [t for t in filing.add if t not in tags]
        away = facts.away if filing.away is None else filing.away
        if (tuple(tags), away) != (facts.tags, facts.away):
            studio.note(facts.id, Filing(tags=tuple(tags[:MOST_TAGS]), away=away))
        if filing.done is not None and filing.done != (facts.state == "done"):
            studio.note(facts.id, Completion(done=filing.done))
