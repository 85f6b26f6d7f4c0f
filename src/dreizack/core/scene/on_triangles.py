"""Places spread evenly over triangles."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def areas_summed(corners: Floats) -> Floats:
    """Areas (n,) of triangles (n, 3, 3), each with all before it."""
    return np.cumsum(np.linalg.norm(_crosses(corners), axis=-1) / 2)


def on_triangles(corners: Floats, summed: Floats, shares: Floats) -> tuple[Floats, Floats]:
    """Places (k, 3) on triangles (n, 3, 3) and the normals there: ``shares`` (k, 3), 0..1, say by how much of
    all area (``summed``) a place comes, and where it is within its triangle. What is spread evenly over
    shares is so over the surface (Turk, Generating Random Points in Triangles, 1990).

    >>> corner = np.array([[[0.0, 0, 0], [1, 0, 0], [0, 1, 0]]])
    >>> on_triangles(corner, areas_summed(corner), np.array([[0.5, 0.25, 0.5]]))[0]
    array([[0.25, 0.25, 0.  ]])
    """
    chosen = np.minimum(np.searchsorted(summed, shares[:, 0] * summed[-1]), len(corners) - 1)
    picked = corners[chosen]
    a, b, c = np.moveaxis(picked, 1, 0)
    root, along = np.sqrt(shares[:, 1:2]), shares[:, 2:3]
    normal = _crosses(picked)
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    return (1 - root) * a + root * (1 - along) * b + root * along * c, normal / np.maximum(length, 1e-12)


def _crosses(corners: Floats) -> Floats:
    crosses: Floats = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return crosses
