"""Rings of an inset with the vertices that meet on the way merged.

Every edge moves inward at unit speed, its vertices along their mitres. An edge between two corners
may shrink to nothing; its two vertices then go on as one, along the mitre of the edges that are
left. (The edge events of the straight skeleton: Aichholzer et al., A Novel Type of Skeleton for
Polygons, J.UCS 1(12), 1995. Events where two far parts of the outline meet are not followed; the
caller looks for what is turned over.) All letters are advanced together.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .contours import Contours

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


# Cosine between the outward normals of edges whose ridge would run more than about ten times their speed.
OPPOSED = -0.98


@dataclass(frozen=True)
class Rings:
    """``position`` (levels, points, 2): where each outline point is at each level; ``carrier``
    (levels, points): the point it has merged into (itself as long as it is alone); ``whole``
    (levels, letters): whether every contour of a letter still has three points.
    """

    position: Floats
    carrier: Ints
    whole: NDArray[np.bool_]


def advance(contours: Contours, levels: Floats, share: Floats | None = None) -> Rings:
    """Rings at rising ``levels`` (metres) of all letters of some contours.

    ``share`` (points,): the part of a level each point goes (1 for all by default).
    """
    front = _Front(contours, np.ones(len(contours.points)) if share is None else share)
    count, letters = len(contours.points), int(contours.letter.max()) + 1 if len(contours.letter) else 0
    position = np.empty((len(levels), count, 2))
    carrier = np.empty((len(levels), count), np.int64)
    whole = np.ones((len(levels), letters), dtype=bool)
    for k, level in enumerate(levels):
        front.move_to(float(level))
        carrier[k] = front.carriers()
        position[k] = front.at(float(level))[carrier[k]]
        left = np.bincount(contours.contour[front.alive], minlength=int(contours.contour.max()) + 1)
        np.logical_and.at(whole[k], contours.letter, left[contours.contour] >= 3)
    return Rings(position, carrier, whole)


class _Front:
    """Vertices on their way: at time t vertex i is at ``base`` + t · ``mitre``."""

    def __init__(self, contours: Contours, share: Floats) -> None:
        count = len(contours.points)
        self.base, self.share = contours.points.copy(), share.copy()
        self.mitre = contours.mitre * share[:, None]
        self.direction = contours.edge_direction
        self.outward = np.column_stack([self.direction[:, 1], -self.direction[:, 0]])
        self.following, self.previous = contours.following.copy(), contours.previous.copy()
        self.contour = contours.contour
        self.into = np.arange(count)
        self.alive = np.arange(count)
        self.left = np.bincount(self.contour) if count else np.zeros(0, np.int64)

    def at(self, time: float) -> Floats:
        return self.base + time * self.mitre

    def carriers(self) -> Ints:
        """Follow each merged vertex to the one that lives on."""
        into = self.into
        while True:
            further = into[into]
            if np.array_equal(further, into):
                self.into = into
                return into
            into = further

    def move_to(self, time: float) -> None:
        """Merge what meets until ``time``, earliest first; events that do not touch go together."""
        ends = np.full(len(self.base), np.inf)
        ends[self.alive] = self._ends(self.alive)
        while True:
            due = self.alive[ends[self.alive] <= time]
            if not len(due):
                return
            before, after = ends[self.previous[due]], ends[self.following[due]]
            # Of neighbours that end at the same moment the one with the lower number goes first.
            first = (ends[due] < before) | ((ends[due] == before) & (due < self.previous[due]))
            first &= (ends[due] < after) | ((ends[due] == after) & (due < self.following[due]))
            now = due[first & (self.left[self.contour[due]] > 2)]
            if not len(now):
                return
            touched = self._merge(now, ends[now])
            ends[now] = np.inf
            ends[touched] = self._ends(touched)

    def _ends(self, edge: Ints) -> Floats:
        """When edges (named by their first vertex) shrink to nothing; infinity for those that do not."""
        head = self.following[edge]
        d = self.direction[edge]
        length = np.sum((self.base[head] - self.base[edge]) * d, axis=1)
        change = np.sum((self.mitre[head] - self.mitre[edge]) * d, axis=1)
        shrinks = change < -1e-9
        ends: Floats = np.where(shrinks, length / np.where(shrinks, -change, 1.0), np.inf)
        return ends

    def _merge(self, edge: Ints, time: Floats) -> Ints:
        """The first vertex of each edge goes into its second; answers the edges whose length changes
        differently now."""
        gone, stays = edge, self.following[edge]
        place = self.base[stays] + time[:, None] * self.mitre[stays]
        before = self.previous[gone]
        self.following[before], self.previous[stays] = stays, before
        self.into[gone] = stays
        meet, leave = self.outward[before], self.outward[stays]
        self.share[stays] = np.minimum(self.share[gone], self.share[stays])
        length = self.share[stays] / np.maximum(1 + np.sum(meet * leave, axis=1), 1e-3)
        # Between nearly parallel edges a ridge would shoot away; it ends there.
        opposed = np.sum(meet * leave, axis=1) < OPPOSED
        self.mitre[stays] = np.where(opposed[:, None], 0.0, -(meet + leave) * length[:, None])
        self.base[stays] = place - time[:, None] * self.mitre[stays]
        np.subtract.at(self.left, self.contour[gone], 1)
        self.alive = np.setdiff1d(self.alive, gone, assume_unique=True)
        return np.unique(np.concatenate([before, stays]))
