"""Which pixels need how many samples."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Ints = NDArray[np.int32]

# Side of the window that noise is judged over, and how many times the mean a pixel may get.
AROUND, MOST = 5, 16
# Stretches of a path that take no time: the first is quick, as rays of neighbours lie side by side.
FREE = 0.72
# Pixels that are enough to find out how many samples there are to be had.
LOOKED_AT = 40_000
# Standard deviation that is assumed at least where there is anything.
FAINTEST = 0.004
# How many times more of its noise a denoiser leaves at edges, where few pixels are alike (measured on the
# demo's shots).
LEFT_AT_EDGES = 3.0


def allocate_samples(
    light: Floats, edges: NDArray[np.bool_], given: int, samples: float, enough: float = 0.0
) -> Ints:
    """Samples (height, width) that each pixel should have in the end: ``given``, which all have had, times a
    power of two.

    ``light`` (height, width, 7) are means as :func:`.pictures.light_samples` gives them. All take about the
    time that ``samples`` everywhere would; for that time noise is least if samples go in proportion to the
    standard deviation over the root of what a sample costs (Cochran, Sampling Techniques, 1977, 5.5): of what
    denoising will leave of it, at ``edges`` (height, width) and elsewhere. None gets more than bring its
    noise below ``enough``.
    """
    variance = np.maximum(light[..., 5] - light[..., 4] ** 2, 0) * (given / max(given - 1, 1))
    there = (light[..., 3] > 0) | (variance > FAINTEST**2)
    near = cv2.dilate(there.astype(np.uint8), np.ones((AROUND, AROUND), np.uint8)) > 0
    deviation = np.sqrt(np.maximum(cv2.blur(variance, (AROUND, AROUND)), 0))
    deviation = np.where(near, np.maximum(deviation, FAINTEST), 0)
    cost = cv2.blur(np.maximum(light[..., 6] - FREE, 0.1), (AROUND, AROUND))
    deviation = deviation / np.sqrt(cost)
    most = np.full(deviation.shape, float(samples * MOST))
    if enough > 0:
        most = np.minimum(most, cost * (deviation / enough) ** 2)
    most = np.maximum(most, given)
    deviation = np.where(edges, LEFT_AT_EDGES, 1.0) * deviation
    # A part of the pixels tells as much about the whole.
    some = slice(None, None, max(1, deviation.size // LOOKED_AT))
    cost, spread, bound = cost.ravel()[some], deviation.ravel()[some], most.ravel()[some]
    budget = float((cost * samples).sum())
    low, high = 0.0, samples * MOST / FAINTEST
    for _ in range(24):
        middle = (low + high) / 2
        wanted = _powers(np.clip(middle * spread, given, bound), given)
        low, high = (middle, high) if float((cost * wanted).sum()) < budget else (low, middle)
    return _powers(np.clip(low * deviation, given, most), given)


def _powers(wanted: Floats, given: int) -> Ints:
    """The nearest powers of two times ``given``: sequences are spread best where they are that long."""
    result: Ints = (given * np.exp2(np.rint(np.log2(wanted / given)))).astype(np.int32)
    return result
