"""The cubic-bezier easing function (CSS Easing Functions Level 2, section 2.3)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def ease(progress: Floats, x1: Floats, y1: Floats, x2: Floats, y2: Floats) -> Floats:
    """Eased progress for progress in 0..1; all arguments broadcast together.

    The curve's x(t) = a t³ + b t² + c t rises monotonically in 0..1, so the t of a given x is found
    by Newton's method, and by bisection where the curve is too flat for it.

    >>> float(ease(np.array(0.5), *map(np.array, (0.42, 0.0, 0.58, 1.0))))
    0.5
    """
    u = np.clip(progress, 0.0, 1.0)
    a, b, c = 3 * x1 - 3 * x2 + 1, 3 * x2 - 6 * x1, 3 * x1
    t = u.copy() if u.shape else np.array(float(u))
    for _ in range(5):
        slope = (3 * a * t + 2 * b) * t + c
        t = np.clip(t - (((a * t + b) * t + c) * t - u) / np.maximum(slope, 1e-6), 0.0, 1.0)
    off = np.abs(((a * t + b) * t + c) * t - u) > 1e-9
    if np.any(off):
        t = np.where(off, _bisect(u, a, b, c), t)
    v = 1 - t
    result: Floats = 3 * v * v * t * y1 + 3 * v * t * t * y2 + t * t * t
    return result


def _bisect(u: Floats, a: Floats, b: Floats, c: Floats) -> Floats:
    low, high = np.zeros_like(u), np.ones_like(u)
    for _ in range(48):
        middle = (low + high) / 2
        under = ((a * middle + b) * middle + c) * middle < u
        low, high = np.where(under, middle, low), np.where(under, high, middle)
    result: Floats = (low + high) / 2
    return result
