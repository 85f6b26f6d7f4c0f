"""The edge of one letter: from its outline along a profile to the ring its face fills.

An edge is made in its own frame: it rises along +w from the outline at w = -drop to the face at
w = 0. The body turns it to the front or to the back.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .contours import Contours
from .fill import fill
from .insets import inset_rings, split
from .profiles import Profile

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Surface:
    """Triangles with what shading needs: ``position`` and ``normal`` (n, 3), ``uv`` (n, 2)."""

    position: Floats
    normal: Floats
    uv: Floats
    triangles: Ints


@dataclass(frozen=True)
class LetterEdge:
    """The bevel (None without a profile), the rings left for the face, and whether it was limited."""

    bevel: Surface | None
    face_rings: list[Floats]
    limited: bool


def strip_edge(contours: Contours, span: slice, shape: Profile) -> LetterEdge:
    """An edge that keeps the outline's topology: one strip between each pair of rings."""
    part = Part.of(contours, span)
    ring = contours.points[span] + shape.inset[-1] * contours.mitre[span]
    rings = split(ring, contours.contour[span])
    if shape.plain:
        return LetterEdge(None, rings, False)
    flat = contours.points[span][None] + shape.inset[:, None, None] * contours.mitre[span][None]
    flat = flat[:, part.point]
    levels = np.broadcast_to(-shape.drop[:, None, None], (*flat.shape[:2], 1))
    position = np.concatenate([flat, levels], axis=2).reshape(-1, 3)
    normal = np.concatenate(
        [shape.outward[:, None, None] * part.normal[None],
         np.broadcast_to(shape.upward[:, None, None], (*flat.shape[:2], 1))], axis=2,
    ).reshape(-1, 3)
    uv = np.stack(np.broadcast_arrays(part.run[None], shape.run[:, None]), axis=2).reshape(-1, 2)
    row = len(part.point)
    base = np.arange(len(shape.inset) - 1)[:, None] * row
    a, b = base + part.tail[None], base + part.head[None]
    quads = np.stack([a, b, b + row, a, b + row, a + row], axis=2).reshape(-1, 3)
    if part.squared.any():
        # A squared corner has no length on the outline: its first quad is a triangle.
        first = quads[: 2 * len(part.tail)].reshape(-1, 2, 3)
        gone = np.zeros(len(quads), dtype=bool)
        gone[np.flatnonzero(part.squared) * 2] = True
        first[part.squared, 1] = np.stack([a[0], b[0] + row, a[0] + row], axis=1)[part.squared]
        quads = quads[~gone]
    return LetterEdge(Surface(position, normal, uv, quads), rings, False)


@dataclass(frozen=True)
class Part:
    """Points of one letter, doubled at corners so that each side has its own normal.

    ``tail``, ``head`` (edges,) index the doubled points; ``squared`` marks edges without length.
    """

    point: Ints
    normal: Floats
    run: Floats
    tail: Ints
    head: Ints
    squared: NDArray[np.bool_]

    @classmethod
    def of(cls, contours: Contours, span: slice) -> Part:
        count = span.stop - span.start
        corner = contours.corner[span]
        following = contours.following[span] - span.start
        wraps = following <= np.arange(count)
        starts = np.zeros(count, dtype=bool)
        starts[following[wraps]] = True
        # The first point of a contour is doubled too, as running lengths begin and end there.
        doubled = np.flatnonzero(corner | starts)
        tail = np.arange(count)
        head_of = np.arange(count)
        head_of[doubled] = count + np.arange(len(doubled))
        closing = contours.previous[span][doubled] - span.start
        reached = contours.run[span][closing] + contours.edge_length[span][closing]
        point = np.concatenate([tail, doubled])
        normal = np.concatenate([contours.normal_out[span], contours.normal_in[span][doubled]])
        run = np.concatenate([contours.run[span], reached])
        return cls(point, normal, run, tail, head_of[following], contours.edge_length[span] < 1e-12)


def banded_edge(contours: Contours, letter: int, shape: Profile) -> LetterEdge:
    """An edge where strokes or counters close: exact rings, the bands between them filled.

    A band shares its ring's very points with the next, so the whole is closed. Where nothing is
    left further in, the band is capped at its own height: that is where the edge is limited.
    """
    span = contours.letter_slice(letter)
    ring = [_without_repeats(r) for r in split(contours.points[span], contours.contour[span])]
    positions, triangles, base, limited = [], [], 0, False
    for step in range(1, len(shape.inset)):
        inner = inset_rings(contours, letter, float(shape.inset[step]))
        outer_count = sum(len(r) for r in ring)
        band = fill([*ring, *(r[::-1] for r in inner)])
        flat = np.concatenate([*ring, *(r[::-1] for r in inner)])
        height = np.where(np.arange(len(flat)) < outer_count, -shape.drop[step - 1], -shape.drop[step])
        positions.append(np.column_stack([flat, height]))
        triangles.append(band + base)
        base += len(flat)
        if len(inner) != len(ring):
            limited = True
        ring = inner
        if not ring:
            break
    position, faces = np.concatenate(positions), np.concatenate(triangles)
    return LetterEdge(_shade(contours, span, shape, position, faces), ring, limited)


def _without_repeats(ring: Floats) -> Floats:
    return ring[np.any(ring != np.roll(ring, 1, axis=0), axis=1)]


def _shade(contours: Contours, span: slice, shape: Profile, position: Floats, faces: Ints) -> Surface:
    """Normals and UVs of filled bands: each triangle belongs to the outline edge nearest to it."""
    start, end = contours.points[span], contours.points[contours.following[span]]
    owner = _nearest_edge(position[faces].mean(axis=1)[:, :2], start, end)
    corners = position[faces].reshape(-1, 3)
    edge = np.repeat(owner, 3)
    a, along = start[edge], (end - start)[edge]
    length = np.maximum(np.sum(along * along, axis=1), 1e-18)
    t = np.clip(np.sum((corners[:, :2] - a) * along, axis=1) / length, 0, 1)[:, None]
    arriving = contours.normal_in[contours.following[span]]
    flat = contours.normal_out[span][edge] * (1 - t) + arriving[edge] * t
    flat /= np.maximum(np.linalg.norm(flat, axis=1, keepdims=True), 1e-12)
    # Rings are told apart by height, from the wall up.
    level = np.clip(np.searchsorted(-shape.drop, corners[:, 2] - 1e-12), 0, len(shape.drop) - 1)
    normal = np.column_stack([flat * shape.outward[level][:, None], shape.upward[level]])
    run = contours.run[span][edge] + t[:, 0] * contours.edge_length[span][edge]
    uv = np.column_stack([run, shape.run[level]])
    return Surface(corners, normal, uv, np.arange(len(corners)).reshape(-1, 3))


def _nearest_edge(query: Floats, start: Floats, end: Floats) -> Ints:
    """Index of the nearest segment for each query point, in blocks to bound memory."""
    along = end - start
    length = np.maximum(np.sum(along * along, axis=1), 1e-18)
    best = np.empty(len(query), np.int64)
    block = max(1, 2_000_000 // max(len(start), 1))
    for low in range(0, len(query), block):
        q = query[low : low + block, None, :]
        t = np.clip(np.sum((q - start) * along, axis=2) / length, 0, 1)
        away = q - (start + t[..., None] * along)
        best[low : low + block] = np.argmin(np.sum(away * away, axis=2), axis=1)
    return best
