"""What the screens need to know about the tables."""

from pydantic import BaseModel

from wardrobe.core.colour.starters import Starter
from wardrobe.core.composite.explained import Explained
from wardrobe.core.light.materials import Material
from wardrobe.core.lines.intake import Intake
from wardrobe.core.setting import Setting
from wardrobe.core.shades.steps import Span
from wardrobe.core.timing.body import Advice
from wardrobe.core.timing.pace import Omission
from wardrobe.recipe.checks.finding import Limit
from wardrobe.recipe.document.name_sets import NamedParts
from wardrobe.server.schemas.delivery import FormatInfo


class SchemeInfo(BaseModel):
    """A scheme of hues in words."""

    key: str
    label: str
    why: str


class VisionInfo(BaseModel):
    """A colour-vision deficiency in words."""

    key: str
    label: str
    share: str


class MethodInfo(BaseModel):
    """A method in words."""

    key: str
    label: str
    when: str
    choices: tuple[str, ...]


class LightInfo(BaseModel):
    """A light by name."""

    name: str
    key: str
    ambient: str
    kelvin: float | None
    note: str


class CheckInfo(BaseModel):
    """A check in words: its question, what is wrong, why, from where on, and who says so."""

    key: str
    question: str
    label: str
    why: str
    limit: Limit
    repairs: bool


class OperatorInfo(BaseModel):
    """What can be done to a shape, in words."""

    key: str
    label: str
    settings: tuple[Setting, ...]


class Meta(BaseModel):
    """What the screens need to know about the tables."""

    version: str
    materials: list[Material]
    intakes: list[Intake]
    starters: list[Starter]
    motifs: list[str]
    passes: dict[str, str]
    operators: list[OperatorInfo]
    textures: dict[str, str]
    ways: dict[str, str]
    planes: dict[str, str]
    volumes: dict[str, str]
    methods: list[MethodInfo]
    amounts: list[Setting]
    lights: list[LightInfo]
    spans: dict[str, Span]
    nudges: list[str]
    two_colours: float
    name_sets: dict[str, NamedParts]
    shade_share: float
    steps: list[str]
    omissions: list[Omission]
    advice: list[Advice]
    caution: str
    formats: list[FormatInfo]
    modes: list[str]
    explained: dict[str, Explained]
    papers: dict[str, tuple[float, float]]
    schemes: list[SchemeInfo]
    visions: list[VisionInfo]
    questions: dict[str, str]
    checks: list[CheckInfo]
    most_file_bytes: int
    memory_bytes: int
