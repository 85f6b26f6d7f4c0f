"""The picture bent: where what is seen at a place comes from."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ...caching import cached_by_size
from ...library import find
from ..images import brought_up, taken_from
from ..settings import Place, Values

Floats = NDArray[np.float32]

# Pixels of the shortest wave between which it is straight.
FINE = 16
# Waves of shimmer: direction (radians), length against the shortest, and how fast each runs.
SHIMMER = ((0.3, 1.0, 1.0), (1.9, 1.37, -0.8), (2.8, 1.83, 0.6), (4.4, 2.6, -1.1))
# How far borders between strips stand from where they would be even, at most, in strips.
UNEVEN = 0.7


def bent(light: Floats, of: Values, place: Place, by: str = "") -> Floats:
    """Pixels from elsewhere: bulge and twirl about a place, rings around it, shimmer, strips that jump aside,
    and what a picture of the library (its name) moves."""
    moving = displacement(by) if by and of["bend/displaced"] else None
    smooth = any(of[f"bend/{name}"] for name in ("bulge", "twirl", "ripple", "shimmer"))
    if not (smooth or of["bend/broken"] or moving is not None):
        return light
    rows, columns = light.shape[:2]
    # Where pixels come from is smooth: it is told of every few, and lies straight between them; but for
    # strips and pictures.
    fine = of["bend/broken"] or moving is not None
    each = 1 if fine else int(np.clip(of["bend/finest"] * place.height / FINE, 1, 4))
    x = np.arange(0, columns + each, each, dtype=np.float32) + 0.5 + place.left
    y = np.arange(0, rows + each, each, dtype=np.float32) + 0.5 + place.top
    px, py = np.meshgrid(
        (x - of["bend/x"] * place.width) / place.height, (y - of["bend/y"] * place.height) / place.height
    )
    fx, fy = bent_from(px.astype(np.float32), py.astype(np.float32), of)
    if moving is not None:
        right, up = looked_at(moving, x / place.width, y / place.height)
        far = np.float32(of["bend/displaced"])
        fx, fy = fx - far * right, fy + far * up
    if of["bend/broken"]:
        fx, fy = broken_from(fx, fy, of)
    across = fx * place.height + of["bend/x"] * place.width - 0.5 - place.left
    down = fy * place.height + of["bend/y"] * place.height - 0.5 - place.top
    told = np.stack([across, down], axis=-1).astype(np.float32)
    every = brought_up(told, each, columns, rows)
    return taken_from(light, np.ascontiguousarray(every[..., 0]), np.ascontiguousarray(every[..., 1]))


def bent_from(x: Floats, y: Floats, of: Values) -> tuple[Floats, Floats]:
    """Where what is seen at (x, y) comes from, both in heights from the place, y down."""
    away = np.hypot(x, y)
    inside = np.clip(1 - away / np.float32(of["bend/reach"]), 0, 1)
    fade = inside * inside * (3 - 2 * inside)
    turn = np.radians(of["bend/twirl"]) * fade
    scale = 1 - np.float32(0.75 * of["bend/bulge"]) * fade
    c, s = np.cos(turn) * scale, np.sin(turn) * scale
    fx, fy = c * x - s * y, s * x + c * y
    wave, phase = of["bend/finest"], 2 * np.pi * of["bend/flow"]
    if of["bend/ripple"]:
        # Rings that run outward, and are gone where they would have no direction.
        lift = of["bend/ripple"] * np.sin(2 * np.pi * away / wave - phase) * np.minimum(away / wave, 1)
        fx, fy = fx + lift * x / np.maximum(away, 1e-6), fy + lift * y / np.maximum(away, 1e-6)
    if of["bend/shimmer"]:
        for angle, longer, pace in SHIMMER:
            along = (x * np.cos(angle) + y * np.sin(angle)) * (2 * np.pi / (wave * longer))
            lift = of["bend/shimmer"] / len(SHIMMER) * np.sin(along + phase * pace + 7 * angle)
            fx, fy = fx + lift * np.cos(3 * angle), fy + lift * np.sin(3 * angle + 1)
    return fx.astype(np.float32), fy.astype(np.float32)


def broken_from(x: Floats, y: Floats, of: Values) -> tuple[Floats, Floats]:
    """Where what is seen at (x, y) comes from, of strips that jump along themselves, each by its own
    distance; y down."""
    angle = np.radians(of["bend/lie"])
    along = np.array([np.cos(angle), -np.sin(angle)], np.float32)
    across = ((y * along[0] - x * along[1]) / np.float32(of["bend/strip"])).astype(np.float32)
    seed = int(of["bend/seed"]) * 4099 + int(of.get("bend/jump", 0))
    # Strips are not equally wide: borders between them stand unevenly.
    begins, jumps = strips(int(np.floor(across.min())), int(np.floor(across.max())), seed, of["bend/torn"])
    strip = np.searchsorted(begins, across, side="right") - 1
    jump = jumps[strip] * np.float32(of["bend/broken"])
    return np.asarray(x - jump * along[0], np.float32), np.asarray(y - jump * along[1], np.float32)


def strips(first: int, last: int, seed: int, torn: float) -> tuple[Floats, Floats]:
    """Where strips ``first`` - 1 to ``last`` + 1 begin, which are not equally wide, and how far each jumps,
    -1 to 1; only the share ``torn`` of them does."""
    numbers = np.arange(first - 1, last + 2, dtype=np.int32)
    begins = numbers + UNEVEN * (_chance(numbers, seed, 0) - np.float32(0.5))
    jumps = (2 * _chance(numbers, seed, 1) - 1) * (_chance(numbers, seed, 2) < torn)
    return begins.astype(np.float32), jumps.astype(np.float32)


def _chance(number: NDArray[np.int32], seed: int, which: int) -> Floats:
    """Numbers from 0 to below 1 by those of strips: one round of a permuted congruential generator (Jarzynski
    & Olano, Hash Functions for GPU Rendering, JCGT 9(3), 2020), the same in the live view."""
    state = number.astype(np.uint32) * np.uint32(2654435761)
    state += np.uint32((seed * 3 + which) % 2**32)
    state = state * np.uint32(747796405) + np.uint32(2891336453)
    word = ((state >> ((state >> np.uint32(28)) + np.uint32(4))) ^ state) * np.uint32(277803737)
    word = (word >> np.uint32(22)) ^ word
    return np.asarray((word >> np.uint32(8)) / 2**24, np.float32)


@cached_by_size(64)
def displacement(file: str) -> Floats | None:
    """How far a picture moves what is seen (rows, columns, 2): to the right by its red, upward by its green,
    -1 to 1, 0 for the code in the middle; None where there is none that can be read."""
    path = find(file)
    read = cv2.imread(str(path), cv2.IMREAD_COLOR) if path is not None else None
    if read is None:
        return None
    return np.clip((read[..., :0:-1].astype(np.float32) - 128) / 127, -1, 1)


def looked_at(moving: Floats, x: NDArray[np.floating], y: NDArray[np.floating]) -> tuple[Floats, Floats]:
    """What a picture that lies over the whole frame moves at columns x and rows y of it (0 to 1 from the top
    left), straight between its pixels: to the right and upward (rows, columns)."""
    rows, columns = moving.shape[:2]
    across, down = np.meshgrid((x * columns - 0.5).astype(np.float32), (y * rows - 0.5).astype(np.float32))
    made = cv2.remap(moving, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(made[..., 0], np.float32), np.asarray(made[..., 1], np.float32)
