"""Panel lights: rectangles that shine to one side."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# On-axis radiant intensity at 0 stops, W/sr: a facing white card at 3 m then has radiance
# E / π = I / (3² π) = 1.
REFERENCE_INTENSITY = 9 * math.pi


def panel_radiance(stops: Floats, tint: Floats, width: Floats, height: Floats) -> Floats:
    """Radiance (frames, 3) of a Lambertian panel: on-axis intensity over area.

    ``stops``, ``width``, ``height`` (frames,); ``tint`` (frames, 3).
    """
    result: Floats = (REFERENCE_INTENSITY * np.exp2(stops) / (width * height))[:, None] * tint
    return result


def panel_matrix(position: Floats, aim: Floats, width: Floats, height: Floats) -> Floats:
    """Object-to-world matrices (frames, 4, 4) that lay the square -1..1, facing +z, at the panel."""
    forward = aim - position
    length = np.linalg.norm(forward, axis=1, keepdims=True)
    forward = np.where(length > 1e-9, forward / np.maximum(length, 1e-9), [0.0, 0.0, -1.0])
    # Straight up or down there is no "up" to keep; any steady one will do.
    steep = np.abs(forward[:, 1:2]) > 0.9999
    up = np.where(steep, [0.0, 0.0, -1.0], [0.0, 1.0, 0.0])
    side = np.cross(up, forward)
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    above = np.cross(forward, side)
    matrix = np.zeros((len(position), 4, 4))
    matrix[:, :3, 0] = side * (width / 2)[:, None]
    matrix[:, :3, 1] = above * (height / 2)[:, None]
    matrix[:, :3, 2] = forward
    matrix[:, :3, 3] = position
    matrix[:, 3, 3] = 1
    return matrix
