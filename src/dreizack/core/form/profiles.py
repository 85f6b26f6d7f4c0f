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
    """The profile of an edge; steps follow from ``tolerance`` in metres.

    ``chamfer`` is one slope; ``roundover`` a quarter ellipse that bulges, ``cove`` one that hollows;
    ``ogee`` a cove that turns into a roundover halfway; ``step`` two stairs; ``none`` no edge.

    >>> p = profile("roundover", 0.02, 0.02, 0.001)
    >>> float(p.inset[-1]), float(p.drop[0])
    (0.02, 0.02)
    """
    if kind == "none" or reach <= 1e-7 or rise <= 1e-7:
        zero = np.zeros(1)
        return Profile(zero, zero, np.zeros(1), np.ones(1), zero)
    across, up, outward, upward = _SHAPES[kind](max(reach, rise), tolerance)
    inset, drop = reach * across, rise * (1 - up)
    inset[0], drop[-1] = 0.0, 0.0
    # Normals of the unit shape, stretched with it.
    outward, upward = outward * rise, upward * reach
    norms = np.hypot(outward, upward)
    return Profile(inset, drop, outward / norms, upward / norms, _lengths(inset, drop))


# Each shape runs from the wall (0, 0) to the face (1, 1): across, up, and its normal's two parts.
Shape = tuple[Floats, Floats, Floats, Floats]


def _chamfer(size: float, tolerance: float) -> Shape:
    return np.array([0.0, 1.0]), np.array([0.0, 1.0]), np.ones(2), np.ones(2)


def _quarter(radius: float, tolerance: float) -> Floats:
    """Angles of a quarter circle, no chord further from it than ``tolerance`` (sagitta r (1 - cos(step / 2)))."""
    half = math.acos(max(1 - tolerance / radius, -1.0))
    steps = int(np.clip(math.ceil(math.pi / 4 / max(half, 1e-3)), 3, 24))
    return np.linspace(0, math.pi / 2, steps + 1)


def _roundover(size: float, tolerance: float) -> Shape:
    angle = _quarter(size, tolerance)
    return 1 - np.cos(angle), np.sin(angle), np.cos(angle), np.sin(angle)


def _cove(size: float, tolerance: float) -> Shape:
    angle = _quarter(size, tolerance)
    return np.sin(angle), 1 - np.cos(angle), np.sin(angle), np.cos(angle)


def _ogee(size: float, tolerance: float) -> Shape:
    """A cove over the first half, a roundover over the second; both meet upright."""
    lower, upper = _cove(size / 2, tolerance), _roundover(size / 2, tolerance)
    across, up, outward, upward = (np.concatenate([a, b[1:]]) for a, b in zip(lower, upper, strict=True))
    shift = np.concatenate([np.zeros(len(lower[0])), np.ones(len(upper[0]) - 1)])
    return (across + shift) / 2, (up + shift) / 2, outward, upward


def _step(size: float, tolerance: float) -> Shape:
    """Two stairs. Risers lean by a thousandth, so that rings stay apart; corners are rounded as little."""
    lean = 1e-3
    across, up = [0.0], [0.0]
    outward, upward = [1.0], [lean]
    for stair in (0.5, 1.0):
        riser = stair - 0.5 + lean
        across += [riser, riser + lean, stair]
        up += [stair - lean, stair, stair]
        outward += [1.0, 0.0, 0.0]
        upward += [lean, 1.0, 1.0]
        if stair < 1:
            across.append(stair + lean / 2)
            up.append(stair + lean)
            outward.append(1.0)
            upward.append(lean)
    return np.array(across), np.array(up), np.array(outward), np.array(upward)


_SHAPES = {"chamfer": _chamfer, "roundover": _roundover, "cove": _cove, "ogee": _ogee, "step": _step}
PROFILES = ("none", *_SHAPES)


def _lengths(inset: Floats, drop: Floats) -> Floats:
    return np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(inset), np.diff(drop)))])
