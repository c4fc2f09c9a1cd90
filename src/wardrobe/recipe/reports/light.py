"""What the shapes of a piece say: how simple they are, and where each part's light comes from."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.form import Form
from wardrobe.core.form.folds import border_distance
from wardrobe.core.form.grid import Grid
from wardrobe.core.light.audit import ASTRAY, CLEAR, Implied, audit_light
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.model import Recipe, ground_rows
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.cut import Assigned
from wardrobe.recipe.stages.form import AnyForm
from wardrobe.recipe.stages.graph import Graph
from wardrobe.recipe.stages.picture import DrawnMasks
from wardrobe.recipe.stages.stage import Get, Stage

Byte = NDArray[np.uint8]

EDGE = 1400  # px: the size at which shapes are counted
_MOVED = 12.0  # degrees that the light may move before touch-ups are looked at again


@dataclass(frozen=True)
class PassShape:
    """How the shape of a pass is made up.

    Attributes
    ----------
    name : str
    islands, holes : int
        Separate pieces, and lit places that a piece encloses.
    share : float, 0..1
        Of the figure.
    """

    name: str
    islands: int
    holes: int
    share: float


@dataclass(frozen=True)
class PartLight:
    """The light that a part's shade implies.

    Attributes
    ----------
    part : str
    x, y : float
        A place inside the part, picture pixels.
    azimuth : float
        Degrees.
    confidence : float, 0..1
        How surely, beside what the other parts say.
    clear : float, 0..1
        How surely, by its own shade.
    away : float
        Degrees from the piece's light, -180..180.
    astray : bool
        Whether it clearly comes from elsewhere.
    """

    part: str
    x: float
    y: float
    azimuth: float
    confidence: float
    clear: float
    away: float
    astray: bool


@dataclass(frozen=True)
class LightReport:
    """The shapes as they are drawn, touch-ups included.

    Attributes
    ----------
    passes : list of PassShape
    parts : list of PartLight
    elsewhere : list of int
        Touch-ups that were made for another light.
    order : list of str
        Parts from front to behind, as cast shadows take them.
    casts : list of (str, str)
        Parts that touch, the one in front first: it throws its shadow on the other.
    """

    passes: list[PassShape]
    parts: list[PartLight]
    elsewhere: list[int]
    order: list[str]
    casts: list[tuple[str, str]]


def report_light(deriver: Deriver, recipe: Recipe) -> LightReport:
    """Measure the shapes of all passes, and audit the shade of each part."""
    view = View.whole(*recipe.size, EDGE)
    masks = deriver.masks(recipe, view)
    figure = ~np.isin(masks.parts, list(ground_rows(recipe.parts)))
    passes = [count_shapes(name, masks.level(name) > 127, figure)
              for name in masks.keys if not PASSES[name].soft]
    audit = deriver.store(audited_light(deriver.stages(recipe)))
    return LightReport(passes, list(audit), touch_ups_elsewhere(recipe),
                       deriver.front_to_behind(recipe), deriver.casting(recipe))


def touch_ups_elsewhere(recipe: Recipe) -> list[int]:
    """Touch-ups that were made while the light stood elsewhere."""
    now = recipe.light
    return [t.id for t in recipe.touch_ups
            if directions_apart(t.azimuth, t.height, now.azimuth, now.height) > _MOVED]


def directions_apart(azimuth: float, height: float, other_azimuth: float,
                     other_height: float) -> float:
    """Degrees between two directions."""
    a, b = np.radians(height), np.radians(other_height)
    turn = np.radians(azimuth - other_azimuth)
    cosine = np.sin(a) * np.sin(b) + np.cos(a) * np.cos(b) * np.cos(turn)
    return float(np.degrees(np.arccos(np.clip(cosine, -1, 1))))


def count_shapes(name: str, mask: NDArray[np.bool_], figure: NDArray[np.bool_]) -> PassShape:
    """Count islands and holes.

    Parameters
    ----------
    name : str
    mask, figure : ndarray of bool, shape (height, width)
        The shape, and the silhouette.
    """
    mask = mask & figure
    islands = cv2.connectedComponents(mask.astype(np.uint8), connectivity=8)[0] - 1
    # What is not in the shape: a hole is a piece of it that is figure all through.
    beside = np.pad(~mask, 1, constant_values=True).astype(np.uint8)
    count, pieces = cv2.connectedComponents(beside, connectivity=4)
    open_ = np.zeros(count, bool)
    open_[np.unique(pieces[~np.pad(figure, 1)])] = True
    holes = int((~open_[1:]).sum())
    return PassShape(name, int(islands), holes, float(mask.sum() / max(1, figure.sum())))


@dataclass(frozen=True, eq=False)
class AuditedLight(Stage[tuple[PartLight, ...]]):
    """The light that each part's shade implies.

    Attributes
    ----------
    ids : tuple of str
        Parts in the order of their rows.
    telling : tuple of bool
        Whether a part's shade tells of the light: what mirrors a horizon tells nothing.
    """

    masks: DrawnMasks
    form: AnyForm
    assigned: Assigned
    ids: tuple[str, ...]
    telling: tuple[bool, ...]
    azimuth: float
    view: View

    def make(self, get: Get) -> tuple[PartLight, ...]:
        masks, view = get(self.masks), self.view
        if "shade" not in masks.keys:
            return ()
        form = get(self.form)
        grid = form.grid
        ys, xs = _on_view(grid, view)
        dark = masks.level("shade")[ys, xs] > 127
        rows_of = _rows(form, get(self.assigned).part_of_area, self.telling)
        # How far inside its part a pixel lies: the innermost is where an arrow points.
        room = border_distance(rows_of)
        inmost = ndimage.maximum_position(room, rows_of, np.arange(len(self.ids) + 1))

        def judged(told: Implied) -> PartLight:
            away = (told.azimuth - self.azimuth + 180) % 360 - 180
            y, x = inmost[told.label]
            return PartLight(
                self.ids[told.label - 1], float(grid.x + (int(x) + 0.5) / grid.scale),
                float(grid.y + (int(y) + 0.5) / grid.scale), told.azimuth, told.confidence,
                told.clear, round(away, 1), told.clear >= CLEAR and abs(away) > ASTRAY)

        return tuple(judged(told) for told in audit_light(form.normals, rows_of, dark))


def _on_view(grid: Grid, view: View) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Rows and columns of a view at the pixels of a form."""
    rows, columns = np.mgrid[:grid.shape[0], :grid.shape[1]]
    ys = np.clip(((rows + 0.5) / grid.scale + grid.y) * view.scale, 0, view.shape[0] - 1)
    xs = np.clip(((columns + 0.5) / grid.scale + grid.x) * view.scale, 0, view.shape[1] - 1)
    return ys.astype(np.int64), xs.astype(np.int64)


def _rows(form: Form, part_of_area: NDArray[np.uint16],
          telling: tuple[bool, ...]) -> NDArray[np.int32]:
    """Row of the part at each pixel of a form, 0 where its shade tells nothing."""
    owners = form.owners(part_of_area)
    return np.asarray((owners * np.array([True, *telling])[owners])[form.labels], np.int32)


def light_of_shade(deriver: Deriver, recipe: Recipe, shaded: NDArray[np.bool_],
                   part: str | None = None) -> float | None:
    """The light that shade drawn elsewhere implies for most of a piece, or for a part.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    shaded : ndarray of bool, shape (height, width)
        At the size of the drawing.
    part : str or None

    Returns
    -------
    float or None
        Azimuth, degrees; None if nothing tells of it.
    """
    form, view = deriver.form(recipe), View.whole(*recipe.size)
    ys, xs = _on_view(form.grid, view)
    rows = _rows(form, deriver.assignment(recipe).part_of_area,
                 tuple(part in (None, p.id) for p in recipe.parts))
    told = audit_light(form.normals, rows, shaded[ys, xs])
    weights = np.array([t.confidence * np.count_nonzero(rows == t.label) for t in told])
    if not weights.any():
        return None
    sum_of = (weights * np.exp(1j * np.radians([t.azimuth for t in told]))).sum()
    return float(np.degrees(np.angle(sum_of)) % 360)


def audited_light(graph: Graph) -> AuditedLight:
    """What audits the shade of a piece."""
    recipe, view = graph.recipe, View.whole(*graph.recipe.size, EDGE)
    return AuditedLight(graph.masks(view), graph.form, graph.assigned,
                        tuple(p.id for p in recipe.parts),
                        tuple(MATERIALS[p.material].gleam != "horizon" for p in recipe.parts),
                        recipe.light.azimuth, view)
