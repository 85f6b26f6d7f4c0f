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

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

# Limited fronts keep this share of the way to where they would meet.
NEAR = 0.92
# Distances are compared with this much grace, for chords of curves and rounding.
GRACE = 0.985
# Levels at which fronts are looked at, in ems, and how many there are; no stroke is wider than twice the
# last.
NARROWEST, WIDEST, LEVELS = 0.004, 0.6, 18
REFINED = 4
# Limits change by no more than this much a metre of distance.
STEEPEST = 0.8
# Fronts run on at corners; where they would by less than this a metre of level, the outline counts as smooth.
FAN = 0.1


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
        clear = _clearance(middles, levels, ahead)
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
        if stop[span].max() - stop[span].min() < 1e-9:
            smooth[span] = stop[span]
            continue
        x, y = contours.points[span].T.astype(np.float32)
        away, high = x[:, None] - x, y[:, None] - y
        away *= away
        high *= high
        away += high
        np.sqrt(away, out=away)
        away *= STEEPEST
        away += stop[span].astype(np.float32)
        # Rounding must not raise anybody.
        smooth[span] = np.minimum(away.min(axis=1), stop[span])
    return smooth


def _clearance(position: Floats, levels: Floats, fronts: Fronts) -> Floats:
    """The level (points,) to which ``position`` (levels, points, 2) may come; bisection, as who is overtaken
    stays so."""
    count = position.shape[1]
    who = np.flatnonzero(_nearest(position[-1], fronts) < GRACE * levels[-1])
    found = np.full(count, levels[-1])
    if not len(who):
        return found
    low, high = np.zeros(len(who), np.int64), np.full(len(who), len(levels) - 1)
    while (high - low > 1).any():
        middle = (low + high) // 2
        clear = _nearest(position[middle, who], fronts) >= GRACE * levels[middle]
        low, high = np.where(clear, middle, low), np.where(clear, high, middle)
    a, b = np.zeros(len(who)), np.ones(len(who))
    near, far = position[low, who], position[low + 1, who]
    below, above = levels[low], levels[low + 1]
    for _ in range(REFINED):
        t = (a + b) / 2
        clear = _nearest(near + t[:, None] * (far - near), fronts) >= GRACE * (below + t * (above - below))
        a, b = np.where(clear, t, a), np.where(clear, b, t)
    found[who] = below + a * (above - below)
    return found


def _nearest(query: Floats, fronts: Fronts) -> Floats:
    """Level at which the first front reaches each query point (n,).

    Before an edge, and in the fan of a corner that its mitre squares, a front is as far as its line;
    elsewhere as far as the nearer end of its edge.
    """
    place = np.empty((len(query), 3), np.float32)
    place[:, :2], place[:, 2] = query - fronts.middle, 1
    away = place @ fronts.away
    beyond = place @ fronts.before
    np.maximum(beyond, place @ fronts.after, out=beyond)
    np.maximum(beyond, 0, out=beyond)
    some = fronts.fanned
    if len(some):
        ahead, past = np.maximum(away[:, some], 0), beyond[:, some]
        early = place @ fronts.before[:, some] > 0
        past -= ahead * np.where(early, fronts.tail[some], fronts.head[some])
        beyond[:, some] = np.where(past <= 0, 0, beyond[:, some])
    away *= away
    beyond *= beyond
    away += beyond
    if fronts.even:
        return np.asarray(np.sqrt(away.min(axis=1)) / max(float(fronts.share[0]), 1e-9), np.float64)
    return np.asarray((np.sqrt(away) / np.maximum(fronts.share, 1e-9)).min(axis=1), np.float64)


@dataclass(frozen=True)
class Fronts:
    """Edges of one letter as fronts, each a column.

    ``away``, ``before`` and ``after`` (3, edges) give, for a place (x, y, 1) seen from ``middle``, how far it
    lies inward of an edge's line, and how far before its start and after its end. At corners (``fanned``,
    indices) a front runs on by ``tail`` and ``head`` per metre of level. Single precision: distances to
    lines, unlike their squares, lose nothing in it.
    """

    middle: Floats
    away: Singles
    before: Singles
    after: Singles
    fanned: Ints
    tail: Singles
    head: Singles
    share: Singles
    even: bool

    @classmethod
    def of(cls, contours: Contours, letter: int, share: Floats) -> Fronts:
        span = contours.letter_slice(letter)
        share = share[span]
        middle = contours.points[span].mean(axis=0)
        start, along, length = (
            contours.points[span] - middle,
            contours.edge_direction[span],
            contours.edge_length[span],
        )
        inward = np.column_stack([-along[:, 1], along[:, 0]])
        at = np.sum(start * along, axis=1)
        away = np.column_stack([inward, -np.sum(start * inward, axis=1)])
        before, after = np.column_stack([-along, at]), np.column_stack([along, -at - length])
        tail = np.maximum(-np.sum(contours.mitre[span] * along, axis=1), 0)
        head = np.maximum(np.sum(contours.mitre[contours.following[span]] * along, axis=1), 0)
        fanned = np.flatnonzero(np.maximum(tail, head) > FAN)
        even = bool((share == share[0]).all())
        a, b, c = (np.ascontiguousarray(column.T, np.float32) for column in (away, before, after))
        return cls(
            middle,
            a,
            b,
            c,
            fanned,
            tail.astype(np.float32),
            head.astype(np.float32),
            share.astype(np.float32),
            even,
        )


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
