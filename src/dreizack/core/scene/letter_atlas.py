"""A picture with a cell for each letter of a form: what is coloured by the letter's outline finds its place
there."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..form import GlyphBody

Floats = NDArray[np.float64]

# Pixels on a side of a letter's cell, and empty ones around it.
CELL, MARGIN = 256, 6


@dataclass(frozen=True)
class Cell:
    """Where a letter lies in the picture of all: pixel ``left``, ``top`` of its cell, the lowest x and y of
    its face, and pixels a metre."""

    left: int
    top: int
    low: tuple[float, float]
    scale: float

    @property
    def within(self) -> tuple[slice, slice]:
        """Rows and columns it takes of the picture."""
        return slice(self.top, self.top + CELL), slice(self.left, self.left + CELL)

    def pixels(self, points: NDArray[np.float32]) -> Floats:
        """Places (n, 2) in the cell, across and down in pixels, of points (n, 2) of the letter."""
        flat: Floats = (points.astype(np.float64) - np.array(self.low)) * self.scale + MARGIN
        flat[:, 1] = CELL - flat[:, 1]
        return flat


def cells(bodies: Sequence[GlyphBody | None]) -> tuple[list[Cell], tuple[int, int]]:
    """A cell for each letter, and rows and columns of the whole picture."""
    across = max(1, math.ceil(math.sqrt(len(bodies))))
    found = []
    for number, body in enumerate(bodies):
        low, extent = (0.0, 0.0), 1.0
        if body is not None and not body.empty:
            lowest, highest = body.position[:, :2].min(axis=0), body.position[:, :2].max(axis=0)
            low, extent = (float(lowest[0]), float(lowest[1])), max(float((highest - lowest).max()), 1e-6)
        found.append(Cell(number % across * CELL, number // across * CELL, low, (CELL - 2 * MARGIN) / extent))
    return found, (max(1, math.ceil(len(bodies) / across)) * CELL, across * CELL)


def planes(bodies: Sequence[GlyphBody | None]) -> list[Floats]:
    """Matrices (2, 4) that take points of each letter to the picture of all (0 to 1, up)."""
    found, (rows, columns) = cells(bodies)
    made = []
    for cell in found:
        x0 = (cell.left + MARGIN - cell.low[0] * cell.scale) / columns
        # Rows count down, v up.
        y0 = 1 - (cell.top + CELL - MARGIN + cell.low[1] * cell.scale) / rows
        made.append(np.array([[cell.scale / columns, 0, 0, x0], [0, cell.scale / rows, 0, y0]]))
    return made
