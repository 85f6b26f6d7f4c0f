"""Outlines grown and shrunk, hollowed and welded, curves staying curves."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pathops
from numpy.typing import NDArray

from ..document import Outlines
from ..lettering.outlines import Outline, outline_from_path, path_from_outline
from ..lettering.union import combined as combined_paths

# Path arithmetic works in single precision around the size of font units.
UNITS = 1000.0
_JOINS = {
    "mitre": pathops.LineJoin.MITER_JOIN,
    "round": pathops.LineJoin.ROUND_JOIN,
    "bevel": pathops.LineJoin.BEVEL_JOIN,
}
SHARPEST = 3.0


def worked(outline: Outline, em: float, work: Outlines) -> Outline:
    """An outline spread and hollowed as wished; lengths of ``work`` in metres, the outline in ems."""
    made = spread(outline, work.spread / em, work.join)
    return hollowed(made, work.width / em, work.side, work.join) if work.hollow else made


def spread(outline: Outline, distance: float, join: str = "mitre") -> Outline:
    """The outline grown by ``distance`` (in its own units), or shrunk by a negative one.

    Growing unites the area with a stroke along its border twice as wide, shrinking takes that
    stroke away (Minkowski sum and difference with a disc, corners as ``join`` says).
    """
    if outline.empty or abs(distance) < 1e-7:
        return outline
    border = stroke(outline, 2 * abs(distance), join)
    return combined(outline, border, pathops.PathOp.UNION if distance > 0 else pathops.PathOp.DIFFERENCE)


def hollowed(outline: Outline, width: float, side: str, join: str = "mitre") -> Outline:
    """Only a line of ``width`` along the outline, inside, outside or on both sides of it."""
    if outline.empty:
        return outline
    if side == "centre":
        return stroke(outline, width, join)
    border = stroke(outline, 2 * width, join)
    return combined(
        border, outline, pathops.PathOp.INTERSECTION if side == "inside" else pathops.PathOp.DIFFERENCE
    )


def stroke(outline: Outline, width: float, join: str) -> Outline:
    """The area a pen of ``width`` covers that follows the outline."""
    path = path_from_outline(outline, UNITS)
    path.stroke(width * UNITS, pathops.LineCap.BUTT_CAP, _JOINS[join], SHARPEST)
    return outline_from_path(path, 1 / UNITS)


def combined(a: Outline, b: Outline, how: pathops.PathOp) -> Outline:
    """Two areas united, subtracted or intersected."""
    result = combined_paths(path_from_outline(a, UNITS), path_from_outline(b, UNITS), how)
    return outline_from_path(result, 1 / UNITS)


def rectangle(width: float, height: float, corner: float = 0.0) -> Outline:
    """A rectangle about the origin, its corners rounded by quarter circles."""
    path = pathops.Path()
    pen = path.getPen()
    x, y = width / 2, height / 2
    r = min(corner, x, y)
    k = r * 0.5522847498
    pen.moveTo((-x + r, -y))
    for (px, py), (ax, ay), (bx, by), (qx, qy) in (
        ((x - r, -y), (x - r + k, -y), (x, -y + r - k), (x, -y + r)),
        ((x, y - r), (x, y - r + k), (x - r + k, y), (x - r, y)),
        ((-x + r, y), (-x + r - k, y), (-x, y - r + k), (-x, y - r)),
        ((-x, -y + r), (-x, -y + r - k), (-x + r - k, -y), (-x + r, -y)),
    ):
        pen.lineTo((px, py))
        if r > 0:
            pen.curveTo((ax, ay), (bx, by), (qx, qy))
    pen.closePath()
    return outline_from_path(path, 1.0)


def moved(outline: Outline, scale: float, shift: Sequence[float] | NDArray[np.float64]) -> Outline:
    """The outline scaled, then moved."""
    return Outline(outline.controls * scale + np.asarray(shift, np.float64), outline.line, outline.contour)


def united(outlines: Sequence[Outline]) -> Outline:
    """All areas as one."""
    whole = outlines[0]
    for other in outlines[1:]:
        whole = combined(whole, other, pathops.PathOp.UNION)
    return whole


def touching(outlines: Sequence[Outline]) -> NDArray[np.int64]:
    """Which outlines hang together: the number of the first one of its group, for each."""
    boxes = [
        None if o.empty else (o.controls.min(axis=(0, 1)), o.controls.max(axis=(0, 1))) for o in outlines
    ]
    group = np.arange(len(outlines))
    for j, b in enumerate(boxes):
        for i in range(j):
            a = boxes[i]
            if a is None or b is None or group[i] == group[j] or (a[1] < b[0]).any() or (b[1] < a[0]).any():
                continue
            if not combined(outlines[i], outlines[j], pathops.PathOp.INTERSECTION).empty:
                low, high = sorted((int(group[i]), int(group[j])))
                group[group == high] = low
    return group
