"""What frames of an order will take, by what frames took that were rendered lately."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# How the parts of a frame's time are to one another where nothing else is known: a frame, a million of its
# pixels, and each sample of those.
USUAL = np.array([0.5, 1.6, 0.38])
# How many measured frames weigh as much as that.
TRUST = 0.3


@dataclass(frozen=True)
class Cost:
    """Seconds for each frame, for each million pixels of it, and for each sample of those."""

    frame: float
    million: float
    sample: float

    def seconds(self, pixels: float, samples: int) -> float:
        """What one frame takes."""
        return self.frame + pixels / 1e6 * (self.million + self.sample * samples)


def fitted_cost(took: Sequence[tuple[float, float, float]]) -> Cost | None:
    """The cost under which frames took what they did: ``took`` (n, 3) are pixels, samples and seconds of
    each; None where there are none.

    Non-negative least squares, each frame weighed by what USUAL says of it, so that the sum over many comes
    out right, and drawn towards USUAL (Tikhonov regularisation): frames of one size and quality alone tell
    the whole, not its parts.

    >>> fitted_cost([(1e6, 16, 8.18)] * 50).seconds(1e6, 16).__round__(2)
    8.18
    """
    told = np.array(took, np.float64).reshape(-1, 3)
    told = told[told[:, 2] > 0]
    if not len(told):
        return None
    pixels, samples, seconds = told.T
    parts = np.stack([np.ones_like(pixels), pixels / 1e6, pixels / 1e6 * samples], 1) * USUAL
    usual = parts.sum(1)
    found = _least_squares(parts / usual[:, None], seconds / usual)
    return Cost(*(found * USUAL).tolist())


def _least_squares(parts: Floats, seconds: Floats) -> Floats:
    """Non-negative x for which ``parts`` @ x, whose rows are 1 in all, is nearest to ``seconds``, and x not
    far from their mean: where one comes out negative it is nothing, and the others are sought anew."""
    there = np.ones(3, bool)
    found = np.zeros(3)
    held = TRUST * float((parts**2).sum(1).mean())
    while there.any():
        some = parts[:, there]
        found[:] = 0
        found[there] = np.linalg.solve(
            some.T @ some + held * np.eye(some.shape[1]), some.T @ seconds + held * seconds.mean()
        )
        if (found >= 0).all():
            break
        there &= found > 0
    return found
