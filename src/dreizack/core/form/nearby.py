"""Which places lie near which: a uniform grid (Bentley and Friedman, Data Structures for Range Searching, ACM
Computing Surveys 11(4), 1979, section 2.4)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def neighbours(query: Floats, places: Floats, radius: float) -> tuple[Ints, Ints]:
    """Indices (pairs,) of queries (n, 2), rising, and of the places (m, 2) around each.

    All within ``radius`` are there, and some that are a little farther away.
    """
    low = places.min(axis=0)
    column, row = np.floor((places - low) / radius).astype(np.int64).T
    columns, rows = int(column.max()) + 1, int(row.max()) + 1
    order = np.argsort(column * rows + row, kind="stable")
    keys = (column * rows + row)[order]
    # Whatever is two cells outside has no neighbours.
    cell = np.clip(np.floor((query - low) / radius), -2, [columns + 1, rows + 1]).astype(np.int64)
    across, up = cell[:, :1] + np.arange(-1, 2), cell[:, 1:]
    # Cells of a column follow one another: three of them are one run.
    bottom, top = np.maximum(up - 1, 0), np.minimum(up + 1, rows - 1)
    start = np.searchsorted(keys, across * rows + bottom)
    stop = np.searchsorted(keys, across * rows + top, side="right")
    inside = (across >= 0) & (across < columns) & (bottom <= top)
    many = np.where(inside, stop - start, 0)
    ends = np.cumsum(many)
    total = int(ends[-1]) if ends.size else 0
    run = np.repeat(np.arange(many.size), many.ravel())
    found = order[np.arange(total) - (ends - many.ravel())[run] + start.ravel()[run]]
    return run // 3, found


def places_along(start: Floats, end: Floats, spacing: float) -> tuple[Floats, Ints]:
    """Places (places, 2) on sides (n, 2) to (n, 2), no farther apart than ``spacing``, and whose each is."""
    length = np.hypot(*(end - start).T)
    many = np.ceil(length / spacing).astype(np.int64) + 1
    side = np.repeat(np.arange(len(start)), many)
    step = np.arange(len(side)) - np.repeat(np.cumsum(many) - many, many)
    t = step / np.maximum(many[side] - 1, 1)
    return start[side] + (end[side] - start[side]) * t[:, None], side
