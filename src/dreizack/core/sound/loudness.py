"""Loudness as it is perceived: integrated, gated (ITU-R BS.1770-5, annex 1; EBU R 128)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .rate import RATE

Floats = NDArray[np.float64]

# Blocks of 400 ms, each overlapping the one before by three quarters: they are made of steps of 100 ms.
STEP, PARTS = round(0.1 * RATE), 4
# Samples that are filtered together.
STRETCH = 30 * RATE
ABSOLUTE_GATE, RELATIVE_GATE = -70.0, -10.0
# Coefficients at 48 kHz (BS.1770-5, tables 1 and 2): a shelf for the head, and a high-pass.
SHELF = (1.53512485958697, -2.69169618940638, 1.19839281085285), (1.0, -1.69065929318241, 0.73248077421585)
HIGH_PASS = (1.0, -2.0, 1.0), (1.0, -1.99004745483398, 0.99007225036621)


def loudness(samples: NDArray[np.floating]) -> float:
    """Integrated loudness in LUFS of samples (n, channels) at 48 kHz, left and right weighted alike; minus
    infinity where nothing is loud enough to count.

    >>> tone = np.sin(2 * np.pi * 997 * np.arange(3 * RATE) / RATE)[:, None]
    >>> round(loudness(tone), 1)
    -3.0
    """
    power = np.concatenate(
        [np.zeros((0, samples.shape[1]))] + [_steps(samples, at) for at in range(0, len(samples), STRETCH)]
    )
    # Of each block its four steps.
    if len(power) < PARTS:
        return -np.inf
    blocks = np.mean([power[k : len(power) - PARTS + 1 + k] for k in range(PARTS)], axis=0)
    level = _level(blocks)
    gated = blocks[level > ABSOLUTE_GATE]
    if not len(gated):
        return -np.inf
    gated = gated[_level(gated) > _level(gated.mean(axis=0)[None])[0] + RELATIVE_GATE]
    return float(_level(gated.mean(axis=0)[None])[0]) if len(gated) else -np.inf


def _steps(samples: NDArray[np.floating], at: int) -> Floats:
    """Mean squares (steps, channels) of the whole steps of a stretch from a sample on, weighted; what was
    before it is still heard in the filter."""
    lead = min(at, RATE)
    heard = weighted(np.asarray(samples[at - lead : at + STRETCH], np.float64))[lead:] ** 2
    count = len(heard) // STEP
    means: Floats = heard[: count * STEP].reshape(count, STEP, samples.shape[1]).mean(axis=1)
    return means


def weighted(samples: Floats) -> Floats:
    """Samples (n, channels) after the K-weighting filter, applied to their spectrum: responses are exact and
    those of the ends die out within zeros that are put behind."""
    count = len(samples)
    size = 1 << int(np.ceil(np.log2(max(count + RATE // 4, 2))))
    turn = np.exp(-2j * np.pi * np.arange(size // 2 + 1) / size)
    response = np.ones(len(turn), complex)
    for above, below in (SHELF, HIGH_PASS):
        response *= (above[0] + above[1] * turn + above[2] * turn**2) / (
            below[0] + below[1] * turn + below[2] * turn**2
        )
    spectrum = np.fft.rfft(samples, size, axis=0) * response[:, None]
    result: Floats = np.fft.irfft(spectrum, size, axis=0)[:count]
    return result


def _level(power: Floats) -> Floats:
    """LUFS of mean squares (blocks, channels)."""
    with np.errstate(divide="ignore"):
        level: Floats = -0.691 + 10 * np.log10(power.sum(axis=1))
    return level
