"""Matrices from what people set: turn, scale, move, stretch, lean, about a point."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
# A scale at which nothing is to be seen any more.
GONE = 1e-6


def rotation(angles: Floats) -> Floats:
    """Rotations (..., 3, 3) by x, then y, then z about the fixed axes, from degrees (..., 3).

    >>> (rotation(np.array([0.0, 90.0, 0.0])) @ [0, 0, 1]).round(9).tolist()
    [1.0, 0.0, 0.0]
    """
    (cx, cy, cz), (sx, sy, sz) = (np.moveaxis(f(np.radians(angles)), -1, 0) for f in (np.cos, np.sin))
    turned = np.empty((*np.shape(angles)[:-1], 3, 3))
    turned[..., 0, 0], turned[..., 0, 1], turned[..., 0, 2] = (
        cz * cy,
        cz * sy * sx - sz * cx,
        cz * sy * cx + sz * sx,
    )
    turned[..., 1, 0], turned[..., 1, 1], turned[..., 1, 2] = (
        sz * cy,
        sz * sy * sx + cz * cx,
        sz * sy * cx - cz * sx,
    )
    turned[..., 2, 0], turned[..., 2, 1], turned[..., 2, 2] = -sy, cy * sx, cy * cx
    return turned


def angles_of(matrices: Floats) -> Floats:
    """Degrees (..., 3) by x, then y, then z about the fixed axes, of rotations (..., 3, 3).

    >>> angles_of(rotation(np.array([10.0, 20.0, 30.0]))).round(9).tolist()
    [10.0, 20.0, 30.0]
    """
    r = matrices
    result: Floats = np.degrees(
        np.stack(
            [
                np.arctan2(r[..., 2, 1], r[..., 2, 2]),
                np.arcsin(np.clip(-r[..., 2, 0], -1, 1)),
                np.arctan2(r[..., 1, 0], r[..., 0, 0]),
            ],
            axis=-1,
        )
    )
    return result


def skew(stretch: Floats, lean: Floats) -> Floats:
    """Linear maps (..., 3, 3) that widen by ``stretch`` and lean by degrees without turning (shear in x by
    y)."""
    made = np.zeros((*np.shape(stretch), 3, 3))
    made[..., 0, 0], made[..., 0, 1] = stretch, stretch * np.tan(np.radians(lean))
    made[..., 1, 1] = made[..., 2, 2] = 1
    return made


def linear_map(turn: Floats, scale: Floats, stretch: Floats, lean: Floats) -> Floats:
    """Linear maps (..., 3, 3): lean, stretch, scale, then turn; ``turn`` (..., 3) in degrees.

    What nobody does costs nothing.
    """
    if turn.any():
        made = rotation(turn)
    else:
        made = np.zeros((*np.shape(turn)[:-1], 3, 3))
        made[..., [0, 1, 2], [0, 1, 2]] = 1
    if lean.any() or (stretch != 1).any():
        made = made @ skew(stretch, lean)
    # Nothing is ever flattened wholly: what is as good as gone can still be turned around.
    return made * np.maximum(scale, GONE)[..., None, None] if (scale != 1).any() else made


def composed(first: Floats, then: Floats) -> Floats:
    """Affine matrices (..., 4, 4) that do what ``then`` does and, after it, what ``first`` does."""
    # Numbers of one place side by side: long runs instead of sixteen at a time.
    a = np.ascontiguousarray(np.moveaxis(first[..., :3, :], (-2, -1), (0, 1)))
    b = np.ascontiguousarray(np.moveaxis(then[..., :3, :], (-2, -1), (0, 1)))
    made = np.zeros(np.broadcast_shapes(first.shape, then.shape))
    for row in range(3):
        for column in range(4):
            value = a[row, 0] * b[0, column]
            value += a[row, 1] * b[1, column]
            value += a[row, 2] * b[2, column]
            if column == 3:
                value += a[row, 3]
            made[..., row, column] = value
    made[..., 3, 3] = 1
    return made


def about(centre: Floats, linear: Floats, move: Floats | float = 0.0) -> Floats:
    """Matrices (..., 4, 4) that apply linear maps (..., 3, 3) about points (..., 3), then move by (...,
    3)."""
    x, y, z = (centre[..., k, None] for k in range(3))
    shift = centre - (linear[..., 0] * x + linear[..., 1] * y + linear[..., 2] * z) + move
    matrix = np.zeros((*shift.shape[:-1], 4, 4))
    matrix[..., :3, :3], matrix[..., :3, 3], matrix[..., 3, 3] = linear, shift, 1
    return matrix


def applied(matrix: Floats, points: Floats) -> Floats:
    """Points (..., 3) under matrices (..., 4, 4) or (..., 3, 4)."""
    moved: Floats = (matrix[..., :3, :3] @ points[..., None])[..., 0] + matrix[..., :3, 3]
    return moved


def split(matrices: Floats) -> tuple[Floats, Floats, Floats]:
    """Move (frames, 3), turn (frames, 3) in degrees and scale (frames,) of matrices (frames, 4, 4) that do
    nothing else; turns go on from one frame to the next without jumps of 360 degrees.

    >>> made = np.eye(4)[None].copy()
    >>> made[0, :3, :3] = 2 * rotation(np.array([10.0, 20.0, 30.0]))
    >>> [part.round(6).tolist() for part in split(made)]
    [[[0.0, 0.0, 0.0]], [[10.0, 20.0, 30.0]], [2.0]]
    """
    scale: Floats = np.cbrt(np.abs(np.linalg.det(matrices[:, :3, :3])))
    r = matrices[:, :3, :3] / np.maximum(scale, 1e-12)[:, None, None]
    turn = np.radians(angles_of(r))
    degrees: Floats = np.degrees(np.unwrap(turn, axis=0))
    return matrices[:, :3, 3], degrees, scale


def homogeneous(rows: Floats) -> Floats:
    """Matrices (..., 4, 4) of maps (..., 3, 4).

    >>> homogeneous(np.eye(4)[:3]).tolist() == np.eye(4).tolist()
    True
    """
    made = np.zeros((*rows.shape[:-2], 4, 4))
    made[..., :3, :] = rows
    made[..., 3, 3] = 1
    return made
