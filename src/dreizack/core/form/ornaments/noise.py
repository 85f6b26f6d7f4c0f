"""Smooth noise that is a function of place and time alone."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Waves that are added up.
WAVES = 6


def straying(
    share: Floats, line: Floats, waves: float, time: float, flow: float, seed: int, closed: bool
) -> Floats:
    """How far places at ``share`` (m,) of each ``line`` (n,) stray (n, m, 3), about 1 at most: waves along
    the way that change as time flows. Of closed lines they meet where the line does."""
    rng = np.random.default_rng([seed, 7])
    often = waves * rng.uniform(0.35, 1.25, WAVES)
    if closed:
        often = np.maximum(1, np.round(often))
    phase = rng.uniform(0, 2 * np.pi, (WAVES, 3))
    own = rng.uniform(0.4, 2.4, WAVES)
    turn = 2 * np.pi * rng.choice([-1.0, 1.0], WAVES) * rng.uniform(0.5, 1.5, WAVES) * flow * time
    angle = (
        2 * np.pi * often[:, None, None] * share[None, None, :]
        + (own[:, None] * line[None, :] * 2.399963)[:, :, None]
        + turn[:, None, None]
    )
    found: Floats = np.sin(angle[..., None] + phase[:, None, None, :]).sum(axis=0) / np.sqrt(WAVES / 2) / 1.6
    return found


def eddying(places: Floats, eddies: float, time: float, flow: float, seed: int) -> Floats:
    """A flow at places (n, 3) that neither gathers nor thins what it carries (n, 3), about 1 long: the curl
    of a sum of waves (Bridson, Houriham & Nordenstam, Curl-Noise for Procedural Fluid Flow, 2007).

    The curl of a · sin(k · x + φ) is (k × a) · cos(k · x + φ), which is without divergence.
    """
    rng = np.random.default_rng([seed, 11])
    ways = rng.normal(size=(WAVES, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    often = 2 * np.pi * eddies * rng.uniform(0.5, 1.6, WAVES)
    across = np.cross(ways, rng.normal(size=(WAVES, 3)))
    across /= np.linalg.norm(across, axis=1, keepdims=True)
    phase = rng.uniform(0, 2 * np.pi, WAVES) + 2 * np.pi * flow * time * rng.uniform(0.5, 1.5, WAVES)
    angle = places @ (ways * often[:, None]).T + phase
    found: Floats = np.cos(angle) @ across / np.sqrt(WAVES / 2)
    return found
