"""Edits as they were stored before looks took ordinary ones, as those of today."""

from typing import Any

_WHOLES = {"background": ("set_background", "colour"), "light": ("move_light", "light"),
           "passes": ("set_passes", "passes")}


def as_today(edit: Any) -> Any:
    """A stored edit; what is not one of the old ones is given back as it is."""
    if not isinstance(edit, dict):
        return edit
    if edit.get("kind") == "several" and isinstance(edit.get("edits"), list):
        found: list[Any] = []
        for one in edit["edits"]:
            today = as_today(one)
            found += today["edits"] if today is not one and today.get("kind") == "several" \
                else [today]
        return {**edit, "edits": found}
    change = _OLD.get(str(edit.get("kind")))
    edits = change(edit) if change else [edit]
    return edits[0] if len(edits) == 1 else {"kind": "several", "edits": edits}


def _dress(edit: dict[str, Any]) -> list[Any]:
    looks = [w for w in edit["looks"] if w != "piece"]
    found: list[Any] = [{"kind": "change_part", "part": part, "base": base,
                         "targets": edit["looks"]}
                        for part, base in edit["bases"].items() if base is not None]
    back = [part for part, base in edit["bases"].items() if base is None]
    if back and looks:
        found.append({"kind": "follow_piece", "looks": looks, "what": ["base", "own"],
                      "parts": back})
    return found


def _nudge(edit: dict[str, Any]) -> list[Any]:
    return [{"kind": "nudge_colour", "part": part, "name": "base", "to": edit["to"],
             "times": edit.get("times", 1), "targets": edit["looks"]} for part in edit["parts"]]


def _part(edit: dict[str, Any]) -> list[Any]:
    part, looks = edit["part"], edit["looks"]
    found: list[Any] = [{"kind": "follow_piece", "looks": looks, "parts": [part],
                         "what": ["material", "pattern",
                                  *(["own"] if edit.get("own") is not None else [])]}]
    if edit.get("material"):
        found.append({"kind": "change_part", "part": part, "material": edit["material"],
                      "targets": looks})
    if edit.get("plain"):
        found.append({"kind": "set_pattern", "part": part, "pattern": None, "targets": looks})
    if edit.get("own"):
        found.append({"kind": "choose_colours", "part": part, "own": edit["own"],
                      "targets": looks})
    return found


def _look(edit: dict[str, Any]) -> list[Any]:
    plain = {k: v for k, v in edit.items() if k not in _WHOLES}
    found: list[Any] = [plain] if plain.keys() - {"kind", "look"} else []
    for what, (kind, field) in _WHOLES.items():
        value = edit.get(what)
        if value == "piece":
            found.append({"kind": "follow_piece", "looks": [edit["look"]], "what": [what]})
        elif value is not None:
            found.append({"kind": kind, field: value, "targets": [edit["look"]]})
    return found or [plain]


_OLD = {"dress": _dress, "dress_nudge": _nudge, "dress_part": _part, "change_look": _look}
