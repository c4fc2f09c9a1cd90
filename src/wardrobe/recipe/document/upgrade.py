"""Recipes as earlier versions stored them, as those of today: what was once saved opens for ever.

A version is one more wherever a program of before could not read what is stored now.
"""

from collections.abc import Callable
from typing import Any

Document = dict[str, Any]


def _finished(document: Document) -> Document:
    """Version 2 can hold layers over the whole picture; none before had any."""
    return document


def _without_answers(document: Document) -> Document:
    """Version 3 leaves what was answered to the events of the piece."""
    return {field: value for field, value in document.items() if field != "answers"}


_STEPS: dict[int, Callable[[Document], Document]] = {1: _finished, 2: _without_answers}


def as_today(document: Any) -> Any:
    """A stored recipe in the form of today; what is none, or is newer, is given back as it is."""
    while isinstance(document, dict) and (step := _STEPS.get(_version(document))):
        document = {**step(document), "schema_version": _version(document) + 1}
    return document


def _version(document: Document) -> int:
    version = document.get("schema_version", max(_STEPS) + 1)
    return version if type(version) is int else -1
