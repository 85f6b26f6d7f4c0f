"""Rotations as vectors: along the axis, as long as the angle."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def rotations_of(vectors: Floats) -> Floats:
    """Matrices (n, 3, 3) of rotation vectors (n, 3) in radians (Rodrigues).

    >>> rotations_of(np.array([[0.0, 0.0, np.pi / 2]])).round(6)[0].tolist()
    [[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]
    """
    angle = np.linalg.norm(vectors, axis=1)[:, None, None]
    x, y, z = vectors.T
    nought = np.zeros_like(x)
    cross = np.stack([nought, -z, y, z, nought, -x, -y, x, nought], axis=1).reshape(-1, 3, 3)
    result: Floats = (
        np.eye(3) + np.sinc(angle / np.pi) * cross + 0.5 * np.sinc(angle / 2 / np.pi) ** 2 * cross @ cross
    )
    return result


def vectors_of(rotations: Floats) -> Floats:
    """Rotation vectors (n, 3) in radians of matrices (n, 3, 3), at most half a turn long.

    >>> vectors_of(np.diag([-1.0, 1.0, -1.0])[None]).round(6)[0].tolist()
    [0.0, 3.141593, 0.0]
    """
    axis = np.stack(
        [
            rotations[:, 2, 1] - rotations[:, 1, 2],
            rotations[:, 0, 2] - rotations[:, 2, 0],
            rotations[:, 1, 0] - rotations[:, 0, 1],
        ],
        axis=1,
    )
    length = np.linalg.norm(axis, axis=1)
    angle = np.arctan2(length, np.trace(rotations, axis1=1, axis2=2) - 1)
    result: Floats = axis * np.where(length > 1e-12, angle / np.maximum(length, 1e-12), 0.5)[:, None]
    far = np.cos(angle) < -0.99
    if far.any():
        result[far] = angle[far, None] * _far_axes(rotations[far], axis[far])
    return result


def _far_axes(rotations: Floats, skewed: Floats) -> Floats:
    """Axes (n, 3) of rotations (n, 3, 3) by about half a turn, whose skew part (n, 3) is next to nothing:
    the longest column of the symmetric part, the way that the skew part tells."""
    both = rotations + np.swapaxes(rotations, 1, 2)
    # Of R + R^T, what is left without (tr R - 1) times one is 2 (1 - cos) times the axis by itself.
    trace = np.trace(rotations, axis1=1, axis2=2)
    outer = both - (trace - 1)[:, None, None] * np.eye(3)
    longest = np.diagonal(outer, axis1=1, axis2=2).argmax(axis=1)
    axes = outer[np.arange(len(outer)), :, longest]
    axes /= np.linalg.norm(axes, axis=1)[:, None]
    against = np.einsum("ni,ni->n", axes, skewed) < 0
    found: Floats = np.where(against[:, None], -axes, axes)
    return found
