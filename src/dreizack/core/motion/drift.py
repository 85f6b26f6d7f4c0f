"""Smooth random motion whose frequencies are limited."""

from __future__ import annotations

import zlib

import numpy as np
from numpy.typing import NDArray

from ..document import Drift

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# A cubic B-spline through random heights: it has no corners, and next to nothing above twice the frequency of
# its knots (the spectrum of a cubic B-spline is that of a box to the fourth: Unser, Splines, a perfect fit,
# 1999).
KNOTS_A_TURN = 2


def drift(by: Drift, pointer: str, frames: Floats, rate: float) -> Floats:
    """How far a value is off at ``frames`` (any shape), at ``rate`` frames a second; within its amplitude.

    Values of one seed whose pointers end differently (x, y, z) drift apart from each other.
    """
    seed = by.seed * 1_000_003 + zlib.crc32(pointer.rpartition("/")[2].encode())
    found = np.zeros(np.shape(frames))
    share = 1 / (2 - 0.5 ** (by.detail - 1))
    for octave in range(by.detail):
        # Knots a frame; so many that they come out even where the motion comes back to its beginning.
        dense = by.frequency * 2**octave * KNOTS_A_TURN / rate
        period = max(1, round(dense * by.loop)) if by.loop > 0 else 0
        if period:
            dense = period / by.loop
        found += share * 0.5**octave * _spline(np.asarray(frames) * dense, seed + octave * 7919, period)
    result: Floats = by.amplitude * found
    return result


def _spline(place: Floats, seed: int, period: int) -> Floats:
    """Uniform cubic B-spline over random heights within -1..1, at places counted in knots."""
    knot = np.floor(place)
    u, first = place - knot, knot.astype(np.int64) - 1
    a, b, c, d = (_heights(first + k, seed, period) for k in range(4))
    found: Floats = (
        a * (1 - u) ** 3 + b * (3 * u**3 - 6 * u**2 + 4) + c * (-3 * u**3 + 3 * u**2 + 3 * u + 1) + d * u**3
    ) / 6
    return found


def _heights(knots: Ints, seed: int, period: int) -> Floats:
    """A number from -1 to 1 for each knot, most of them far from 0 so that the curve uses its room."""
    if period:
        knots = knots % period
    # Mixed by the finaliser of SplitMix64 (Steele, Lea & Flood, Fast splittable pseudorandom number
    # generators, 2014).
    with np.errstate(over="ignore"):
        x = knots.astype(np.uint64) + np.uint64(seed % 2**63) * np.uint64(0x9E3779B97F4A7C15)
        x = (x ^ (x >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        x = (x ^ (x >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        x ^= x >> np.uint64(31)
    unit = (x >> np.uint64(11)).astype(np.float64) / 2**52 - 1
    found: Floats = np.sign(unit) * np.sqrt(np.abs(unit))
    return found
