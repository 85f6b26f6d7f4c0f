"""Lights found from what spots of a picture are to look like: their intensities and tints."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..colour import LUMINANCE

Floats = NDArray[np.float64]

# What it costs to change a light, against missing a wish: enough to leave those that do nothing, not more.
KEEP = 1e-4
ROUNDS = 400
# How much red and blue change at full warmth, in stops: half up, half down.
WARM = 1.0
# Changes below so many stops are none.
NONE = 0.02


@dataclass(frozen=True)
class Repainted:
    """Factors (lights, 3) of the lights, and the light (spots, 3) that spots have then."""

    factors: Floats
    light: Floats

    @property
    def stops(self) -> Floats:
        """How much brighter each light becomes (lights,), by its strongest channel."""
        result: Floats = np.log2(self.factors.max(axis=1))
        return result


def wanted_light(light: Floats, stops: Floats, warmth: Floats) -> Floats:
    """Light (spots, 3) that is so many ``stops`` (spots,) brighter, and by ``warmth`` (spots,), -1 to 1,
    warmer, at the same luminance.

    >>> wanted_light(np.array([[0.2, 0.2, 0.2]]), np.array([1.0]), np.array([0.0])).round(6).tolist()
    [[0.4, 0.4, 0.4]]
    """
    half = WARM / 2 * warmth[:, None]
    turned = light * 2.0 ** (half * np.array([1.0, 0.0, -1.0]))
    before, after = light @ LUMINANCE, turned @ LUMINANCE
    level = before / np.maximum(after, 1e-12) * 2.0**stops
    result: Floats = turned * level[:, None]
    return result


def repainted(shares: Floats, rest: Floats, wanted: Floats, limit: float, tints: bool) -> Repainted:
    """What lights must become so that spots have the light that is ``wanted`` (spots, 3): least squares in
    shares of what is wanted, each light within ``limit`` stops of what it is.

    ``shares`` (spots, lights, 3) is what each light brings now, ``rest`` (spots, 3) what does not change.
    Lights are additive (Veach, Robust Monte Carlo Methods for Light Transport Simulation, 1997, 4.1), so that
    this is bounded linear least squares, solved coordinate by coordinate (Franc, Hlaváč & Navara, Sequential
    Coordinate-wise Algorithm for the Non-negative Least Squares Problem, 2005). Without ``tints`` a light
    keeps its colour.

    >>> now = np.array([[[0.2, 0.2, 0.2], [0.1, 0.1, 0.1]]])
    >>> made = repainted(now, np.zeros((1, 3)), np.full((1, 3), 0.6), 2.0, tints=False)
    >>> bool(np.allclose(made.light, 0.6, atol=0.01))
    True
    """
    spots, lights, _ = shares.shape
    low, high = 2.0**-limit, 2.0**limit
    scale = 1 / np.maximum(wanted.max(axis=1), 1e-6)
    a = shares * scale[:, None, None]
    b = (wanted - rest) * scale[:, None]
    # Dark channels of a light that brings none of them say nothing.
    keep = KEEP * spots
    if tints:
        factors = np.stack([_bounded(a[:, :, c], b[:, c], low, high, keep / 3) for c in range(3)], axis=1)
    else:
        one = _bounded(a.transpose(0, 2, 1).reshape(-1, lights), b.ravel(), low, high, keep)
        factors = np.repeat(one[:, None], 3, axis=1)
    light = rest + np.einsum("slc,lc->sc", shares, factors)
    return Repainted(factors, light)


def _bounded(a: Floats, b: Floats, low: float, high: float, keep: float) -> Floats:
    """Factors within bounds that make a (n, lights) come nearest to b (n,), drawn towards 1 by ``keep``."""
    normal, right = a.T @ a, a.T @ b
    # The more a light brings the more a change of it costs: those that do nothing stay.
    stay = keep * (np.diag(normal) / max(float(np.diag(normal).max()), 1e-12) + 1e-3)
    normal = normal + np.diag(stay)
    right = right + stay
    factors = np.ones(a.shape[1])
    for _ in range(ROUNDS):
        before = factors.copy()
        for k in range(len(factors)):
            gradient = normal[k] @ factors - right[k]
            factors[k] = np.clip(factors[k] - gradient / normal[k, k], low, high)
        if np.abs(factors - before).max() < 1e-7:
            break
    return factors
