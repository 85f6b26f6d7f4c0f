"""A path united with itself, parts that cannot touch one another each for themselves."""

from __future__ import annotations

import numpy as np
import pathops
from manifold3d import CrossSection, FillRule
from numpy.typing import NDArray

# Below this many contours one go is quicker.
FEW = 12
# Chords of a curve, where curves will not do.
CHORDS = 16


def united(path: pathops.Path) -> pathops.Path:
    """The area a path covers, outer contours counter-clockwise (y up), holes the other way, nothing
    overlapping.

    The time of uniting grows with the square of the contours, so those whose boxes do not touch are
    kept apart.
    """
    contours = list(path.contours) if path.fillType == pathops.FillType.WINDING else [path]
    if len(contours) <= FEW:
        return simplified(path)
    boxes = np.array([contour.bounds for contour in contours])
    whole = pathops.Path()
    for members in _clusters(boxes):
        part = pathops.Path()
        for i in members:
            part.addPath(contours[i])
        whole.addPath(simplified(part))
    return whole


def combined(a: pathops.Path, b: pathops.Path, how: pathops.PathOp) -> pathops.Path:
    """Two areas united, subtracted or intersected."""
    try:
        return pathops.op(a, b, how, fix_winding=True, keep_starting_points=False)
    except pathops.PathOpsError:
        one, two = _section(a), _section(b)
        ways = {
            pathops.PathOp.UNION: one + two,
            pathops.PathOp.DIFFERENCE: one - two,
            pathops.PathOp.INTERSECTION: one ^ two,
        }
        return _path(ways[how])


def simplified(path: pathops.Path) -> pathops.Path:
    """A path united with itself, all of it at once; what curves are too tangled for is done with polygons."""
    path = pathops.Path(path)
    path.convertConicsToQuads()
    tangled = pathops.Path(path)
    try:
        path.simplify(fix_winding=True, keep_starting_points=False, clockwise=False)
    except pathops.PathOpsError:
        return _path(_section(tangled))
    return path


def _section(path: pathops.Path) -> CrossSection:
    """The area of a path, its curves as chords."""
    t = np.linspace(0, 1, CHORDS + 1)[1:, None]
    u = 1 - t
    rings: list[NDArray[np.float64]] = []
    for contour in path.contours:
        pieces: list[NDArray[np.float64]] = []
        here = np.zeros(2)
        for verb, points in contour:
            p = np.array(points, np.float64)
            if verb == pathops.PathVerb.QUAD:
                pieces.append(u * u * here + 2 * u * t * p[0] + t * t * p[1])
            elif verb == pathops.PathVerb.CUBIC:
                pieces.append(u**3 * here + 3 * u * u * t * p[0] + 3 * u * t * t * p[1] + t**3 * p[2])
            elif len(p):
                pieces.append(p[-1:])
            here = p[-1] if len(p) else here
        ring = np.concatenate(pieces) if pieces else np.empty((0, 2))
        if len(ring) >= 3:
            rings.append(ring)
    rule = FillRule.EvenOdd if path.fillType == pathops.FillType.EVEN_ODD else FillRule.NonZero
    return CrossSection(rings, rule)


def _path(area: CrossSection) -> pathops.Path:
    path = pathops.Path()
    for ring in area.to_polygons():
        path.moveTo(*ring[0])
        for point in ring[1:]:
            path.lineTo(*point)
        path.close()
    return path


def _clusters(boxes: NDArray[np.float64]) -> list[list[int]]:
    """Indices of boxes (n, 4) that hang together by touching."""
    count = len(boxes)
    parent = list(range(count))

    def root(i: int) -> int:
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = parent[i]
        return i

    order = np.argsort(boxes[:, 0], kind="stable")
    sorted_boxes = boxes[order]
    # To the right of a box only those begin that may still touch it.
    ends = np.searchsorted(sorted_boxes[:, 0], sorted_boxes[:, 2], side="right")
    for i in range(count):
        later = slice(i + 1, int(ends[i]))
        touching = np.flatnonzero(
            (sorted_boxes[later, 1] <= sorted_boxes[i, 3]) & (sorted_boxes[later, 3] >= sorted_boxes[i, 1])
        )
        for j in touching.tolist():
            a, b = root(int(order[i])), root(int(order[i + 1 + j]))
            if a != b:
                parent[max(a, b)] = min(a, b)
    groups: dict[int, list[int]] = {}
    for i in range(count):
        groups.setdefault(root(i), []).append(i)
    return list(groups.values())
