"""Where rings cross: sides whose ends lie on both sides of each other's lines."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .contours import Contours
from .nearby import neighbours, places_along

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

# From so many sides on, only those near one another are compared.
MANY = 400


def crossed(contours: Contours, ring: Floats) -> Bools:
    """Points (points,) whose part of the innermost rings (points, 2) crosses another part of their letter."""
    found = np.zeros(len(contours.points), bool)
    for letter in range(int(contours.letter.max(initial=-1)) + 1):
        span = contours.letter_slice(letter)
        a, b = ring[span], ring[contours.following[span]]
        real = np.flatnonzero((a != b).any(axis=1))
        if not len(real):
            continue
        middle = a[real].mean(axis=0)
        a, b = a[real] - middle, b[real] - middle
        contour = contours.contour[span][real]
        follows = np.arange(len(real)) + 1
        last = np.flatnonzero(np.diff(contour, append=-1))
        follows[last] = np.concatenate([[0], last[:-1] + 1])
        cut = _cut_nearby(a, b, follows) if len(real) > MANY else _cut(a, b, follows)
        ends = real[cut]
        found[span.start + ends] = True
        found[contours.following[span.start + ends]] = True
    return found


def _lines(a: Floats, b: Floats) -> Floats:
    """Sides (3, sides) as lines; (x, y, 1) on one is positive on its left and negative on its right."""
    return np.stack([a[:, 1] - b[:, 1], b[:, 0] - a[:, 0], a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]])


def _cut(a: Floats, b: Floats, follows: Ints) -> Bools:
    """Sides (sides,) that are cut by any other; ends of sides lie on their lines."""
    index = np.arange(len(a))
    side = np.column_stack([a, np.ones(len(a))]) @ _lines(a, b)
    side[index, index] = side[follows, index] = 0
    cut = side * side[follows] < 0
    return np.asarray((cut & cut.T).any(axis=1))


def _cut_nearby(a: Floats, b: Floats, follows: Ints) -> Bools:
    """As :func:`_cut`: where two sides meet, places of both are near."""
    spacing = max(float(np.hypot(*(b - a).T).mean()), 1e-12)
    places, side = places_along(a, b, spacing)
    one, other = neighbours(places, places, spacing)
    once = side[one] < side[other]
    i, j = side[one[once]], side[other[once]]
    lines = _lines(a, b)

    def turned(places: Floats, own: Ints, line: Ints) -> Floats:
        left = lines[0, line] * places[own, 0] + lines[1, line] * places[own, 1] + lines[2, line]
        return np.where((own == line) | (own == follows[line]), 0.0, left)

    def cuts(i: Ints, j: Ints) -> Bools:
        return np.asarray(turned(a, i, j) * turned(a, follows[i], j) < 0)

    cut = np.zeros(len(a), bool)
    both = cuts(i, j) & cuts(j, i)
    cut[i[both]] = cut[j[both]] = True
    return cut
