"""Numbers of a thing over frames, wherever they come from."""

from __future__ import annotations

from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class Values(Protocol):
    """Numbers of a thing over frames, by pointer below it."""

    def value(self, pointer: str) -> Floats:
        """(frames,)"""
        ...

    def value_at(self, pointer: str, delays: Floats) -> Floats:
        """(frames, n): the same for each of some ``delays`` (n,), so many frames before."""
        ...

    def keyed(self, pointer: str) -> bool:
        """Whether a value at or below this pointer changes over the frames."""
        ...
