"""Glyph outlines as cubic segments, cleaned of overlaps."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import pathops
from numpy.typing import NDArray

from .typefaces import Axes, typeface

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
    for points, line, number in zip((outline.controls * scale).tolist(), outline.line.tolist(), outline.contour.tolist(), strict=True):
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
    path.convertConicsToQuads()
    path.simplify(fix_winding=True, keep_starting_points=False, clockwise=False)
    segments: list[list[tuple[float, float]]] = []
    lines: list[bool] = []
    contours: list[int] = []
    contour, here, start = -1, (0.0, 0.0), (0.0, 0.0)

    def add(points: list[tuple[float, float]], line: bool) -> None:
        if line and points[0] == points[-1]:
            return
        segments.append(points)
        lines.append(line)
        contours.append(contour)

    for verb, points in path:
        if verb == pathops.PathVerb.MOVE:
            contour += 1
            here = start = points[0]
            continue
        if verb == pathops.PathVerb.LINE:
            add(_line(here, points[0]), True)
        elif verb == pathops.PathVerb.QUAD:
            add(_quadratic(here, *points), False)
        elif verb == pathops.PathVerb.CUBIC:
            add([here, *points], False)
        elif verb == pathops.PathVerb.CLOSE and here != start:
            add(_line(here, start), True)
        here = points[-1] if points else start
    controls = np.array(segments, dtype=np.float64).reshape(-1, 4, 2) * scale
    return Outline(controls, np.array(lines, dtype=bool), np.array(contours, dtype=np.int64))


def _line(a: Any, b: Any) -> list[tuple[float, float]]:
    return [a, _towards(a, b, 1 / 3), _towards(b, a, 1 / 3), b]


def _quadratic(a: Any, c: Any, b: Any) -> list[tuple[float, float]]:
    """Degree elevation of a quadratic Bézier (exact)."""
    return [a, _towards(a, c, 2 / 3), _towards(b, c, 2 / 3), b]


def _towards(a: Any, b: Any, share: float) -> tuple[float, float]:
    return a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])
