"""The sRGB transfer functions (IEC 61966-2-1:1999, 5.2)."""

from __future__ import annotations

from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

F = TypeVar("F", np.float32, np.float64)


def srgb_to_linear(codes: NDArray[F]) -> NDArray[F]:
    """Scene-linear values of display values 0..1, of any shape, in their precision.

    >>> srgb_to_linear(np.array([0.0, 0.5, 1.0])).round(4).tolist()
    [0.0, 0.214, 1.0]
    """
    linear: NDArray[F] = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4).astype(
        codes.dtype
    )
    return linear


def linear_to_srgb(linear: NDArray[F]) -> NDArray[F]:
    """Display values of scene-linear values, of any shape, in their precision; what lies above 1 stays above.

    >>> linear_to_srgb(np.array([0.0, 0.214, 1.0])).round(3).tolist()
    [0.0, 0.5, 1.0]
    """
    codes: NDArray[F] = np.where(
        linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055
    ).astype(linear.dtype)
    return codes


def codes_to_linear(codes: NDArray[Any]) -> NDArray[np.float32]:
    """Scene-linear values of 8-bit display codes, of any shape.

    >>> codes_to_linear(np.array([0, 188, 255], np.uint8)).astype(float).round(3).tolist()
    [0.0, 0.503, 1.0]
    """
    return srgb_to_linear(np.divide(codes, 255, dtype=np.float32))
