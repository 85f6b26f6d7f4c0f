"""Path data (SVG 2, chapter 9) that can be read."""

from __future__ import annotations

import math

from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path


def check_path(path: str, what: str) -> None:
    """ValueError for path data that cannot be read or has senseless coordinates."""
    pen = RecordingPen()
    try:
        parse_path(path, pen)
        sane = all(math.isfinite(number) and abs(number) < 1e5 for _, points in pen.value for point in points for number in point)
    except Exception as why:
        raise ValueError(f"{what} is no path data; write it like M0 0C1 1 2 1 3 0") from why
    if not sane:
        raise ValueError(f"{what} has coordinates that are no sensible numbers")
