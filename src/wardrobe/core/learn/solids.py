"""Solids as signed distances, seen from the front, with their true normals and shadows."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import leaf

Real = NDArray[np.float64]

_TOUCHES = 0.02  # px from a surface at which it is met
_ABOVE = 1.5  # px


class Kind(IntEnum):
    """What a solid is; its sizes are in its own x, y, z."""

    ELLIPSOID = 0  # half axes
    TUBE = 1  # radius, half length along y, rounding
    BOX = 2  # half edges; rounding
    CONE = 3  # radius below, radius above, half length along y
    RING = 4  # radius, radius of the rod; lies in x and z
    SLEEVE = 5  # radius, half length along y, depth and number of folds
    FLOOR = 6  # the half space below y = 0


Axes = tuple[float, ...]

FLOOR, ELLIPSOID = float(Kind.FLOOR), float(Kind.ELLIPSOID)
UPRIGHT: Axes = (1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0)


@dataclass(frozen=True)
class Solid:
    """A solid in its place.

    Attributes
    ----------
    kind : Kind
    part : int
        Number of the part that it belongs to, from 1; 0 for the floor.
    at : (float, float, float)
        Its middle: x right, y down, z towards the viewer; pixels.
    sizes : tuple of float, at most 4
        As its kind says; pixels.
    turn : tuple of nine floats
        Its own axes, one after the other.
    """

    kind: Kind
    part: int
    at: tuple[float, float, float]
    sizes: tuple[float, ...]
    turn: Axes = UPRIGHT

    @property
    def reach(self) -> float:
        """Radius of the ball around its middle that holds it; 0 for a floor, which none does."""
        a, b, c = (*self.sizes, *[0.0] * 3)[:3]
        return {Kind.ELLIPSOID: max(a, b, c), Kind.TUBE: float(np.hypot(a, b)),
                Kind.BOX: float(np.sqrt(a * a + b * b + c * c)),
                Kind.CONE: float(np.hypot(max(a, b), c)), Kind.RING: a + b,
                Kind.SLEEVE: float(np.hypot(a + c, b)), Kind.FLOOR: 0.0}[self.kind]

    def packed(self) -> Real:
        """As the kernels take it."""
        sizes = (*self.sizes, *[0.0] * (4 - len(self.sizes)))
        return np.array([self.kind, self.part, *self.at, *self.turn, *sizes, self.reach])


def turned(about_x: float = 0, about_y: float = 0, about_z: float = 0,
           after: Axes | None = None) -> Axes:
    """Axes turned about the picture's right, then its down, then the viewer's axis, degrees;
    ``after`` those of something that is turned itself."""
    x, y, z = np.radians([about_x, about_y, about_z])
    rx = np.array([[1, 0, 0], [0, np.cos(x), -np.sin(x)], [0, np.sin(x), np.cos(x)]])
    ry = np.array([[np.cos(y), 0, np.sin(y)], [0, 1, 0], [-np.sin(y), 0, np.cos(y)]])
    rz = np.array([[np.cos(z), -np.sin(z), 0], [np.sin(z), np.cos(z), 0], [0, 0, 1]])
    turn = rz @ ry @ rx
    if after is not None:
        turn = np.reshape(after, (3, 3)).T @ turn
    return tuple(float(v) for v in turn.T.ravel())


@dataclass(frozen=True, eq=False)
class Seen:
    """What the viewer sees of solids, a pixel at a time.

    Attributes
    ----------
    normals : ndarray of float64, shape (height, width, 3)
        Unit vectors; 0 where nothing is.
    depth : ndarray of float64, shape (height, width)
        z of what is seen; -inf where nothing is.
    parts : ndarray of int32, shape (height, width)
        Part; 0 for the floor and where nothing is.
    solids : ndarray of int32, shape (height, width)
        1-based place of the solid that is seen; 0 where nothing is.
    packed : ndarray of float64, shape (solids, 19)
        The solids, as the kernels take them.
    scale : float
        Picture pixels to a pixel.
    """

    normals: Real
    depth: Real
    parts: NDArray[np.int32]
    solids: NDArray[np.int32]
    packed: Real
    scale: float


def look_at(solids: Sequence[Solid], size: int, scale: float = 1.0) -> Seen:
    """What is seen of solids in a square picture.

    Parameters
    ----------
    solids : sequence of Solid
    size : int
        Pixels of the picture at full size.
    scale : float
        Picture pixels to a pixel of the result.

    References
    ----------
    J. C. Hart, "Sphere tracing", The Visual Computer 12, 1996.
    """
    packed = np.array([s.packed() for s in solids])
    edge = round(size / scale)
    normals, depth = np.zeros((edge, edge, 3)), np.full((edge, edge), -np.inf)
    found = np.zeros((edge, edge), np.int32)
    _look(packed, scale, 2.0 * size, normals, depth, found)
    parts = np.concatenate([[0], packed[:, 1]]).astype(np.int32)[found]
    return Seen(normals, depth, parts, found, packed, scale)


def in_shadow(seen: Seen, light: Real) -> NDArray[np.bool_]:
    """Where something stands between what is seen and the light.

    Parameters
    ----------
    seen : Seen
    light : ndarray of float64, shape (3,)
        Unit vector towards the light.
    """
    shadow = np.zeros(seen.depth.shape, np.bool_)
    _shadows(seen.packed, seen.scale, light.astype(float), seen.normals, seen.depth, shadow)
    return shadow


@leaf
def _distance(solid: Real, px: float, py: float, pz: float) -> float:
    dx, dy, dz = px - solid[2], py - solid[3], pz - solid[4]
    x = solid[5] * dx + solid[6] * dy + solid[7] * dz
    y = solid[8] * dx + solid[9] * dy + solid[10] * dz
    z = solid[11] * dx + solid[12] * dy + solid[13] * dz
    a, b, c, d = solid[14], solid[15], solid[16], solid[17]
    kind = int(solid[0])
    if kind == 0:
        near = np.sqrt((x / a) ** 2 + (y / b) ** 2 + (z / c) ** 2)
        slope = np.sqrt((x / a**2) ** 2 + (y / b**2) ** 2 + (z / c**2) ** 2)
        return near * (near - 1) / max(slope, 1e-9)
    if kind == 1:
        out, up = np.sqrt(x * x + z * z) - (a - c), abs(y) - (b - c)
        return min(max(out, up), 0.0) + np.sqrt(max(out, 0.0) ** 2 + max(up, 0.0) ** 2) - c
    if kind == 2:
        qx, qy, qz = abs(x) - (a - d), abs(y) - (b - d), abs(z) - (c - d)
        outside = np.sqrt(max(qx, 0.0) ** 2 + max(qy, 0.0) ** 2 + max(qz, 0.0) ** 2)
        return outside + min(max(qx, qy, qz), 0.0) - d
    if kind == 3:
        round_y = np.sqrt(x * x + z * z)
        lean = (a - b) / (2 * c)  # y grows downwards: the larger radius is at +c
        side = (round_y - (b + (y + c) * lean)) / np.sqrt(1 + lean * lean)
        return max(side, abs(y) - c)
    if kind == 4:
        out = np.sqrt(x * x + z * z) - a
        return np.sqrt(out * out + y * y) - b
    if kind == 5:
        middle = np.sqrt(x * x + z * z)
        wave = c * np.sin(d * np.pi * y / b + 2.2 * x / max(middle, 1e-6))
        out, up = middle - a - wave, abs(y) - b
        return 0.7 * (min(max(out, up), 0.0)
                      + np.sqrt(max(out, 0.0) ** 2 + max(up, 0.0) ** 2))
    return -y


@leaf
def _ball(solid: Real, x: float, y: float, z: float, lx: float, ly: float,
          lz: float) -> tuple[float, float]:
    """From where to where a ray lies in the ball that holds a solid; the second below 0 where it
    does not, or only behind its start."""
    dx, dy, dz = solid[2] - x, solid[3] - y, solid[4] - z
    along = dx * lx + dy * ly + dz * lz
    rest = solid[18] ** 2 - (dx * dx + dy * dy + dz * dz - along * along)
    if rest <= 0 or along + np.sqrt(rest) <= 0:
        return 0.0, -1.0
    return max(0.0, along - np.sqrt(rest)), along + np.sqrt(rest)


@leaf
def _ellipsoid(solid: Real, x: float, y: float, z: float, lx: float, ly: float,
               lz: float) -> float:
    """Where a ray meets an ellipsoid, or -1: the nearer root of a quadratic."""
    dx, dy, dz = x - solid[2], y - solid[3], z - solid[4]
    p0 = (solid[5] * dx + solid[6] * dy + solid[7] * dz) / solid[14]
    p1 = (solid[8] * dx + solid[9] * dy + solid[10] * dz) / solid[15]
    p2 = (solid[11] * dx + solid[12] * dy + solid[13] * dz) / solid[16]
    v0 = (solid[5] * lx + solid[6] * ly + solid[7] * lz) / solid[14]
    v1 = (solid[8] * lx + solid[9] * ly + solid[10] * lz) / solid[15]
    v2 = (solid[11] * lx + solid[12] * ly + solid[13] * lz) / solid[16]
    square = v0 * v0 + v1 * v1 + v2 * v2
    half = p0 * v0 + p1 * v1 + p2 * v2
    root = half * half - square * (p0 * p0 + p1 * p1 + p2 * p2 - 1)
    if root <= 0:
        return -1.0
    return (-half - np.sqrt(root)) / square


@leaf
def _passes(solid: Real, x: float, y: float, z: float, lx: float, ly: float, lz: float) -> bool:
    """Whether a ray passes what is round about its own y beside the widest place of it."""
    kind = int(solid[0])
    if kind == 1:
        widest = solid[14]
    elif kind == 3:
        widest = max(solid[14], solid[15])
    elif kind == 5:
        widest = solid[14] + solid[16]
    else:
        return False
    ax, ay, az = solid[8], solid[9], solid[10]
    nx, ny, nz = ay * lz - az * ly, az * lx - ax * lz, ax * ly - ay * lx
    away = (x - solid[2]) * nx + (y - solid[3]) * ny + (z - solid[4]) * nz
    return bool(away * away > widest * widest * (nx * nx + ny * ny + nz * nz))


@leaf
def _met(solid: Real, x: float, y: float, z: float, lx: float, ly: float, lz: float,
         least: float, limit: float) -> float:
    """How far along a ray a solid is met before a limit, or -1; steps are at least so long."""
    gone, end = _ball(solid, x, y, z, lx, ly, lz)
    end = min(end, limit)
    if gone > end:
        return -1.0
    if _passes(solid, x, y, z, lx, ly, lz):
        return -1.0
    if solid[0] == ELLIPSOID:
        gone = _ellipsoid(solid, x, y, z, lx, ly, lz)
        return gone if 0 < gone < limit else -1.0
    for _ in range(200):
        if gone > end:
            break
        away = _distance(solid, x + gone * lx, y + gone * ly, z + gone * lz)
        if away < _TOUCHES:
            return gone
        gone += max(away, least)
    return -1.0


@leaf
def _normal(solid: Real, x: float, y: float, z: float, normal: Real) -> None:
    """The unit vector in which the distance grows; four differences (a tetrahedron's corners)."""
    nx = ny = nz = 0.0
    e = 0.05
    for k in range(4):
        sx, sy = 1.0 if k & 1 else -1.0, 1.0 if k & 2 else -1.0
        sz = sx * sy
        away = _distance(solid, x + e * sx, y + e * sy, z + e * sz)
        nx, ny, nz = nx + sx * away, ny + sy * away, nz + sz * away
    length = max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
    normal[0], normal[1], normal[2] = nx / length, ny / length, nz / length


@leaf
def _look(packed: Real, scale: float, far: float, normals: Real, depth: Real,
          found: NDArray[np.int32]) -> None:
    height, width = found.shape
    for row in range(height):
        y = (row + 0.5) * scale
        for column in range(width):
            x, at, near = (column + 0.5) * scale, 0, 2 * far
            for k in range(len(packed)):
                if packed[k, 0] != FLOOR:
                    gone = _met(packed[k], x, y, far, 0.0, 0.0, -1.0, _TOUCHES, near)
                elif packed[k, 10] < 0:
                    down = packed[k, 9] * (y - packed[k, 3]) + packed[k, 8] * (x - packed[k, 2])
                    gone = far - (packed[k, 4] - down / packed[k, 10])
                else:
                    continue
                if 0 <= gone < near:
                    at, near = k + 1, gone
            z = far - near
            if at == 0:
                continue
            found[row, column], depth[row, column] = at, z
            _normal(packed[at - 1], x, y, z, normals[row, column])


@leaf
def _shadows(packed: Real, scale: float, light: Real, normals: Real, depth: Real,
             shadow: NDArray[np.bool_]) -> None:
    height, width = depth.shape
    lx, ly, lz = light[0], light[1], light[2]
    for row in range(height):
        for column in range(width):
            z = depth[row, column]
            if z == -np.inf:
                continue
            nx, ny, nz = normals[row, column]
            if nx * lx + ny * ly + nz * lz <= 0:
                continue
            # Begun a little above the surface, or it would shade itself.
            x, y, z = ((column + 0.5) * scale + _ABOVE * nx, (row + 0.5) * scale + _ABOVE * ny,
                       z + _ABOVE * nz)
            for k in range(len(packed)):
                if packed[k, 0] != FLOOR and _met(packed[k], x, y, z, lx, ly, lz, 0.3, np.inf) >= 0:
                    shadow[row, column] = True
                    break
