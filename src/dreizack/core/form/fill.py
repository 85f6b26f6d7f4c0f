"""Triangles inside rings, using every point of them."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import manifold3d
import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Triangles lower than this, in metres, count as having no area.
THINNEST = 2e-7
# Lower ones have none in single precision.
NONE = 2e-8
MOST_TURNS = 20


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
        index = (
            np.arange(len(points))
            if outer[0] == 0
            else np.concatenate([np.arange(starts[i], starts[i + 1]) for i in order])
        )
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


def _without_slivers(triangles: Ints, points: Floats) -> Ints | None:
    """Triangles without area (three points on a line) take some from the neighbour across their longest side.

    The side is swapped for the other diagonal of the two triangles wherever that makes the thinner
    of them thicker; lines of many points take several turns, from their ends inward. None where
    some are left without any, as in rings that have no width.
    """
    areas = _doubled(triangles, points)
    # Only triangles of little area can be thin.
    few = np.flatnonzero(areas < THINNEST * float(np.ptp(points, axis=0).sum()))
    if not len(few):
        return triangles
    corners = triangles.tolist()
    place = points.tolist()
    owner = {side: i for i, (a, b, c) in enumerate(corners) for side in ((a, b), (b, c), (c, a))}

    def turned(i: int) -> tuple[int, int, int, float]:
        """A triangle's corners, its longest side first, and its height over that side."""
        a, b, c = corners[i]
        longest, around = max(
            (math.dist(place[p], place[q]), (p, q, r)) for p, q, r in ((a, b, c), (b, c, a), (c, a, b))
        )
        (ax, ay), (bx, by), (cx, cy) = (place[k] for k in around)
        return *around, ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) / max(longest, 1e-30)

    thin = [i for i in few.tolist() if turned(i)[3] < THINNEST]
    swaps = len(thin) * MOST_TURNS
    while thin and swaps > 0:
        still: list[int] = []
        for i in thin:
            a, b, c, height = turned(i)
            j = owner.get((b, a))
            if height >= THINNEST:
                continue
            if j is None:
                still.append(i)
                continue
            before = (corners[i], corners[j])
            d = next(k for k in corners[j] if k not in (a, b))
            least = min(height, turned(j)[3])
            corners[i], corners[j] = [a, d, c], [d, b, c]
            now = min(turned(i)[3], turned(j)[3])
            if now <= max(2 * least, 1e-12):
                corners[i], corners[j] = before
                still.append(i)
                continue
            del owner[a, b], owner[b, a]
            for k in (i, j):
                p, q, r = corners[k]
                owner[p, q] = owner[q, r] = owner[r, p] = k
            still += [i, j]
            swaps -= 1
        if still == thin:
            break
        thin = still
    if any(turned(i)[3] < NONE for i in thin):
        return None
    return np.asarray(corners, np.int64)


def _borders(triangles: Ints, sides: int) -> bool:
    """Whether the open border of the triangles has as many sides as the rings have."""
    a, b, c = triangles.T
    codes = np.concatenate(
        [np.minimum(p, q) * (1 << 32) + np.maximum(p, q) for p, q in ((a, b), (b, c), (c, a))]
    )
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
    x, y = points[:, 0][triangles], points[:, 1][triangles]
    areas: Floats = (x[:, 1] - x[:, 0]) * (y[:, 2] - y[:, 0]) - (y[:, 1] - y[:, 0]) * (x[:, 2] - x[:, 0])
    return areas


def _twice_areas(points: Floats, sizes: Ints, starts: Ints) -> Floats:
    following = np.arange(1, len(points) + 1)
    following[starts[1:] - 1] = starts[:-1]
    ahead = points[following]
    sums: Floats = np.add.reduceat(points[:, 0] * ahead[:, 1] - points[:, 1] * ahead[:, 0], starts[:-1])
    return sums
