"""Lines of strands: where they run, and what of them is shown."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...document import Strand
from .noise import straying

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]

# Points of a stretch that is shown; of one that goes round often so many a turn, up to a limit.
POINTS, MOST = 96, 2400
A_TURN = {"spiral": 16, "wound": 40}
# Steps of a walk.
STEPS = 400


@dataclass(frozen=True)
class Shown:
    """Stretches that are shown, all of as many points: ``places`` (stretches, points, 3), ``radius``
    (stretches, points) of what stands around them, ``share`` (stretches, points) of the whole way, and
    whether each goes all the way round (stretches,)."""

    places: Floats
    radius: Floats
    share: Floats
    round: Bools


def shown_lines(strand: Strand, seconds: float, outlines: list[Floats] | None = None) -> Shown:
    """What a strand shows at a moment; ``outlines`` are lines (n, 3) that it may run along: closed ones of
    words, those drawn by hand, or wound round something."""
    ways = outlines or []
    along = strand.rule in ("outline", "drawn", "wound")
    count = len(ways) if along else strand.count
    closed = strand.closed
    shares, line, whole = _stretches(strand, seconds, count, closed)
    if not len(shares):
        empty = np.zeros((0, points_of(strand)))
        return Shown(np.zeros((*empty.shape, 3)), empty, empty, np.zeros(0, np.bool_))
    at = np.mod(shares, 1.0) if closed else np.clip(shares, 0, 1)
    places = _along(ways, at, line, closed) if along else _ruled(strand, at, line)
    if strand.wander > 0:
        places = places + strand.wander * np.stack(
            [
                straying(row, line[k : k + 1], strand.waves, seconds, strand.flow, strand.seed, closed)[0]
                for k, row in enumerate(at)
            ]
        )
    return Shown(places, _radius(strand, shares, whole, seconds), at, whole)


def line_of(strand: Strand, outlines: list[Floats] | None = None) -> Floats:
    """The first line of a strand as it rests (points, 3), evenly by its length and with its beginning once
    more at the end where it closes; of those in ``outlines`` where it runs along such. Without points where
    there is none."""
    ways = outlines or []
    along = strand.rule in ("outline", "drawn", "wound")
    if along and not ways:
        return np.zeros((0, 3))
    at = np.linspace(0, 1, points_of(strand) * 4 + 1)[None]
    first = np.zeros(1)
    places = _along(ways, at, first, strand.closed) if along else _ruled(strand, at, first)
    length = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(places[0], axis=0), axis=1))])
    wanted = np.linspace(0, length[-1], at.shape[1])
    found: Floats = np.column_stack([np.interp(wanted, length, axis) for axis in places[0].T])
    return found


def points_of(strand: Strand) -> int:
    """How many points a stretch that is shown has."""
    return int(np.clip(np.ceil(strand.turns * A_TURN.get(strand.rule, 0)), POINTS, MOST))


def _stretches(strand: Strand, seconds: float, count: int, closed: bool) -> tuple[Floats, Floats, Bools]:
    """Shares (stretches, points) of the way of each stretch, the line (stretches,) it is of, and whether it
    goes all the way round."""
    late = strand.stagger * (np.arange(count) / max(count - 1, 1))
    begin = np.full(count, strand.begin) + strand.travel * seconds
    # Lines that begin later are as far in the end: the first has all the time, the last what is left.
    grown = (
        np.clip((strand.end - late) / max(1 - strand.stagger, 1e-6), 0, None)
        if strand.stagger
        else strand.end
    )
    end = np.broadcast_to(grown, count) + strand.travel * seconds
    line = np.arange(count)
    if strand.dashes:
        cells = np.arange(strand.dashes) / strand.dashes
        keep = (1 - strand.gap) / strand.dashes
        moved = np.mod(cells[None] + np.mod(strand.travel * seconds, 1.0), 1.0) if closed else cells[None]
        first = np.broadcast_to(moved, (count, strand.dashes))
        if closed:
            low, high = begin[:, None] - strand.travel * seconds, end[:, None] - strand.travel * seconds
            inside = (cells[None] >= low - 1e-9) & (cells[None] + keep <= high + 1e-9)
            starts, ends = first[inside], first[inside] + keep
        else:
            starts = np.maximum(first, begin[:, None])
            ends = np.minimum(first + keep, end[:, None])
            inside = ends - starts > 1e-6
            starts, ends = starts[inside], ends[inside]
        owner = np.broadcast_to(line[:, None], (count, strand.dashes))[inside]
    else:
        starts, ends, owner = begin, end, line
        if closed:
            ends = np.minimum(ends, starts + 1)
        else:
            # What travels past the end comes in again at the beginning.
            if strand.travel:
                base = np.floor(starts)
                starts, ends = starts - base, ends - base
                again = ends > 1
                starts = np.concatenate([starts, np.zeros(int(again.sum()))])
                ends, owner = (
                    np.concatenate([np.minimum(ends, 1), ends[again] - 1]),
                    np.concatenate([owner, owner[again]]),
                )
            starts, ends = np.clip(starts, 0, 1), np.clip(ends, 0, 1)
        there = ends - starts > 1e-6
        starts, ends, owner = starts[there], ends[there], owner[there]
    whole = closed & (ends - starts >= 1 - 1e-9) & (strand.dashes == 0)
    points = points_of(strand)
    t = np.linspace(0, 1, points)
    # A whole ring has no point twice.
    shares = np.where(
        whole[:, None],
        starts[:, None] + np.arange(points)[None] / points,
        starts[:, None] + (ends - starts)[:, None] * t[None],
    )
    return shares, owner.astype(np.float64), np.asarray(whole, np.bool_)


def _ruled(strand: Strand, at: Floats, line: Floats) -> Floats:
    """Places (stretches, points, 3) of shares ``at`` (stretches, points) of a line each."""
    number = line[:, None]
    angle = 2 * np.pi * at
    if strand.rule == "ring":
        radius = strand.radius + number * strand.spread
        return np.stack([radius * np.cos(angle), radius * np.sin(angle), np.zeros_like(at)], axis=-1)
    if strand.rule == "spiral":
        angle = angle * strand.turns + 2 * np.pi * number / max(strand.count, 1)
        radius = strand.radius + at * strand.spread
        return np.stack([radius * np.cos(angle), (at - 0.5) * strand.rise, -radius * np.sin(angle)], axis=-1)
    if strand.rule == "line":
        beside = (number - (strand.count - 1) / 2) * strand.spread
        return np.stack(
            [(at - 0.5) * strand.length, np.broadcast_to(beside, at.shape), np.zeros_like(at)], axis=-1
        )
    return _walked(strand, at, line)


def _walked(strand: Strand, at: Floats, line: Floats) -> Floats:
    """Smooth walks: the direction turns as sums of waves do, each line's by its own."""
    rng = np.random.default_rng([strand.seed, 3])
    wave, phase = rng.uniform(0.5, 3.0, (strand.count, 2, 4)), rng.uniform(0, 2 * np.pi, (strand.count, 2, 4))
    t = np.linspace(0, 1, STEPS)
    turned = np.sin(2 * np.pi * wave[..., None] * t + phase[..., None]).sum(axis=2)
    yaw, pitch = turned[:, 0] * 1.3 + phase[:, 0, :1], turned[:, 1] * 0.6
    ahead = np.stack([np.cos(yaw) * np.cos(pitch), np.sin(pitch), np.sin(yaw) * np.cos(pitch)], axis=-1)
    path = np.cumsum(ahead, axis=1) * strand.length / STEPS
    path -= path.mean(axis=1, keepdims=True)
    start = rng.normal(size=(strand.count, 1, 3)) * strand.spread
    path = path + start
    numbers = line.astype(int)
    place = at * (STEPS - 1)
    low = np.minimum(place.astype(int), STEPS - 2)
    share = (place - low)[..., None]
    chosen = path[numbers]
    rows = np.arange(len(numbers))[:, None]
    found: Floats = chosen[rows, low] * (1 - share) + chosen[rows, low + 1] * share
    return found


def _along(ways: list[Floats], at: Floats, line: Floats, closed: bool) -> Floats:
    """Places at shares of the length of lines, which return to their beginning where they are closed."""
    found = np.zeros((*at.shape, 3))
    for row, number in enumerate(line.astype(int)):
        way = np.concatenate([ways[number], ways[number][:1]]) if closed else ways[number]
        length = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(way, axis=0), axis=1))])
        for axis in range(3):
            found[row, :, axis] = np.interp(at[row] * length[-1], length, way[:, axis])
    return found


def _radius(strand: Strand, shares: Floats, whole: Bools, seconds: float) -> Floats:
    """Half the thickness (stretches, points): thinner towards the ends, and swelling."""
    t = np.linspace(-1, 1, shares.shape[1])
    thin = 1 - strand.taper * np.abs(t) ** 3
    radius = np.where(whole[:, None], 1.0, thin[None])
    if strand.pulse:
        swell = 0.5 + 0.5 * np.cos(2 * np.pi * (shares * max(1, round(strand.waves)) - strand.flow * seconds))
        radius = radius * (1 - strand.pulse * swell)
    found: Floats = np.maximum(radius, 0.02) * strand.thickness / 2
    return found
