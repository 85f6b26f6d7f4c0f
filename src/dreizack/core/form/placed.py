"""Points and normals under a matrix."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]


def placed(position: Floats, normal: Floats, matrix: NDArray[np.float64]) -> tuple[Floats, Floats]:
    """Points and unit normals (n, 3) under a matrix (4, 4); normals by the inverse transpose."""
    linear = matrix[:3, :3]
    if np.array_equal(linear, np.eye(3)):
        return position + matrix[:3, 3].astype(np.float32), normal
    turned = normal @ np.linalg.inv(linear).astype(np.float32)
    turned /= np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-12)
    return position @ linear.T.astype(np.float32) + matrix[:3, 3].astype(np.float32), turned
