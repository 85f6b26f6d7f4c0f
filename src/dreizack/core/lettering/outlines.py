"""Glyph outlines as cubic segments, cleaned of overlaps."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import pathops
from numpy.typing import NDArray

from .typefaces import Axes, typeface
from .union import united

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Outline:
    """Closed contours, material on the left of the direction of travel (outer ones run counter-clockwise).

    ``controls`` (segments, 4, 2): cubic Bézier control points in ems; lines have their inner
    controls at the thirds. ``line`` (segments,) marks straight segments, ``contour`` (segments,)
    numbers the contours from 0.
    """

    controls: Floats
    line: NDArray[np.bool_]
    contour: NDArray[np.int64]

    @property
    def empty(self) -> bool:
        return len(self.controls) == 0


@dataclass(frozen=True)
class Glyph:
    """A glyph of a typeface at a place on its axes."""

    typeface: str
    axes: Axes
    number: int

    def moved_along(self, shifts: Iterable[tuple[str, float]]) -> Glyph:
        """The same glyph moved along axes of its typeface by some values, to their ends at most."""
        now, limits = dict(self.axes), {axis.tag: axis for axis in typeface(self.typeface).axes}
        for tag, value in shifts:
            if tag in limits:
                axis = limits[tag]
                now[tag] = min(max(now.get(tag, axis.default) + value, axis.low), axis.high)
        return replace(self, axes=tuple(sorted(now.items())))

    @property
    def key(self) -> str:
        """Names its outline, whatever the typeface is called."""
        return f"{typeface(self.typeface).fingerprint}/{self.number}/{self.axes}"


def glyph_outline(glyph: Glyph) -> Outline:
    """Outline of a glyph, overlaps united exactly on the curves."""
    return _outline(glyph.key, glyph)


@lru_cache(maxsize=4096)
def _outline(key: str, glyph: Glyph) -> Outline:
    face = typeface(glyph.typeface)
    path = pathops.Path()
    face.font(glyph.axes).draw_glyph_with_pen(glyph.number, path.getPen())
    return outline_from_path(path, 1.0 / face.units)


def path_from_outline(outline: Outline, scale: float) -> pathops.Path:
    """An :class:`Outline` as a path again, at a scale."""
    path = pathops.Path()
    pen = path.getPen()
    contour = -1
    for points, line, number in zip(
        (outline.controls * scale).tolist(), outline.line.tolist(), outline.contour.tolist(), strict=True
    ):
        if number != contour:
            if contour >= 0:
                pen.closePath()
            pen.moveTo(points[0])
            contour = number
        if line:
            pen.lineTo(points[3])
        else:
            pen.curveTo(points[1], points[2], points[3])
    if contour >= 0:
        pen.closePath()
    return path


def outline_from_path(path: pathops.Path, scale: float) -> Outline:
    """Unite a path with itself and turn it into an :class:`Outline`."""
    path = united(path)
    verbs = np.array(path.verbs, np.int64)
    points = np.array(path.points, dtype=np.float64).reshape(-1, 2)
    if not len(points):
        return Outline(np.empty((0, 4, 2)), np.empty(0, bool), np.empty(0, np.int64))
    # Where the points of each verb begin; a segment starts at the point before, a closing line ends at the
    # first.
    begins = np.cumsum(_POINTS[verbs]) - _POINTS[verbs]
    moves = verbs == int(pathops.PathVerb.MOVE)
    contour = np.cumsum(moves) - 1
    first = points[begins[moves]][contour]
    drawn = ~moves
    verbs, begins, contour, first = verbs[drawn], begins[drawn], contour[drawn], first[drawn]
    start, last = points[begins - 1], len(points) - 1
    near, middle, far = (
        points[np.minimum(begins, last)],
        points[np.minimum(begins + 1, last)],
        points[np.minimum(begins + 2, last)],
    )
    quadratic, cubic = (verbs == int(verb) for verb in (pathops.PathVerb.QUAD, pathops.PathVerb.CUBIC))
    closing = verbs == int(pathops.PathVerb.CLOSE)
    end = np.where(
        closing[:, None], first, np.where(cubic[:, None], far, np.where(quadratic[:, None], middle, near))
    )
    line = ~(quadratic | cubic)
    # Lines have their controls at the thirds; a quadratic is raised to a cubic exactly.
    one = np.where(
        line[:, None],
        start + (end - start) / 3,
        np.where(cubic[:, None], near, start + (near - start) * 2 / 3),
    )
    two = np.where(
        line[:, None], end + (start - end) / 3, np.where(cubic[:, None], middle, end + (near - end) * 2 / 3)
    )
    keep = ~(line & (start == end).all(axis=1))
    controls = np.stack([start, one, two, end], axis=1)[keep] * scale
    # Numbers run on without gaps, also where a contour had nothing but a point.
    _, numbers = np.unique(contour[keep], return_inverse=True)
    return Outline(controls, line[keep], numbers.reshape(-1).astype(np.int64))


# Points that follow each verb of a path: move, line, quadratic, conic, cubic, close.
_POINTS = np.array([1, 1, 2, 2, 3, 0])
