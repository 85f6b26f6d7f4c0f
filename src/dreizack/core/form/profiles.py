"""Edge profiles: how an edge leads from the wall to the face."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Profile:
    """A profile in rings, from the wall (first) to the face (last).

    ``inset`` (rings,): distance from the outline in metres; ``drop`` (rings,): how far below the
    face; ``outward``, ``upward`` (rings,): the normal's parts along the outline's normal and along
    the axis; ``run`` (rings,): length along the profile. One ring means no edge at all.
    """

    inset: Floats
    drop: Floats
    outward: Floats
    upward: Floats
    run: Floats

    @property
    def plain(self) -> bool:
        return len(self.inset) == 1

    def scaled_drop(self, factor: float) -> Profile:
        """The same profile with its rise scaled, normals following."""
        if self.plain or factor == 1:
            return self
        outward, upward = self.outward * factor, self.upward.copy()
        norm = np.hypot(outward, upward)
        drop = self.drop * factor
        return Profile(self.inset, drop, outward / norm, upward / norm, _lengths(self.inset, drop))


def profile(kind: str, reach: float, rise: float, tolerance: float) -> Profile:
    """A chamfer, a roundover (quarter ellipse) or none; steps follow from ``tolerance`` in metres.

    >>> p = profile("roundover", 0.02, 0.02, 0.001)
    >>> float(p.inset[-1]), float(p.drop[0])
    (0.02, 0.02)
    """
    if kind == "none" or reach <= 1e-7 or rise <= 1e-7:
        zero = np.zeros(1)
        return Profile(zero, zero, np.zeros(1), np.ones(1), zero)
    if kind == "chamfer":
        norm = math.hypot(reach, rise)
        inset, drop = np.array([0.0, reach]), np.array([rise, 0.0])
        return Profile(inset, drop, np.full(2, rise / norm), np.full(2, reach / norm), _lengths(inset, drop))
    radius = max(reach, rise)
    # Sagitta of one step of a circle: r (1 - cos(step / 2)).
    half = math.acos(max(1 - tolerance / radius, -1.0))
    steps = int(np.clip(math.ceil(math.pi / 4 / max(half, 1e-3)), 3, 24))
    angle = np.linspace(0, math.pi / 2, steps + 1)
    inset, drop = reach * (1 - np.cos(angle)), rise * (1 - np.sin(angle))
    inset[-1], drop[-1] = reach, 0.0
    outward, upward = np.cos(angle) * rise, np.sin(angle) * reach
    norms = np.hypot(outward, upward)
    return Profile(inset, drop, outward / norms, upward / norms, _lengths(inset, drop))


def _lengths(inset: Floats, drop: Floats) -> Floats:
    return np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(inset), np.diff(drop)))])
