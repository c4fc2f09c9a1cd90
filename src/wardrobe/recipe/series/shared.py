"""What the pictures of a series share: said once, and followed."""

from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from wardrobe.core.timing.plan import STEPS
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.model import Fill, Lines, Recipe
from wardrobe.recipe.document.types import Colour, Frozen, one_of
from wardrobe.recipe.edits import (
    MoveLight,
    SetBackground,
    SetDelivery,
    SetFill,
    SetLines,
    SetPasses,
    Several,
    SingleEdit,
)

MAX_SCENES = 200
SceneName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^\S(.*\S)?$")]
Minutes = Annotated[float, Field(ge=0, le=6000, allow_inf_nan=False)]
Step = Annotated[str, one_of("step", STEPS)]
What = Literal["lines", "passes", "delivery", "fill", "light", "background"]


class Scene(Frozen):
    """A place and an hour of the story: one light, one ground. None leaves it to each picture."""

    name: SceneName
    light: Light | None = None
    background: Colour | None = None


class Shared(Frozen):
    """What all pictures of a series have in common; None leaves it to each of them.

    Attributes
    ----------
    lines, passes, delivery, fill
        As in a piece.
    scenes : tuple of Scene
        Each name once; a picture says which it plays in.
    minutes : dict of str to float
        Planned for one picture, by step; none as usual.
    fps : float
        Frames a second of what is exported as a film.
    """

    lines: Lines | None = None
    passes: Passes | None = None
    delivery: Delivery | None = None
    fill: Fill | None = None
    scenes: Annotated[tuple[Scene, ...], Field(max_length=MAX_SCENES)] = ()
    minutes: Annotated[dict[Step, Minutes], Field(max_length=len(STEPS))] = Field(
        default_factory=dict)
    fps: Annotated[float, Field(ge=1, le=60, allow_inf_nan=False)] = 12.0

    @model_validator(mode="after")
    def _each_once(self) -> "Shared":
        names = [s.name.casefold() for s in self.scenes]
        if len(set(names)) < len(names):
            raise ValueError("two scenes have the same name")
        return self

    def scene(self, name: str) -> Scene | None:
        """The scene of a name, None if there is none."""
        return next((s for s in self.scenes if s.name == name), None)

    def said(self, what: What, scene: str) -> Any:
        """What is shared of something, None if that is left to each picture."""
        if what in ("light", "background"):
            found = self.scene(scene)
            return getattr(found, what) if found else None
        return getattr(self, what)


@dataclass(frozen=True)
class _Followed:
    """How a picture has it, and the edit that makes it so."""

    label: str
    of: Callable[[Recipe], Any]
    edit: Callable[[Any], SingleEdit]


def _light(recipe: Recipe) -> Light:
    # Which part lies before which is a matter of each drawing.
    return recipe.light.model_copy(update={"pairs": ()})


FOLLOWED: dict[What, _Followed] = {
    "lines": _Followed("Lines", lambda r: r.lines, lambda v: SetLines(lines=v)),
    "passes": _Followed("Method and passes", lambda r: r.passes, lambda v: SetPasses(passes=v)),
    "delivery": _Followed("Stack", lambda r: r.delivery, lambda v: SetDelivery(delivery=v)),
    "fill": _Followed("Fill", lambda r: r.fill, lambda v: SetFill(fill=v)),
    "light": _Followed("Light", _light, lambda v: MoveLight(light=v)),
    "background": _Followed("Ground", lambda r: r.background, lambda v: SetBackground(colour=v)),
}


def of_its_own(recipe: Recipe, shared: Shared, scene: str) -> tuple[What, ...]:
    """What a picture has otherwise than it is shared."""
    return tuple(what for what, followed in FOLLOWED.items()
                 if (said := shared.said(what, scene)) is not None
                 and followed.of(recipe) != said)


def follow(recipe: Recipe, shared: Shared, scene: str,
           whats: Collection[What] = tuple(FOLLOWED)) -> Several | None:
    """The edit that makes a picture follow what is shared; None if it does already."""
    edits = tuple(_edit(recipe, what, shared.said(what, scene))
                  for what in of_its_own(recipe, shared, scene) if what in whats)
    return Several(edits=edits) if edits else None


def follow_change(recipe: Recipe, before: tuple[Shared, str],
                  after: tuple[Shared, str]) -> Several | None:
    """The edit that is due when what is shared, or the picture's scene, changes: what it has of
    its own stays.

    Parameters
    ----------
    before, after : (Shared, str)
        What was and is shared, and the scene that the picture plays in.
    """
    own = of_its_own(recipe, *before)
    return follow(recipe, *after, [what for what in FOLLOWED if what not in own
                                   and before[0].said(what, before[1])
                                   != after[0].said(what, after[1])])


def _edit(recipe: Recipe, what: What, value: Any) -> SingleEdit:
    if what == "light":  # the picture's own pairs stay
        value = value.model_copy(update={"pairs": recipe.light.pairs})
    return FOLLOWED[what].edit(value)


def shared_from(recipe: Recipe, shared: Shared, whats: Collection[What], scene: str) -> Shared:
    """What is shared, with some of it as a picture has it."""
    changes: dict[str, Any] = {what: FOLLOWED[what].of(recipe) for what in whats
                               if what not in ("light", "background")}
    of_scene: dict[str, Any] = {what: FOLLOWED[what].of(recipe) for what in whats
                if what in ("light", "background")}
    if of_scene and shared.scene(scene) is None:
        changes["scenes"] = (*shared.scenes, Scene(name=scene, **of_scene))
    elif of_scene:
        changes["scenes"] = tuple(s.model_copy(update=of_scene) if s.name == scene else s
                                  for s in shared.scenes)
    return shared.model_copy(update=changes)
