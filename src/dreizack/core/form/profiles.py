"""Edge profiles: how an edge leads from the wall to the face."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Steps between two points of a drawn profile.
DRAWN_STEPS = 4
# What a drawn profile looks like before anybody has drawn.
DRAWN = ((0.0, 0.0), (0.15, 0.5), (0.5, 0.6), (0.7, 0.95), (1.0, 1.0))


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

    def scaled_inset(self, factor: float) -> Profile:
        """The same profile with its reach scaled, normals following."""
        if self.plain or factor == 1:
            return self
        outward, upward = self.outward.copy(), self.upward * factor
        norm = np.hypot(outward, upward)
        inset = self.inset * factor
        return Profile(inset, self.drop, outward / norm, upward / norm, _lengths(inset, self.drop))


def profile(
    kind: str, reach: float, rise: float, tolerance: float, drawn: Sequence[tuple[float, float]] = DRAWN
) -> Profile:
    """The profile of an edge; steps follow from ``tolerance`` in metres.

    ``chamfer`` is one slope; ``roundover`` a quarter ellipse that bulges, ``cove`` one that hollows;
    ``ogee`` a cove that turns into a roundover halfway; ``step`` two stairs; ``none`` no edge;
    ``drawn`` runs smoothly through the pairs (across, up) of ``drawn``, from (0, 0) to (1, 1).

    >>> p = profile("roundover", 0.02, 0.02, 0.001)
    >>> round(float(p.inset[-1]), 9), float(p.drop[0])
    (0.02, 0.02)
    """
    if kind == "none" or reach <= 1e-7 or rise <= 1e-7:
        zero = np.zeros(1)
        return Profile(zero, zero, np.zeros(1), np.ones(1), zero)
    shape = _drawn(drawn) if kind == "drawn" else _SHAPES[kind](max(reach, rise), tolerance)
    across, up, outward, upward = shape
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
    """Angles of a quarter circle, no chord further from it than ``tolerance`` (sagitta r (1 - cos(step /
    2)))."""
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


def _drawn(points: Sequence[tuple[float, float]]) -> Shape:
    """A curve through points that never turns back: a monotone cubic over the length of their polygon.

    (Fritsch and Carlson, Monotone Piecewise Cubic Interpolation, SIAM J. Numer. Anal. 17, 1980.)
    """
    at = np.asarray(points, np.float64)
    length = np.hypot(*np.diff(at, axis=0).T)[:, None]
    secant = np.diff(at, axis=0) / length
    slope = np.concatenate([secant[:1], (secant[:-1] + secant[1:]) / 2, secant[-1:]])
    # Slopes of at most three times the flatter secant keep every stretch monotone.
    lowest = np.concatenate([secant[:1], np.minimum(secant[:-1], secant[1:]), secant[-1:]])
    slope = np.minimum(slope, 3 * lowest)
    t = np.linspace(0, 1, DRAWN_STEPS, endpoint=False)[None, :, None]
    p, q, m, n = at[:-1, None], at[1:, None], (slope[:-1] * length)[:, None], (slope[1:] * length)[:, None]
    place = (
        (2 * t**3 - 3 * t**2 + 1) * p
        + (t**3 - 2 * t**2 + t) * m
        + (3 * t**2 - 2 * t**3) * q
        + (t**3 - t**2) * n
    )
    way = (6 * t**2 - 6 * t) * (p - q) + (3 * t**2 - 4 * t + 1) * m + (3 * t**2 - 2 * t) * n
    place = np.concatenate([place.reshape(-1, 2), at[-1:]])
    slope = np.concatenate([way.reshape(-1, 2), slope[-1:] * length[-1]])
    slope[np.hypot(slope[:, 0], slope[:, 1]) < 1e-9] = (1, 1)
    slope /= np.hypot(slope[:, 0], slope[:, 1])[:, None]
    # Rings must move inward, if ever so little, to be told apart.
    across = np.maximum.accumulate(np.clip(place[:, 0], 0, 1) * (1 - 1e-4) + np.linspace(0, 1e-4, len(place)))
    across[0], across[-1] = 0.0, 1.0
    up = np.clip(place[:, 1], 0, 1)
    up[0], up[-1] = 0.0, 1.0
    return across, up, np.maximum(slope[:, 1], 0), np.maximum(slope[:, 0], 0)


_SHAPES = {"chamfer": _chamfer, "roundover": _roundover, "cove": _cove, "ogee": _ogee, "step": _step}
PROFILES = ("none", *_SHAPES, "drawn")


def _lengths(inset: Floats, drop: Floats) -> Floats:
    return np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(inset), np.diff(drop)))])
