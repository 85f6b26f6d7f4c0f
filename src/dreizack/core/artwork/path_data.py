"""Path data (SVG 2, chapter 9) to outlines and back."""

from __future__ import annotations

from functools import lru_cache

import pathops
from fontTools.svgLib.path import parse_path

from ..lettering.outlines import Outline, outline_from_path

UNITS = 1000.0


@lru_cache(maxsize=1024)
def outline_from_data(data: str) -> Outline:
    """The area path data winds around; y up, units as they are. ValueError for what cannot be read."""
    path = pathops.Path()
    try:
        parse_path(data, _Scaled(path.getPen()))
    except Exception as why:
        raise ValueError("the outline is no path data; write it like M0 0L1 0L1 1Z") from why
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
    steps: list[str] = []
    contour = -1
    for (a, b, c, d), line, number in zip(outline.controls.round(digits).tolist(), outline.line.tolist(), outline.contour.tolist(), strict=True):
        if number != contour:
            steps.append(f"{'Z' if steps else ''}M{_pair(a)}")
            contour = number
        steps.append(f"L{_pair(d)}" if line else f"C{_pair(b)} {_pair(c)} {_pair(d)}")
    return "".join(steps) + ("Z" if steps else "")


def _pair(point: list[float]) -> str:
    return f"{point[0]:g} {point[1]:g}"
