"""The edges of a body as thin tubes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .glyph_body import GlyphBody

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

SIDES = 8
# Points nearer than this are one, in metres.
SAME = 2e-6
# Degrees between two sides from which their edge counts as one, and up to which a tube runs on around a
# corner.
CREASE, RUNS_ON = 25.0, 40.0


def wired(body: GlyphBody, radius: float, between_parts: bool) -> GlyphBody:
    """Tubes of a radius in metres along the edges of a body: those where its parts meet, or all sharp ones as
    well.

    Tubes share rings where an edge runs on smoothly; at corners and junctions they end in balls. All of it is
    face.
    """
    if body.empty or radius <= 0:
        return _nothing()
    points, start, end, normal = feature_edges(body, between_parts)
    if not len(start):
        return _nothing()
    ways = points[end] - points[start]
    length = np.linalg.norm(ways, axis=1)
    kept = length > SAME
    start, end, ways, length = start[kept], end[kept], ways[kept] / length[kept, None], length[kept]
    tangent, smooth = _tangents(len(points), start, end, ways)
    rings, facing = [], []
    for at in (start, end):
        # At a smooth point the one tangent of both edges, turned the way this edge runs.
        shared = tangent[at] * np.sign(np.einsum("ij,ij->i", tangent[at], ways))[:, None]
        along = np.where(smooth[at][:, None], shared, ways)
        first = normal[at] - np.einsum("ij,ij->i", normal[at], along)[:, None] * along
        lost = np.linalg.norm(first, axis=1) < 1e-3
        other = np.where(np.abs(along[:, :1]) < 0.8, [[1.0, 0, 0]], [[0, 1.0, 0]])
        first[lost] = np.cross(along, other)[lost]
        first /= np.linalg.norm(first, axis=1, keepdims=True)
        second = np.cross(along, first)
        angle = np.arange(SIDES) * 2 * np.pi / SIDES
        out = first[:, None] * np.cos(angle)[:, None] + second[:, None] * np.sin(angle)[:, None]
        rings.append(points[at][:, None] + radius * out)
        facing.append(out)
    count = len(start)
    position, outward = np.stack(rings, axis=1).reshape(-1, 3), np.stack(facing, axis=1).reshape(-1, 3)
    around = np.tile(np.arange(SIDES) / SIDES * 2 * np.pi * radius, count * 2)
    along_run = np.repeat(np.stack([np.zeros(count), length], axis=1).ravel(), SIDES)
    k = np.arange(SIDES)
    a, b = k, (k + 1) % SIDES
    tube = np.concatenate([np.stack([a, b, b + SIDES], axis=1), np.stack([a, b + SIDES, a + SIDES], axis=1)])
    triangles = (np.arange(count)[:, None, None] * 2 * SIDES + tube).reshape(-1, 3)
    balls = np.flatnonzero(~smooth & (np.bincount(np.concatenate([start, end]), minlength=len(points)) > 0))
    ball, faces = _ball()
    position = np.concatenate([position, (points[balls][:, None] + radius * ball).reshape(-1, 3)])
    outward = np.concatenate([outward, np.tile(ball, (len(balls), 1))])
    uv = np.concatenate([np.stack([along_run, around], axis=1), np.zeros((len(balls) * len(ball), 2))])
    triangles = np.concatenate(
        [
            triangles,
            (np.arange(len(balls))[:, None, None] * len(ball) + faces).reshape(-1, 3) + count * 2 * SIDES,
        ]
    )
    total = len(triangles)
    return GlyphBody(
        position.astype(np.float32),
        outward.astype(np.float32),
        uv.astype(np.float32),
        triangles.astype(np.uint32),
        (total, total, total, total),
        body.limited,
    )


def feature_edges(body: GlyphBody, between_parts: bool) -> tuple[Floats, Ints, Ints, Floats]:
    """Points (n, 3), the two ends (m,) of each edge that counts, and a normal (n, 3) at each point."""
    _, first, same = np.unique(
        np.round(body.position / SAME).astype(np.int64), axis=0, return_index=True, return_inverse=True
    )
    points = body.position[first].astype(np.float64)
    normal = np.zeros_like(points)
    np.add.at(normal, same.reshape(-1), body.normal.astype(np.float64))
    corners = same.reshape(-1)[body.triangles.astype(np.int64)]
    part = np.searchsorted(np.array(body.ends), np.arange(len(corners)), side="right")
    flat = np.cross(
        points[corners[:, 1]] - points[corners[:, 0]], points[corners[:, 2]] - points[corners[:, 0]]
    )
    size = np.linalg.norm(flat, axis=1)
    flat /= np.maximum(size, 1e-20)[:, None]
    ends = np.sort(np.stack([corners, np.roll(corners, -1, axis=1)], axis=-1).reshape(-1, 2), axis=1)
    owner = np.repeat(np.arange(len(corners)), 3)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    ends, owner = ends[order], owner[order]
    pair = np.flatnonzero((ends[1:] == ends[:-1]).all(axis=1))
    one, two = owner[pair], owner[pair + 1]
    counts = part[one] != part[two]
    if not between_parts:
        # Slivers have no direction to speak of.
        sound = (size[one] > SAME**2) & (size[two] > SAME**2)
        counts |= sound & (np.einsum("ij,ij->i", flat[one], flat[two]) < np.cos(np.radians(CREASE)))
    found = np.unique(ends[pair][counts], axis=0)
    found = found[found[:, 0] != found[:, 1]]
    return points, found[:, 0], found[:, 1], normal


def _tangents(count: int, start: Ints, end: Ints, ways: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """The direction in which an edge runs through each point, and whether it does so smoothly."""
    at = np.concatenate([start, end])
    out = np.concatenate([ways, -ways])
    degree = np.bincount(at, minlength=count)
    order = np.argsort(at, kind="stable")
    place = np.cumsum(np.concatenate([[0], degree[:-1]]))
    tangent, smooth = np.zeros((count, 3)), np.zeros(count, bool)
    two = np.flatnonzero(degree == 2)
    a, b = out[order[place[two]]], out[order[place[two] + 1]]
    runs = np.einsum("ij,ij->i", a, -b) > np.cos(np.radians(RUNS_ON))
    through = a - b
    tangent[two] = through / np.maximum(np.linalg.norm(through, axis=1, keepdims=True), 1e-12)
    smooth[two] = runs
    return tangent, smooth


def _ball() -> tuple[Floats, Ints]:
    """Points and triangles of a ball of radius 1, in rings."""
    rows = 4
    polar = np.linspace(0, np.pi, rows + 1)[1:-1]
    turn = np.arange(SIDES) * 2 * np.pi / SIDES
    rings = np.stack(
        [
            np.outer(np.sin(polar), np.cos(turn)),
            np.outer(np.cos(polar), np.ones(SIDES)),
            np.outer(np.sin(polar), np.sin(turn)),
        ],
        axis=-1,
    ).reshape(-1, 3)
    points = np.concatenate([[[0.0, 1, 0]], rings, [[0.0, -1, 0]]])
    k, n = np.arange(SIDES), (np.arange(SIDES) + 1) % SIDES
    faces = [np.stack([0 * k, 1 + n, 1 + k], axis=1)]
    for row in range(rows - 2):
        a, b = 1 + row * SIDES, 1 + (row + 1) * SIDES
        faces += [np.stack([a + k, a + n, b + n], axis=1), np.stack([a + k, b + n, b + k], axis=1)]
    last = 1 + (rows - 2) * SIDES
    faces.append(np.stack([last + k, last + n, 0 * k + len(points) - 1], axis=1))
    return points, np.concatenate(faces)


def _nothing() -> GlyphBody:
    return GlyphBody(
        np.empty((0, 3), np.float32),
        np.empty((0, 3), np.float32),
        np.empty((0, 2), np.float32),
        np.empty((0, 3), np.uint32),
        (0, 0, 0, 0),
        False,
    )
