"""A camera that only turns: rotations and focal length, without anything in depth."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from .bundle import Bundle, Free, adjusted, unbent
from .tracks import Tracks

Floats = NDArray[np.float64]

# Focal lengths that are tried, in widths of the picture.
TRIED = (0.5, 0.7, 1.0, 1.4, 2.0, 2.8)
# Tracks that a first try looks at.
FEW = 400


def turned(
    tracks: Tracks, frames: int, size: tuple[int, int], focal: float | None, told: Callable[[], None]
) -> Bundle:
    """The turning camera that fits best; ``focal`` in pixels is known, or None."""
    few = _longest(tracks, FEW)
    best, least = None, np.inf
    for tried in (focal,) if focal else tuple(width * size[0] for width in TRIED):
        start = _chained(few, frames, size, tried)
        found = adjusted(start, few, Free(centres=False, focal=focal is None, k1=False), 12, told)
        cost = float(np.median(np.linalg.norm(found.residuals(few), axis=1)))
        if cost < least and 0.3 * size[0] < found.focal < 20 * size[0]:
            best, least = found, cost
    if best is None:
        best = _chained(few, frames, size, focal or 1.2 * size[0])
    whole = Bundle(best.rotations, best.centres, _directions(best, tracks), best.focal, best.k1, size)
    return adjusted(whole, tracks, Free(centres=False, focal=focal is None), 12, told)


def _longest(tracks: Tracks, count: int) -> Tracks:
    """The tracks seen in most frames, numbered anew."""
    length = np.bincount(tracks.track, minlength=tracks.count)
    chosen = np.sort(np.argsort(-length, kind="stable")[:count])
    number = np.full(tracks.count, -1)
    number[chosen] = np.arange(len(chosen))
    some = tracks.only(number[tracks.track] >= 0)
    return Tracks(number[some.track], some.frame, some.xy)


def _chained(tracks: Tracks, frames: int, size: tuple[int, int], focal: float) -> Bundle:
    """Rotations from one frame to the next, one after the other."""
    still = Bundle(
        np.tile(np.eye(3), (frames, 1, 1)), np.zeros((frames, 3)), np.zeros((0, 3)), focal, 0.0, size
    )
    flat = unbent(still, tracks.xy)
    rays = np.concatenate([flat, np.ones((len(flat), 1))], axis=1)
    rays /= np.linalg.norm(rays, axis=1, keepdims=True)
    table = np.full((tracks.count, frames, 3), np.nan)
    table[tracks.track, tracks.frame] = rays
    rotations = [np.eye(3)]
    for frame in range(1, frames):
        both = ~np.isnan(table[:, frame, 0]) & ~np.isnan(table[:, frame - 1, 0])
        rotations.append(_between(table[both, frame - 1], table[both, frame]) @ rotations[-1])
    made = Bundle(np.array(rotations), np.zeros((frames, 3)), np.zeros((0, 3)), focal, 0.0, size)
    return Bundle(made.rotations, made.centres, _directions(made, tracks), focal, 0.0, size)


def _between(a: Floats, b: Floats) -> Floats:
    """The rotation that brings directions a to b (n, 3) (Kabsch, 1976), the worst left out."""
    rotation = np.eye(3)
    weight = np.ones(len(a))
    for _ in range(4):
        u, _, vt = np.linalg.svd((b * weight[:, None]).T @ a)
        rotation = u @ np.diag([1, 1, np.linalg.det(u @ vt)]) @ vt
        left = np.linalg.norm(b - a @ rotation.T, axis=1)
        weight = 1 / (1 + (left / max(float(np.median(left)), 1e-9)) ** 2) if len(left) else weight
    return rotation


def _directions(bundle: Bundle, tracks: Tracks) -> Floats:
    """Mean directions (tracks, 3) in which points were seen."""
    flat = unbent(bundle, tracks.xy)
    rays = np.concatenate([flat, np.ones((len(flat), 1))], axis=1)
    rays /= np.linalg.norm(rays, axis=1, keepdims=True)
    world = np.einsum("nki,nk->ni", bundle.rotations[tracks.frame], rays)
    total = np.stack([np.bincount(tracks.track, world[:, k], tracks.count) for k in range(3)], axis=1)
    length = np.linalg.norm(total, axis=1, keepdims=True)
    return np.where(length > 1e-9, total / np.maximum(length, 1e-9), [0.0, 0.0, 1.0])
