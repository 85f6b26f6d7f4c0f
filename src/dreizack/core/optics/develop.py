"""From a traced picture to the one people see."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .view import to_display

Floats = NDArray[np.float32]


def linear_over(rgba: Floats, exposure: float, backdrop: NDArray[np.floating]) -> Floats:
    """Scene-linear picture (height, width, 3): traced picture over the backdrop, exposed; ``backdrop`` is one colour or a picture."""
    over = rgba[..., :3] + (1 - np.clip(rgba[..., 3:4], 0, 1)) * backdrop.astype(np.float32)
    result: Floats = over * np.float32(2.0**exposure)
    return result


def develop(rgba: Floats, exposure: float, backdrop: NDArray[np.floating], view: str = "shoulder") -> NDArray[np.uint8]:
    """Finished 8-bit picture (height, width, 3), R'G'B'."""
    return to_display(linear_over(rgba, exposure, backdrop), view)
