"""Matrices over time as places, rotations and scales, which is all that other programs know."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Differences that nobody sees: metres, quaternions, factors.
STILL = 1e-6
# How far a matrix may be from place, rotation and scale before that is told.
SHEARED = 1e-3


@dataclass(frozen=True)
class Course:
    """``place`` (frames, 3), ``rotation`` (frames, 4) as quaternions x, y, z, w, ``scale`` (frames, 3);
    ``sheared`` says that the matrices were more than that."""

    place: Floats
    rotation: Floats
    scale: Floats
    sheared: bool


def course_of(matrices: Floats) -> Course:
    """The course of matrices (frames, 3 or 4, 4): the nearest rotation (Higham, Computing the polar
    decomposition, 1986), and what is left as a scale along the axes."""
    linear = matrices[:, :3, :3]
    # Mirrored matrices have a scale below 0, always along the first axis.
    sign = np.where(np.linalg.det(linear) < 0, -1.0, 1.0)
    proper = linear.copy()
    proper[:, :, 0] *= sign[:, None]
    u, s, vt = np.linalg.svd(proper)
    rotation = u @ vt
    stretch = np.einsum("fji,fjk->fik", rotation, linear)
    scale = np.einsum("fii->fi", stretch)
    rest = stretch - scale[:, :, None] * np.eye(3)
    sheared = bool(np.abs(rest).max(initial=0) > SHEARED * max(float(s.max(initial=0)), 1e-9))
    return Course(matrices[:, :3, 3], quaternions(rotation), scale, sheared)


def quaternions(rotation: Floats) -> Floats:
    """Rotations (frames, 3, 3) as unit quaternions x, y, z, w (frames, 4), each the nearer of the two to the
    one before (Shepperd, Quaternion from rotation matrix, 1978)."""
    trace = np.einsum("fii->f", rotation)
    diagonal = np.einsum("fii->fi", rotation)
    parts = np.concatenate([1 + 2 * diagonal - trace[:, None], 1 + trace[:, None]], axis=1)
    best = parts.argmax(axis=1)
    x, y, z = rotation[:, 2, 1], rotation[:, 0, 2], rotation[:, 1, 0]
    a, b, c = rotation[:, 1, 2], rotation[:, 2, 0], rotation[:, 0, 1]
    rows = np.stack(
        [
            np.stack([parts[:, 0], z + c, y + b, x - a], axis=1),
            np.stack([z + c, parts[:, 1], x + a, y - b], axis=1),
            np.stack([y + b, x + a, parts[:, 2], z - c], axis=1),
            np.stack([x - a, y - b, z - c, parts[:, 3]], axis=1),
        ],
        axis=1,
    )
    found: Floats = rows[np.arange(len(rows)), best]
    found /= np.linalg.norm(found, axis=1, keepdims=True)
    turned = np.sign((found[1:] * found[:-1]).sum(axis=1))
    turned[turned == 0] = 1
    found[1:] *= np.cumprod(turned)[:, None]
    return found


def still(values: Floats) -> bool:
    """Whether values (frames, n) stay as they are."""
    return bool(np.abs(values - values[:1]).max(initial=0) < STILL)
