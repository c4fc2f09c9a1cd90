"""The volume of the figure, and the shapes that its light makes."""

from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Edge, Form, Traits, solve_form
from wardrobe.core.light.cast import FRONT
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import Rig, Shapes, draw_shapes
from wardrobe.core.light.subject import Subject, Surface
from wardrobe.core.passes.table import drawn_shapes
from wardrobe.core.words.parts import Role
from wardrobe.recipe.stages.colours import WantedShapes
from wardrobe.recipe.stages.cut import Assigned, Assignment, Cut
from wardrobe.recipe.stages.lines import Coverage
from wardrobe.recipe.stages.stage import Get, Stage

Real = NDArray[np.float32]

_BEHIND = -1e3  # depth of the ground
_DRAWN = 0.8  # weight of what the drawing tells beside what names do
_WHOLE = 0.55  # share of its part that an area must hold to be closed all round


@dataclass(frozen=True)
class Bodies:
    """What a form depends on, by row of the parts; row 0 is the ground.

    Attributes
    ----------
    fold, closed, told : ndarray of float32, shape (parts + 1,)
    volume, group : ndarray of uint8 and uint16, shape (parts + 1,)
    kin : ndarray of int32, shape (parts + 1, 2)
        As in :class:`~wardrobe.core.form.traits.Traits`.
    edges : tuple of Edge
    """

    fold: Real
    closed: Real
    told: Real
    volume: NDArray[np.uint8]
    group: NDArray[np.uint16]
    kin: NDArray[np.int32]
    edges: tuple[Edge, ...]


@dataclass(frozen=True, eq=False)
class ReadTraits(Stage[Traits], by_content=True):
    """All that a form depends on beside the drawing, by area."""

    areas: Cut
    assigned: Assigned
    bodies: Bodies

    def make(self, get: Get) -> Traits:
        pixels, part_of_area = get(self.areas).pixels, get(self.assigned).part_of_area
        b = self.bodies
        closed = b.closed[part_of_area]
        # A face is closed under hair; a cheek behind glasses is not.
        closed[pixels < _WHOLE * np.bincount(part_of_area, pixels)[part_of_area]] = 0
        return Traits(part_of_area > 0, b.fold[part_of_area], b.kin[part_of_area],
                      b.volume[part_of_area], b.group[part_of_area], closed,
                      b.told[part_of_area], b.edges)


@dataclass(frozen=True, eq=False)
class SolvedForm(Stage[Form], keep="on disk"):
    """The volume guessed for the figure."""

    areas: Cut
    coverage: Coverage
    traits: ReadTraits

    def make(self, get: Get) -> Form:
        areas = get(self.areas)
        return solve_form(areas.labels, get(self.coverage), areas.line_width, get(self.traits))


@dataclass(frozen=True, eq=False)
class Relief(Stage[Form]):
    """The form, parts deeper or flatter: ``depths`` by row of the parts."""

    solved: SolvedForm
    assigned: Assigned
    depths: tuple[float, ...]

    def make(self, get: Get) -> Form:
        form = get(self.solved)
        owners = form.owners(get(self.assigned).part_of_area)
        return form.with_relief(np.array(self.depths, np.float32)[owners])


@dataclass(frozen=True, eq=False)
class DraftForm(Stage[Form]):
    """The form at half the resolution."""

    form: SolvedForm | Relief

    def make(self, get: Get) -> Form:
        return get(self.form).coarser()


AnyForm = SolvedForm | Relief | DraftForm


class Cover(NamedTuple):
    """How one part takes light: as a Surface, its material by key."""

    material: str
    role: Role | None
    soft: float
    highlight: float | None
    recedes: bool = False


@dataclass(frozen=True, eq=False)
class Posed(Stage[Subject]):
    """The form as light meets it, apart from what lies in front of what."""

    form: AnyForm
    assigned: Assigned
    covers: tuple[Cover, ...]

    def make(self, get: Get) -> Subject:
        form = get(self.form)
        surfaces = [Surface(MATERIALS[c.material], c.role, c.soft, c.highlight, c.recedes)
                    for c in self.covers]
        return Subject.of(form, form.owners(get(self.assigned).part_of_area), surfaces)


@dataclass(frozen=True)
class Order:
    """How far in front the parts lie: ``told`` by row, and whether the drawing has a say."""

    told: Real
    drawn: bool

    def depth(self, form: Form, owners: NDArray[np.uint16]) -> Real:
        """How far in front each form lies."""
        told = self.told.copy()
        told[0] = _BEHIND
        depth: Real = told[owners] + np.float32(_DRAWN if self.drawn else 0) * form.depth
        return depth


@dataclass(frozen=True)
class Lamps:
    """The lights without their colours.

    Attributes
    ----------
    key, rim, bounce, rim_width, amount, simple
        As in :class:`~wardrobe.core.light.shapes.Rig`.
    lift : ndarray of float32, shape (parts + 1, parts + 1)
        How far each part stands off each other, in line widths.
    """

    key: KeyLight
    rim: KeyLight | None
    bounce: KeyLight | None
    rim_width: float
    amount: float
    simple: float
    lift: Real

    def rig(self, owners: NDArray[np.uint16]) -> Rig:
        """The lights for forms that belong to these rows of the parts."""
        return Rig(self.key, self.rim, self.bounce, self.rim_width, self.amount, self.simple,
                   self.lift[owners][:, owners])


@dataclass(frozen=True, eq=False)
class DrawnShapes(Stage[Shapes]):
    """The shapes of all passes under the light."""

    posed: Posed
    order: Order
    lamps: Lamps
    wanted: WantedShapes
    softness: tuple[tuple[str, float], ...] = ()

    def make(self, get: Get) -> Shapes:
        form = get(self.posed.form)
        owners = form.owners(get(self.posed.assigned).part_of_area)
        subject = get(self.posed)
        depth = self.order.depth(form, owners)
        return draw_shapes(replace(subject, form=replace(subject.form, depth=depth)),
                           self.lamps.rig(owners),
                           drawn_shapes(get(self.wanted)), dict(self.softness))


def front_to_behind(form: Form, assignment: Assignment, order: Order) -> list[int]:
    """Rows of the parts that have areas, from front to behind."""
    owners = form.owners(assignment.part_of_area)
    depth, pixels = order.depth(form, owners), np.bincount(form.labels.ravel())
    mean = {int(row): float(np.average(depth[owners == row], weights=np.maximum(
        pixels[owners == row], 1))) for row in np.unique(owners[owners > 0])}
    return sorted(mean, key=lambda row: -mean[row])


def casting(form: Form, assignment: Assignment, order: Order) -> list[tuple[int, int]]:
    """Rows of parts that touch, the one that is in front first."""
    owners = form.owners(assignment.part_of_area)
    depth = order.depth(form, owners)
    touching = {tuple(pair) for a, b in ((form.labels[:, 1:], form.labels[:, :-1]),
                                         (form.labels[1:], form.labels[:-1]))
                for pair in np.unique(np.stack([a[a != b], b[a != b]], axis=1), axis=0)}
    both = touching | {(b, a) for a, b in touching}
    pairs = {(int(owners[a]), int(owners[b])) for a, b in both if depth[a] - depth[b] > FRONT}
    return [(a, b) for a, b in sorted(pairs) if a and b and a != b]
