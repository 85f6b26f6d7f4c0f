"""The points of a thing's bodies in the world."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .bodies import BodyStore, body_matrices
from .form import Form

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def body_points(form: Form, matrix: Floats, poses: Floats, bodies: BodyStore) -> tuple[Floats, Ints]:
    """Points (n, 3) and triangles (m, 3) of all bodies of a form, whose pieces stand at ``poses`` (pieces, 3,
    4), under a matrix."""
    letters = bodies.letters(form)
    world = matrix @ body_matrices(letters, poses)
    points, triangles, count = [], [], 0
    for letter, place in zip(letters, world, strict=True):
        body = bodies.get(letter.body)
        if body is None or body.empty:
            continue
        points.append(body.position @ place[:3, :3].T + place[:3, 3])
        triangles.append(body.triangles.astype(np.int64) + count)
        count += len(body.position)
    if not points:
        return np.empty((0, 3)), np.empty((0, 3), np.int64)
    return np.concatenate(points), np.concatenate(triangles)
