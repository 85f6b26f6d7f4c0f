"""Transforms of a drawing's elements."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..lengths import UNITS

Floats = NDArray[np.float64]

_UNIT = re.compile(r"([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)([a-zA-Z]*)")
ANGLES = {"deg": 1.0, "rad": 180 / math.pi, "grad": 0.9, "turn": 360.0}
_CALL = re.compile(r"(\w+)\s*\(([^)]*)\)")


def transform(text: str) -> Floats:
    """The matrix (3, 3) of a transform attribute (CSS Transforms Level 1, section 8)."""
    matrix = np.eye(3)
    for name, arguments in _CALL.findall(text):
        v = [_number(x) for x in re.split(r"[\s,]+", arguments.strip()) if x]
        step = None if any(x is None for x in v) else _step(name, [x for x in v if x is not None])
        if step is not None and np.isfinite(step).all():
            matrix = matrix @ step
    return matrix


def _number(text: str) -> float | None:
    """A number, a length or an angle: user units and degrees."""
    found = _UNIT.fullmatch(text)
    if found is None:
        return None
    return float(found[1]) * ANGLES.get(found[2].lower(), UNITS.get(found[2].lower(), 1.0))


def _step(name: str, v: list[float]) -> Floats | None:
    if name == "matrix" and len(v) == 6:
        return np.array([[v[0], v[2], v[4]], [v[1], v[3], v[5]], [0, 0, 1]])
    if name == "translate" and v:
        return np.array([[1, 0, v[0]], [0, 1, v[1] if len(v) > 1 else 0], [0, 0, 1]])
    if name in ("translateX", "translateY") and v:
        moved = np.eye(3)
        moved["XY".index(name[-1]), 2] = v[0]
        return moved
    if name in ("scaleX", "scaleY") and v:
        grown = np.eye(3)
        axis = "XY".index(name[-1])
        grown[axis, axis] = v[0]
        return grown
    if name == "scale" and v:
        return np.diag([v[0], v[1] if len(v) > 1 else v[0], 1])
    if name == "rotate" and v:
        c, s = math.cos(math.radians(v[0])), math.sin(math.radians(v[0]))
        turn: Any = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
        if len(v) == 3:
            there, back = np.eye(3), np.eye(3)
            there[:2, 2], back[:2, 2] = v[1:], [-v[1], -v[2]]
            return np.asarray(there @ turn @ back)
        return np.asarray(turn)
    if name in ("skewX", "skewY") and v:
        skew = np.eye(3)
        skew[(0, 1) if name == "skewX" else (1, 0)] = math.tan(math.radians(v[0]))
        return skew
    return None
