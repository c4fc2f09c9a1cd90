"""Names of layers from a pattern: tidy, and no two the same."""

import re
from collections.abc import Iterable

from wardrobe.core.errors import WardrobeError

DEFAULT_NAMES = "{part} / {pass}"
TOKENS = ("part", "pass", "number")
_LONGEST = 120


class NamePatternError(WardrobeError):
    """A pattern of names that cannot be used."""


def check_pattern(pattern: str) -> str:
    """The pattern without needless space.

    Raises
    ------
    NamePatternError
        If it holds other words in braces, or neither ``{part}`` nor ``{pass}``, or does not show.
    """
    tidy = re.sub(r"\s+", " ", pattern).strip()
    rest = tidy
    for token in TOKENS:
        rest = rest.replace(f"{{{token}}}", "")
    if "{" in rest or "}" in rest:
        raise NamePatternError("A pattern of names may hold {part}, {pass} and {number} in braces, "
                               "nothing else.")
    if "{part}" not in tidy and "{pass}" not in tidy:
        raise NamePatternError("A pattern of names holds {part}, {pass}, or both.")
    if len(tidy) > _LONGEST or any(ord(c) < 32 for c in tidy):
        raise NamePatternError(f"A pattern of names has at most {_LONGEST} characters, and all of "
                               "them show.")
    return tidy


def filled(pattern: str, part: str, what: str, number: int, digits: int) -> str:
    """A name."""
    for token, text in (("part", part), ("pass", what), ("number", f"{number:0{digits}d}")):
        pattern = pattern.replace(f"{{{token}}}", text)
    return pattern.strip()


class Names:
    """Gives names out, each once; case does not count, as on many disks.

    Parameters
    ----------
    taken : iterable of str
    longest : int, optional
        Characters that a name may have; one that gets a number is cut to make room for it.
    """

    def __init__(self, taken: Iterable[str] = (), longest: int | None = None) -> None:
        self._taken = {name.casefold() for name in taken}
        self._next: dict[str, int] = {}
        self._longest = longest

    def unique(self, name: str) -> str:
        """The name, or the name with the first free number."""
        key = name.casefold()
        found, number = name, self._next.get(key, 1)
        while found.casefold() in self._taken:
            number += 1
            ending = f" {number}"
            room = None if self._longest is None else self._longest - len(ending)
            found = name[:room].rstrip() + ending
        self._next[key] = number
        self._taken.add(found.casefold())
        return found
