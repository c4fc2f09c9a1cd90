"""What recipes are made of: colours, names, places, keys of tables. All are checked at the door."""

import re
import unicodedata
from collections.abc import Collection
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Field,
    GetCoreSchemaHandler,
    GetJsonSchemaHandler,
)

from wardrobe.core.colour.nudge import NUDGES
from wardrobe.core.colour.srgb import from_hex, to_hex
from wardrobe.core.composite.modes import MODES
from wardrobe.core.errors import quoted
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.passes.methods import METHODS
from wardrobe.core.passes.table import PASSES

MOST_NAME = 60  # characters of a part's name
MOST_TITLE = 120  # of a piece's, a character's


def _colour(text: str) -> str:
    return to_hex(from_hex(text))


@dataclass(frozen=True, eq=False)
class OneOf:
    """A text that is a key of a table; descriptions of the API list the keys."""

    what: str
    keys: Collection[str]

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> Any:
        return AfterValidator(self._check).__get_pydantic_core_schema__(source, handler)

    def __get_pydantic_json_schema__(self, core: Any, handler: GetJsonSchemaHandler) -> Any:
        return {**handler(core), "enum": list(self.keys)}

    def _check(self, key: str) -> str:
        if key not in self.keys:
            raise ValueError(f"unknown {self.what} {quoted(key)}; one of {', '.join(self.keys)} "
                             "is expected")
        return key


one_of = OneOf


def shown_text(text: str) -> str:
    """A line of text in composed characters, with single spaces.

    Raises
    ------
    ValueError
        If nothing is left, or it holds what does not show.
    """
    line = " ".join(unicodedata.normalize("NFC", text).split())
    if not line:
        raise ValueError("a name is needed")
    # Category C: controls, half characters, private and unassigned ones; what joins emoji may stay.
    if any(unicodedata.category(c).startswith("C") and c != "\u200d" for c in line):
        raise ValueError("a name cannot hold characters that do not show")
    return line


def _title(text: str) -> str:
    line = shown_text(text)
    if len(line) > MOST_TITLE:
        raise ValueError(f"a name has at most {MOST_TITLE} characters")
    return line


def part_name(text: str) -> str:
    """A name that every file format and file system takes as it is."""
    name = shown_text(text)
    if not name.strip("."):
        raise ValueError("a part needs a name")
    if len(name) > MOST_NAME:
        raise ValueError(f"a part's name has at most {MOST_NAME} characters")
    if re.search(r"[/\\<>:\"|?*]", name):
        raise ValueError('a part\'s name cannot hold / \\ < > : " | ? *')
    return name


ASSET = re.compile(r"\b[0-9a-f]{64}\b")  # names of assets in a recipe or edit as text


Colour = Annotated[str, Field(max_length=20), AfterValidator(_colour)]
MaterialKey = Annotated[str, one_of("material", MATERIALS)]
NudgeKey = Annotated[str, one_of("direction", NUDGES)]
MethodKey = Annotated[str, one_of("method", METHODS)]
PassKey = Annotated[str, one_of("pass", PASSES)]
ModeKey = Annotated[str, one_of("blend mode", MODES)]
Title = Annotated[str, Field(max_length=800), AfterValidator(_title)]
PartName = Annotated[str, Field(max_length=400), AfterValidator(part_name)]
MOST_PART_NUMBER = 999_999
PartId = Annotated[str, Field(pattern=r"^p[0-9]{1,6}$")]
AssetName = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
Pixels = Annotated[int, Field(ge=1, le=100_000)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
FARTHEST = 1e6  # px from the picture's corner that a place may lie
Coordinate = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST, allow_inf_nan=False)]
PLACE = "place in the picture"  # marks what moves along when the frame changes
Point = Annotated[tuple[Coordinate, Coordinate], PLACE]
Stroke = Annotated[tuple[Point, ...], Field(min_length=1, max_length=4000)]
Strokes = Annotated[tuple[Stroke, ...], Field(min_length=1, max_length=8000)]


class Frozen(BaseModel):
    """Base of all parts of a recipe: immutable, no unknown fields."""

    model_config = ConfigDict(frozen=True, extra="forbid")
