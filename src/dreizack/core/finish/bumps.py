"""Fine reliefs, as heights that repeat in both directions."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Heights = NDArray[np.float32]

SIDE = 256
BUMPS = ("hammered", "brushed", "grain", "ripples", "flakes", "weave")
# How many times the size of the relief the picture of it spans.
SPAN = 8


@lru_cache(maxsize=16)
def bump_heights(kind: str) -> Heights:
    """Heights (256, 256) of about 0..1 that span :data:`SPAN` sizes and repeat without a seam. KeyError for
    unknown kinds."""
    heights = _KINDS[kind](np.random.default_rng(7))
    low, high = np.percentile(heights, [1, 99])
    made: Heights = np.clip((heights - low) / max(high - low, 1e-9), 0, 1).astype(np.float32)
    return made


def _filtered(noise: NDArray[np.float64], shape: NDArray[np.float64]) -> NDArray[np.float64]:
    """Noise with a spectrum; periodic, as the transform is."""
    result: NDArray[np.float64] = np.fft.ifft2(np.fft.fft2(noise) * shape).real
    return result


def _frequencies() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Waves over the picture, down and across."""
    f = np.fft.fftfreq(SIDE, 1 / SIDE).astype(np.float64)
    return f[:, None], f[None, :]


def _cells(rng: np.random.Generator, count: int) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Distance to the nearest of some scattered points, in pixels, and which one that is (Worley, A Cellular
    Texture Basis Function, 1996)."""
    points = rng.random((count, 2)) * SIDE
    grid = np.arange(SIDE) + 0.5
    nearest, which = np.full((SIDE, SIDE), np.inf), np.zeros((SIDE, SIDE), np.int64)
    # A few dozen points; whole pictures at a time.
    for number, (y, x) in enumerate(points):
        dy, dx = np.abs(grid - y), np.abs(grid - x)
        away = np.hypot(np.minimum(dy, SIDE - dy)[:, None], np.minimum(dx, SIDE - dx)[None])
        which[away < nearest] = number
        nearest = np.minimum(nearest, away)
    return nearest, which


def _hammered(rng: np.random.Generator) -> NDArray[np.float64]:
    away, _ = _cells(rng, SPAN * SPAN)
    down, across = _frequencies()
    return _filtered(np.minimum(away, SIDE / SPAN) ** 2, np.exp(-(down**2 + across**2) / (2 * 28.0**2)))


def _brushed(rng: np.random.Generator) -> NDArray[np.float64]:
    down, across = _frequencies()
    return _filtered(
        rng.standard_normal((SIDE, SIDE)),
        np.exp(-((across / 2.5) ** 2) / 2) * np.exp(-((down / 70.0) ** 2) / 2),
    )


def _grain(rng: np.random.Generator) -> NDArray[np.float64]:
    down, across = _frequencies()
    size = np.hypot(down, across)
    return _filtered(rng.standard_normal((SIDE, SIDE)), size * np.exp(-((size / 34.0) ** 2)))


def _ripples(rng: np.random.Generator) -> NDArray[np.float64]:
    down, across = _frequencies()
    size = np.hypot(down, across * 1.6)
    return _filtered(rng.standard_normal((SIDE, SIDE)), np.exp(-(((size - SPAN) / 2.4) ** 2)))


def _flakes(rng: np.random.Generator) -> NDArray[np.float64]:
    """Small flat pieces, each leaning its own way."""
    count = SPAN * SPAN * 4
    points = np.random.default_rng(7).random((count, 2)) * SIDE
    _, which = _cells(np.random.default_rng(7), count)
    lean = rng.standard_normal((count, 2))
    grid = np.arange(SIDE) + 0.5
    away = [(grid - points[which][..., k] if k else grid[:, None] - points[which][..., 0]) for k in (0, 1)]
    wrapped = [(a + SIDE / 2) % SIDE - SIDE / 2 for a in away]
    result: NDArray[np.float64] = wrapped[0] * lean[which][..., 0] + wrapped[1] * lean[which][..., 1]
    return result


def _weave(rng: np.random.Generator) -> NDArray[np.float64]:
    t = (np.arange(SIDE) + 0.5) / SIDE * SPAN * 2
    warp, weft = np.abs(np.sin(np.pi * t))[None, :], np.abs(np.sin(np.pi * t))[:, None]
    over = (np.floor(t)[None, :] + np.floor(t)[:, None]) % 2
    result: NDArray[np.float64] = np.where(
        over == 1, np.sqrt(warp) * (0.6 + 0.4 * weft), np.sqrt(weft) * (0.6 + 0.4 * warp)
    )
    return result


_KINDS = {
    "hammered": _hammered,
    "brushed": _brushed,
    "grain": _grain,
    "ripples": _ripples,
    "flakes": _flakes,
    "weave": _weave,
}
