"""What a check notices, and what a check is."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from wardrobe.core.formats.tokens import CardColour
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import Edit
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.graph import Graph
from wardrobe.recipe.stages.stage import Small, Stage

Box = tuple[float, float, float, float]
Points = tuple[tuple[float, float], ...]
Subject = Literal["piece", "part", "border", "pass", "layer", "area", "look", "place"]
Source = Literal["published", "common practice", "own"]
QuestionKey = Literal["reads", "light", "clean", "ground", "eye", "order"]


@dataclass(frozen=True)
class Noticed:
    """Something that a check noticed.

    Attributes
    ----------
    subject : str
        What kind of thing it is about.
    ids : tuple of str
        Which: ids of parts, layers, looks; keys of passes.
    measured : float
        In the unit of the check.
    words : str
        What was measured, in a sentence; ``{0}`` is the name of the first id, and so on.
    weight : float, 0..1
        How much it matters beside others.
    box : (x, y, width, height) or None
        The place, picture pixels.
    marks : tuple of tuples of (x, y)
        Lines and dots that show it on the picture, picture pixels.
    """

    subject: Subject
    ids: tuple[str, ...]
    measured: float
    words: str
    weight: float
    box: Box | None = None
    marks: tuple[Points, ...] = ()


@dataclass(frozen=True)
class Found(Small):
    """All that one check noticed, what matters most first."""

    noticed: tuple[Noticed, ...]

    @classmethod
    def of(cls, noticed: list[Noticed]) -> "Found":
        """In order."""
        return cls(tuple(sorted(noticed, key=lambda n: -n.weight)))


@dataclass(frozen=True)
class Repair:
    """An ordinary edit that would mend it.

    Attributes
    ----------
    label : str
        What it does.
    edit : Edit
    """

    label: str
    edit: Edit


@dataclass(frozen=True, eq=False)
class Desk:
    """What repairs are worked out from.

    Attributes
    ----------
    deriver : Deriver
    recipe : Recipe
        The piece as it is worn.
    card : tuple of CardColour
        The colour card of its character; empty without one.
    """

    deriver: Deriver
    recipe: Recipe
    card: tuple[CardColour, ...] = ()

    @property
    def graph(self) -> Graph:
        """The stages of the recipe."""
        return self.deriver.stages(self.recipe)


@dataclass(frozen=True)
class Limit:
    """From where on a check notices something.

    Attributes
    ----------
    value : float
    unit : str
    source : str
        Whether it is published, common practice, or our own choice.
    basis : str
        The publication, or why.
    """

    value: float
    unit: str
    source: Source
    basis: str


@dataclass(frozen=True)
class Check:
    """One entry of the registry.

    Attributes
    ----------
    key : str
        Name in the API and in what was dismissed.
    question : str
        A key of QUESTIONS.
    label : str
        What is wrong, in a few words.
    why : str
        Why it matters, in a sentence.
    limit : Limit
    stage : callable
        What notices it, from the desk.
    repair : callable or None
        What would mend what was noticed, if anything can.
    """

    key: str
    question: QuestionKey
    label: str
    why: str
    limit: Limit
    stage: Callable[[Desk], Stage[Found]]
    repair: Callable[[Desk, Noticed], Repair | None] | None = None


def listed(names: list[str]) -> str:
    """Names as they stand in a sentence."""
    if len(names) < 2:
        return "".join(names)
    return f"{', '.join(names[:-1])} and {names[-1]}"


def literal(text: str) -> str:
    """Words in which nothing stands for a name, whatever signs are in them."""
    return text.replace("{", "{{").replace("}", "}}")


def told(noticed: Noticed, names: Mapping[str, str]) -> str:
    """What was noticed, in words."""
    return noticed.words.format(*(names.get(i, i) for i in noticed.ids))
