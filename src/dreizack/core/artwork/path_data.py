"""Path data (SVG 2, chapter 9) to outlines and back."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import pathops
from fontTools.svgLib.path import parse_path

from ..lettering.outlines import Outline, outline_from_path
from ..sandbox import Unreadable

UNITS = 1000.0


@lru_cache(maxsize=1024)
def outline_from_data(data: str) -> Outline:
    """The area path data winds around; y up, units as they are. ValueError for what cannot be read."""
    path = pathops.Path()
    try:
        parse_path(data, _Scaled(path.getPen()))
    except Exception as why:
        raise Unreadable("the outline is no path data; write it like M0 0L1 0L1 1Z") from why
    return outline_from_path(path, 1 / UNITS)


class _Scaled:
    """A pen that scales up, as path arithmetic works in single precision; open contours are closed."""

    def __init__(self, pen: pathops.PathPen) -> None:
        self.pen = pen

    def moveTo(self, at: tuple[float, float]) -> None:  # noqa: N802
        self.pen.moveTo(_scaled(at))

    def lineTo(self, at: tuple[float, float]) -> None:  # noqa: N802
        self.pen.lineTo(_scaled(at))

    def curveTo(self, *points: tuple[float, float]) -> None:  # noqa: N802
        self.pen.curveTo(*map(_scaled, points))

    def qCurveTo(self, *points: tuple[float, float]) -> None:  # noqa: N802
        self.pen.qCurveTo(*map(_scaled, points))

    def closePath(self) -> None:  # noqa: N802
        self.pen.closePath()

    def endPath(self) -> None:  # noqa: N802
        self.pen.closePath()


def _scaled(at: tuple[float, float]) -> tuple[float, float]:
    return at[0] * UNITS, at[1] * UNITS


def data_from_outline(outline: Outline, digits: int = 5) -> str:
    """Path data of an outline: M, L, C and Z only."""
    if outline.empty:
        return ""
    begins = np.flatnonzero(np.diff(outline.contour, prepend=-1))
    ends = np.append(begins[1:], len(outline.contour))
    # One template for all, filled in at once.
    steps = np.where(outline.line, "L%g %g", "C%g %g %g %g %g %g").astype(object)
    steps[begins] = "M%g %g" + steps[begins]
    steps[ends - 1] = steps[ends - 1] + "Z"
    numbers = outline.controls.round(digits).reshape(-1, 8)
    used = np.repeat([[False, False, True, True, True, True, True, True]], len(numbers), axis=0)
    used[outline.line, 2:6] = False
    used[begins, :2] = True
    return str("".join(steps.tolist()) % tuple(numbers[used].tolist()))
