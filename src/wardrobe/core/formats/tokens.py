"""Colour cards as design tokens (JSON) and as CSV."""

import csv
import io
import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from wardrobe.core.colour.srgb import encode, from_hex, to_hex
from wardrobe.core.errors import WardrobeError
from wardrobe.core.passes.table import PASSES

MOST_COLOURS = 500
_EXTENSION = "org.wardrobe"
_MOST_ALIASES = 32


class CardFormatError(WardrobeError):
    """The file is not a colour card that can be read."""

    title = "This card cannot be read"


@dataclass(frozen=True)
class CardColour:
    """A base colour by the name of its part.

    Attributes
    ----------
    name : str
    colour : str
        ``#rrggbb``.
    material : str or None
    passes : dict of str to str
        Colours seen in passes, ``#rrggbb``.
    """

    name: str
    colour: str
    material: str | None = None
    passes: dict[str, str] = field(default_factory=dict)


def write_tokens(colours: list[CardColour], title: str,
                 washes: Mapping[str, Mapping[str, Any]] | None = None) -> str:
    """Design tokens: one group, one colour token a part and one a pass that the card has of it.

    ``washes``, colour and strength by pass, go along as an extension of the group.

    References
    ----------
    W3C Design Tokens Community Group, "Design Tokens Format Module" and "Color Module" 2025.10:
    ``$type``, ``$value`` with ``colorSpace``, ``components`` and ``hex``, ``$extensions``.
    """
    group: dict[str, Any] = {"$type": "color", "$description": "Base colours by part"}
    if washes:
        group["$extensions"] = {_EXTENSION: {"washes": washes}}
    for entry in colours:
        said = {"name": entry.name} | ({"material": entry.material} if entry.material else {})
        group[_token_name(entry.name, group)] = _token(entry.colour, said)
        for key, colour in entry.passes.items():
            group[_token_name(f"{entry.name} {key}", group)] = _token(
                colour, {"name": entry.name, "pass": key})
    return json.dumps({_token_name(title, {}): group}, indent=2, ensure_ascii=False) + "\n"


def _token(colour: str, said: dict[str, Any]) -> dict[str, Any]:
    return {"$value": {"colorSpace": "srgb", "alpha": 1, "hex": colour,
                       "components": [round(v / 255, 5) for v in from_hex(colour)]},
            "$extensions": {_EXTENSION: said}}


def read_washes(text: str) -> dict[str, Any]:
    """The washes that go along with a card's tokens, unchecked; empty if there are none."""
    try:
        groups = json.loads(text)
        for group in groups.values():
            extra = group.get("$extensions", {}).get(_EXTENSION, {}).get("washes")
            if isinstance(extra, dict):
                return extra
    except (ValueError, RecursionError, AttributeError):
        pass
    return {}


def read_tokens(text: str) -> list[CardColour]:
    """All colour tokens of a file, whatever their groups; aliases are followed.

    Raises
    ------
    CardFormatError
        Saying what was expected, what came, and where.
    """
    try:
        root = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise CardFormatError(f"This is not JSON: {error}.") from error
    if not isinstance(root, dict):
        raise CardFormatError("An object with groups of tokens is expected.")
    found: list[CardColour] = []
    passes: list[tuple[str, str, str]] = []
    _collect(root, root, (), None, found, passes)
    card = {c.name.casefold(): c for c in _checked(found)}
    for name, key, colour in passes:
        if name.casefold() in card and key in PASSES:
            card[name.casefold()].passes[key] = colour
    return list(card.values())


def write_csv(colours: list[CardColour]) -> str:
    """Columns part, colour, material, and one for each pass that the card has."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    keys = [key for key in PASSES if any(key in c.passes for c in colours)]
    rows.writerow(["part", "colour", "material", *keys])
    rows.writerows([c.name, c.colour, c.material or "", *(c.passes.get(k, "") for k in keys)]
                   for c in colours)
    return out.getvalue()


def read_csv(text: str) -> list[CardColour]:
    """Rows of part, colour and, if there is one, material; a heading row may be there, and may
    name further columns after passes.

    Raises
    ------
    CardFormatError
    """
    found = []
    heading: list[str] = []
    try:
        rows = list(csv.reader(io.StringIO(text)))
    except csv.Error as error:
        raise CardFormatError(f"This is not CSV: {error}.") from error
    for number, row in enumerate(rows, start=1):
        cells = [c.strip() for c in row]
        if not any(cells):
            continue
        if len(cells) < 2:
            raise CardFormatError(f"Line {number}: a part and a colour are expected.")
        try:
            colour = to_hex(from_hex(cells[1]))
            passes = {key: to_hex(from_hex(cell)) for key, cell
                      in zip(heading[3:], cells[3:], strict=False) if cell and key in PASSES}
        except WardrobeError as error:
            if number == 1:
                heading = [c.casefold() for c in cells]
                continue
            raise CardFormatError(f"Line {number}: {error.message}") from error
        found.append(CardColour(cells[0], colour, (cells[2] if len(cells) > 2 else "") or None,
                                passes))
    return _checked(found)


def _checked(found: list[CardColour]) -> list[CardColour]:
    once = {c.name.casefold(): c for c in found if c.name}
    if not once:
        raise CardFormatError("There is no colour in this file.")
    if len(once) > MOST_COLOURS:
        raise CardFormatError(f"A card has at most {MOST_COLOURS} colours.")
    return list(once.values())


def _token_name(name: str, taken: dict[str, Any]) -> str:
    """A name as tokens may have: not beginning with $, without { } and dots."""
    safe = "".join("-" if c in "{}." else c for c in name).lstrip("$ ").strip() or "colour"
    unique, n = safe, 2
    while unique in taken:
        unique, n = f"{safe} {n}", n + 1
    return unique


def _collect(root: dict[str, Any], node: dict[str, Any], path: tuple[str, ...],
             kind: str | None, found: list[CardColour],
             passes: list[tuple[str, str, str]]) -> None:
    if len(path) > 30 or len(found) > MOST_COLOURS:
        raise CardFormatError("The groups of this file are nested too deeply, or too many.")
    kind = node.get("$type", kind)
    if "$value" in node:
        if kind == "color" or (kind is None and _looks_like_colour(node["$value"])):
            extra = node.get("$extensions")
            own = extra.get(_EXTENSION, {}) if isinstance(extra, dict) else {}
            own = own if isinstance(own, dict) else {}
            material = own.get("material")
            name = str(own.get("name") or path[-1] if path else "colour")
            colour = _value(root, node["$value"], path)
            if isinstance(own.get("pass"), str):
                passes.append((name, own["pass"], colour))
                return
            found.append(CardColour(name, colour,
                                    material if isinstance(material, str) else None))
        return
    for key, child in node.items():
        if not key.startswith("$") and isinstance(child, dict):
            _collect(root, child, (*path, key), kind, found, passes)


def _looks_like_colour(value: Any) -> bool:
    return (isinstance(value, dict) and "colorSpace" in value) or (
        isinstance(value, str) and value.startswith("#"))


def _value(root: dict[str, Any], value: Any, path: tuple[str, ...], aliases: int = 0) -> str:
    where = ".".join(path)
    if isinstance(value, str) and value.startswith("{") and value.endswith("}"):
        if aliases > _MOST_ALIASES:
            raise CardFormatError(f"{where}: the aliases run in a circle.")
        target: Any = root
        for step in value[1:-1].split("."):
            target = target.get(step) if isinstance(target, dict) else None
        if not isinstance(target, dict) or "$value" not in target:
            raise CardFormatError(f"{where}: there is no token {value}.")
        return _value(root, target["$value"], path, aliases + 1)
    try:
        if isinstance(value, str):
            return to_hex(from_hex(value))
        if isinstance(value, dict):
            if isinstance(value.get("hex"), str):
                return to_hex(from_hex(value["hex"]))
            parts = np.array([0.0 if v == "none" else float(v) for v in value["components"]])
            if value["colorSpace"] == "srgb-linear":
                parts = encode(parts)
            elif value["colorSpace"] != "srgb":
                raise CardFormatError(f"{where}: colours in {value['colorSpace']} need a hex "
                                      "value beside them.")
            if parts.shape != (3,) or not np.isfinite(parts).all():
                raise ValueError("three finite components")
            return to_hex(np.rint(255 * np.clip(parts, 0, 1)).astype(int))
    except (KeyError, TypeError, ValueError) as error:
        if isinstance(error, CardFormatError):
            raise
        raise CardFormatError(f"{where}: this is not a colour: {str(value)[:60]}.") from error
    raise CardFormatError(f"{where}: this is not a colour: {str(value)[:60]}.")
