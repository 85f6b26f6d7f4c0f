"""Moments to evaluate at, in any shape, each distinct one evaluated once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class Instants:
    """Times in frames, of any shape, sorted once for every channel that is sampled at them.

    ``ordered`` (n,) holds the distinct times in rising order. Staggered letters meet the same
    moments again and again, so there are often far fewer of them than letters × frames.
    """

    def __init__(self, times: Floats) -> None:
        times = np.asarray(times, dtype=np.float64)
        self.shape = times.shape
        self._place: NDArray[np.intp] | None = None
        if times.ndim == 1 and np.all(np.diff(times) > 0):
            self.ordered = times
        else:
            self.ordered, place = np.unique(times, return_inverse=True)
            self._place = place.reshape(self.shape)

    def spread(self, values: Floats) -> Floats:
        """Values at ``ordered``, laid out as the times were."""
        return values if self._place is None else values[self._place]
