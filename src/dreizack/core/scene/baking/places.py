"""Where things stand over time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...motion import Motion

Floats = NDArray[np.float64]


def placed(motion: Motion, at: str) -> Floats:
    """Object-to-world matrices (frames, 4, 4) of the thing at pointer ``at``."""
    return place_matrix(
        motion.vector(f"{at}/place/position"), motion.vector(f"{at}/place/rotation"), motion.value(f"{at}/place/scale"),
    )


def place_matrix(position: Floats, rotation: Floats, scale: Floats) -> Floats:
    """Object-to-world matrices (frames, 4, 4): scale, then x, y, z rotation in degrees, then move."""
    cx, cy, cz = np.cos(np.radians(rotation)).T
    sx, sy, sz = np.sin(np.radians(rotation)).T
    matrix = np.zeros((len(position), 4, 4))
    matrix[:, 0, 0], matrix[:, 0, 1], matrix[:, 0, 2] = cz * cy, cz * sy * sx - sz * cx, cz * sy * cx + sz * sx
    matrix[:, 1, 0], matrix[:, 1, 1], matrix[:, 1, 2] = sz * cy, sz * sy * sx + cz * cx, sz * sy * cx - cz * sx
    matrix[:, 2, 0], matrix[:, 2, 1], matrix[:, 2, 2] = -sy, cy * sx, cy * cx
    matrix[:, :3, :3] *= scale[:, None, None]
    matrix[:, :3, 3] = position
    matrix[:, 3, 3] = 1
    return matrix
