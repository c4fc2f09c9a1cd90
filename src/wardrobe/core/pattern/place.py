"""Where a pixel lies on a pattern: turned, scaled, moved, and bent round the form if wanted."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form.solve import Form

Real = NDArray[np.float32]

_STEEPEST = 0.97  # tilt beyond which a surface is not unrolled further


@dataclass(frozen=True)
class Placement:
    """How a pattern lies on a part.

    Attributes
    ----------
    x, y : float
        Picture pixel of the pattern's origin.
    period : float
        Picture pixels per repeat (or of a picture's longer edge).
    angle : float
        Degrees, counter-clockwise.
    degree : float
        Of the ellipse as which a circle is seen: 90 from above, less the more it is turned away;
        its long axis lies along the angle.
    """

    x: float
    y: float
    period: float
    angle: float
    degree: float = 90.0


def pattern_coordinates(placement: Placement, xs: Real, ys: Real) -> tuple[Real, Real]:
    """Coordinates in repeats.

    Parameters
    ----------
    placement : Placement
    xs, ys : ndarray of float32, same shape
        Picture coordinates.

    Returns
    -------
    u, v : ndarray of float32, same shape
    """
    turn = np.deg2rad(placement.angle)
    cos, sin = np.float32(np.cos(turn)), np.float32(np.sin(turn))
    dx, dy = xs - np.float32(placement.x), ys - np.float32(placement.y)
    # y runs down, so counter-clockwise on the picture turns the other way.
    u, v = cos * dx - sin * dy, sin * dx + cos * dy
    period = np.float32(placement.period)
    short = period * np.float32(np.sin(np.deg2rad(placement.degree)))
    return (u / period).astype(np.float32), (v / short).astype(np.float32)


def unrolled(form: Form, member: NDArray[np.bool_], xs: Real, ys: Real) -> tuple[Real, Real]:
    """Picture coordinates as they lie on the surface once it is rolled out flat.

    On a round form of radius R a point at the tilt n lies at R n from the middle and, along the
    surface, at R asin(n): a pattern is crowded towards the edge by the difference.

    Parameters
    ----------
    form : Form
    member : ndarray of bool, shape (forms + 1,)
        Forms that carry the pattern.
    xs, ys : ndarray of float32, same shape
        Picture coordinates.

    Returns
    -------
    xs, ys : ndarray of float32, same shape
    """
    grid = form.grid
    inside = member[form.labels]
    radius = np.zeros(len(member), np.float32)
    np.maximum.at(radius, form.labels.ravel(), form.edge.ravel())
    radius /= np.float32(grid.scale)
    shifts = []
    _, nearest = cv2.distanceTransformWithLabels((~inside).astype(np.uint8), cv2.DIST_L2, 5,
                                                 labelType=cv2.DIST_LABEL_PIXEL)
    for axis in (0, 1):
        tilt = np.clip(form.normals[..., axis], -_STEEPEST, _STEEPEST)
        shift = (np.arcsin(tilt) - tilt) * radius[form.labels]
        table = np.zeros(int(nearest.max()) + 1, np.float32)
        table[nearest[inside]] = shift[inside]
        field = cv2.GaussianBlur(table[nearest], (0, 0), 1.5)
        shifts.append(cv2.remap(field, (xs - grid.x) * np.float32(grid.scale) - 0.5,
                                (ys - grid.y) * np.float32(grid.scale) - 0.5,
                                cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))
    return xs + shifts[0], ys + shifts[1]
