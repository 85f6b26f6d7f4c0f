"""Shapes to the pieces of a mark."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pathops

from ...lettering.union import combined

MAX_PIECES = 400
# Skia's path arithmetic is exact enough around this size.
SIDE = 4000.0


@dataclass
class Shape:
    """A filled area, in a drawing's own units; ``joined`` where several were put together."""

    path: pathops.Path
    colour: tuple[float, float, float]
    name: str
    group: int
    joined: bool = False


def pieces_of(shapes: list[Shape]) -> list[tuple[pathops.Path, tuple[float, float, float], str]]:
    """Shapes of one group and colour are one piece; what is painted over is cut away."""
    scale = SIDE / max(1e-9, *(max(abs(b) for b in shape.path.bounds) for shape in shapes))
    merged: list[Shape] = []
    for shape in shapes:
        path = shape.path.transform(scale, 0, 0, scale, 0, 0)
        last = merged[-1] if merged else None
        if last is None or shape.group in (0, 1) or last.group != shape.group or last.colour != shape.colour:
            merged.append(Shape(path, shape.colour, shape.name, shape.group))
        else:
            last.path.addPath(path)
            last.joined = True
    for shape in merged:
        if shape.joined:
            shape.path.fillType = pathops.FillType.WINDING
    if len(merged) <= MAX_PIECES:
        merged = _visible(merged)
    return [(shape.path, shape.colour, shape.name) for shape in merged if abs(shape.path.area) > 1e-6]


def _visible(shapes: list[Shape]) -> list[Shape]:
    """Each shape without what later ones paint over it: bodies of the same depth would fight for the same
    place."""
    boxes = np.array([shape.path.bounds for shape in shapes])
    for i, shape in enumerate(shapes):
        later = np.flatnonzero(
            (boxes[i + 1 :, 0] < boxes[i, 2])
            & (boxes[i + 1 :, 2] > boxes[i, 0])
            & (boxes[i + 1 :, 1] < boxes[i, 3])
            & (boxes[i + 1 :, 3] > boxes[i, 1])
        )
        for j in later + i + 1:
            shape.path = combined(shape.path, shapes[j].path, pathops.PathOp.DIFFERENCE)
    return shapes
