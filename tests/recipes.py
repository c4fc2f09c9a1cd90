"""Recipes and edits made up from their schemas, so that what is added is tried as well."""

import json
import random
from collections.abc import Iterator
from typing import Any

from pydantic import TypeAdapter, ValidationError

from wardrobe.core.layers.operators import OPERATORS
from wardrobe.core.passes.methods import AMOUNTS
from wardrobe.core.stack.naming import DEFAULT_NAMES
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import SingleEdit

SCHEMA = Recipe.model_json_schema()
EDITS: TypeAdapter[Any] = TypeAdapter(SingleEdit)
_EDIT_SCHEMA = EDITS.json_schema()
_DEFINED = {**_EDIT_SCHEMA["$defs"], **SCHEMA["$defs"]}
Path = tuple[str | int, ...]

# What a picture cannot be made up with: files, and words that are not in it.
_FIXED = {"schema_version", "source", "asset", "original", "id"}


def slots(document: Any, schema: dict[str, Any] = SCHEMA,
          path: Path = ()) -> Iterator[tuple[Path, dict[str, Any]]]:
    """Every place in a recipe as JSON where a value may be put, with the schema of that value."""
    schema = _resolved(schema, document)
    if path:
        yield path, schema
    if isinstance(document, dict):
        for name, inner in schema.get("properties", {}).items():
            if name not in _FIXED and name in document:
                yield from slots(document[name], inner, (*path, name))
    if isinstance(document, list) and isinstance(schema.get("items"), dict):
        for k, item in enumerate(document):
            yield from slots(item, schema["items"], (*path, k))
    elif isinstance(document, list):
        for k, (item, inner) in enumerate(zip(document, schema.get("prefixItems", ()),
                                              strict=False)):
            yield from slots(item, inner, (*path, k))


def changed(recipe: Recipe, dice: random.Random, times: int = 1,
            only: str | None = None) -> Recipe:
    """A recipe that differs in some places; ``only`` keeps to a field of the recipe."""
    for _ in range(400):
        document = recipe.model_dump(mode="json")
        for _ in range(times):
            places = [(p, s) for p, s in slots(document) if only in (None, p[0])]
            # Fields first, so that long lists do not take all the turns.
            name = dice.choice(sorted({p[0] for p, _ in places}))
            path, schema = dice.choice([(p, s) for p, s in places if p[0] == name])
            _put(document, path, _value(schema, dice, recipe, path))
        try:
            made = Recipe.model_validate_json(json.dumps(document))
        except ValidationError:
            continue
        if made != recipe:
            return made
    raise AssertionError(f"no other value was found for {only}")


def edit_of(kind: str, recipe: Recipe, dice: random.Random) -> Any:
    """An edit of a kind, made up for a recipe; None if what was made up is none."""
    schema = next(s for s in map(_resolved, _EDIT_SCHEMA["oneOf"])
                  if s["properties"]["kind"]["const"] == kind)
    try:
        return EDITS.validate_python(_value(schema, dice, recipe, ()))
    except ValidationError:
        return None


def kinds() -> list[str]:
    """All kinds of edit."""
    return sorted(s["properties"]["kind"]["const"]
                  for s in map(_resolved, _EDIT_SCHEMA["oneOf"]))


def _put(document: Any, path: Path, value: Any) -> None:
    for step in path[:-1]:
        document = document[step]
    old = document[path[-1]]
    if isinstance(old, list) and isinstance(value, list) and len(old) != 2:
        value = [*old, *value]  # parts and strokes that are there stay
    document[path[-1]] = value


def _resolved(schema: dict[str, Any], document: Any = None) -> dict[str, Any]:
    """The schema itself: behind its reference, and of several the one that the value is of."""
    while "$ref" in schema:
        name = schema["$ref"].rsplit("/", 1)[1]
        schema = {**_DEFINED[name], "title": name}
    several = schema.get("anyOf") or schema.get("oneOf")
    if several and isinstance(document, dict):
        fitting = [_resolved(s) for s in several]
        fitting = [s for s in fitting if set(document) <= set(s.get("properties", {}))
                   and s.get("properties", {}).get("kind", {}).get("const")
                   in (None, document.get("kind"))]
        return fitting[0] if fitting else schema
    if several and document is not None:
        kind = {list: "array", str: "string", bool: "boolean", int: "integer", float: "number"}
        return next((s for s in map(_resolved, several) if s.get("type") == kind[type(document)]),
                    schema)
    return schema


def _value(schema: dict[str, Any], dice: random.Random, recipe: Recipe, path: Path) -> Any:
    schema = _resolved(schema)
    name = next((str(p) for p in reversed(path) if isinstance(p, str)), "")
    several = schema.get("anyOf") or schema.get("oneOf")
    if several:
        return _value(dice.choice(several), dice, recipe, path)
    if "const" in schema:
        return schema["const"]
    if "enum" in schema:
        return dice.choice(schema["enum"])
    kind = schema.get("type")
    if kind == "null":
        return None
    if kind == "boolean":
        return dice.random() < 0.5
    if kind in ("integer", "number"):
        return _number(schema, dice, recipe, kind == "integer")
    if kind == "string":
        return _text(schema, dice, recipe, name)
    if kind == "array":
        if "prefixItems" in schema:
            return [_value(s, dice, recipe, path) for s in schema["prefixItems"]]
        least = schema.get("minItems", 0)
        count = min(least + dice.randrange(3), schema.get("maxItems", 10**6))
        return [_value(schema["items"], dice, recipe, path) for _ in range(count)]
    return _object(schema, dice, recipe, path, name)


def _object(schema: dict[str, Any], dice: random.Random, recipe: Recipe, path: Path,
            name: str) -> dict[str, Any]:
    if "properties" not in schema:
        if name == "amounts":
            key = dice.choice(sorted(AMOUNTS))
            return {key: dice.uniform(AMOUNTS[key].low, AMOUNTS[key].high)}
        by_part = list(schema.get("patternProperties", {}).values())
        within = by_part[0] if by_part else schema["additionalProperties"]
        keys = [p.id for p in recipe.parts] if by_part else schema["propertyNames"]["enum"]
        return {dice.choice(keys): _value(within, dice, recipe, path)} if keys else {}
    made: dict[str, Any] = {}
    if schema.get("title") == "Operation":
        kind = OPERATORS[dice.choice(sorted(OPERATORS))]
        return {"kind": kind.key, "amounts": {
            s.name: dice.uniform(max(0.7 * s.low, s.low), 0.7 * s.high) for s in kind.settings}}
    for field, inner in schema["properties"].items():
        if field in ("asset", "original"):
            made[field] = recipe.source.asset
        elif field in (*schema.get("required", ()), "kind") or dice.random() < 0.5:
            made[field] = _value(inner, dice, recipe, (*path, field))
    if "stops" in made:  # one after the other
        made["stops"].sort(key=lambda stop: stop["at"])
    if made.get("widths"):  # one at every point
        made["widths"] = made["widths"][:1] * len(made["points"])
    return made


def _number(schema: dict[str, Any], dice: random.Random, recipe: Recipe, whole: bool) -> float:
    low = schema.get("minimum", schema.get("exclusiveMinimum", -1000))
    high = schema.get("maximum", schema.get("exclusiveMaximum", 1000))
    if high - low > 5000:  # a place
        low, high = max(low, 0), min(high, *recipe.size)
    return dice.randint(low, high) if whole else round(dice.uniform(low, high), 3)


def _text(schema: dict[str, Any], dice: random.Random, recipe: Recipe, name: str) -> str:
    pattern = schema.get("pattern", "")
    if pattern.startswith("^p"):
        return dice.choice([p.id for p in recipe.parts] or ["p1"])
    if pattern.startswith("^f"):
        held = [f.id for f in recipe.finish]
        return dice.choice(held) if held and dice.random() < 0.8 else f"f{dice.randrange(1, 999)}"
    if pattern.startswith("^k"):
        looks = [k.id for k in recipe.looks]
        return dice.choice(looks) if looks and dice.random() < 0.8 else f"k{dice.randrange(1, 999)}"
    if pattern.startswith("^[0-9a-f]"):
        return recipe.source.asset
    if name == "names":
        return dice.choice([DEFAULT_NAMES, "{part} {pass}"])
    if name.endswith("name"):
        return dice.choice(["hair", "coat", "left boot", "face", "badge", "sky"])
    return f"#{dice.randrange(1 << 24):06x}"
