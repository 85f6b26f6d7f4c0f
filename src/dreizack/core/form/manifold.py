"""Proof that a body is closed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .glyph_body import GlyphBody


@dataclass(frozen=True)
class Closedness:
    """What an examination found.

    ``open_edges``: directed edges that do not stand just once with just one opposite (0 on a closed,
    consistently wound mesh without parts that touch); ``folded``: triangles whose side contradicts their own
    normals; ``degenerate``: triangles without area; ``volume``: cubic metres enclosed.
    """

    open_edges: int
    folded: int
    degenerate: int
    volume: float

    @property
    def closed(self) -> bool:
        return self.open_edges == 0

    @property
    def sound(self) -> bool:
        return self.closed and not self.folded and not self.degenerate


def examine(body: GlyphBody) -> Closedness:
    """Weld equal positions, then match every directed edge with its opposite.

    Volume by the divergence theorem: the sum of signed tetrahedra over all triangles.
    """
    if body.empty:
        return Closedness(0, 0, 0, 0.0)
    _, weld = np.unique(body.position, axis=0, return_inverse=True)
    corners = weld.reshape(-1)[body.triangles]
    whole = (
        (corners[:, 0] != corners[:, 1]) & (corners[:, 1] != corners[:, 2]) & (corners[:, 2] != corners[:, 0])
    )
    solid = corners[whole].astype(np.int64)
    sides = np.concatenate([solid[:, [0, 1]], solid[:, [1, 2]], solid[:, [2, 0]]])
    there, back = sides[:, 0] * (1 << 32) + sides[:, 1], sides[:, 1] * (1 << 32) + sides[:, 0]
    codes, counts = np.unique(there, return_counts=True)
    # Every directed edge stands once, and so does its opposite.
    open_edges = int((counts != 1).sum() + (~np.isin(codes, back)).sum())
    a, b, c = (body.position[body.triangles[:, i]].astype(np.float64) for i in range(3))
    facing = np.cross(b - a, c - a)
    shading = body.normal[body.triangles].sum(axis=1)
    size = np.linalg.norm(facing, axis=1)
    against = np.sum(facing * shading, axis=1) < -1e-3 * size * np.linalg.norm(shading, axis=1)
    volume = float(np.sum(a * np.cross(b, c)) / 6)
    return Closedness(open_edges, int((against & (size > 1e-9)).sum()), int((size == 0).sum()), volume)
