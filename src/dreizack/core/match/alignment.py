"""Where the room of a solve lies in ours: ground, origin, scale, direction.

A point p of the solve is at scale · turn(p − origin); ``turn`` in degrees, x, then y, then z about the fixed
axes, as everywhere in a document.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..affine import angles_of, rotation

Floats = NDArray[np.float64]


class Contradicts(ValueError):
    """Why picks cannot be taken together; a sentence for whoever picked."""


@dataclass(frozen=True)
class Alignment:
    """``origin`` (3,), ``turn`` (3,) in degrees, and ``scale``."""

    origin: Floats
    turn: Floats
    scale: float

    @property
    def rotation(self) -> Floats:
        """Matrix (3, 3) of the turn."""
        matrix: Floats = rotation(self.turn)
        return matrix

    def placed(self, points: Floats) -> Floats:
        """Points (n, 3) of the solve in our room."""
        result: Floats = self.scale * (points - self.origin) @ self.rotation.T
        return result

    def unplaced(self, points: Floats) -> Floats:
        """Points (n, 3) of our room in that of the solve."""
        result: Floats = points / self.scale @ self.rotation + self.origin
        return result


AS_SOLVED = Alignment(np.zeros(3), np.zeros(3), 1.0)


def with_ground(was: Alignment, points: Floats, above: Floats) -> Alignment:
    """The ground goes through ``points`` (n, 3) of the solve, at least three; ``above`` (3,), a camera, is on
    its upper side. The origin goes to their middle, direction and scale stay."""
    if len(points) < 3:
        raise Contradicts("three points make a ground; pick some more")
    middle = np.median(points, axis=0)
    for _ in range(3):
        middle, normal, flat = _plane(points)
        off = np.abs((points - middle) @ normal)
        near = off <= max(3 * float(np.median(off)), 1e-9)
        if near.all() or near.sum() < 3:
            break
        points = points[near]
    if flat:
        raise Contradicts("these points lie on one line; pick one beside it")
    if (above - middle) @ normal < 0:
        normal = -normal
    rotation_now = _bringing_up(was.rotation @ normal) @ was.rotation
    return Alignment(middle, angles_of(rotation_now), was.scale)


def _plane(points: Floats) -> tuple[Floats, Floats, bool]:
    """Middle and normal of the plane that fits best (total least squares), and whether there is none."""
    middle = points.mean(axis=0)
    _, spread, axes = np.linalg.svd(points - middle, full_matrices=False)
    return middle, axes[-1], bool(spread[1] < 1e-3 * spread[0])


def _bringing_up(normal: Floats) -> Floats:
    """The shortest turn (3, 3) that brings a direction upright."""
    up = np.array([0.0, 1.0, 0.0])
    axis, cosine = np.cross(normal, up), float(normal @ up)
    if cosine < -1 + 1e-9:
        return np.diag([1.0, -1.0, -1.0])
    cross = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    result: Floats = np.eye(3) + cross + cross @ cross / (1 + cosine)
    return result


def with_origin(was: Alignment, point: Floats) -> Alignment:
    """That point (3,) of the solve is at 0, 0, 0."""
    return Alignment(point, was.turn, was.scale)


def with_distance(was: Alignment, a: Floats, b: Floats, metres: float) -> Alignment:
    """Two points (3,) of the solve are so many metres apart; the origin stays where it is."""
    apart = float(np.linalg.norm(b - a))
    if apart < 1e-9 or metres <= 0:
        raise Contradicts("two different points and a distance above 0 make a scale")
    return Alignment(was.origin, was.turn, metres / apart)


def with_direction(was: Alignment, a: Floats, b: Floats, along: str) -> Alignment:
    """The line from a to b (3,) of the solve runs, seen from above, along x or z of our room."""
    way = was.rotation @ (b - a)
    if np.hypot(way[0], way[2]) < 1e-9:
        raise Contradicts("this line stands upright; a direction lies on the ground")
    wanted = 0.0 if along == "x" else -np.pi / 2
    turn = np.arctan2(-way[2], way[0]) - wanted
    # The nearer way round: a line has no front.
    turn = (turn + np.pi / 2) % np.pi - np.pi / 2
    c, s = np.cos(-turn), np.sin(-turn)
    yaw = np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
    return Alignment(was.origin, angles_of(yaw @ was.rotation), was.scale)
