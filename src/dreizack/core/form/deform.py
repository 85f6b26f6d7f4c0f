"""Bend, twist, taper and bulge: space is deformed, points and normals with it.

After Barr, Global and Local Deformations of Solid Primitives (SIGGRAPH 1984): normals are carried by
the cofactors of the Jacobian, which is taken by central differences.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ..document import Deformation

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Degrees of a bend or twist that one piece may take, and percent of a bulge.
DEGREES, PERCENT = 3.0, 4.0
_AXES = {"x": (0, 1, 2), "y": (1, 2, 0), "z": (2, 0, 1)}


def pieces(how: Deformation) -> int:
    """Into how many pieces the range of a deformation is cut along its axis, so that none of them looks
    straight."""
    if how.kind in ("bend", "twist"):
        return int(np.clip(np.ceil(abs(how.amount) / DEGREES), 2, 64))
    # A taper is straight along its axis and bends only what runs across it askew.
    return 6 if how.kind == "taper" else int(np.clip(np.ceil(np.sqrt(abs(how.amount) / PERCENT) * 4), 6, 32))


def deformed(position: Floats, normal: Floats, group: Ints, how: Deformation) -> tuple[Floats, Floats]:
    """Points and unit normals (n, 3) after a deformation; each ``group`` (n,) is deformed over its own
    extent."""
    count = int(group.max(initial=-1)) + 1
    low, high = np.full((count, 3), np.inf), np.full((count, 3), -np.inf)
    np.minimum.at(low, group, position)
    np.maximum.at(high, group, position)
    low, high = low[group], high[group]

    def move(points: Floats) -> Floats:
        return _KINDS[how.kind](points, low, high, how)

    size = float((high - low).max(initial=0)) or 1.0
    step = 1e-5 * size
    jacobian = np.empty((len(position), 3, 3))
    # Taken just inside the extent, so that its ends do not feel the rigid space beyond.
    inside = np.clip(position, low + 2 * step, np.maximum(high - 2 * step, low + 2 * step))
    for axis in range(3):
        aside = np.zeros(3)
        aside[axis] = step
        jacobian[:, :, axis] = (move(inside + aside) - move(inside - aside)) / (2 * step)
    # Cofactors: the cross products of the Jacobian's columns.
    a, b, c = jacobian[:, :, 0], jacobian[:, :, 1], jacobian[:, :, 2]
    turned = np.cross(b, c) * normal[:, :1] + np.cross(c, a) * normal[:, 1:2] + np.cross(a, b) * normal[:, 2:]
    turned /= np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-30)
    return move(position), turned


def _share(along: Floats, low: Floats, high: Floats, how: Deformation) -> tuple[Floats, Floats, Floats]:
    """Where points lie between the start and the end of the range (0..1); start and length of the range."""
    extent = np.maximum(high - low, 1e-9)
    start = low + min(how.start, how.end) * extent
    length = np.maximum(abs(how.end - how.start) * extent, 1e-9)
    return np.clip((along - start) / length, 0, 1), start, length


def _bend(points: Floats, low: Floats, high: Floats, how: Deformation) -> Floats:
    u, v, w = _AXES[how.axis]
    angle = np.radians(how.amount)
    if abs(angle) < 1e-9:
        return points.copy()
    towards = np.radians(how.direction)
    # 0° bends along x and y back from the viewer (-z), along z upward.
    back = {"x": (0.0, -1.0), "y": (-1.0, 0.0), "z": (0.0, 1.0)}[how.axis]
    dv = back[0] * np.cos(towards) - back[1] * np.sin(towards)
    dw = back[0] * np.sin(towards) + back[1] * np.cos(towards)
    middle = (low + high) / 2
    _, start, length = _share(points[:, u], low[:, u], high[:, u], how)
    curvature = angle / length
    s = points[:, u] - start - length / 2
    within = np.clip(s, -length / 2, length / 2)
    turn = curvature * within
    y, z = points[:, v] - middle[:, v], points[:, w] - middle[:, w]
    depth, across = y * dv + z * dw, -y * dw + z * dv
    along = np.sin(turn) / curvature + (s - within) * np.cos(turn) - depth * np.sin(turn)
    depth = (1 - np.cos(turn)) / curvature + (s - within) * np.sin(turn) + depth * np.cos(turn)
    result = np.empty_like(points)
    result[:, u] = start + length / 2 + along
    result[:, v] = middle[:, v] + depth * dv - across * dw
    result[:, w] = middle[:, w] + depth * dw + across * dv
    return result


def _twist(points: Floats, low: Floats, high: Floats, how: Deformation) -> Floats:
    u, v, w = _AXES[how.axis]
    share, _, _ = _share(points[:, u], low[:, u], high[:, u], how)
    turn = np.radians(how.amount) * share
    middle = (low + high) / 2
    y, z = points[:, v] - middle[:, v], points[:, w] - middle[:, w]
    result = points.copy()
    result[:, v] = middle[:, v] + y * np.cos(turn) - z * np.sin(turn)
    result[:, w] = middle[:, w] + y * np.sin(turn) + z * np.cos(turn)
    return result


def _scaled(shape: Callable[[Floats], Floats]) -> Callable[[Floats, Floats, Floats, Deformation], Floats]:
    def scale(points: Floats, low: Floats, high: Floats, how: Deformation) -> Floats:
        u, v, w = _AXES[how.axis]
        share, _, _ = _share(points[:, u], low[:, u], high[:, u], how)
        factor = np.maximum(1 + how.amount / 100 * shape(share), 0.01)
        middle = (low + high) / 2
        result = points.copy()
        for axis in (v, w):
            result[:, axis] = middle[:, axis] + (points[:, axis] - middle[:, axis]) * factor
        return result

    return scale


_KINDS: dict[str, Callable[[Floats, Floats, Floats, Deformation], Floats]] = {
    "bend": _bend,
    "twist": _twist,
    "taper": _scaled(lambda t: t),
    "bulge": _scaled(lambda t: np.sin(np.pi * t)),
}
