"""How a camera looks: its axes, and what of a plane it sees."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# A plane is seen to no further than this many times the distance to it, where it runs on to the horizon.
FURTHEST = 30.0


def camera_axes(position: Floats, aim: Floats, roll: Floats) -> Floats:
    """Axes (frames, 3, 3) of cameras: right, up, forward as rows; y is up unless one looks straight up or
    down.

    ``position`` and ``aim`` (frames, 3); ``roll`` (frames,) in degrees.
    """
    forward = aim - position
    length = np.linalg.norm(forward, axis=1, keepdims=True)
    forward = np.where(length > 1e-6, forward / np.maximum(length, 1e-12), [0.0, 0.0, -1.0])
    steep = np.abs(forward[:, 1:2]) > 0.9999
    right = np.cross(forward, np.where(steep, [0.0, 0.0, -1.0], [0.0, 1.0, 0.0]))
    right /= np.linalg.norm(right, axis=1, keepdims=True)
    above = np.cross(right, forward)
    c, s = np.cos(np.radians(roll))[:, None], np.sin(np.radians(roll))[:, None]
    return np.stack([right * c - above * s, above * c + right * s, forward], axis=1)


def seen_of_plane(matrix: Floats, position: Floats, axes: Floats, angle: Floats, aspect: float) -> Floats:
    """How far (frames, 2) in x and y, from the origin of planes z = 0 with these matrices (frames, 4, 4),
    cameras see them.

    The rays through the corners of the picture are met with the plane; one that never meets it (or beyond
    :data:`FURTHEST`) counts as far as that. ``angle`` (frames,) is the vertical angle of view in degrees.
    """
    half = np.tan(np.radians(angle) / 2)[:, None]
    corners = np.array([[-aspect, -1.0], [aspect, -1.0], [aspect, 1.0], [-aspect, 1.0]])
    way = axes[:, None, 2] + half[:, :, None] * (
        corners[:, :1] * axes[:, None, 0] + corners[:, 1:] * axes[:, None, 1]
    )
    inverse = np.linalg.inv(matrix)
    eye = np.einsum("fij,fj->fi", inverse[:, :3, :3], position) + inverse[:, :3, 3]
    local = np.einsum("fij,fcj->fci", inverse[:, :3, :3], way)
    most = (
        FURTHEST
        * np.maximum(np.linalg.norm(eye, axis=1), 1e-6)[:, None]
        / np.maximum(np.linalg.norm(local, axis=2), 1e-12)
    )
    towards = local[..., 2] * np.sign(eye[:, 2:3]) < -1e-9
    share = np.where(towards, -eye[:, 2:3] / np.where(towards, local[..., 2], 1.0), most)
    met = eye[:, None, :2] + local[..., :2] * np.minimum(share, most)[..., None]
    reach: Floats = np.abs(met).max(axis=1)
    return reach
