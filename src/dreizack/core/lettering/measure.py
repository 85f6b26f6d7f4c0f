"""What typefaces are like when they get a body: how thick their strokes and how wide their counters are."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from .outlines import Glyph, Outline, glyph_outline
from .typefaces import Axes, typeface

Floats = NDArray[np.float64]

SAMPLE = "HOnaegEBRS8"
GRID = 160
# A stroke this thin leaves little room for an edge; a counter this narrow closes early. Shares of the cap
# height.
THIN, NARROW = 0.08, 0.1


@dataclass(frozen=True)
class Sturdiness:
    """``stem``: usual stroke, ``thin``: thinnest strokes, ``counter``: narrow counters; shares of the cap
    height."""

    stem: float
    thin: float
    counter: float

    @property
    def holds(self) -> bool:
        """Whether it holds up when extruded."""
        return self.thin >= THIN and self.counter >= NARROW


@lru_cache(maxsize=512)
def sturdiness(name: str, axes: Axes = ()) -> Sturdiness:
    """Measured on scan lines through sample letters, across and up, of the ink and of the gaps between."""
    face = typeface(name)
    font = face.font(axes)
    inks, gaps = [], []
    for character in SAMPLE:
        number = font.get_nominal_glyph(ord(character))
        outline = glyph_outline(Glyph(name, axes, number)) if number else None
        if outline is None or outline.empty:
            continue
        for axis in (0, 1):
            ink, gap = _runs(outline, axis)
            inks.append(ink)
            gaps.append(gap)
    ink = np.concatenate([np.empty(0), *inks]) / face.cap_height
    gap = np.concatenate([np.empty(0), *gaps]) / face.cap_height
    if not len(ink):
        return Sturdiness(0.0, 0.0, 0.0)
    return Sturdiness(
        float(np.median(ink)),
        float(np.percentile(ink, 10)),
        float(np.percentile(gap, 30)) if len(gap) else 1.0,
    )


def _runs(outline: Outline, axis: int) -> tuple[Floats, Floats]:
    """Lengths of ink and of the gaps between ink along scan lines, in ems."""
    t = np.linspace(0, 1, 9)[:, None, None]
    a, b, c, d = (outline.controls[:, i] for i in range(4))
    points = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
    start, end = points[:-1].reshape(-1, 2), points[1:].reshape(-1, 2)
    along, across = axis, 1 - axis
    low, high = start[:, across].min(), start[:, across].max()
    lines = low + (high - low) * (np.arange(GRID) + 0.5) / GRID
    under, over = np.minimum(start[:, across], end[:, across]), np.maximum(start[:, across], end[:, across])
    hit = (under[None] <= lines[:, None]) & (lines[:, None] < over[None])
    line, edge = np.nonzero(hit)
    share = (lines[line] - start[edge, across]) / (end[edge, across] - start[edge, across])
    place = start[edge, along] + share * (end[edge, along] - start[edge, along])
    order = np.lexsort((place, line))
    line, place = line[order], place[order]
    same = line[1:] == line[:-1]
    lengths = np.diff(place)
    rank = np.arange(len(line)) - np.searchsorted(line, line)
    ink = lengths[same & (rank[:-1] % 2 == 0)]
    gap = lengths[same & (rank[:-1] % 2 == 1)]
    return ink[ink > 1e-4], gap[gap > 1e-4]
