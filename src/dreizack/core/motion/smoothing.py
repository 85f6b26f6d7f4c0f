"""The running mean of a value over time."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Values are read so often a frame, always at the same moments, so that whoever asks for whichever frames gets
# the same mean; between those moments it runs straight.
A_FRAME = 4


def smoothed(read: Callable[[Floats], Floats], at: Floats, width: float) -> Floats:
    """The mean (n,) of what ``read`` gives for times in frames, around each of ``at`` (n,), over ``width``
    frames, weighted by a raised cosine."""
    reach = int(A_FRAME * width / 2)
    if reach < 1 or not len(at):
        return read(at)
    taps = np.arange(-reach, reach + 1)
    weights = 1 + np.cos(np.pi * taps / (reach + 1))
    weights /= weights.sum()
    before = np.floor(at * A_FRAME).astype(np.int64)
    share = at * A_FRAME - before
    points = np.unique(np.concatenate([before, before + 1]))
    run = int(points[-1] - points[0]) + len(taps)
    if len(points) * len(taps) <= run:
        mean = read((points[:, None] + taps) / A_FRAME) @ weights
    else:
        values = read(np.arange(points[0] - reach, points[-1] + reach + 1) / A_FRAME)
        mean = _convolved(values, weights)[points - points[0]]
    first = np.searchsorted(points, before)
    result: Floats = mean[first] * (1 - share) + mean[np.minimum(first + 1, len(mean) - 1)] * share
    return result


def _convolved(values: Floats, weights: Floats) -> Floats:
    """Weighted sums of all runs of values as long as the (symmetric) weights."""
    size = 1 << (len(values) + len(weights) - 1).bit_length()
    whole = np.fft.irfft(np.fft.rfft(values, size) * np.fft.rfft(weights, size), size)
    inside: Floats = whole[len(weights) - 1 : len(values)]
    return inside
