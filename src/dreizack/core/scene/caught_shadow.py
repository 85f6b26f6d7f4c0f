"""What shadows on catchers may do that light does not: fade, be longer or shorter, ripple."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

# Waves of ripples: how often along x and z, where they begin (in turns), and how far they lead along x and z,
# together 1 at most. Directions go round by the golden angle, so that nothing repeats in sight.
_TURNS = np.arange(6) * np.pi * (3 - np.sqrt(5))
_OFTEN = np.array([1.0, 1.31, 1.83, 2.6, 3.7, 5.3])
_LEADS = 1 / _OFTEN / np.sum(1 / _OFTEN)
RIPPLES: NDArray[np.float64] = np.stack(
    [
        _OFTEN * np.cos(_TURNS),
        _OFTEN * np.sin(_TURNS),
        np.array([0.13, 0.71, 0.38, 0.92, 0.05, 0.54]),
        _LEADS * np.cos(_TURNS + 1.1),
        _LEADS * np.sin(_TURNS + 1.1),
    ],
    axis=1,
)


class CaughtShadow(NamedTuple):
    """``fade``: metres from what throws it at which a shadow is gone (0: never); ``length``: how many times
    as long as light makes it; ``ripple``: how far its edge wanders, in metres, over waves of a ``size``."""

    fade: float = 0.0
    length: float = 1.0
    ripple: float = 0.0
    size: float = 0.5

    @property
    def key(self) -> tuple[object, ...]:
        """Nothing where shadows are what light says."""
        own = (
            self.fade,
            self.length if self.length != 1 else 0,
            (self.ripple, self.size) if self.ripple else 0,
        )
        return ("shadows", *own) if any(own) else ()


AS_LIT = CaughtShadow()


def rippled(places: NDArray[np.float64], ripple: float, size: float) -> NDArray[np.float64]:
    """Where on the ground the shadow is looked up that is shown at ``places`` (n, 2: x and z in metres)."""
    phase = 2 * np.pi * (places / size @ RIPPLES[:, :2].T + RIPPLES[:, 2])
    moved: NDArray[np.float64] = places + ripple * (np.sin(phase) @ RIPPLES[:, 3:])
    return moved
