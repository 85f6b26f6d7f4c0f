"""Frame the titles: move the camera so that they fill the picture."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Shot, Vector
from .bake import bake
from .bodies import BodyStore, Form

Floats = NDArray[np.float64]


def frame_titles(shot: Shot, bodies: BodyStore, frame: int, fill: float = 0.8) -> tuple[Vector, Vector] | None:
    """Camera position and aim that keep the view's direction and fit all titles into the picture.

    ``fill`` is the share of the picture's width or height that the titles take up. The distance
    is exact for the corners of the letters' boxes: each corner p, with depth d towards the camera
    and offset o across, demands the distance d + |o| / (fill · tan(half angle)).
    """
    baked = bake(shot, np.array([float(frame)]))
    corners = [_corners(t.forms[0], t.matrix[0], bodies) for t in baked.titles.values()]
    corners = [c for c in corners if len(c)]
    if not corners:
        return None
    points = np.concatenate(corners)
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


def _corners(form: Form, matrix: Floats, bodies: BodyStore) -> Floats:
    """Corners (n, 3) of the letters' boxes in the world."""
    boxes = []
    for letter in bodies.letters(form):
        body = bodies.get(letter.body)
        if body is None or body.empty:
            continue
        low, high = body.position.min(axis=0), body.position.max(axis=0)
        xs, ys, zs = np.meshgrid([low[0], high[0]], [low[1], high[1]], [low[2], high[2]])
        boxes.append(np.column_stack([xs.ravel() + letter.x, ys.ravel() + letter.y, zs.ravel()]))
    if not boxes:
        return np.empty((0, 3))
    local = np.concatenate(boxes)
    world: Floats = local @ matrix[:3, :3].T + matrix[:3, 3]
    return world
