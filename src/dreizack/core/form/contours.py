"""Curves to polygons, many outlines at a time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..lettering.outlines import Outline

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

CORNER_DEGREES = 14.0
SHARPEST_MITRE = 3.0


@dataclass(frozen=True)
class Contours:
    """Closed polygons of many letters, end to end.

    Edge ``i`` runs from point ``i`` to point ``following[i]``. ``normal_out`` / ``normal_in``
    (points, 2) are the outward unit normals of the curve where it leaves and where it reaches the
    point: equal on smooth curves, different at corners. ``mitre`` (points, 2) moves a point
    inward so that both its edges move by 1. ``run`` (points,) is the length along the contour.
    """

    points: Floats
    following: Ints
    previous: Ints
    normal_out: Floats
    normal_in: Floats
    corner: NDArray[np.bool_]
    mitre: Floats
    edge_direction: Floats
    edge_length: Floats
    run: Floats
    contour: Ints
    letter: Ints

    def select(self, letters: Ints) -> Contours:
        """Only these letters (in rising order), numbered anew from 0."""
        keep = np.isin(self.letter, letters)
        place = np.cumsum(keep) - 1
        _, contour = np.unique(self.contour[keep], return_inverse=True)
        return Contours(
            self.points[keep],
            place[self.following[keep]],
            place[self.previous[keep]],
            self.normal_out[keep],
            self.normal_in[keep],
            self.corner[keep],
            self.mitre[keep],
            self.edge_direction[keep],
            self.edge_length[keep],
            self.run[keep],
            contour,
            np.searchsorted(letters, self.letter[keep]),
        )

    def between(self, step: float) -> Contours:
        """With points set on edges so that none is longer than ``step`` metres."""
        pieces = np.maximum(np.ceil(self.edge_length / step), 1).astype(np.int64)
        which = np.repeat(np.arange(len(pieces)), pieces)
        number = np.arange(len(which)) - np.repeat(np.cumsum(pieces) - pieces, pieces)
        new, share = number > 0, (number / pieces[which])[:, None]
        length = self.edge_length / pieces
        direction = self.edge_direction[which]
        outward = np.column_stack([direction[:, 1], -direction[:, 0]])
        arriving = self.normal_in[self.following[which]]
        normal = _unit(self.normal_out[which] * (1 - share) + arriving * share)
        contour = self.contour[which]
        following = _following(contour)
        previous = np.empty_like(following)
        previous[following] = np.arange(len(following))
        at = new[:, None]
        return Contours(
            self.points[which] + direction * (number * length[which])[:, None],
            following,
            previous,
            np.where(at, normal, self.normal_out[which]),
            np.where(at, normal, self.normal_in[which]),
            self.corner[which] & ~new,
            np.where(at, -outward, self.mitre[which]),
            direction,
            length[which],
            self.run[which] + number * length[which],
            contour,
            self.letter[which],
        )

    def without(self, gone: NDArray[np.bool_]) -> Contours:
        """Without points that lie on a line between their neighbours."""
        keep = ~gone
        contour = self.contour[keep]
        following = _following(contour)
        previous = np.empty_like(following)
        previous[following] = np.arange(len(following))
        points = self.points[keep]
        return Contours(
            points,
            following,
            previous,
            self.normal_out[keep],
            self.normal_in[keep],
            self.corner[keep],
            self.mitre[keep],
            self.edge_direction[keep],
            np.linalg.norm(points[following] - points, axis=1),
            self.run[keep],
            contour,
            self.letter[keep],
        )

    def pinched(self) -> set[int]:
        """Letters that come to the same point (in single precision, as bodies are) twice."""
        where = self.points.astype(np.float32)
        # Squared corners stand twice in one place, one after the other.
        once = (where != where[self.following]).any(axis=1)
        letter, where = self.letter[once], where[once]
        order = np.lexsort((where[:, 1], where[:, 0], letter))
        letter, where = letter[order], where[order]
        same = (letter[1:] == letter[:-1]) & (where[1:] == where[:-1]).all(axis=1)
        return set(letter[1:][same].tolist())

    def holes(self) -> NDArray[np.bool_]:
        """(points,): whether a point stands on the rim of a counter."""
        ahead = self.points[self.following]
        cross = self.points[:, 0] * ahead[:, 1] - self.points[:, 1] * ahead[:, 0]
        inside: NDArray[np.bool_] = (
            (np.bincount(self.contour, cross) < 0)[self.contour] if len(cross) else np.zeros(0, bool)
        )
        return inside

    def letter_slice(self, letter: int) -> slice:
        low, high = np.searchsorted(self.letter, [letter, letter + 1])
        return slice(int(low), int(high))


def flatten(outlines: Sequence[Outline], em: float, tolerance: float) -> Contours:
    """Flatten outlines so that no chord strays further than ``tolerance`` metres from its curve.

    Points come with the normals of the true curve. Subdivision after Wang's bound: a cubic needs
    ``sqrt(√3/18 · max|second difference|·… / tolerance)`` pieces; we use the standard form
    ``ceil(sqrt(6 M / (8 tol)))`` with M the larger second difference of the control points.
    """
    live = [(i, o) for i, o in enumerate(outlines) if not o.empty]
    if not live:
        return _closed(np.empty((0, 2)), np.empty((0, 2)), np.empty((0, 2)), *(np.empty(0, np.int64),) * 2)
    controls = np.concatenate([o.controls for _, o in live]) * em
    line = np.concatenate([o.line for _, o in live])
    letter = np.concatenate([np.full(len(o.controls), i, np.int64) for i, o in live])
    shifts = np.cumsum([0] + [int(o.contour.max()) + 1 for _, o in live])
    contour = np.concatenate([o.contour + s for (_, o), s in zip(live, shifts, strict=False)])
    second = np.abs(np.diff(controls, 2, axis=1)).max(axis=(1, 2)) * np.sqrt(2)
    pieces = np.where(line, 1, np.clip(np.ceil(np.sqrt(0.75 * second / tolerance)), 2, 64)).astype(np.int64)
    which = np.repeat(np.arange(len(pieces)), pieces)
    step = np.arange(len(which)) - np.repeat(np.cumsum(pieces) - pieces, pieces)
    t = (step / pieces[which])[:, None]
    points = _cubic(controls[which], t)
    leaving = _normals(controls, np.zeros((len(controls), 1)))
    reaching = _normals(controls, np.ones((len(controls), 1)))
    normal = _normals(controls[which], t)
    first = step == 0
    normal_out, normal_in = normal.copy(), normal.copy()
    normal_out[first] = leaving
    before = _previous_in_group(contour)
    normal_in[first] = reaching[before]
    return _closed(points, normal_out, normal_in, contour[which], letter[which])


def polygons(rings: Sequence[Floats], letters: Sequence[int] | None = None) -> Contours:
    """Contours from plain polygons (outer rings counter-clockwise, holes clockwise) of ``letters``, in rising
    order."""
    points = np.concatenate(rings) if rings else np.empty((0, 2))
    contour = (
        np.concatenate([np.full(len(r), i, np.int64) for i, r in enumerate(rings)])
        if rings
        else np.empty(0, np.int64)
    )
    following = _following(contour)
    direction = _unit(points[following] - points)
    normal = np.column_stack([direction[:, 1], -direction[:, 0]])
    before = np.empty_like(following)
    before[following] = np.arange(len(following))
    owner = np.asarray([0] * len(rings) if letters is None else letters, np.int64)
    return _closed(points, normal, normal[before], contour, owner[contour] if len(rings) else contour)


def _closed(points: Floats, out: Floats, into: Floats, contour: Ints, letter: Ints) -> Contours:
    following = _following(contour)
    # Points that coincide with their successor (in single precision, as bodies are) carry no edge and would
    # have no direction.
    kept = points.astype(np.float32)
    keep: NDArray[np.bool_] = (kept[following] != kept).any(axis=1)
    if not keep.all():
        dropped = ~keep
        into = into.copy()
        into[following[dropped]] = into[dropped]
        points, out, into, contour, letter = points[keep], out[keep], into[keep], contour[keep], letter[keep]
    count = np.bincount(contour, minlength=1) if len(contour) else np.zeros(1, np.int64)
    solid = count[contour] >= 3
    if not solid.all():
        points, out, into, contour, letter = (
            points[solid],
            out[solid],
            into[solid],
            contour[solid],
            letter[solid],
        )
    following = _following(contour)
    points, out, into, contour, letter, following = _square_spikes(
        points, out, into, contour, letter, following
    )
    previous = np.empty_like(following)
    previous[following] = np.arange(len(following))
    delta = points[following] - points
    length = np.linalg.norm(delta, axis=1)
    # A zero-length edge stands for a squared corner: it faces along the corner's bisector.
    squared = length < 1e-12
    direction = delta / np.where(squared, 1, length)[:, None]
    if squared.any():
        between = out[squared] + into[squared]
        # At an exact cusp the normals cancel out: the corner faces back the way the outline came.
        arriving, leaving = _around(delta, previous, following, np.flatnonzero(squared))
        exact = np.linalg.norm(between, axis=1) < 1e-6
        bisector = _unit(np.where(exact[:, None], leaving - arriving, between))
        direction[squared] = np.column_stack([-bisector[:, 1], bisector[:, 0]])
    outward = np.column_stack([direction[:, 1], -direction[:, 0]])
    meet = outward[previous]
    mitre = -(meet + outward) / np.maximum(1 + np.sum(meet * outward, axis=1), 1e-3)[:, None]
    bend = np.sum(out * into, axis=1)
    corner = bend < np.cos(np.radians(CORNER_DEGREES))
    smooth = _unit(out + into)
    out, into = np.where(corner[:, None], out, smooth), np.where(corner[:, None], into, smooth)
    if squared.any():
        flat = outward[squared]
        out[squared] = flat
        into[following[squared]] = flat
        corner[squared] = corner[following[squared]] = True
    total = np.cumsum(length) - length
    starts = np.flatnonzero(np.diff(contour, prepend=-1))
    run = (
        total - np.repeat(total[starts], np.diff(np.append(starts, len(contour)))) if len(contour) else total
    )
    return Contours(
        points, following, previous, out, into, corner, mitre, direction, length, run, contour, letter
    )


def _around(delta: Floats, previous: Ints, following: Ints, edges: Ints) -> tuple[Floats, Floats]:
    """Unit directions (n, 2) of the edges before and after some that have no length themselves."""
    before, after = previous[edges], following[edges]
    for _ in range(4):
        stuck = np.linalg.norm(delta[before], axis=1) < 1e-12
        before = np.where(stuck, previous[before], before)
        stuck = np.linalg.norm(delta[after], axis=1) < 1e-12
        after = np.where(stuck, following[after], after)
    return _unit(delta[before]), _unit(delta[after])


def _square_spikes(
    points: Floats, out: Floats, into: Floats, contour: Ints, letter: Ints, following: Ints
) -> tuple[Floats, Floats, Floats, Ints, Ints, Ints]:
    """Double the points of sharp inward notches, so that their mitre is squared instead of spiking."""
    if not len(points):
        return points, out, into, contour, letter, following
    direction = _unit(points[following] - points)
    previous = np.empty_like(following)
    previous[following] = np.arange(len(following))
    arriving = direction[previous]
    turn = arriving[:, 0] * direction[:, 1] - arriving[:, 1] * direction[:, 0]
    along = np.sum(arriving * direction, axis=1)
    # mitre length is 1 / cos(turn / 2); reflex corners of the material turn right.
    spike = (turn < 0) & (np.sqrt(np.maximum((1 + along) / 2, 1e-12)) < 1 / SHARPEST_MITRE)
    if not spike.any():
        return points, out, into, contour, letter, following
    times = np.where(spike, 2, 1)
    points, out, into = (np.repeat(a, times, axis=0) for a in (points, out, into))
    contour, letter = np.repeat(contour, times), np.repeat(letter, times)
    return points, out, into, contour, letter, _following(contour)


def _following(contour: Ints) -> Ints:
    """Index of the next point on the same contour; contours stand end to end."""
    following = np.arange(1, len(contour) + 1)
    if len(contour):
        last = np.flatnonzero(np.diff(contour, append=-1))
        first = np.concatenate([[0], last[:-1] + 1])
        following[last] = first
    return following


def _previous_in_group(contour: Ints) -> Ints:
    following = _following(contour)
    before = np.empty_like(following)
    before[following] = np.arange(len(following))
    return before


def _cubic(c: Floats, t: Floats) -> Floats:
    """Points of cubic Béziers; ``c`` (n, 4, 2), ``t`` (n, 1)."""
    u = 1 - t
    result: Floats = u**3 * c[:, 0] + 3 * u**2 * t * c[:, 1] + 3 * u * t**2 * c[:, 2] + t**3 * c[:, 3]
    return result


def _normals(c: Floats, t: Floats) -> Floats:
    """Outward unit normals (right of travel) of cubic Béziers; survives coincident controls."""
    u = 1 - t
    tangent = u**2 * (c[:, 1] - c[:, 0]) + 2 * u * t * (c[:, 2] - c[:, 1]) + t**2 * (c[:, 3] - c[:, 2])
    stuck = np.linalg.norm(tangent, axis=1) < 1e-12
    if stuck.any():
        chord = np.where(t[stuck] < 0.5, c[stuck, 2] - c[stuck, 0], c[stuck, 3] - c[stuck, 1])
        still = np.linalg.norm(chord, axis=1) < 1e-12
        chord[still] = (c[stuck, 3] - c[stuck, 0])[still]
        tangent[stuck] = chord
    tangent = _unit(tangent)
    return np.column_stack([tangent[:, 1], -tangent[:, 0]])


def _unit(v: Floats) -> Floats:
    length = np.linalg.norm(v, axis=-1, keepdims=True)
    result: Floats = v / np.where(length < 1e-15, 1, length)
    return result
