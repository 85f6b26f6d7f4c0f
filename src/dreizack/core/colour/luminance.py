"""Relative luminance."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

# Weights of red, green and blue (Rec. ITU-R BT.709-6, 3.2, to four places).
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
LUMINANCE.flags.writeable = False


def luminance(linear: NDArray[np.floating]) -> NDArray[np.floating]:
    """Relative luminance (...) of scene-linear colours (..., 3), in their precision.

    >>> float(luminance(np.array([1.0, 1.0, 1.0])).round(6))
    1.0
    """
    found: NDArray[np.floating] = linear @ LUMINANCE.astype(linear.dtype)
    return found
