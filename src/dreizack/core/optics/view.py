"""The view transform: scene-linear to display, with a shoulder instead of hard clipping."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..colour import SHOULDER_START, view_curve
from .transforms import transformed

_TOP = 64.0
_STEPS = 65536


@lru_cache(maxsize=1)
def _table() -> NDArray[np.uint8]:
    """8-bit codes over the square root of the value; finest where the eye is."""
    root = (np.arange(_STEPS) + 0.5) / _STEPS
    return np.rint(view_curve((root**2 * _TOP).astype(np.float32)) * 255).astype(np.uint8)


def to_display(linear: NDArray[np.float32], view: str = "shoulder") -> NDArray[np.uint8]:
    """8-bit display codes of scene-linear colours (..., 3) by a view transform: ours by table, others by
    OpenColorIO."""
    if view != "shoulder":
        return transformed(linear, view)
    index = np.sqrt(np.clip(linear, 0, _TOP) / _TOP)
    index *= _STEPS - 1
    result: NDArray[np.uint8] = _table()[index.astype(np.uint16)]
    return result


__all__ = ["SHOULDER_START", "to_display", "view_curve"]
