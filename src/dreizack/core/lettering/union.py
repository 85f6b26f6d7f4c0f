"""A path united with itself, parts that cannot touch one another each for themselves."""

from __future__ import annotations

import numpy as np
import pathops
from numpy.typing import NDArray

# Below this many contours one go is quicker.
FEW = 12


def united(path: pathops.Path) -> pathops.Path:
    """The area a path covers, outer contours counter-clockwise (y up), holes the other way, nothing overlapping.

    The time of uniting grows with the square of the contours, so those whose boxes do not touch are
    kept apart.
    """
    contours = list(path.contours) if path.fillType == pathops.FillType.WINDING else [path]
    if len(contours) <= FEW:
        return _simplified(path)
    boxes = np.array([contour.bounds for contour in contours])
    whole = pathops.Path()
    for members in _clusters(boxes):
        part = pathops.Path()
        for i in members:
            part.addPath(contours[i])
        whole.addPath(_simplified(part))
    return whole


def _simplified(path: pathops.Path) -> pathops.Path:
    path = pathops.Path(path)
    path.convertConicsToQuads()
    path.simplify(fix_winding=True, keep_starting_points=False, clockwise=False)
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
        touching = np.flatnonzero((sorted_boxes[later, 1] <= sorted_boxes[i, 3]) & (sorted_boxes[later, 3] >= sorted_boxes[i, 1]))
        for j in touching.tolist():
            a, b = root(int(order[i])), root(int(order[i + 1 + j]))
            if a != b:
                parent[max(a, b)] = min(a, b)
    groups: dict[int, list[int]] = {}
    for i in range(count):
        groups.setdefault(root(i), []).append(i)
    return list(groups.values())
