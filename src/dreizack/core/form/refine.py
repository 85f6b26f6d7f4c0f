"""Cutting triangles finer, without cracks."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .glyph_body import GlyphBody

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

MOST_TRIANGLES = 400_000
ROUNDS = 8


def refined(body: GlyphBody, axis: Floats, step: float) -> GlyphBody:
    """A body whose edges are nowhere longer than ``step`` along ``axis`` (3,).

    Edges are halved until they are short enough. Whether an edge is halved depends on its two ends
    alone, so that neighbours agree and the body stays closed.
    """
    if body.empty:
        return body
    position, normal, uv = body.position, body.normal, body.uv
    triangles = body.triangles.astype(np.int64)
    part = np.repeat(np.arange(4), np.diff([0, *body.ends]))
    for _ in range(ROUNDS):
        sides = triangles[:, [[0, 1], [1, 2], [2, 0]]]
        # Sorted by place, not by number: doubled points must give the same middle.
        long = (
            np.abs((position[sides[..., 1]] - position[sides[..., 0]]) @ axis.astype(np.float32))
            > step * 1.0001
        )
        if not long.any() or len(triangles) > MOST_TRIANGLES:
            break
        codes = np.minimum(sides[..., 0], sides[..., 1]) * len(position) + np.maximum(
            sides[..., 0], sides[..., 1]
        )
        halved, index = np.unique(codes[long], return_inverse=True)
        a, b = halved // len(position), halved % len(position)
        middle = np.full(long.shape, -1)
        middle[long] = len(position) + index.reshape(-1)
        position = np.concatenate([position, (position[a] + position[b]) / 2])
        between = normal[a] + normal[b]
        between /= np.maximum(np.linalg.norm(between, axis=1, keepdims=True), 1e-12)
        normal = np.concatenate([normal, between])
        uv = np.concatenate([uv, (uv[a] + uv[b]) / 2])
        triangles, part = _split(triangles, middle, part)
    order = np.argsort(part, kind="stable")
    ends = np.cumsum(np.bincount(part, minlength=4)).tolist()
    return GlyphBody(
        position,
        normal,
        uv,
        triangles[order].astype(np.uint32),
        (ends[0], ends[1], ends[2], ends[3]),
        body.limited,
    )


def _split(triangles: Ints, middle: Ints, part: Ints) -> tuple[Ints, Ints]:
    """Triangles cut at the ``middle`` (triangles, 3) of their sides, -1 where a side stays whole."""
    cut = middle >= 0
    count = cut.sum(axis=1)
    # Turned so that the first side is cut (one cut) or the last is whole (two cuts).
    turn = np.where(
        count == 1, np.argmax(cut, axis=1), np.where(count == 2, (np.argmin(cut, axis=1) + 1) % 3, 0)
    )
    index = (np.arange(3) + turn[:, None]) % 3
    t, m = np.take_along_axis(triangles, index, axis=1), np.take_along_axis(middle, index, axis=1)
    pieces, parts = [t[count == 0]], [part[count == 0]]

    def add(which: NDArray[np.bool_], *corners: Ints) -> None:
        pieces.append(np.stack(corners, axis=1)[which])
        parts.append(part[which])

    a, b, c = t.T
    x, y, z = m.T
    for corners in ((a, x, c), (x, b, c)):
        add(count == 1, *corners)
    for corners in ((x, b, y), (a, x, y), (a, y, c)):
        add(count == 2, *corners)
    for corners in ((a, x, z), (x, b, y), (z, y, c), (x, y, z)):
        add(count == 3, *corners)
    return np.concatenate(pieces), np.concatenate(parts)
