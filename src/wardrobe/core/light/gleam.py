"""Where light glances off: a band across hair, patches on leather, a window in glass, eyes.

The shapes are common practice, no published source; where a formula is behind one it is named.
"""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.subject import Subject

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

_CROWN_TILT = -14.0  # degrees that the crown of a head is turned to the viewer
_BAND = 0.15  # radians: half the width of a band at its middle
_BAND_REACH = 0.95  # radians of longitude to either side of the light
_BAND_UP = 0.6  # share of the way from the crown to where a mirror would shine
_BAND_RANGE = (40.0, 64.0)  # degrees from the crown
_TOOTH = 4.5  # line widths from tooth to tooth, per radian of a circle around the crown
_IRIS_GLINT, _IRIS_WAY = 0.34, 0.42  # of the iris: radius of its glint, and how far it is moved
# Share that a surface looks down: at the horizon, and where the ground nearby is as bright as
# the sky; how dark it is in between.
_HORIZON, _FOOT, _HORIZON_DARK = 0.08, 0.95, -0.8
_REFLECTED = 0.86  # cosine to the far side from which metal reflects what is behind it
# A window: from where to where inside the outline, in line widths, and how far it turns.
_PANE, _PANE_TURN = (1.0, 2.25), 0.35
_SILL, _SILL_TURN = (1.0, 1.75), -0.80


def mirror_horizon(normals: Real) -> Real:
    """What a polished coat seems to receive: the sky above, dark ground at the horizon, and the
    ground nearby, lighter again, towards its foot; whatever the light.

    Parameters
    ----------
    normals : ndarray of float32, shape (..., 3)
        Unit normals, y down.

    Returns
    -------
    ndarray of float32, shape (...)
        As the cosine of the light received.
    """
    down = normals[..., 1]
    below = _HORIZON_DARK + (1 - _HORIZON_DARK) * np.clip(
        (down - _HORIZON) / (_FOOT - _HORIZON), 0, 1)**1.5
    return np.where(down < _HORIZON, np.float32(1), below).astype(np.float32)


@kernel
def _band(labels: NDArray[np.int32], hair: NDArray[np.bool_], edge: Real, cx: float, cy: float,
          radius: float, crown_y: float, crown_z: float, polar: float, east: float, teeth: float,
          inset: float, width_of_form: Real, out: Byte) -> None:
    height, width = labels.shape
    reach = 1.12 * radius
    for y in range(max(0, int(cy - reach)), min(height, int(cy + reach) + 1)):
        for x in range(max(0, int(cx - reach)), min(width, int(cx + reach) + 1)):
            form = labels[y, x]
            if not hair[form]:
                continue
            nx, ny = (x - cx) / radius, (y - cy) / radius
            far = np.sqrt(nx * nx + ny * ny)
            if far > 1.12:
                continue
            out[y, x] = 0  # on the skull nothing but the band
            if edge[y, x] <= inset:
                continue
            if far > 0.985:
                nx, ny = nx * 0.985 / far, ny * 0.985 / far
            nz = np.sqrt(1 - nx * nx - ny * ny)
            down = np.arccos(min(1.0, max(-1.0, ny * crown_y + nz * crown_z)))
            longitude = np.arctan2(nx, nz * crown_y * -1 + ny * crown_z)
            away = (longitude - east) / _BAND_REACH
            if abs(away) >= 1:
                continue
            taper = 1 - away * away
            phase = longitude * teeth
            tooth = abs(2 * (phase - np.floor(phase)) - 1)
            phase = 0.63 * phase + 0.31
            other = abs(2 * (phase - np.floor(phase)) - 1)
            w = width_of_form[form] * taper
            above = down - polar
            if -w * (0.5 + 0.5 * other) < above < w * (0.35 + 1.3 * tooth):
                out[y, x] = 1


def hair_band(subject: Subject, key: KeyLight, out: Byte) -> None:
    """Draw the band of light across the hair of each head, in place.

    Strands run down from the crown like meridians of the skull, and shine where they stand square
    to the halfway vector; so the band is a circle of latitude, broken by strands, on the light's
    side (common practice).

    Parameters
    ----------
    subject : Subject
    key : KeyLight
    out : ndarray of uint8, shape (height, width)

    References
    ----------
    J. T. Kajiya and T. L. Kay, "Rendering fur with three dimensional textures", SIGGRAPH 1989:
    a strand's highlight falls off with the sine between strand and halfway vector.
    """
    form, half = subject.form, key.halfway()
    lw = form.grid.line_width
    tilt = np.radians(_CROWN_TILT)
    crown_y, crown_z = -float(np.cos(tilt)), float(np.sin(tilt))
    to_half = float(np.arccos(np.clip(half[1] * crown_y + half[2] * crown_z, -1, 1)))
    polar = float(np.clip(_BAND_UP * to_half, *np.radians(_BAND_RANGE)))
    east = float(np.arctan2(half[0], half[2] * -crown_y + half[1] * crown_z))
    for skull in subject.skulls:
        _band(form.labels, subject.gleaming("band"), form.edge, skull.x, skull.y, skull.radius,
              crown_y, crown_z, polar, east, skull.radius / (_TOOTH * lw), max(1.0, 0.7 * lw),
              (_BAND * np.minimum(subject.highlight, 2)).astype(np.float32), out)


def eye_glints(subject: Subject, key: KeyLight) -> Real | None:
    """A disc on the light's side of each iris: how far inside it, in grid pixels; None without
    eyes.

    It is given as a distance because it may be smaller than what simplifying leaves.
    """
    if not subject.irises:
        return None
    way = key.vector()[:2]
    way = way / max(0.35, float(np.hypot(*way)))  # a light face on leaves it near the middle
    labels = subject.form.labels
    inside = np.full(labels.shape, np.float32(-1e3))
    for iris in subject.irises:
        form = labels[min(labels.shape[0] - 1, int(iris.y)), min(labels.shape[1] - 1, int(iris.x))]
        if subject.highlight[form] == 0:
            continue
        radius = _IRIS_GLINT * iris.radius * float(np.sqrt(subject.highlight[form]))
        x = iris.x + _IRIS_WAY * iris.radius * float(way[0])
        y = iris.y + _IRIS_WAY * iris.radius * float(way[1])
        reach = int(iris.radius) + 6
        rows, columns = slice(max(0, int(y) - reach), int(y) + reach + 1), \
            slice(max(0, int(x) - reach), int(x) + reach + 1)
        v, u = np.mgrid[rows, columns][:, :inside[rows, columns].shape[0],
                                       :inside[rows, columns].shape[1]]
        far = np.hypot(u - x, v - y).astype(np.float32)
        inside[rows, columns] = np.maximum(inside[rows, columns], np.float32(radius) - far)
    return inside


@kernel
def draw_window(labels: NDArray[np.int32], normals: Real, edge: Real, glass: NDArray[np.bool_],
                way_x: float, way_y: float, lw: float, room: Real, out: Byte) -> None:
    """On glass, a strip along the outline on the light's side and a thin one opposite, in place.

    ``room`` is how far inside each form the innermost pixel lies: strips are narrower in small
    panes.
    """
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if not glass[form]:
                continue
            out[y, x] = 0
            nx, ny = normals[y, x, 0], normals[y, x, 1]
            size = np.sqrt(nx * nx + ny * ny)
            if size < 1e-3:
                continue
            turn = (nx * way_x + ny * way_y) / size
            unit = min(lw, 0.28 * room[form])
            inside = edge[y, x] / unit
            if (turn > _PANE_TURN and _PANE[0] < inside < _PANE[1]) \
                    or (turn < _SILL_TURN and _SILL[0] < inside < _SILL[1]):
                out[y, x] = 1


@kernel
def split_patches(labels: NDArray[np.int32], normals: Real, patchy: NDArray[np.bool_], half: Real,
                  tops: Real, out: Byte) -> None:
    """On leather and what is wet, break each patch in a larger and a smaller one, in place."""
    height, width = labels.shape
    size = np.sqrt(half[0] * half[0] + half[1] * half[1])
    # Across the direction of the light: a patch is longest there.
    ax, ay = (-half[1] / size, half[0] / size) if size > 0.05 else (0.0, 1.0)
    for y in range(height):
        for x in range(width):
            form = labels[y, x]
            if out[y, x] and patchy[form] and tops[form] < 1:
                reach = np.sqrt(2 * (1 - tops[form]))
                s = (normals[y, x, 0] - half[0]) * ax + (normals[y, x, 1] - half[1]) * ay
                if 0.38 * reach < s < 0.58 * reach:
                    out[y, x] = 0


@kernel
def reflect(labels: NDArray[np.int32], normals: Real, polished: NDArray[np.bool_], way_x: float,
            way_y: float, out: Byte) -> None:
    """Take the far side of polished forms out of their shade, in place: a dark core is left."""
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            if out[y, x] and polished[labels[y, x]] \
                    and -(normals[y, x, 0] * way_x + normals[y, x, 1] * way_y) > _REFLECTED:
                out[y, x] = 0
