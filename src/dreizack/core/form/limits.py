"""How far each point of an outline can go inward before far parts of the outline meet.

A front that runs inward from the outline reaches a point x at the moment its distance to the
outline says (the eikonal view of offsets: Sethian, Level Set Methods, ch. 1). A point whose path
is overtaken - something else of the outline lies nearer than the level it has come to - has gone
past the medial axis (Blum, 1967); just before that is where it has to stop.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .collapse import advance
from .contours import Contours
from .fronts import Fronts, clearance
from .nearby import neighbours

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

# Limited fronts keep this share of the way to where they would meet.
NEAR = 0.92
# Levels at which fronts are looked at, in ems, and how many there are; no stroke is wider than twice the
# last.
NARROWEST, WIDEST, LEVELS = 0.004, 0.6, 18
# Limits change by no more than this much a metre of distance.
STEEPEST = 0.8
# From so many points on, those are left out first whose own neighbours lower them.
MANY = 400


@dataclass(frozen=True)
class Paths:
    """Where every point is at rising ``levels`` (levels,), and how far it may go.

    ``position`` (levels, points, 2), ``carrier`` (levels, points) as in :class:`Rings`; ``stop``
    (points,) in metres of level, never beyond ``reach``.
    """

    levels: Floats
    position: Floats
    carrier: Ints
    stop: Floats
    reach: float

    def only(self, keep: Bools | Ints) -> Paths:
        """Paths of some points (carriers are those of the whole)."""
        return Paths(self.levels, self.position[:, keep], self.carrier[:, keep], self.stop[keep], self.reach)

    def at(self, insets: Floats) -> Floats:
        """Points (insets, points, 2) where each has gone its part of ``insets``; reach is squeezed to the
        stop."""
        times = insets[:, None] * (self.stop / self.reach)
        above = np.clip(np.searchsorted(self.levels, times), 1, len(self.levels) - 1)
        low, high = self.levels[above - 1], self.levels[above]
        t = ((times - low) / (high - low))[..., None]
        index = np.arange(len(self.stop))
        places: Floats = self.position[above - 1, index] * (1 - t) + self.position[above, index] * t
        return places

    def stopped(self, stop: Floats) -> Paths:
        """With other stops; who meets another on the way stops with it, or before it where that one stops
        earlier.

        (A ridge must not run past a point that never comes up to it.)
        """
        stop = stop.copy()
        count = int(self.carrier.max(initial=-1)) + 1
        for below, carrier in zip(self.levels[:-1], self.carrier[1:], strict=True):
            first = np.full(count, np.inf)
            np.minimum.at(first, carrier, stop)
            stop = np.where(stop > below, first[carrier], stop)
        return Paths(self.levels, self.position, self.carrier, stop, self.reach)


def paths(contours: Contours, insets: Floats, share: Floats, em: float, fronts: Sequence[Fronts]) -> Paths:
    """Paths of all points along rising ``insets``, with the stops the medial axis sets; ``em`` metres an em.

    ``fronts`` are what runs inward of each letter; the same outlines with fewer points will do.

    The levels hang on nothing but the em, so that a letter is the same whatever it is built with.
    """
    reach = float(insets[-1])
    if reach <= 0:
        alone = np.broadcast_to(np.arange(len(contours.points)), (2, len(contours.points)))
        return Paths(
            np.array([0.0, 1.0]), np.stack([contours.points] * 2), alone, np.ones(len(contours.points)), 1.0
        )
    most = min(reach, WIDEST * em)
    ladder = em * np.geomspace(NARROWEST, WIDEST, LEVELS)
    levels = np.concatenate([[0.0], ladder[ladder < 0.97 * most], [most]])
    rings = advance(contours, levels, share)
    stop = np.empty(len(contours.points))
    for letter, ahead in enumerate(fronts):
        span = contours.letter_slice(letter)
        # Sides of the rings are watched at their middles; a point goes as far as both its sides do.
        after, before = contours.following[span], contours.previous[span] - span.start
        middles = (rings.position[:, span] + rings.position[:, after]) / 2
        clear = clearance(middles, levels, ahead)
        clear = np.minimum(clear, clear[before])
        stop[span] = np.where((clear >= levels[-1]) & (reach <= most), reach, NEAR * clear)
    found = Paths(levels, rings.position, rings.carrier, stop, reach)
    return calmed(contours, found, stop)


def calmed(contours: Contours, found: Paths, stop: Floats) -> Paths:
    """Paths with stops that agree with their neighbours, with those they meet, and across squared corners."""
    stop = eased(contours, stop)
    squared = np.flatnonzero(contours.edge_length < 1e-12)
    other = contours.following[squared]
    for _ in range(4):
        settled = found.stopped(stop)
        stop = settled.stop
        lower = np.minimum(stop[squared], stop[other])
        if np.array_equal(lower, stop[squared]) and np.array_equal(lower, stop[other]):
            break
        stop[squared] = stop[other] = lower
    return settled


def eased(contours: Contours, stop: Floats) -> Floats:
    """Stops that rise no faster than :data:`STEEPEST` around the lowest ones, across a stroke as along it."""
    smooth = np.empty_like(stop)
    for letter in np.unique(contours.letter).tolist():
        span = contours.letter_slice(letter)
        own, points = stop[span], contours.points[span]
        if own.max() - own.min() < 1e-9:
            smooth[span] = own
        elif len(own) > MANY:
            # Whom a neighbour lowers lowers nobody whom that one does not lower as much.
            near = _lowered_nearby(points, own)
            lowest = (near >= own) & (own < own.max())
            smooth[span] = np.minimum(near, _lowered(points, own, points[lowest], own[lowest]))
        else:
            # Whoever may go all the way lowers nobody.
            low = own < own.max()
            smooth[span] = _lowered(points, own, points[low], own[low])
    return smooth


def _lowered(points: Floats, own: Floats, by: Floats, stops: Floats) -> Floats:
    x, y = points.T.astype(np.float32)
    others = by.T.astype(np.float32)
    away, high = x[:, None] - others[0], y[:, None] - others[1]
    away *= away
    high *= high
    away += high
    np.sqrt(away, out=away)
    away *= STEEPEST
    away += stops.astype(np.float32)
    # Rounding must not raise anybody.
    lowered: Floats = np.minimum(away.min(axis=1), own)
    return lowered


def _lowered_nearby(points: Floats, own: Floats) -> Floats:
    """Stops (points,) lowered by the points around each: some twenty of them."""
    extent = np.ptp(points, axis=0)
    radius = float(np.sqrt(2 * extent[0] * extent[1] / len(points))) or float(extent.max()) / len(points)
    which, near = neighbours(points, points, max(radius, 1e-9))
    away = np.hypot(*(points[which] - points[near]).T)
    lowered: Floats = own.copy()
    np.minimum.at(lowered, which, own[near] + STEEPEST * away)
    return lowered


def needless(contours: Contours, stops: Floats) -> Bools:
    """Points (points,) on straight edges that bend neither the outline nor any of ``stops`` (kinds,
    points)."""
    count = len(contours.points)
    gone = np.zeros(count, bool)
    straight = np.abs(_cross(contours.edge_direction[contours.previous], contours.edge_direction)) < 1e-9
    straight &= (
        ~contours.corner & (contours.edge_length > 1e-12) & (contours.edge_length[contours.previous] > 1e-12)
    )
    before, after = contours.previous.copy(), contours.following.copy()
    for _ in range(8):
        here = np.flatnonzero(straight & ~gone)
        a, b = before[here], after[here]
        to_a = np.linalg.norm(contours.points[here] - contours.points[a], axis=1)
        to_b = np.linalg.norm(contours.points[b] - contours.points[here], axis=1)
        expected = stops[:, a] + (stops[:, b] - stops[:, a]) * (to_a / np.maximum(to_a + to_b, 1e-12))
        idle = np.zeros(count, bool)
        idle[here] = (np.abs(stops[:, here] - expected) < 1e-3 * np.maximum(expected, 1e-9)).all(axis=0)
        # Of idle neighbours only every second goes at a time.
        ranks = np.zeros(count, np.int64)
        alive = ~gone
        ranks[alive] = np.arange(int(alive.sum()))
        leave = (
            idle
            & ((ranks % 2 == 1) | ~idle[before])
            & ~(idle[after] & (ranks[after] % 2 == 1))
            & (before != after)
        )
        leave &= ~leave[before]
        if not leave.any():
            break
        gone |= leave
        who = np.flatnonzero(leave)
        after[before[who]], before[after[who]] = after[who], before[who]
    return gone


def _cross(a: Floats, b: Floats) -> Floats:
    result: Floats = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    return result
