"""Where letters stand on their lines, over many frames at once."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Shaped:
    """Letters as the typeface gives them, line by line, from left to right, without places.

    ``ems`` (letters,): metres an em; ``advances`` (letters,) and ``offsets`` (letters, 2) in ems; ``ink``
    (letters, 2): left and right end in ems, NaN where there is none; ``sources`` (letters,): first character
    of the words that made it; ``line`` (letters,): number from 0, of ``lines``; ``joins`` (letters,): whether
    it is written joined to the next, so that tracking would tear them apart (CSS Text Module Level 3, 8.2.1).
    """

    ems: Floats
    advances: Floats
    offsets: Floats
    ink: Floats
    sources: Ints
    line: Ints
    lines: int
    joins: NDArray[np.bool_]


@dataclass(frozen=True)
class Spacing:
    """Room over frames: ``tracking`` and ``gap`` (frames, letters) in ems after each letter, ``lift``
    (frames, letters) and ``leading`` (frames,) in metres; which side lines share, and whether by ink."""

    tracking: Floats
    gap: Floats
    lift: Floats
    leading: Floats
    align: str
    optical: bool


def spaced(letters: Shaped, room: Spacing) -> tuple[Floats, Floats]:
    """Origins (frames, letters, 2) of letters in metres, and the middles (frames, letters) of their clusters
    along the line.

    The block is centred about x = 0 or flush with it; the last baseline lies at y = 0.
    """
    frames = len(room.leading)
    places, middle = np.zeros((frames, len(letters.ems), 2)), np.zeros((frames, len(letters.ems)))
    edges = np.searchsorted(letters.line, np.arange(letters.lines + 1))
    for number, (a, b) in enumerate(itertools.pairwise(edges)):
        if a == b:
            continue
        line = slice(int(a), int(b))
        along, middle[:, line] = _line(letters, room, line)
        places[:, line, 0] = along
        above = (letters.lines - 1 - number) * room.leading
        places[:, line, 1] = (
            letters.offsets[line, 1] * letters.ems[line] + room.lift[:, line] + above[:, None]
        )
    return places, middle


def _line(letters: Shaped, room: Spacing, line: slice) -> tuple[Floats, Floats]:
    """Origins along one line and middles of clusters, both (frames, letters)."""
    ems, sources = letters.ems[line], letters.sources[line]
    advances = letters.advances[line] * ems
    # The last letter of a cluster carries the room after it.
    last = np.append(sources[1:] != sources[:-1], True)
    after = (np.where(letters.joins[line], 0, room.tracking[:, line]) + room.gap[:, line]) * ems
    x = np.zeros((len(after), len(ems) + 1))
    np.cumsum(advances + np.where(last, after, 0), axis=1, out=x[:, 1:])
    low, high = np.zeros(len(after)), np.maximum(x[:, -1] - after[:, -1], 0)
    origin = x[:, :-1] + letters.offsets[line, 0] * ems
    ink = letters.ink[line] * ems[:, None]
    seen = np.isfinite(ink[:, 0])
    if room.optical and seen.any():
        low, high = (origin + ink[:, 0])[:, seen].min(axis=1), (origin + ink[:, 1])[:, seen].max(axis=1)
    shift = {"left": -low, "centre": -(low + high) / 2, "right": -high}[room.align][:, None]
    cluster = np.cumsum(np.append(0, last[:-1]))
    begins = np.flatnonzero(np.diff(cluster, prepend=-1))
    width = np.add.reduceat(advances, begins)
    return origin + shift, (x[:, begins] + width / 2)[:, cluster] + shift
