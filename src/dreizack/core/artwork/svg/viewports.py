"""Viewports within a drawing: their coordinates, and what their shares are counted of."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal
from xml.etree.ElementTree import Element

import numpy as np
from numpy.typing import NDArray

from ..lengths import Viewport, length

Floats = NDArray[np.float64]

_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")
# What an element has that says no size of its own and is in nothing (CSS Images 3: default object size).
UNKNOWN = Viewport(300.0, 150.0)


@dataclass(frozen=True)
class Placed:
    """From the coordinates within to those without (3, 3), what shares are counted of within, and the box
    that is seen, without: x, y, width, height."""

    matrix: Floats
    viewport: Viewport
    box: tuple[float, float, float, float]


def view_box(element: Element) -> tuple[float, float, float, float] | None:
    """The viewBox of an element; None where it has none that means anything."""
    numbers = [float(n) for n in _NUMBER.findall(element.get("viewBox", ""))]
    if len(numbers) != 4 or numbers[2] <= 0 or numbers[3] <= 0 or not np.isfinite(numbers).all():
        return None
    return numbers[0], numbers[1], numbers[2], numbers[3]


def root_viewport(root: Element) -> Placed:
    """That of a whole drawing: its shape alone counts."""
    box = view_box(root)
    known = Viewport(box[2], box[3]) if box is not None else UNKNOWN
    width = length(root.get("width", ""), known, "x")
    height = length(root.get("height", ""), known, "y")
    if box is None:
        return Placed(np.eye(3), Viewport(width or UNKNOWN.width, height or UNKNOWN.height), (0, 0, 0, 0))
    placed = within(root, known, (width or box[2], height or box[3]), shifted=False)
    return placed if placed is not None else Placed(np.eye(3), known, (0, 0, 0, 0))


def within(
    element: Element, around: Viewport, size: tuple[float, float] | None = None, shifted: bool = True
) -> Placed | None:
    """The viewport that an ``svg`` or ``symbol`` makes in another one (SVG 2, 8.2), of a ``size`` that its
    own attributes say otherwise; None where nothing of it is seen."""

    def value(name: str, axis: Literal["x", "y"], default: str) -> float:
        found = length(element.get(name, "") or default, around, axis)
        return 0.0 if found is None else found

    width, height = size or (value("width", "x", "100%"), value("height", "y", "100%"))
    x, y = (value("x", "x", "0"), value("y", "y", "0")) if shifted else (0.0, 0.0)
    if width <= 0 or height <= 0:
        return None
    matrix, box = np.eye(3), view_box(element)
    matrix[:2, 2] = x, y
    if box is None:
        return Placed(matrix, Viewport(width, height), (x, y, width, height))
    across, down = width / box[2], height / box[3]
    align, _, fills = (element.get("preserveAspectRatio") or "xMidYMid").strip().partition(" ")
    if align != "none":
        across = down = max(across, down) if fills.strip() == "slice" else min(across, down)
    shares = {"xMin": 0.0, "xMid": 0.5, "xMax": 1.0}, {"YMin": 0.0, "YMid": 0.5, "YMax": 1.0}
    left = shares[0].get(align[:4], 0.5) * (width - across * box[2])
    top = shares[1].get(align[4:8], 0.5) * (height - down * box[3])
    inner = np.array(
        [[across, 0, left - across * box[0]], [0, down, top - down * box[1]], [0, 0, 1]], np.float64
    )
    return Placed(matrix @ inner, Viewport(box[2], box[3]), (x, y, width, height))
