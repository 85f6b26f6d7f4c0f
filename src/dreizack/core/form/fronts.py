"""Fronts that run inward from the edges of a letter, and when the first of them comes to a place."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .contours import Contours
from .nearby import neighbours, places_along

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

# Distances are compared with this much grace, for chords of curves and rounding.
GRACE = 0.985
# Where fronts would run on at corners by less than this a metre of level, the outline counts as smooth.
FAN = 0.1
REFINED = 4
# From so many edges on, only those that are near are looked at.
MANY = 400
# About so many pairs of a place and an edge at a time, where one edge in eight is near.
PAIRS = 1_000_000


@dataclass(frozen=True)
class Fronts:
    """Edges of one letter as fronts, each a column.

    ``away``, ``before`` and ``after`` (3, edges) give, for a place (x, y, 1) seen from ``middle``, how far it
    lies inward of an edge's line, and how far before its start and after its end. At corners (``fanned``,
    indices) a front runs on by ``tail`` and ``head`` per metre of level. ``ends`` (2, edges, 2) are starts
    and ends, seen from ``middle``. Single precision: distances to lines, unlike their squares, lose nothing
    in it.
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
    ends: Floats

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
            np.stack([start, start + along * length[:, None]]),
        )

    def nearest(self, query: Floats) -> Floats:
        """Level at which the first front reaches each query point (n, 2).

        Before an edge, and in the fan of a corner that its mitre squares, a front is as far as its line;
        elsewhere as far as the nearer end of its edge.
        """
        place = np.empty((len(query), 3), np.float32)
        place[:, :2], place[:, 2] = query - self.middle, 1
        away = place @ self.away
        beyond = place @ self.before
        np.maximum(beyond, place @ self.after, out=beyond)
        np.maximum(beyond, 0, out=beyond)
        some = self.fanned
        if len(some):
            ahead, past = np.maximum(away[:, some], 0), beyond[:, some]
            early = place @ self.before[:, some] > 0
            past -= ahead * np.where(early, self.tail[some], self.head[some])
            beyond[:, some] = np.where(past <= 0, 0, beyond[:, some])
        away *= away
        beyond *= beyond
        away += beyond
        if self.even:
            return np.asarray(np.sqrt(away.min(axis=1)) / max(float(self.share[0]), 1e-9), np.float64)
        return np.asarray((np.sqrt(away) / np.maximum(self.share, 1e-9)).min(axis=1), np.float64)

    def nearest_within(self, query: Floats, level: float) -> Floats:
        """As :meth:`nearest`, of fronts that come there before ``level``; infinity where none does."""
        found = np.full(len(query), np.inf)
        if not len(query):
            return found
        reach = level * max(float(self.share.max()), 1e-9)
        places, edge = self._reached(reach)
        # Half the spacing of places, and the way to the line.
        radius = reach * 1.12
        for some in np.array_split(np.arange(len(query)), 1 + len(query) * len(places) // (8 * PAIRS)):
            at = query[some] - self.middle
            which, near = neighbours(at, places, radius)
            if len(which):
                starts = np.flatnonzero(np.diff(which, prepend=-1))
                levels = self._levels(at[which].astype(np.float32), edge[near])
                found[some[which[starts]]] = np.minimum.reduceat(levels, starts)
        return found

    def _reached(self, level: float) -> tuple[Floats, Ints]:
        """Places along all edges and as far as their fans go until a level, and whose each is."""
        start, end = self.ends
        way = self.before[:2].T.astype(np.float64)
        tail, head = (np.where(fan > FAN, fan, 0.0)[:, None] for fan in (self.tail, self.head))
        return places_along(start + way * tail * level, end - way * head * level, level)

    def _levels(self, at: Singles, edge: Ints) -> Singles:
        """Levels (pairs,) at which fronts reach places (pairs, 2)."""
        x, y = at.T
        away, before, after = (
            part[0, edge] * x + part[1, edge] * y + part[2, edge]
            for part in (self.away, self.before, self.after)
        )
        beyond = np.maximum(np.maximum(before, after), 0)
        fan = np.where(before > 0, self.tail[edge], self.head[edge]) * self._fans[edge]
        beyond = np.where((fan > 0) & (beyond <= np.maximum(away, 0) * fan), 0, beyond)
        levels: Singles = np.hypot(away, beyond) / np.maximum(self.share, 1e-9)[edge]
        return levels

    @cached_property
    def _fans(self) -> Singles:
        fans = np.zeros(len(self.tail), np.float32)
        fans[self.fanned] = 1
        return fans


def clearance(position: Floats, levels: Floats, fronts: Fronts) -> Floats:
    """The level (points,) to which ``position`` (levels, points, 2) may come before a front overtakes it.

    Who is overtaken stays so: found by bisection; among many edges by going up the levels, as until a low one
    only a few are near.
    """
    found = np.full(position.shape[1], levels[-1])
    if len(fronts.share) > MANY:
        left = np.arange(len(found))
        for level in range(1, len(levels)):
            overtaken = _overtaken(position[level, left], levels[level], fronts)
            who, left = left[overtaken], left[~overtaken]
            found[who] = _refined(position[:, who], levels, np.full(len(who), level - 1), fronts)
        return found
    who = np.flatnonzero(_overtaken(position[-1], levels[-1], fronts))
    low, high = np.zeros(len(who), np.int64), np.full(len(who), len(levels) - 1)
    while (high - low > 1).any():
        middle = (low + high) // 2
        overtaken = _overtaken(position[middle, who], levels[middle], fronts)
        low, high = np.where(overtaken, low, middle), np.where(overtaken, middle, high)
    found[who] = _refined(position[:, who], levels, low, fronts)
    return found


def _refined(position: Floats, levels: Floats, low: Ints, fronts: Fronts) -> Floats:
    """Levels (points,) of points that are overtaken between the ``low`` (points,) one and the next."""
    index = np.arange(len(low))
    near, far = position[low, index], position[low + 1, index]
    below, above = levels[low], levels[low + 1]
    a, b = np.zeros(len(low)), np.ones(len(low))
    for _ in range(REFINED):
        t = (a + b) / 2
        overtaken = _overtaken(near + t[:, None] * (far - near), below + t * (above - below), fronts)
        a, b = np.where(overtaken, a, t), np.where(overtaken, t, b)
    levels_met: Floats = below + a * (above - below)
    return levels_met


def _overtaken(query: Floats, level: Floats | float, fronts: Fronts) -> Bools:
    """Whether a front has come to places (n, 2) before their ``level``."""
    due = GRACE * np.asarray(level)
    if len(fronts.share) > MANY:
        overtaken: Bools = fronts.nearest_within(query, float(due.max(initial=0))) < due
        return overtaken
    return np.asarray(fronts.nearest(query) < due)
