"""Tubes around lines, closed bodies all of them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..glyph_body import GlyphBody
from .lines import Shown

Floats = NDArray[np.float64]

# Points around a tube.
SIDES = 8


def tube_body(shown: Shown, sides: int = SIDES) -> GlyphBody:
    """A body of all stretches: round tubes, pointed at their ends, or closed where a stretch goes all the way
    round. Every edge is shared by two faces."""
    stretches, points = shown.places.shape[:2]
    if not stretches:
        return _empty()
    along, side = frames_along(shown.places, shown.round)
    other = np.cross(along, side)
    angle = 2 * np.pi * np.arange(sides) / sides
    out = (
        np.cos(angle)[None, None, :, None] * side[:, :, None]
        + np.sin(angle)[None, None, :, None] * other[:, :, None]
    )
    ring = shown.places[:, :, None] + shown.radius[:, :, None, None] * out
    # Ends: two points beyond, which whole rings do not use.
    tip = np.stack(
        [
            shown.places[:, 0] - along[:, 0] * shown.radius[:, :1],
            shown.places[:, -1] + along[:, -1] * shown.radius[:, -1:],
        ],
        axis=1,
    )
    each = points * sides + 2
    position = np.concatenate([ring.reshape(stretches, -1, 3), tip], axis=1).reshape(-1, 3)
    facing = np.stack([-along[:, 0], along[:, -1]], axis=1)
    normal = np.concatenate([out.reshape(stretches, -1, 3), facing], axis=1).reshape(-1, 3)
    u = np.broadcast_to((np.arange(sides) / sides)[None, None], (stretches, points, sides))
    v = np.broadcast_to(shown.share[:, :, None], (stretches, points, sides))
    uv = np.concatenate(
        [
            np.stack([u, v], axis=-1).reshape(stretches, -1, 2),
            np.stack([np.zeros((stretches, 2)), shown.share[:, [0, -1]]], axis=-1),
        ],
        axis=1,
    ).reshape(-1, 2)
    start = (np.arange(stretches) * each)[:, None, None]
    triangles = np.concatenate(
        [
            (start[~shown.round] + _open(points, sides)).reshape(-1, 3),
            (start[shown.round] + _round(points, sides)).reshape(-1, 3),
        ]
    )
    count = len(triangles)
    return GlyphBody(
        position.astype(np.float32),
        normal.astype(np.float32),
        uv.astype(np.float32),
        triangles.astype(np.uint32),
        (count, count, count, count),
        False,
    )


def frames_along(places: Floats, whole: NDArray[np.bool_]) -> tuple[Floats, Floats]:
    """Directions of lines (stretches, points, 3) and one across each, which turns as little as it can (Wang,
    Jüttler, Zheng & Liu, Computation of Rotation Minimizing Frames, 2008: double reflection); of whole rings
    what is left over is spread along them, so that their ends meet."""
    points = places.shape[1]
    before, after = np.roll(places, 1, axis=1), np.roll(places, -1, axis=1)
    before[~whole, 0], after[~whole, -1] = places[~whole, 0], places[~whole, -1]
    along = after - before
    along /= np.maximum(np.linalg.norm(along, axis=2, keepdims=True), 1e-12)
    first = along[:, 0]
    least = np.eye(3)[np.abs(first).argmin(axis=1)]
    side = np.zeros_like(places)
    side[:, 0] = _unit(np.cross(first, least))
    for k in range(points - 1):
        side[:, k + 1] = _carried(places[:, k], places[:, k + 1], along[:, k], along[:, k + 1], side[:, k])
    if whole.any():
        last = _carried(places[:, -1], places[:, 0], along[:, -1], along[:, 0], side[:, -1])
        other = np.cross(along[:, 0], side[:, 0])
        left = np.arctan2((last * other).sum(axis=1), (last * side[:, 0]).sum(axis=1)) * whole
        turn = -left[:, None] * (np.arange(points) / points)[None]
        beside = np.cross(along, side)
        side = np.cos(turn)[..., None] * side + np.sin(turn)[..., None] * beside
    return along, side


def _carried(a: Floats, b: Floats, along_a: Floats, along_b: Floats, side: Floats) -> Floats:
    """What lies across at ``a``, brought to ``b`` by two reflections."""
    way = b - a
    length = np.maximum((way * way).sum(axis=1, keepdims=True), 1e-20)
    side = side - 2 / length * (way * side).sum(axis=1, keepdims=True) * way
    turned = along_a - 2 / length * (way * along_a).sum(axis=1, keepdims=True) * way
    rest = along_b - turned
    length = np.maximum((rest * rest).sum(axis=1, keepdims=True), 1e-20)
    carried = side - 2 / length * (rest * side).sum(axis=1, keepdims=True) * rest
    # Errors do not grow.
    return _unit(carried - (carried * along_b).sum(axis=1, keepdims=True) * along_b)


def _unit(v: Floats) -> Floats:
    found: Floats = v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-12)
    return found


def _strip(here: NDArray[np.int64], there: NDArray[np.int64], sides: int) -> NDArray[np.int64]:
    """Triangles between rings that begin with these points."""
    k = np.arange(sides)
    on = (k + 1) % sides
    a, b = here[:, None] + k, here[:, None] + on
    c, d = there[:, None] + k, there[:, None] + on
    return np.stack([np.stack([a, b, c], -1), np.stack([b, d, c], -1)], axis=2).reshape(-1, 3)


def _round(points: int, sides: int) -> NDArray[np.int64]:
    rings = np.arange(points) * sides
    return _strip(rings, np.roll(rings, -1), sides)[None]


def _open(points: int, sides: int) -> NDArray[np.int64]:
    rings = np.arange(points) * sides
    k = np.arange(sides)
    on = (k + 1) % sides
    tip, end = points * sides, points * sides + 1
    begin = np.stack([np.full(sides, tip), on, k], axis=-1)
    last = rings[-1]
    close = np.stack([np.full(sides, end), last + k, last + on], axis=-1)
    return np.concatenate([_strip(rings[:-1], rings[1:], sides), begin, close])[None]


def _empty() -> GlyphBody:
    nothing = np.zeros((0, 3), np.float32)
    triangles = np.zeros((0, 3), np.uint32)
    return GlyphBody(nothing, nothing, np.zeros((0, 2), np.float32), triangles, (0, 0, 0, 0), False)
