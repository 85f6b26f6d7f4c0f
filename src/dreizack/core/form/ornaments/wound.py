"""Lines wound round a body, close to it wherever they are."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Slices of a body from its left to its right, directions of walls that are put round it, and points of a line
# a turn.
SLICES, WAYS, POINTS = 96, 128, 80
# Slices to either side whose body a line keeps clear of: it does not dip between letters.
NEAR = 3
# Walls that are met at a flatter angle (its cosine) are not.
FLAT = 0.05


def wound(points: Floats, turns: float, count: int, gap: float) -> list[Floats]:
    """So many lines (points, 3) that go round a body, given by its ``points`` (n, 3), ``turns`` times from
    its left to its right, evenly apart, and never nearer to it than ``gap``.

    Each lies on the convex hull of what is near by, as far out as ``gap`` says: the intersection of the half
    planes that support it, r(θ) = min h(u) / cos(θ - u) (Schneider, Convex Bodies, 2014, 1.7).
    """
    low, high = float(points[:, 0].min()), float(points[:, 0].max())
    middle, walls = _walls(points, low, high)
    share = np.linspace(0, 1, int(np.ceil(max(turns, 1) * POINTS)) + 1)
    x = (low - gap) + share * (high - low + 2 * gap)
    row = np.clip((x - low) / max(high - low, 1e-9) * SLICES - 0.5, 0, SLICES - 1)
    y, z = (np.interp(row, np.arange(SLICES), middle[:, k]) for k in (0, 1))
    found = []
    for number in range(count):
        angle = 2 * np.pi * (turns * share + number / count)
        far = _radial(walls + gap, row, angle)
        # From above over the front, then under it.
        found.append(np.column_stack([x, y + far * np.cos(angle), z + far * np.sin(angle)]))
    return found


def _walls(points: Floats, low: float, high: float) -> tuple[Floats, Floats]:
    """The middle (SLICES, 2) in y and z of what of a body is near each slice, and how far from there walls
    (SLICES, WAYS) stand that just touch it."""
    slices = np.clip(((points[:, 0] - low) / max(high - low, 1e-9) * SLICES).astype(int), 0, SLICES - 1)
    order = np.argsort(slices, kind="stable")
    ends = np.searchsorted(slices[order], np.arange(SLICES + 1))
    flat = points[order, 1:]
    near = [flat[ends[max(k - NEAR, 0)] : ends[min(k + NEAR + 1, SLICES)]] for k in range(SLICES)]
    there = np.array([k for k, own in enumerate(near) if len(own)])
    middle = np.array([(near[k].min(axis=0) + near[k].max(axis=0)) / 2 for k in there])
    # Where there is nothing it runs straight from what is before to what comes after.
    middle = np.column_stack([np.interp(np.arange(SLICES), there, middle[:, k]) for k in (0, 1)])
    middle = np.column_stack([_softened(middle[:, k]) for k in (0, 1)])
    angle = 2 * np.pi * np.arange(WAYS) / WAYS
    ways = np.stack([np.cos(angle), np.sin(angle)])
    reach = np.array([((near[k] - middle[k]) @ ways).max(axis=0) for k in there])
    walls = np.column_stack([np.interp(np.arange(SLICES), there, reach[:, way]) for way in range(WAYS)])
    # The middle may lie outside what is thin and slanted: a line goes round it all the same.
    return middle, np.maximum(walls, 0.0)


def _softened(values: Floats) -> Floats:
    """Values (n,) that go evenly from one to the next."""
    width = 2 * NEAR + 1
    found: Floats = np.convolve(np.pad(values, NEAR, mode="edge"), np.ones(width) / width, mode="valid")
    return found


def _radial(walls: Floats, row: Floats, angle: Floats) -> Floats:
    """How far (n,) it is to the nearest of the walls (SLICES, WAYS) that one meets at angles (n,), in slices
    (n,) and between them."""
    low = np.clip(row.astype(int), 0, SLICES - 2)
    share = (row - low)[:, None]
    here = (1 - share) * walls[low] + share * walls[low + 1]
    facing = np.cos(angle[:, None] - 2 * np.pi * np.arange(WAYS) / WAYS)
    found: Floats = np.where(facing > FLAT, here / np.maximum(facing, FLAT), np.inf).min(axis=1)
    return found
