"""Where places of a plate are in the picture, which it fills."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..clips import plate_facts

Floats = NDArray[np.float64]


def plate_to_picture(plate: str, aspect: float) -> Floats:
    """The matrix (3, 3) from shares of a plate's width and height to those of a picture of an ``aspect``:
    what is too much on two sides is cut off."""
    facts = plate_facts(plate)
    own = facts.width / facts.height if facts is not None else aspect
    across, down = max(1.0, own / aspect), max(1.0, aspect / own)
    return np.array([[across, 0, (1 - across) / 2], [0, down, (1 - down) / 2], [0, 0, 1.0]])
