"""The recipe: everything a person decided about a piece. Every picture is computed from it."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from wardrobe.core.finish.planes import PLANES
from wardrobe.core.lines.frame import turned_size
from wardrobe.core.lines.intake import Kind
from wardrobe.core.lines.stroke import Edge
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.drawing import MAX_DRAWINGS, Drawing, Source
from wardrobe.recipe.document.finish import (
    MAX_FINISH,
    MAX_FOCUS,
    FinishLayer,
    Focus,
    check_spots,
)
from wardrobe.recipe.document.ink import Inking
from wardrobe.recipe.document.lighting import MAX_TOUCH_UPS, Light, PartForm, TouchUp, check_points
from wardrobe.recipe.document.look import MAX_LOOKS, Look
from wardrobe.recipe.document.pattern import Pattern, PlacedPicture
from wardrobe.recipe.document.types import (
    Colour,
    Frozen,
    MaterialKey,
    MethodKey,
    PartId,
    PartName,
    PassKey,
    Point,
    Share,
    Strokes,
    one_of,
)
from wardrobe.recipe.document.upgrade import as_today

MAX_CLOSINGS = 2000
MAX_RECUTS = 500
MAX_HATCHING = 1000
MAX_BLACKS = 200
MAX_PARTS = 200
SMALLEST_CROP = 64  # px
LARGEST_EDGE, MOST_PIXELS = 12_000, 80_000_000  # of a picture with room around its drawing


class Frame(Frozen):
    """Quarter turns clockwise, degrees of levelling, and what is kept, in turned pixels: beyond
    the drawing, that is room around it."""

    turn: Annotated[int, Field(ge=0, le=3)] = 0
    tilt: Annotated[float, Field(ge=-45, le=45, allow_inf_nan=False)] = 0.0
    crop: tuple[int, int, int, int] | None = None


class InkStroke(Frozen):
    """How darkness becomes ink; what is None follows from the kind of drawing.

    Attributes
    ----------
    paper : float or None, 0..0.6
        Darkness against the paper that still counts as paper.
    threshold : float, 0.02..0.98
        Darkness between paper and ink that counts as half covered.
    grain : float or None, 0..40
        Marks smaller than this many px across are dust.
    strengthen : float, 0..3
        How often the lines are laid over themselves.
    weight : float, -12..12
        Change of the lines' width, px.
    edge : str
        Smooth, hard (aliased), or cut hard and smoothed again in pictures.
    """

    paper: Annotated[float, Field(ge=0, le=0.6, allow_inf_nan=False)] | None = None
    threshold: Annotated[float, Field(ge=0.02, le=0.98)] = 0.5
    grain: Annotated[float, Field(ge=0, le=40, allow_inf_nan=False)] | None = None
    strengthen: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)] = 0.0
    weight: Annotated[float, Field(ge=-12, le=12, allow_inf_nan=False)] = 0.0
    edge: Edge = "smooth"


class Lines(InkStroke):
    """How the drawing becomes lines.

    Attributes
    ----------
    kind : str or None
        A key of INTAKES; None as recognised.
    even : bool or None
        Even out the light on the paper; None follows from the kind.
    colour : str
    """

    kind: Kind | None = None
    even: bool | None = None
    colour: Colour = "#1e1a22"


BoundaryRole = Literal["printed", "shade edge", "light edge"]


class Boundary(Frozen):
    """What lines of a hue are for: printed like the others, or edges of shade or light, which
    bound areas and are painted over by them."""

    hue: Annotated[float, Field(ge=0, lt=360)]
    role: BoundaryRole


class Halo(Frozen):
    """A thin light rim where solid blacks touch each other or a dark area; width 0 is none."""

    width: Annotated[float, Field(ge=0, le=16, allow_inf_nan=False)] = 0.0
    colour: Colour = "#f4efe4"


class Hatching(Frozen):
    """Ink that is printed but bounds nothing, named by places on it: the families of strokes
    there, or, where it was pointed out by hand, those strokes alone."""

    places: Annotated[tuple[Point, ...], Field(min_length=1, max_length=2000)]
    by_hand: bool = False


class Closing(Frozen):
    """A line that bounds areas: across a gap, or drawn by hand. Printed only if inked."""

    points: Annotated[tuple[Point, ...], Field(min_length=2, max_length=2000)]
    inked: bool = False


class OpenGap(Frozen):
    """A gap that stays open: its banks, and a place on either side; both are one area."""

    ends: tuple[Point, Point]
    sides: tuple[Point, Point]


class SplitArea(Frozen):
    """A stroke that parts the areas it cuts through; ``behind`` the figure only the ground."""

    kind: Literal["split"] = "split"
    stroke: Annotated[tuple[Point, ...], Field(min_length=2, max_length=2000)]
    behind: bool = False


class JoinAreas(Frozen):
    """Two places whose areas are one, whatever lies between."""

    kind: Literal["join"] = "join"
    places: tuple[Point, Point]


class ShareArea(Frozen):
    """Places that each get their share of an area that is open between them."""

    kind: Literal["share"] = "share"
    places: Annotated[tuple[Point, ...], Field(min_length=2, max_length=200)]


Recut = Annotated[SplitArea | JoinAreas | ShareArea, Field(discriminator="kind")]


PlaneKey = Annotated[str, one_of("plane", PLANES)]


Opacity = Annotated[float, Field(ge=0.05, le=1, allow_inf_nan=False)]


class Part(Frozen):
    """A named set of areas with one material and one base colour.

    Attributes
    ----------
    parent : str or None
        The part that it belongs to, as a collar does to a coat: hidden with it, and drawn
        before it in the list.
    with_parent : bool
        Shaded as one form with its parent.
    visible : bool
    pattern : Pattern or None
    method : str or None
        A key of METHODS, where the part differs from the piece.
    own : dict of str to str
        Colours that are to be seen in passes, whatever the rule says.
    form : PartForm
    scenery : str or None
        A key of PLANES, for what lies around the figure: it may hold the outside, takes no
        form shade, and lies outside of the silhouette.
    opacity : float, 0.05..1
        Under 1 what lies behind shows through, but not through its lights.
    behind : str or None
        The part that shows through; None for the ground.
    """

    id: PartId
    name: PartName
    material: MaterialKey = "matte cloth"
    base: Colour
    parent: PartId | None = None
    with_parent: bool = False
    visible: bool = True
    pattern: Pattern | None = None
    method: MethodKey | None = None
    own: dict[PassKey, Colour] = Field(default_factory=dict)
    form: PartForm = PartForm()
    scenery: PlaneKey | None = None
    opacity: Opacity = 1.0
    behind: PartId | None = None

    @property
    def see_through(self) -> bool:
        """Whether something shows through it."""
        return self.opacity < 1 and self.scenery is None


def family(parts: Sequence[Part], part_id: str) -> list[str]:
    """Ids of a part and of all that belong to it, in the order of the list."""
    return [p.id for p in parts if part_id in lineage(parts, p.id)]


def ground_rows(parts: Sequence[Part]) -> frozenset[int]:
    """Rows of what lies around the figure: 0, the background, and the scenery."""
    return frozenset([0, *(row for row, p in enumerate(parts, start=1) if p.scenery)])


def farthest_first(parts: Sequence[Part]) -> tuple[int, ...]:
    """Rows of the scenery, by plane and then from behind in the list."""
    rows = [(list(PLANES).index(p.scenery), -row) for row, p in enumerate(parts, start=1)
            if p.scenery]
    return tuple(-row for _, row in sorted(rows))


def hidden(parts: Sequence[Part]) -> set[str]:
    """Ids of the parts that are not shown: hidden themselves, or with what they belong to."""
    out_of_sight = {p.id for p in parts if not p.visible}
    return {p.id for p in parts if out_of_sight.intersection(lineage(parts, p.id))} \
        if out_of_sight else set()


def lineage(parts: Sequence[Part], part_id: str) -> list[str]:
    """Ids of a part and of what it belongs to, up to the one that belongs to none; it ends, too,
    where it would begin again."""
    parents = {p.id: p.parent for p in parts}
    line, at = [part_id], parents.get(part_id)
    while at is not None and at not in line:
        line.append(at)
        at = parents.get(at)
    return line


def check_families(parts: Sequence[Part]) -> None:
    """Raise ValueError unless each part belongs to none or to another that is there, and none
    to itself in the end."""
    parents = {p.id: p.parent for p in parts}
    names = {p.id: p.name for p in parts}
    sound: set[str] = set()
    for part in parts:
        line: dict[str, None] = {}
        at: str | None = part.id
        while at is not None and at not in sound:
            if at in line:
                raise ValueError(f"“{names[at]}” belongs to itself in the end")
            line[at] = None
            at = parents[at]
            if at is not None and at not in parents:
                raise ValueError(f"“{part.name}” belongs to a part that is not there")
        sound.update(line)


def check_crop(source: Source, frame: Frame) -> None:
    """Raise ValueError unless what is kept meets the turned drawing, is large enough, and not
    larger than a drawing may be."""
    if frame.crop is None:
        return
    width, height = turned_size(source.width, source.height, frame.turn)
    x, y, w, h = frame.crop
    if x >= width or y >= height or x + w <= 0 or y + h <= 0:
        raise ValueError("nothing of the drawing would be kept")
    if max(w, h) > LARGEST_EDGE or w * h > MOST_PIXELS:
        raise ValueError(f"with so much room the picture would have {w} × {h} px; at most "
                         f"{LARGEST_EDGE} px on an edge and {MOST_PIXELS // 1_000_000} million "
                         "in all are worked on")
    if min(w, h) < SMALLEST_CROP:
        raise ValueError(f"at least {SMALLEST_CROP} px on each edge must be kept")


Fill = Literal["under the line", "to the line"]


class Claim(Frozen):
    """Areas given to something, named by strokes so that re-cutting keeps the assignment.

    ``to`` is a part's id; ``none`` takes areas away; ``ground`` marks them as seen through;
    ``figure`` takes that mark away.
    """

    to: PartId | Literal["none", "ground", "figure"]
    strokes: Strokes


class Recipe(Frozen):
    """A piece.

    ``other_drawings`` are the versions of the drawing that are not in use. Where ``open_figure``
    is set, the figure runs out into the ground on purpose. ``hatching`` bounds nothing, nor does
    ``details``, a second drawing printed with the first;
    ``coloured_blacks`` name solid blacks by a place within: they are areas, in a part's colour.
    ``recuts``, ``claims`` and ``touch_ups`` are applied in order; later ones win. ``finish`` is
    laid over the picture, from the bottom, all of it as strongly as ``finish_amount`` says;
    ``focus`` says where the eye should go. Parts run from front to behind; ``proposed`` parts were
    suggested and not yet accepted. The piece is the first of its looks; ``looks`` are the others.
    """

    schema_version: Literal[3] = 3
    source: Source
    other_drawings: Annotated[tuple[Drawing, ...], Field(max_length=MAX_DRAWINGS)] = ()
    frame: Frame = Frame()
    lines: Lines = Lines()
    boundaries: Annotated[tuple[Boundary, ...], Field(max_length=12)] = ()
    halo: Halo = Halo()
    hatching: Annotated[tuple[Hatching, ...], Field(max_length=MAX_HATCHING)] = ()
    details: PlacedPicture | None = None
    coloured_blacks: Annotated[tuple[Point, ...], Field(max_length=MAX_BLACKS)] = ()
    closings: Annotated[tuple[Closing, ...], Field(max_length=MAX_CLOSINGS)] = ()
    left_open: Annotated[tuple[OpenGap, ...], Field(max_length=MAX_CLOSINGS)] = ()
    open_figure: bool = False
    silhouette_growth: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)] = 2.0
    recuts: Annotated[tuple[Recut, ...], Field(max_length=MAX_RECUTS)] = ()
    fill: Fill = "under the line"
    parts: Annotated[tuple[Part, ...], Field(max_length=MAX_PARTS)] = ()
    proposed: bool = False
    claims: tuple[Claim, ...] = ()
    passes: Passes = Passes()
    light: Light = Light()
    touch_ups: Annotated[tuple[TouchUp, ...], Field(max_length=MAX_TOUCH_UPS)] = ()
    background: Colour = "#f3efe6"
    ink: Inking = Inking()
    finish: Annotated[tuple[FinishLayer, ...], Field(max_length=MAX_FINISH)] = ()
    finish_amount: Share = 1.0
    focus: Annotated[tuple[Focus, ...], Field(max_length=MAX_FOCUS)] = ()
    delivery: Delivery = Delivery()
    looks: Annotated[tuple[Look, ...], Field(max_length=MAX_LOOKS)] = ()

    @model_validator(mode="before")
    @classmethod
    def _upgraded(cls, document: Any) -> Any:
        return as_today(document)

    @model_validator(mode="after")
    def _sound(self) -> "Recipe":
        check_families(self.parts)
        check_crop(self.source, self.frame)
        check_points(self.touch_ups)
        check_spots(self.finish)
        return self

    def only(self, *names: str) -> "Recipe":
        """The same picture with nothing decided about it but what is named: a slice."""
        return Recipe.model_construct(source=self.source, frame=self.frame,
                                      **{name: getattr(self, name) for name in names})

    @property
    def size(self) -> tuple[int, int]:
        """Width and height of the picture, px."""
        if self.frame.crop:
            return self.frame.crop[2:]
        return turned_size(self.source.width, self.source.height, self.frame.turn)
