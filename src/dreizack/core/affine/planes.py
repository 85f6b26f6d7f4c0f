"""Affine maps as twelve arrays, one a number: what is the same for many maps, or nothing at all, costs that
little.

``Linear`` is three rows of three numbers, each an array that broadcasts over all maps, or a plain 0 or 1.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from .matrices import GONE

Floats = NDArray[np.float64]
Number = Floats | float
Linear = list[list[Number]]


def planes_of(matrices: Floats) -> Floats:
    """The upper rows of matrices (..., 4, 4) as planes (3, 4, ...)."""
    return np.ascontiguousarray(np.moveaxis(matrices[..., :3, :], (-2, -1), (0, 1)))


def linear_of(turn: list[Floats], scale: Floats, stretch: Floats, lean: Floats, depth: Floats) -> Linear:
    """Lean, stretch, depth, scale, then turn by x, y, z in degrees: as
    :func:`dreizack.core.affine.matrices.linear_map`, number by number."""
    size: Number = np.maximum(scale, GONE) if (scale != 1).any() else 1.0
    wide: Number = _times(size, stretch) if (stretch != 1).any() else size
    deep: Number = _times(size, np.maximum(depth, GONE)) if (depth != 1).any() else size
    leans: Number = _times(wide, np.tan(np.radians(lean))) if lean.any() else 0.0
    if not any(angle.any() for angle in turn):
        return [[wide, leans, 0.0], [0.0, size, 0.0], [0.0, 0.0, deep]]
    (cx, sx), (cy, sy), (cz, sz) = (
        (np.cos(np.radians(angle)), np.sin(np.radians(angle))) if angle.any() else (1.0, 0.0)
        for angle in turn
    )
    rows: Linear = [
        [
            _times(cz, cy),
            _less(_times(_times(cz, sy), sx), _times(sz, cx)),
            _plus(_times(_times(cz, sy), cx), _times(sz, sx)),
        ],
        [
            _times(sz, cy),
            _plus(_times(_times(sz, sy), sx), _times(cz, cx)),
            _less(_times(_times(sz, sy), cx), _times(cz, sx)),
        ],
        [_less(0.0, sy), _times(cy, sx), _times(cy, cx)],
    ]
    return [[_times(a, wide), _plus(_times(a, leans), _times(b, size)), _times(c, deep)] for a, b, c in rows]


def moved_about(planes: Floats, linear: Linear, centre: list[Number], move: list[Number]) -> Floats:
    """Maps (3, 4, ...) that first do ``linear`` about a centre, then move, then what they did before."""
    shift = [
        _less(_plus(centre[r], move[r]), _sum(_times(linear[r][k], centre[k]) for k in range(3)))
        for r in range(3)
    ]
    shape = np.broadcast_shapes(planes.shape[2:], *map(np.shape, itertools.chain(shift, *linear)))
    made = np.empty((3, 4, *shape))
    for r in range(3):
        row = planes[r]
        for c in range(3):
            made[r, c] = _sum(_times(row[k], linear[k][c]) for k in range(3))
        made[r, 3] = _plus(_sum(_times(row[k], shift[k]) for k in range(3)), row[3])
    return made


def _plain(a: Number, value: float) -> bool:
    return isinstance(a, float) and a == value


def _times(a: Number, b: Number) -> Number:
    if _plain(a, 0.0) or _plain(b, 0.0):
        return 0.0
    return b if _plain(a, 1.0) else a if _plain(b, 1.0) else a * b


def _plus(a: Number, b: Number) -> Number:
    return b if _plain(a, 0.0) else a if _plain(b, 0.0) else a + b


def _less(a: Number, b: Number) -> Number:
    return a if _plain(b, 0.0) else a - b


def _sum(parts: Iterable[Number]) -> Number:
    total: Number = 0.0
    for part in parts:
        total = _plus(total, part)
    return total
