"""Frame the titles: move the camera so that they fill the picture."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Floor, Shot, Vector
from .baking import bake
from .bodies import BodyStore
from .points import body_points

Floats = NDArray[np.float64]


def frame_titles(
    shot: Shot, bodies: BodyStore, frame: int, fill: float = 0.8
) -> tuple[Vector, Vector] | None:
    """Camera position and aim that keep the view's direction and fit all titles into the picture.

    ``fill`` is the share of the picture's width or height that the titles take up. The distance is exact for
    every point of the letters: a point p, with depth d towards the camera and offset o across, demands the
    distance d + |o| / (fill · tan(half angle)).
    """
    baked = bake(shot, np.array([float(frame)]))
    framed = [t for name, t in baked.titles.items() if not isinstance(shot.things[name], Floor)]
    points = np.concatenate(
        [np.empty((0, 3)), *(body_points(t.forms[0], t.matrix[0], t.poses_at(0), bodies)[0] for t in framed)]
    )
    if not len(points):
        return None
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    back = baked.camera_position[0] - baked.camera_aim[0]
    length = float(np.linalg.norm(back))
    back = back / length if length > 1e-6 else np.array([0.0, 0.0, 1.0])
    side = np.cross([0.0, 1.0, 0.0], back)
    side = side / np.linalg.norm(side) if np.linalg.norm(side) > 1e-6 else np.array([1.0, 0.0, 0.0])
    up = np.cross(back, side)
    away = points - middle
    half = np.tan(np.radians(baked.camera_angle[0]) / 2)
    across = np.maximum(np.abs(away @ side) / (half * shot.format.aspect), np.abs(away @ up) / half) / fill
    distance = float(np.max(away @ back + across))
    position = middle + back * distance
    return Vector(**dict(zip("xyz", position.round(5).tolist(), strict=True))), Vector(
        **dict(zip("xyz", middle.round(5).tolist(), strict=True))
    )
