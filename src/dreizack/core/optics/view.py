"""The view transform: scene-linear to display, with a shoulder instead of hard clipping."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..colour import SHOULDER_START, linear_to_srgb, view_curve
from .bands import by_bands
from .transforms import transformed

_STEPS = 65536


def _gamma(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    """Display value of a plain encoding by Rec. ITU-R BT.1886: a gamma of 2.4."""
    return np.clip(linear, 0, 1) ** np.float32(1 / 2.4)


def _srgb(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    return linear_to_srgb(np.clip(linear, 0, 1))


# Curves that do the same to every channel; what mixes channels is OpenColorIO's.
CURVES = {"shoulder": (view_curve, 64.0), "plain sRGB": (_srgb, 1.0), "plain Rec.709": (_gamma, 1.0)}


@lru_cache(maxsize=4)
def _table(view: str) -> NDArray[np.uint8]:
    """8-bit codes over the square root of the value; finest where the eye is."""
    curve, top = CURVES[view]
    root = (np.arange(_STEPS) + 0.5) / _STEPS
    codes: NDArray[np.uint8] = np.rint(curve((root**2 * top).astype(np.float32)) * 255).astype(np.uint8)
    return codes


def to_display(linear: NDArray[np.float32], view: str = "shoulder") -> NDArray[np.uint8]:
    """8-bit display codes of scene-linear colours (..., 3) by a view transform: plain curves by table, others
    by OpenColorIO."""
    if view not in CURVES:
        shown: NDArray[np.uint8] = np.rint(transformed(linear, view) * 255).astype(np.uint8)
        return shown
    table, top = _table(view), CURVES[view][1]

    def codes(part: NDArray[np.float32]) -> NDArray[np.uint8]:
        index = np.sqrt(np.clip(part, 0, top) / top)
        index *= _STEPS - 1
        found: NDArray[np.uint8] = table[index.astype(np.uint16)]
        return found

    # Single colours have no rows.
    made = codes(linear) if np.ndim(linear) < 2 else by_bands(codes, linear, kind=np.uint8)
    return np.asarray(made, np.uint8)


def display_values(linear: NDArray[np.float32], view: str = "shoulder") -> NDArray[np.float32]:
    """Display values 0..1 (..., 3) of scene-linear colours by a view transform, for files that hold more than
    8 bits."""
    if view not in CURVES:
        return transformed(linear, view)
    shown: NDArray[np.float32] = np.clip(CURVES[view][0](np.asarray(linear, np.float32)), 0, 1)
    return shown


__all__ = ["SHOULDER_START", "display_values", "to_display", "view_curve"]
