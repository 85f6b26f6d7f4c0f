"""Where the sun stands, from what throws a shadow on the ground: its foot, its tip, and the tip of the
shadow.

All in a room whose ground is y = 0.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .alignment import Contradicts

Floats = NDArray[np.float64]


def on_ground(eye: Floats, ways: Floats) -> Floats:
    """Where rays (n, 3) from an eye (3,) meet the ground (n, 3). Contradicts where one does not."""
    if (ways[:, 1] * eye[1] >= -1e-9).any():
        raise Contradicts("this place lies above the horizon, not on the ground; pick one below it")
    result: Floats = eye - ways * (eye[1] / ways[:, 1])[:, None]
    result[:, 1] = 0
    return result


def heights_over(eye: Floats, feet: Floats, ways: Floats) -> Floats:
    """How high over points of the ground (n, 3) rays (n, 3) from an eye pass, where upright lines and rays
    come nearest (n,)."""
    tip = ways / np.linalg.norm(ways, axis=1, keepdims=True)
    lean, away = tip[:, 1], feet - eye
    along = np.einsum("nk,nk->n", tip, away)
    result: Floats = (lean * along - away[:, 1]) / np.maximum(1 - lean**2, 1e-9)
    return result


def sun_from_shadows(eye: Floats, feet: Floats, tips: Floats, shadows: Floats) -> tuple[Floats, float]:
    """Direction (3,) to the sun, the mean of what several things say, and how far they differ at most, in
    degrees.

    ``feet``, ``tips``, ``shadows`` (n, 3) are the directions in which somebody at ``eye`` (3,) sees the foot
    of something upright, its tip, and the tip of its shadow.

    >>> eye, sun = np.array([0.0, 1.6, 6.0]), np.array([1.0, 1.0, 0.5])
    >>> foot, tip = np.array([1.0, 0, 0]), np.array([1.0, 1.2, 0])
    >>> shadow = tip - sun * 1.2
    >>> found, _ = sun_from_shadows(eye, *(np.array([p - eye]) for p in (foot, tip, shadow)))
    >>> (found / found[1]).round(6).tolist()
    [1.0, 1.0, 0.5]
    """
    foot, shadow = on_ground(eye, feet), on_ground(eye, shadows)
    height = heights_over(eye, foot, tips)
    if (height <= 1e-6).any():
        raise Contradicts(
            "a tip lies below its foot; pick the foot first, then the tip, then the shadow's tip"
        )
    top = foot + np.stack([np.zeros_like(height), height, np.zeros_like(height)], axis=1)
    ways = top - shadow
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    mean = ways.mean(axis=0)
    mean /= np.linalg.norm(mean)
    spread = float(np.degrees(np.arccos(np.clip(ways @ mean, -1, 1))).max())
    if spread > 25:
        raise Contradicts(f"these shadows point {spread:.0f}° apart; one sun cannot throw them all")
    return mean, spread


def shadow_share(lit: Floats, shade: Floats) -> Floats:
    """What is left of the light in shadow (3,), channel by channel, from scene-linear colours of the same
    ground in light (n, 3) and in shade (m, 3): medians, as texture outweighs everything else."""
    if len(lit) < 4 or len(shade) < 4:
        raise Contradicts("stroke over some ground in light, and over some of the same ground in shade")
    bright, dark = np.median(lit, axis=0), np.median(shade, axis=0)
    left: Floats = dark / np.maximum(bright, 1e-4)
    if left.mean() >= 0.98:
        raise Contradicts(
            "the strokes in shade are as bright as those in light; are they the other way round?"
        )
    return np.clip(left, 0, 1)
