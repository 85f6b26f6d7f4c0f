"""How a flat, right-angled area stands in space, from the homographies that lead to it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def plane_poses(homographies: Floats, width: float, like: int = 0) -> Floats:
    """Matrices (frames, 4, 4), from the area's space (x to its right, y up, z out of it, its middle at the
    origin) to the camera's (right, up, backward), of an area ``width`` metres wide.

    ``homographies`` (frames, 3, 3) lead from the unit square, (0, 0) at its lower left, to places ahead of
    the camera at distance 1 (right, up). Two of their columns are the sides of the area, turned (Zhang, A
    Flexible New Technique for Camera Calibration, 2000, 3.1); how high it is for its width is taken from
    frame ``like``, for it does not change.

    >>> straight = np.array([[[2.0, 0, -1], [0, 1, -0.5], [0, 0, 1]]])
    >>> (plane_poses(straight, 4.0)[0] + 0.0).round(6).tolist()[2]
    [0.0, 0.0, 1.0, -2.0]
    """
    # Ahead of the camera, whatever the sign the homographies have.
    ahead = homographies[:, 2] @ np.array([0.5, 0.5, 1.0])
    made = homographies * np.where(ahead < 0, -1.0, 1.0)[:, None, None]
    # From right, up, forward to right, up, backward.
    made = made * np.array([1.0, 1.0, -1.0])[:, None]
    across, upward, corner = np.moveaxis(made, 2, 0)
    long, tall = np.linalg.norm(across, axis=1), np.linalg.norm(upward, axis=1)
    height = width * tall[like] / max(long[like], 1e-12)
    # Metres a unit: both sides have their say.
    metres = np.sqrt(width * height / np.maximum(long * tall, 1e-18))[:, None]
    matrices = np.zeros((len(made), 4, 4))
    matrices[:, :3, :3] = axes_of_sides(across, upward)
    matrices[:, :3, 3] = metres * (corner + across / 2 + upward / 2)
    matrices[:, 3, 3] = 1
    return matrices


def axes_of_sides(across: Floats, upward: Floats) -> Floats:
    """Rotations (n, 3, 3) whose x and y are nearest to the sides (n, 3) of an area that is not quite
    right-angled: as far apart to either hand.

    >>> axes_of_sides(np.array([[2.0, 0, 0]]), np.array([[0.0, 3, 0]]))[0].round(6).tolist()
    [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]]
    """
    x, y = (
        side / np.maximum(np.linalg.norm(side, axis=1, keepdims=True), 1e-12) for side in (across, upward)
    )
    both, apart = x + y, x - y
    both /= np.maximum(np.linalg.norm(both, axis=1, keepdims=True), 1e-12)
    apart -= both * np.einsum("fi,fi->f", both, apart)[:, None]
    apart /= np.maximum(np.linalg.norm(apart, axis=1, keepdims=True), 1e-12)
    x, y = (both + apart) * np.sqrt(0.5), (both - apart) * np.sqrt(0.5)
    return np.stack([x, y, np.cross(x, y)], axis=2)


def from_lower_left(corners: Floats) -> Floats:
    """Four corners (4, 2), y down, in order from the lower left one: to the right of it, above that, above
    it."""
    middle = corners.mean(axis=0)
    angles = np.arctan2(-(corners[:, 1] - middle[1]), corners[:, 0] - middle[0])
    # Counterclockwise from straight left: the lower left one comes first.
    order = np.argsort(angles)
    result: Floats = corners[order]
    return result
