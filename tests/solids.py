"""Solids whose surface is known: their outlines, drawn, and their true normals."""

from dataclasses import dataclass

import cv2
import numpy as np

from wardrobe.core.areas.segment import segment
from wardrobe.core.form import Edge, Form, Traits, solve_form

SIZE = 1200
Y, X = np.mgrid[:SIZE, :SIZE] + 0.5


@dataclass(frozen=True)
class Solid:
    """Where a solid is, its unit normals, and what lies clear of its edge."""

    inside: np.ndarray
    normals: np.ndarray
    core: np.ndarray


def _turned(degrees: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Coordinates along and across an axis, and the axis in the picture."""
    turn = np.radians(degrees)
    axis = np.array([np.cos(turn), np.sin(turn)])
    x, y = X - SIZE / 2, Y - SIZE / 2
    return x * axis[0] + y * axis[1], y * axis[0] - x * axis[1], axis


def _normals(along: np.ndarray, across: np.ndarray, up: np.ndarray,
             axis: np.ndarray) -> np.ndarray:
    normals = np.stack([along * axis[0] - across * axis[1], along * axis[1] + across * axis[0],
                        up], axis=-1)
    return normals / np.maximum(1e-9, np.linalg.norm(normals, axis=-1, keepdims=True))


def spheroid(half: float, radius: float, degrees: float) -> Solid:
    """An ellipse turned about its longer axis: x²/a² + (y² + z²)/b² = 1."""
    u, v, axis = _turned(degrees)
    rest = 1 - (u / half) ** 2 - (v / radius) ** 2
    normals = _normals(u / half**2, v / radius**2,
                       np.sqrt(np.maximum(rest, 0)) / radius, axis)
    return Solid(rest > 0, normals, rest > 0.06)


def capsule(half: float, radius: float, degrees: float) -> Solid:
    """A cylinder between two half balls."""
    u, v, axis = _turned(degrees)
    u = u - np.clip(u, -half, half)
    rest = 1 - (u**2 + v**2) / radius**2
    return Solid(rest > 0, _normals(u, v, radius * np.sqrt(np.maximum(rest, 0)), axis),
                 rest > 0.06)


def outlined(inside: np.ndarray, width: float = 9) -> np.ndarray:
    """Ink along the edge of a shape, anti-aliased."""
    out, into = (cv2.distanceTransform(m.astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
                 for m in (~inside, inside))
    away = np.maximum(out, into) - 0.5
    return (np.clip(width / 2 - away + 0.5, 0, 1) * 255).astype(np.uint8)


def form_of(ink: np.ndarray, volume: int = 0,
            edges: tuple[tuple[tuple[float, float], ...], ...] = ()) -> tuple[Form, np.ndarray]:
    """The form guessed for everything that lines enclose, and the areas."""
    areas = segment(ink)
    figure = ~areas.ground
    figure[0] = False
    usual = Traits.usual(figure)
    group = np.where(figure, np.uint16(len(edges) > 0), np.uint16(0))
    traits = Traits(figure, usual.fold, usual.kin, np.where(figure, np.uint8(volume), np.uint8(0)),
                    group, usual.closed, usual.told,
                    tuple(Edge(1, edge) for edge in edges))
    return solve_form(areas.labels, ink, areas.line_width, traits), areas.labels
