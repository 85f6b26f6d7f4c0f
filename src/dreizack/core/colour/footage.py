"""Footage as scene light."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .encodings import AS_SEEN, decoded_light, encoded_values
from .shoulder import as_display, from_display

Floats = NDArray[np.float32]


def footage_light(values: Floats, encoding: str, view: str, exposure: float) -> Floats:
    """Scene-linear light (..., 3) of footage ``values`` (..., 3).

    Of footage that is as it is to be seen (``encoding`` AS_SEEN) it is the light that comes out of
    ``exposure`` (stops) and ``view`` transform as it was; of what a camera encoded, the light that was.
    """
    held = np.clip(values, 0, 1)
    if encoding != AS_SEEN:
        return decoded_light(held, encoding)
    shown: Floats = from_display(held, view) * np.float32(2.0**-exposure)
    return shown


def footage_values(light: Floats, encoding: str, view: str, exposure: float) -> Floats:
    """What light (..., 3) would be in such footage: :func:`footage_light` backwards, up to white."""
    if encoding != AS_SEEN:
        return encoded_values(light, encoding)
    return as_display(light * np.float32(2.0**exposure), view)
