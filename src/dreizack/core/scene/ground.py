"""Floors as bodies."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator

import numpy as np

from ..document import Floor
from ..form import GlyphBody

# Half the side of an endless floor, in metres: its edge then lies within a pixel of the horizon.
HALF = 1000.0
STEPS = 48


def floor_letters(floor: Floor) -> Iterator[tuple[str, int, Callable[[], GlyphBody]]]:
    """Name, finish and maker of the one body of a floor; all of it is its face."""
    recipe = floor.model_dump_json(include={"form", "distance", "radius"})
    yield f"floor-{hashlib.blake2b(recipe.encode(), digest_size=12).hexdigest()}", 0, lambda: _made(floor)


def _made(floor: Floor) -> GlyphBody:
    """A strip from far in front to far behind, or up the wall, swept from side to side."""
    if floor.form == "endless":
        z, y = np.array([HALF, -HALF]), np.zeros(2)
        normal = np.array([[0.0, 1.0, 0.0], [0.0, 1.0, 0.0]])
    else:
        turn = np.linspace(0, np.pi / 2, STEPS)
        z = np.concatenate(
            [[HALF], -floor.distance - floor.radius * np.sin(turn), [-floor.distance - floor.radius]]
        )
        y = np.concatenate([[0], floor.radius * (1 - np.cos(turn)), [HALF]])
        bend = np.stack([np.zeros(STEPS), np.cos(turn), np.sin(turn)], axis=1)
        normal = np.concatenate([bend[:1], bend, bend[-1:]])
    run = np.concatenate([[0], np.cumsum(np.hypot(np.diff(z), np.diff(y)))]) + (z[0] - HALF)
    count = len(z)
    position = np.concatenate([np.stack([np.full(count, side), y, z], axis=1) for side in (-HALF, HALF)])
    uv = np.concatenate([np.stack([np.full(count, side), run], axis=1) for side in (-HALF, HALF)])
    i = np.arange(count - 1)
    triangles = np.concatenate(
        [np.stack([i, i + count, i + count + 1], axis=1), np.stack([i, i + count + 1, i + 1], axis=1)]
    )
    total = len(triangles)
    return GlyphBody(
        position.astype(np.float32),
        np.tile(normal, (2, 1)).astype(np.float32),
        uv.astype(np.float32),
        triangles.astype(np.uint32),
        (total, total, total, total),
        False,
    )
