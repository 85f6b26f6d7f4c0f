"""Where things stand over time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...affine import rotation
from ...motion import Motion

Floats = NDArray[np.float64]


def placed(motion: Motion, at: str) -> Floats:
    """Object-to-world matrices (frames, 4, 4) of the thing at pointer ``at``."""
    return place_matrix(
        motion.vector(f"{at}/place/position"),
        motion.vector(f"{at}/place/rotation"),
        motion.value(f"{at}/place/scale"),
    )


def place_matrix(position: Floats, turn: Floats, scale: Floats) -> Floats:
    """Object-to-world matrices (frames, 4, 4): scale, then x, y, z rotation in degrees, then move."""
    matrix = np.zeros((len(position), 4, 4))
    matrix[:, :3, :3] = rotation(turn) * scale[:, None, None]
    matrix[:, :3, 3] = position
    matrix[:, 3, 3] = 1
    return matrix
