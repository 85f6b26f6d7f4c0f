"""Triangles inside rings, using every point of them."""

from __future__ import annotations

from collections.abc import Sequence

import manifold3d
import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def fill(rings: Sequence[Floats]) -> Ints:
    """Triangles (count, 3) over the points of the rings laid end to end, counter-clockwise.

    One outer ring with holes goes through ear cutting; as that drops points it finds on a line,
    the result counts only if it has the triangles every point demands (n + 2 holes - 2), else
    the fill that promises to match all given edges is used.
    """
    if not rings:
        return np.empty((0, 3), np.int64)
    outer = [i for i, ring in enumerate(rings) if _twice_area(ring) > 0]
    points = np.concatenate(rings)
    if len(outer) == 1:
        order = [outer[0], *(i for i in range(len(rings)) if i != outer[0])]
        starts = np.cumsum([0] + [len(r) for r in rings])
        index = np.concatenate([np.arange(starts[i], starts[i + 1]) for i in order])
        ends = np.cumsum([len(rings[i]) for i in order]).astype(np.uint32)
        cut = mapbox_earcut.triangulate_float64(points[index], ends).astype(np.int64)
        if len(cut) == 3 * (len(points) + 2 * (len(rings) - 1) - 2):
            triangles = index[cut.reshape(-1, 3)]
            if _matches(triangles, rings):
                return _upright(triangles, points)
    return np.asarray(manifold3d.triangulate(list(rings)), dtype=np.int64).reshape(-1, 3)


def _matches(triangles: Ints, rings: Sequence[Floats]) -> bool:
    """Whether the open border of the triangles is just the rings."""
    a, b, c = triangles.T
    codes = np.concatenate([np.minimum(p, q) * (1 << 32) + np.maximum(p, q) for p, q in ((a, b), (b, c), (c, a))])
    codes.sort()
    # A side of the border stands alone, an inner one twice; three in a row would be one too many.
    alone = np.ones(len(codes), dtype=bool)
    same = codes[1:] == codes[:-1]
    alone[1:] &= ~same
    alone[:-1] &= ~same
    return int(alone.sum()) == sum(len(r) for r in rings) and not bool((same[1:] & same[:-1]).any())


def _upright(triangles: Ints, points: Floats) -> Ints:
    a, b, c = (points[triangles[:, i]] for i in range(3))
    cross = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    return triangles[:, ::-1] if cross.sum() < 0 else triangles


def _twice_area(ring: Floats) -> float:
    following = np.roll(ring, -1, axis=0)
    return float(np.sum(ring[:, 0] * following[:, 1] - ring[:, 1] * following[:, 0]))
