"""What is told of many pieces at once, kept by their revisions."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.series.carry import path_of
from wardrobe.server.db.series import Member

_REMEMBERED = 30_000


@dataclass(frozen=True)
class Known:
    """A piece at one revision; ``carried`` while nobody has kept its parts."""

    size: tuple[int, int]
    recipe: Recipe
    carried: bool
    parts: tuple[tuple[str, ...], ...]


class Overview:
    """Reads each revision of a piece once."""

    def __init__(self, read: Callable[[int], Recipe]) -> None:
        self._read = read
        self._known: OrderedDict[tuple[int, int], Known] = OrderedDict()
        self._findings: OrderedDict[tuple[int, int], tuple[str, ...]] = OrderedDict()
        self._lock = Lock()

    def of(self, member: Member) -> Known:
        """What is told of a piece of a series."""
        key = member.id, member.revision
        with self._lock:
            found = self._known.get(key)
        if found is None:
            recipe = self._read(member.id)
            found = Known(recipe.size, recipe, recipe.proposed or not recipe.parts,
                          tuple(path_of(recipe.parts, p.id) for p in recipe.parts))
            with self._lock:
                self._known[key] = found
                while len(self._known) > _REMEMBERED:
                    self._known.popitem(last=False)
        return found

    def note_findings(self, member: Member, checks: tuple[str, ...]) -> None:
        """Remember which checks noticed something in a piece as it is."""
        with self._lock:
            self._findings[member.id, member.revision] = checks
            while len(self._findings) > _REMEMBERED:
                self._findings.popitem(last=False)

    def findings(self, member: Member) -> tuple[str, ...] | None:
        """Which checks noticed something in a piece as it is; None where nobody looked."""
        with self._lock:
            return self._findings.get((member.id, member.revision))
