"""Elements of a drawing."""

from __future__ import annotations

from xml.etree.ElementTree import Element

import numpy as np
from numpy.typing import NDArray

from ..lengths import Viewport, length

Floats = NDArray[np.float64]


def tag_of(element: Element) -> str:
    """The name of an element without its namespace; empty for comments."""
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


def reference(element: Element) -> str:
    """The id that an element refers to in its own document; empty where it refers to none."""
    value = element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or ""
    return value[1:] if value.startswith("#") else ""


def shift(element: Element, viewport: Viewport) -> Floats:
    """The matrix (3, 3) that moves by the x and y of an element (SVG 2, 5.6: use)."""
    matrix = np.eye(3)
    matrix[0, 2] = length(element.get("x", "0"), viewport, "x") or 0.0
    matrix[1, 2] = length(element.get("y", "0"), viewport, "y") or 0.0
    return matrix
