"""Triangles inside rings, using every point of them."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import manifold3d
import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Triangles lower than this, in metres, count as having no area.
THINNEST = 2e-7
MOST_SWAPS = 200


def fill(points: Floats, counts: Sequence[int] | Ints) -> Ints | None:
    """Triangles (count, 3) over rings laid end to end, counter-clockwise; None where there are none.

    ``points`` (n, 2), ``counts`` the number of points of each ring: outer rings counter-clockwise,
    holes clockwise. The answer has every side of the rings as its border and no triangle that is
    turned over: where rings cross each other, there is no such answer.
    """
    sizes: Ints = np.asarray(counts, np.int64)
    starts = np.concatenate([[0], np.cumsum(sizes)])
    outer = np.flatnonzero(_twice_areas(points, sizes, starts) > 0)
    if len(outer) == 1:
        order = np.concatenate([outer, np.delete(np.arange(len(sizes)), outer[0])])
        index = np.arange(len(points)) if outer[0] == 0 else np.concatenate([np.arange(starts[i], starts[i + 1]) for i in order])
        cut = mapbox_earcut.triangulate_float64(points[index], np.cumsum(sizes[order]).astype(np.uint32))
        # Ear cutting leaves out points it finds on a line; only the full number of triangles will do.
        if len(cut) == 3 * (len(points) + 2 * (len(sizes) - 1) - 2):
            triangles = _upright(index[cut.astype(np.int64)].reshape(-1, 3), points)
            if _borders(triangles, len(points)) and _unfolded(triangles, points):
                return _without_slivers(triangles, points)
    rings = [points[a:b] for a, b in itertools.pairwise(starts.tolist())]
    triangles = np.asarray(manifold3d.triangulate(rings), dtype=np.int64).reshape(-1, 3)
    if not _borders(triangles, len(points)) or not _unfolded(triangles, points):
        return None
    return _without_slivers(triangles, points)


def _without_slivers(triangles: Ints, points: Floats) -> Ints:
    """Triangles without area (three points on a line) lose it to the neighbour across their longest side.

    The side is swapped for the other diagonal of the two triangles.
    """
    for _ in range(MOST_SWAPS):
        corners = points[triangles]
        sides = np.linalg.norm(np.roll(corners, -1, axis=1) - corners, axis=2)
        height = _doubled(triangles, points) / np.maximum(sides.max(axis=1), 1e-30)
        flat = np.flatnonzero(height < THINNEST)
        swapped = False
        for thin in flat.tolist():
            k = int(np.argmax(sides[thin]))
            a, b, c = (int(triangles[thin, (k + i) % 3]) for i in range(3))
            beyond = np.flatnonzero(((triangles == a) | (triangles == b)).sum(axis=1) == 2)
            other = [i for i in beyond.tolist() if i != thin]
            if len(other) != 1:
                continue
            d = int(next(x for x in triangles[other[0]] if x not in (a, b)))
            pair = np.array([[a, d, c], [d, b, c]])
            if _doubled(pair, points).min() <= 0:
                continue
            triangles = triangles.copy()
            triangles[thin], triangles[other[0]] = pair
            swapped = True
            break
        if not swapped:
            break
    return triangles


def _borders(triangles: Ints, sides: int) -> bool:
    """Whether the open border of the triangles has as many sides as the rings have."""
    a, b, c = triangles.T
    codes = np.concatenate([np.minimum(p, q) * (1 << 32) + np.maximum(p, q) for p, q in ((a, b), (b, c), (c, a))])
    codes.sort()
    # A side of the border stands alone, an inner one twice; three in a row would be one too many.
    same = codes[1:] == codes[:-1]
    twice = int(same.sum())
    return len(codes) - 2 * twice == sides and not bool((same[1:] & same[:-1]).any())


def _unfolded(triangles: Ints, points: Floats) -> bool:
    """Whether no triangle is turned over by more than rounding."""
    areas = _doubled(triangles, points)
    return bool(areas.min(initial=0) >= -1e-9 * max(float(areas.sum()), 1e-30))


def _upright(triangles: Ints, points: Floats) -> Ints:
    return triangles[:, ::-1] if _doubled(triangles, points).sum() < 0 else triangles


def _doubled(triangles: Ints, points: Floats) -> Floats:
    """Twice the signed areas."""
    a, b, c = (points[triangles[:, i]] for i in range(3))
    areas: Floats = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    return areas


def _twice_areas(points: Floats, sizes: Ints, starts: Ints) -> Floats:
    following = np.arange(1, len(points) + 1)
    following[starts[1:] - 1] = starts[:-1]
    ahead = points[following]
    sums: Floats = np.add.reduceat(points[:, 0] * ahead[:, 1] - points[:, 1] * ahead[:, 0], starts[:-1])
    return sums
