"""The edge of one letter: from its outline along a profile to the ring its face fills.

An edge is made in its own frame: it rises along +w from the outline at w = -drop to the face at
w = 0. The body turns it to the front or to the back.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .collapse import Rings
from .contours import Contours
from .fill import fill
from .insets import encloses_the_inset, inset_rings, split
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
    """An edge on which no two points ever meet: one strip between each pair of rings."""
    ring = contours.points[span] + shape.inset[-1] * contours.mitre[span]
    if shape.plain:
        return LetterEdge(None, split(ring, contours.contour[span]), False)
    flat = contours.points[span][None] + shape.inset[:, None, None] * contours.mitre[span][None]
    alone = np.broadcast_to(np.arange(flat.shape[1]), flat.shape[:2])
    return LetterEdge(_strips(Part.of(contours, span), shape, flat, alone), split(ring, contours.contour[span]), False)


def merging_edge(contours: Contours, letter: int, shape: Profile, rings: Rings) -> LetterEdge:
    """An edge on which points may meet and go on as one; where far parts meet, the rest is banded.

    ``rings`` are those of all of ``shape``'s insets.
    """
    span = contours.letter_slice(letter)
    flat, carrier = rings.position[:, span], rings.carrier[:, span] - span.start
    good = _last_good(contours, letter, shape.inset, flat, carrier, rings.whole[:, letter])
    contour = contours.contour[span]
    alive = carrier[good] == np.arange(flat.shape[1])
    ring = split(flat[good][alive], contour[alive])
    strips = _strips(Part.of(contours, span), shape, flat[: good + 1], carrier[: good + 1]) if good else None
    if good == len(shape.inset) - 1:
        return LetterEdge(strips, ring, False)
    bands, left, limited = _bands(contours, letter, shape, ring, good)
    return LetterEdge(bands if strips is None else _joined(strips, bands), left, limited)


def _last_good(
    contours: Contours, letter: int, inset: Floats, flat: Floats, carrier: Ints, whole: NDArray[np.bool_]
) -> int:
    """The last level whose ring encloses what the exact inset does; by bisection, as rings only get worse."""
    contour = contours.contour[contours.letter_slice(letter)]

    def fits(level: int) -> bool:
        if not whole[level]:
            return False
        alive = carrier[level] == np.arange(flat.shape[1])
        rings = split(flat[level][alive], contour[alive])
        return encloses_the_inset(contours, letter, float(inset[level]), rings)

    if fits(len(inset) - 1):
        return len(inset) - 1
    low, high = 0, len(inset) - 1
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if fits(middle) else (low, middle)
    return low


def _strips(part: Part, shape: Profile, flat: Floats, carrier: Ints) -> Surface:
    """Strips between rings ``flat`` (levels, points, 2); sides whose two points are one are left out."""
    levels = len(flat)
    flat, carrier = flat[:, part.point], carrier[:, part.point]
    heights = np.broadcast_to(-shape.drop[:levels, None, None], (*flat.shape[:2], 1))
    position = np.concatenate([flat, heights], axis=2).reshape(-1, 3)
    normal = np.concatenate(
        [shape.outward[:levels, None, None] * part.normal[None],
         np.broadcast_to(shape.upward[:levels, None, None], (*flat.shape[:2], 1))], axis=2,
    ).reshape(-1, 3)
    uv = np.stack(np.broadcast_arrays(part.run[None], shape.run[:levels, None]), axis=2).reshape(-1, 2)
    row = len(part.point)
    base = np.arange(levels - 1)[:, None] * row
    a, b = base + part.tail[None], base + part.head[None]
    has_length = carrier[:, part.tail] != carrier[:, part.head]
    has_length[0] &= ~part.squared
    lower = np.stack([a, b, b + row], axis=2)[has_length[:-1]]
    upper = np.stack([a, b + row, a + row], axis=2)[has_length[1:]]
    # A squared corner has no length on the outline: its first quad is a triangle.
    return Surface(position, normal, uv, np.concatenate([lower, upper]))


def _joined(a: Surface, b: Surface) -> Surface:
    return Surface(
        np.concatenate([a.position, b.position]), np.concatenate([a.normal, b.normal]), np.concatenate([a.uv, b.uv]),
        np.concatenate([a.triangles, b.triangles + len(a.position)]),
    )


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


def _bands(
    contours: Contours, letter: int, shape: Profile, ring: list[Floats], level: int
) -> tuple[Surface, list[Floats], bool]:
    """Where strokes or counters close: exact rings from ``ring`` at ``level`` on, the bands between them filled.

    A band shares its ring's very points with the next, so the whole is closed. Where nothing is
    left further in, the band is capped at its own height: that is where the edge is limited.
    """
    span = contours.letter_slice(letter)
    ring = [r for r in (_without_repeats(r) for r in ring) if len(r) >= 3]
    positions, triangles, base, limited = [], [], 0, False
    for step in range(level + 1, len(shape.inset)):
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
    return _shade(contours, span, shape, position, faces), ring, limited


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
    """Index of the nearest segment for each query point, in blocks to bound memory.

    With v = q - a and u the segment, the squared distance is |v|² - 2 t v·u + t² |u|² for
    t = clip(v·u / |u|², 0, 1); all products of points come from one matrix product.
    """
    middle = start.mean(axis=0)
    query, start, along = query - middle, start - middle, end - start
    length = np.maximum(np.sum(along * along, axis=1), 1e-18)
    both = np.concatenate([start, along]).T
    start_start, start_along = np.sum(start * start, axis=1), np.sum(start * along, axis=1)
    best = np.empty(len(query), np.int64)
    count = len(start)
    block = max(1, 300_000 // max(count, 1))
    for low in range(0, len(query), block):
        products = query[low : low + block] @ both
        across = products[:, count:] - start_along
        t = np.clip(across / length, 0, 1)
        # |q|² is the same for every segment and left out.
        away = start_start - 2 * products[:, :count] + t * (t * length - 2 * across)
        best[low : low + block] = np.argmin(away, axis=1)
    return best
