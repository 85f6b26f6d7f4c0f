"""Grains of swarms: where each is at a moment, and the body of all."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Swarm
from ..glyph_body import GlyphBody
from .lives import TURN, ages, size_over_life, thrown, turned
from .noise import eddying

Floats = NDArray[np.float64]

GOLDEN = (1 + 5**0.5) / 2
# How far grains' sizes differ at most, as a factor.
VARIETY = 4.0
# Up to so many drops are rounder than icosahedra.
FINE = 3000


def places_of_grains(swarm: Swarm, seconds: float, gathered: Floats | None = None) -> tuple[Floats, Floats]:
    """Middles (grains, 3) and sizes (grains,) of all grains at a moment, a function of it alone.

    ``gathered`` (grains, 3) is where each is when the swarm is gathered.
    """
    rng = np.random.default_rng([swarm.seed, 5])
    unit = rng.random((swarm.count, 3))
    size = swarm.size * VARIETY ** (swarm.variety * (rng.random(swarm.count) - 0.5) * 2)
    chance = rng.random(swarm.count)
    box = np.array([swarm.width, swarm.height, swarm.depth])
    # Numbers of their own, so that other swarms stay what they are.
    own = np.random.default_rng([swarm.seed, 17])
    phase, ways = own.random(swarm.count), own.normal(size=(swarm.count, 3))
    age = np.zeros(swarm.count)
    if swarm.life > 0:
        age, number = ages(swarm, seconds, phase)
        # Every life begins elsewhere, and is thrown another way.
        unit = np.mod(unit + number[:, None] * TURN, 1.0)
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        ways = turned(ways, 2 * np.pi * TURN * number)
        size = size * size_over_life(swarm, age)
    elif swarm.rise and swarm.height > 0:
        unit[:, 1] = np.mod(unit[:, 1] + swarm.rise * seconds / swarm.height, 1.0)
    cloud = _cloud(swarm, unit) * box
    if swarm.swirl > 0:
        cloud = cloud + swarm.swirl * eddying(cloud, swarm.eddies, seconds, swarm.flow, swarm.seed)
    places = cloud
    if gathered is not None and len(gathered):
        share = _share(swarm, gathered, chance)[:, None]
        # On the way they are carried by the flow, on the thing they rest.
        places = cloud + (gathered - cloud) * share
    if swarm.life > 0:
        places = thrown(swarm, places, age, ways)
    if swarm.twinkle > 0:
        phase, pace = rng.random(swarm.count), rng.uniform(0.6, 2.2, swarm.count)
        size = size * (1 - swarm.twinkle * (0.5 + 0.5 * np.sin(2 * np.pi * (phase + pace * seconds))))
    return places, size


def _cloud(swarm: Swarm, unit: Floats) -> Floats:
    """Places in a cloud as wide as 1, from -0.5 to 0.5."""
    if swarm.cloud == "box":
        return unit - 0.5
    if swarm.cloud == "ring":
        angle = 2 * np.pi * unit[:, 0]
        thick = 0.06 * (unit[:, 2] - 0.5)
        return np.stack(
            [(0.5 + thick) * np.cos(angle), unit[:, 1] - 0.5, (0.5 + thick) * np.sin(angle)], axis=-1
        )
    # Even over the sphere: heights are (Archimedes).
    height, angle = 2 * unit[:, 1] - 1, 2 * np.pi * unit[:, 0]
    flat = np.sqrt(np.maximum(0, 1 - height**2))
    ball = np.stack([flat * np.cos(angle), height, flat * np.sin(angle)], axis=-1) / 2
    return ball if swarm.cloud == "shell" else ball * np.cbrt(unit[:, 2:])


def _share(swarm: Swarm, gathered: Floats, chance: Floats) -> Floats:
    """How far each grain is gathered (grains,), the first ones before the last."""
    axis, forward = {
        "by chance": (None, True),
        "from the left": (0, True),
        "from the right": (0, False),
        "from below": (1, True),
        "from above": (1, False),
    }[swarm.order]
    rank = chance
    if axis is not None:
        along = gathered[:, axis]
        rank = (along - along.min()) / max(float(np.ptp(along)), 1e-9)
        rank = 0.85 * (rank if forward else 1 - rank) + 0.15 * chance
    late = swarm.stagger * rank
    t = np.clip((swarm.gather - late) / max(1 - swarm.stagger, 1e-6), 0, 1)
    if swarm.gather >= 1:
        t = np.ones_like(t)
    soft: Floats = t * t * (3 - 2 * t)
    return soft


def grain_body(swarm: Swarm, places: Floats, size: Floats) -> GlyphBody:
    """All grains as one body; its triangles are the same at every moment."""
    fine = swarm.grain == "drop" and swarm.count <= FINE
    points, normals, triangles = _ball() if fine else SHAPES[swarm.grain]()
    grains, each = len(places), len(points)
    position = places[:, None] + size[:, None, None] / 2 * points[None]
    normal = np.broadcast_to(normals[None], position.shape)
    faces = (np.arange(grains) * each)[:, None, None] + triangles[None]
    uv = np.repeat((np.arange(grains) + 0.5)[:, None] / grains, each, axis=0)
    count = grains * len(triangles)
    return GlyphBody(
        position.reshape(-1, 3).astype(np.float32),
        normal.reshape(-1, 3).astype(np.float32),
        np.repeat(uv, 2, axis=1).astype(np.float32),
        faces.reshape(-1, 3).astype(np.uint32),
        (count, count, count, count),
        False,
    )


Shape = tuple[Floats, Floats, NDArray[np.int64]]


def _octahedron() -> Shape:
    points = np.array([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]], np.float64)
    faces = [[0, 2, 4], [2, 1, 4], [1, 3, 4], [3, 0, 4], [2, 0, 5], [1, 2, 5], [3, 1, 5], [0, 3, 5]]
    return points, points, np.array(faces)


def _icosahedron() -> Shape:
    g = GOLDEN
    points = np.array(
        [
            [-1, g, 0], [1, g, 0], [-1, -g, 0], [1, -g, 0], [0, -1, g], [0, 1, g],
            [0, -1, -g], [0, 1, -g], [g, 0, -1], [g, 0, 1], [-g, 0, -1], [-g, 0, 1],
        ]
    )  # fmt: skip
    points = points / np.linalg.norm(points[0])
    faces = [
        [0, 11, 5], [0, 5, 1], [0, 1, 7], [0, 7, 10], [0, 10, 11], [1, 5, 9], [5, 11, 4], [11, 10, 2],
        [10, 7, 6], [7, 1, 8], [3, 9, 4], [3, 4, 2], [3, 2, 6], [3, 6, 8], [3, 8, 9], [4, 9, 5],
        [2, 4, 11], [6, 2, 10], [8, 6, 7], [9, 8, 1],
    ]  # fmt: skip
    return points, points, np.array(faces)


def _ball() -> Shape:
    """An icosahedron whose triangles are cut into four, on the sphere."""
    points, _, faces = _icosahedron()
    pairs = np.sort(faces[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1)
    edges, which = np.unique(pairs, axis=0, return_inverse=True)
    middles = points[edges].mean(axis=1)
    middles /= np.linalg.norm(middles, axis=1, keepdims=True)
    ab, bc, ca = (len(points) + which.reshape(-1, 3)).T
    a, b, c = faces.T
    cut = ((a, ab, ca), (b, bc, ab), (c, ca, bc), (ab, bc, ca))
    finer = np.concatenate([np.stack(corners, axis=-1) for corners in cut])
    whole = np.concatenate([points, middles])
    return whole, whole, finer


def _flake() -> Shape:
    """Two flat pyramids on a hexagon, thin."""
    angle = 2 * np.pi * np.arange(6) / 6
    rim = np.stack([np.cos(angle), np.sin(angle), np.zeros(6)], axis=-1)
    points = np.concatenate([rim, [[0, 0, 0.12], [0, 0, -0.12]]])
    k, on = np.arange(6), (np.arange(6) + 1) % 6
    faces = np.concatenate([np.stack([k, on, np.full(6, 6)], -1), np.stack([on, k, np.full(6, 7)], -1)])
    normals = np.concatenate([rim, [[0, 0, 1], [0, 0, -1]]])
    return points, normals, faces


SHAPES = {"spark": _octahedron, "drop": _icosahedron, "flake": _flake}
