"""The cubic-bezier easing function (CSS Easing Functions Level 2, section 2.3)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Nodes of the first guess; from so near, Newton's method needs two steps.
NODES = np.linspace(0.0, 1.0, 129)
CLOSE = 1e-9


def ease(progress: Floats, x1: float, y1: float, x2: float, y2: float) -> Floats:
    """Eased progress for progress in 0..1, of any shape.

    >>> float(ease(np.array(0.5), 0.42, 0.0, 0.58, 1.0))
    0.5
    """
    return curve(progress, (x1, x2), (y1, y2, 1.0))


def curve(progress: Floats, times: tuple[float, float], values: tuple[float, float, float]) -> Floats:
    """Values of a cubic Bézier curve in time and value for progress in 0..1, of any shape.

    It begins at (0, 0), its handles stand at ``times`` (0..1) and the first two ``values``, it ends at 1 and
    the last value. The curve's x(t) = a t³ + b t² + c t rises monotonically in 0..1, so the t of a given x
    is found by interpolating a table, two steps of Newton's method, and bisection where the curve is too flat
    for it.

    >>> float(curve(np.array(0.5), (0.25, 0.75), (4.0, 4.0, 0.0)))
    3.0
    """
    (x1, x2), (y1, y2, y3) = times, values
    a, b, c = 3 * x1 - 3 * x2 + 1, 3 * x2 - 6 * x1, 3 * x1
    u = np.clip(progress, 0.0, 1.0)
    t = np.interp(u, ((a * NODES + b) * NODES + c) * NODES, NODES)
    for _ in range(2):
        slope = (3 * a * t + 2 * b) * t + c
        t = t - (((a * t + b) * t + c) * t - u) / np.maximum(slope, 1e-6)
    t = np.clip(t, 0.0, 1.0)
    off = np.abs(((a * t + b) * t + c) * t - u) > CLOSE
    if np.any(off):
        t = np.where(off, _bisect(u, a, b, c), t)
    # y in the same form: 3 y1 (1-t)² t + 3 y2 (1-t) t² + y3 t³.
    result: Floats = (((3 * y1 - 3 * y2 + y3) * t + (3 * y2 - 6 * y1)) * t + 3 * y1) * t
    return result


def _bisect(u: Floats, a: float, b: float, c: float) -> Floats:
    low, high = np.zeros_like(u), np.ones_like(u)
    for _ in range(48):
        middle = (low + high) / 2
        under = ((a * middle + b) * middle + c) * middle < u
        low, high = np.where(under, middle, low), np.where(under, high, middle)
    result: Floats = (low + high) / 2
    return result
