"""The view transform: scene-linear to display, with a shoulder instead of hard clipping."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..colour import linear_to_srgb
from .transforms import transformed

SHOULDER_START = 0.6
_TOP = 64.0
_STEPS = 65536


def view_curve(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    """Display value 0..1 of a scene-linear value, exactly.

    Below 0.6 nothing changes but the encoding; above, 1 is approached exponentially with a
    continuous slope. Encoding: IEC 61966-2-1 (sRGB), section 5.2.
    """
    rest = 1 - SHOULDER_START
    x = np.maximum(linear, 0)
    bent = np.where(x <= SHOULDER_START, x, 1 - rest * np.exp(-(x - SHOULDER_START) / rest))
    return linear_to_srgb(bent).astype(np.float32)


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
