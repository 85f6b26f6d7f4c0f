"""Which frame of a clip is shown when."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

AFTER = ("again", "to and fro", "hold")


def shown_frames(
    seconds: NDArray[np.float64],
    speed: float,
    offset: NDArray[np.float64] | float,
    after: str,
    frames: int,
    rate: float,
) -> NDArray[np.int64]:
    """Frame numbers of a clip of ``frames`` frames at times in seconds; it begins ``offset`` seconds into
    itself.

    ``after`` its end it runs ``again``, ``to and fro``, or is held; before its beginning alike.

    >>> shown_frames(np.array([0.0, 1.0, 2.0, 3.0]), 1.0, 0.0, "to and fro", 3, 1.0).tolist()
    [0, 1, 2, 1]
    """
    number = np.floor((seconds * speed + offset) * rate + 1e-6).astype(np.int64)
    if after == "hold" or frames == 1:
        return np.clip(number, 0, frames - 1)
    if after == "again":
        return number % frames
    there = number % (2 * frames - 2)
    return np.minimum(there, 2 * frames - 2 - there)
