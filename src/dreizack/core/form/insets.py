"""Insets of polygons: by mitres where topology holds, by exact offsetting where it does not."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection, FillRule, JoinType
from numpy.typing import NDArray

from .contours import SHARPEST_MITRE, Contours

Floats = NDArray[np.float64]

# Offsetting rounds to a fixed grid; a tenth of a micrometre is more than it does to titles of metres.
GRID = 1e7


def holds(contours: Contours, reach: float) -> NDArray[np.bool_]:
    """Per letter, whether moving every edge inward by ``reach`` keeps the outline's topology.

    First no edge may shrink away; then the mitred ring must enclose just what the exact inset does
    (two edges that ran into each other would enclose more or less).
    """
    letters = int(contours.letter.max()) + 1 if len(contours.letter) else 0
    good = np.ones(letters, dtype=bool)
    if not letters:
        return good
    change = np.sum((contours.mitre[contours.following] - contours.mitre) * contours.edge_direction, axis=1)
    left = contours.edge_length + reach * change
    # A squared corner starts with no length and must grow; others must keep a trace of theirs.
    short = left <= np.maximum(1e-3 * contours.edge_length, 1e-9)
    np.logical_and.at(good, contours.letter, ~short)
    ring = contours.points + reach * contours.mitre
    ahead = ring[contours.following]
    twice = np.bincount(contours.letter, ring[:, 0] * ahead[:, 1] - ring[:, 1] * ahead[:, 0], letters)
    scale = np.bincount(contours.letter, contours.edge_length, letters)
    for letter in np.flatnonzero(good):
        exact = sum(_area(r) for r in inset_rings(contours, int(letter), reach))
        good[letter] = abs(twice[letter] / 2 - exact) <= 2e-4 * reach * scale[letter] + 4 * scale[letter] / GRID
    return good


def encloses_the_inset(contours: Contours, letter: int, distance: float, rings: list[Floats]) -> bool:
    """Whether rings enclose just the area of the exact inset of a letter."""
    span = contours.letter_slice(letter)
    exact = sum(_area(r) for r in inset_rings(contours, letter, distance))
    scale = float(contours.edge_length[span].sum())
    return abs(sum(_area(r) for r in rings) - exact) <= 2e-4 * distance * scale + 4 * scale / GRID


def inset_rings(contours: Contours, letter: int, distance: float) -> list[Floats]:
    """Exact inset of one letter by ``distance`` metres: outer rings counter-clockwise, holes clockwise."""
    span = contours.letter_slice(letter)
    rings = split(contours.points[span], contours.contour[span])
    inner = CrossSection(rings, FillRule.Positive).offset(-distance, JoinType.Miter, SHARPEST_MITRE)
    return [np.asarray(r, dtype=np.float64) for r in inner.to_polygons() if len(r) >= 3]


def split(values: Floats, contour: NDArray[np.int64]) -> list[Floats]:
    """Cut an array at the changes of contour."""
    return np.split(values, np.flatnonzero(np.diff(contour)) + 1)


def _area(ring: Floats) -> float:
    following = np.roll(ring, -1, axis=0)
    return float(np.sum(ring[:, 0] * following[:, 1] - ring[:, 1] * following[:, 0]) / 2)
