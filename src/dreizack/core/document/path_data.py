"""Path data (SVG 2, chapter 9) that can be read."""

from __future__ import annotations

import math
import re

from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path


def check_path(path: str, what: str) -> None:
    """ValueError for path data that cannot be read or has senseless coordinates."""
    pen = RecordingPen()
    try:
        parse_path(path, pen)
        sane = all(
            math.isfinite(number) and abs(number) < 1e5
            for _, points in pen.value
            for point in points
            for number in point
        )
    except Exception as why:
        raise ValueError(f"{what} is no path data; write it like M0 0C1 1 2 1 3 0") from why
    if not sane:
        raise ValueError(f"{what} has coordinates that are no sensible numbers")


def plain_path(path: str) -> str:
    """The same outline in absolute M, L, C and Z alone, as drawing surfaces and files of ours write it."""
    if re.fullmatch(r"[MLCZ\d\s,.e+-]*", path):
        return path
    pen = RecordingPen()
    parse_path(path, pen)
    letters = {"moveTo": "M", "lineTo": "L", "curveTo": "C", "closePath": "Z", "endPath": ""}
    steps, here = [], (0.0, 0.0)
    for name, points in pen.value:
        if name == "qCurveTo":
            # A parabola's cubic (degree elevation).
            (qx, qy), (x, y) = points
            points = (
                ((here[0] + 2 * qx) / 3, (here[1] + 2 * qy) / 3),
                ((x + 2 * qx) / 3, (y + 2 * qy) / 3),
                (x, y),
            )
            name = "curveTo"
        steps.append(letters[name] + " ".join(f"{x:.6g} {y:.6g}" for x, y in points))
        here = points[-1] if points else here
    return "".join(steps)
